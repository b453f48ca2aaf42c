import { installPackages, installPrograms, run } from './setup.mjs'

installPackages()
installPrograms(['chromium-headless-shell', 'ffmpeg'])
run('node', ['scripts/build.mjs'])
const { machine } = await import('../bench/kit.mjs')
const benches = [
  ['title', async () => (await import('../bench/title.mjs')).benchTitle()],
  ['row', async () => (await import('../bench/row.mjs')).benchRow()],
  ['layout', async () => (await import('../bench/layout.mjs')).benchLayout()],
  ['rolling', async () => (await import('../bench/rolling.mjs')).benchRolling()],
  ['draft', async () => (await import('../bench/draft.mjs')).benchDraft()],
  ['hand', async () => (await import('../bench/hand.mjs')).benchHand()],
  ['fill', async () => (await import('../bench/fill.mjs')).benchFill()],
  ['programme', async () => (await import('../bench/programme.mjs')).benchProgramme()],
  ['air', async () => (await import('../bench/air.mjs')).benchAir()],
  ['movies', async () => (await import('../bench/movies.mjs')).benchMovies()],
  ['delivered', async () => (await import('../bench/delivered.mjs')).benchDelivered()],
  ['readers', async () => (await import('../bench/readers.mjs')).benchReaders()],
  ['sounds', async () => (await import('../bench/sounds.mjs')).benchSounds()],
  ['free', async () => (await import('../bench/free.mjs')).benchFree()],
  ['soak', async () => (await import('../bench/soak.mjs')).benchSoak()],
  ['run', async () => (await import('../bench/run.mjs')).benchRun()],
]
const only = process.argv.slice(2)

console.log(`${machine()}\n`)
for (const [name, bench] of benches) {
  if (only.length > 0 && !only.includes(name)) continue
  const result = await bench()
  console.log(`${result.name}`)
  for (const figure of result.figures) console.log(`  ${figure}`)
  for (const { claim, want, median, least, atLeast } of result.ratios) {
    const good = atLeast ? median >= want : median <= want
    console.log(
      `  ${good ? 'holds' : 'MISSED'}: ${median.toFixed(2)} by medians, ${least.toFixed(2)} by the least of each; wanted ${atLeast ? 'at least' : 'at most'} ${want} ${claim}`,
    )
  }
  console.log('')
}
process.exit(0)
