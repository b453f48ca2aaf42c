import { spawn, spawnSync } from 'node:child_process'
import { existsSync, readFileSync, rmSync } from 'node:fs'
import { installPackages, installPrograms, root, run } from './setup.mjs'

// Everything a change must pass, from a fresh clone: packages, lint, boundaries, types, unit tests, build, browser tests.
installPackages()
const missing = installPrograms([
  'chromium-headless-shell',
  'exrheader',
  'ffmpeg',
  'mediainfo',
  'unicode-data',
  'unzip',
  'webpmux',
])
if (missing.length > 0) {
  console.error('Tests need them all.')
  process.exit(1)
}

let passed = 0
let failed = 0
let skipped = 0
let flaky = 0
const count = (good, bad) => {
  passed += good
  failed += bad
}
const step = (name, work) => {
  console.log(`\n== ${name}`)
  const started = Date.now()
  try {
    work()
  } catch (error) {
    console.error(error.message)
    failed++
  }
  console.log(`   ${((Date.now() - started) / 1000).toFixed(0)} s`)
}
const read = (file) => JSON.parse(readFileSync(file, 'utf8'))
/** Runs a test runner that writes a report; a report that is missing counts as a failure. */
const suite = (command, args, env, report, counts) => {
  rmSync(report, { force: true })
  // Whatever hangs is ended: far longer than any suite takes.
  const timeout = 25 * 60_000
  const result = spawnSync(command, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env }, timeout })
  if (!existsSync(report)) throw new Error(`${command} ${args[0]} came to no end`)
  const { good, bad, left = 0, twice = 0 } = counts(read(report))
  count(good, bad)
  skipped += left
  flaky += twice
  if (good + bad === 0) throw new Error(`${command} ${args[0]} ran no test`)
  if (result.status !== 0 && bad === 0) throw new Error(`${command} ${args[0]} failed`)
}

/** What does not wait for one another, at once; each says what it has to say in one piece. */
const together = async (steps) => {
  const started = Date.now()
  await Promise.all(
    steps.map(([name, command, args]) => {
      const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] })
      let said = ''
      for (const stream of [child.stdout, child.stderr]) stream.on('data', (piece) => (said += piece))
      return new Promise((done) =>
        child.once('close', (code) => {
          console.log(`\n== ${name}\n${said}   ${((Date.now() - started) / 1000).toFixed(0)} s`)
          if (code !== 0) {
            console.error(`${command} ${args.join(' ')} ended with ${code}`)
            failed++
          }
          done()
        }),
      )
    }),
  )
}

await together([
  ['build', 'node', ['scripts/build.mjs']],
  ['types', 'npx', ['tsc', '-p', 'tsconfig.tests.json']],
  ['types of the interface', 'npx', ['tsc', '-p', 'web']],
  ['lint and import boundaries', 'npm', ['run', '-s', 'lint']],
])
// These read what was built.
step('types of the browser tests', () => run('npx', ['tsc', '-p', 'e2e']))
step('unit tests', () => {
  const report = `${root}/node_modules/.jest-report.json`
  suite('npx', ['jest', '--json', `--outputFile=${report}`], {}, report, (r) => ({
    good: r.numPassedTests,
    bad: r.numFailedTests + r.numRuntimeErrorTestSuites,
    left: r.numPendingTests + r.numTodoTests,
  }))
})
step('attack, in its short form', () => {
  const report = `${root}/node_modules/.attack-report.json`
  suite('node', ['attack/run.mjs', '--short', '--report', report], {}, report, (r) => r)
})
step('browser tests', () => {
  const report = `${root}/node_modules/.playwright-report.json`
  suite(
    'npx',
    ['playwright', 'test', '--reporter=list,json'],
    { PLAYWRIGHT_JSON_OUTPUT_NAME: report },
    report,
    (r) => ({
      good: r.stats.expected + r.stats.flaky,
      bad: r.stats.unexpected,
      left: r.stats.skipped,
      twice: r.stats.flaky,
    }),
  )
})
step('test share', () => run('node', ['scripts/test-share.mjs']))

console.log(`\n${skipped} skipped, ${flaky} passed only when tried again`)
console.log(`${passed} passed, ${failed} failed`)
process.exit(failed > 0 ? 1 : 0)
