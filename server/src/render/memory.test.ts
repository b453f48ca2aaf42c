import { execFileSync } from 'node:child_process'
import { serverFolder } from '../serverFolder.ts'

/** Loads the largest font that ships again and again, and says what the process held after some, and after many. */
const script = `
  const { readFileSync } = await import('node:fs')
  const { Font, fontFacts } = await import('@hoja/core/text')
  const { shippedFile } = await import('./dist/shippedFonts.js')
  const { releaseAll } = await import('./dist/render/memory.js')
  const bytes = readFileSync(shippedFile('m-plus-1p/700Bold'))
  const load = async (times) => {
    for (let n = 0; n < times; n++) {
      new Font(bytes, 'm.ttf').covers(0x3042)
      if (n % 10 === 0) fontFacts(bytes)
      await releaseAll()
    }
    return process.memoryUsage().rss / 1024 / 1024
  }
  console.log(JSON.stringify({ size: bytes.length, before: await load(20), after: await load(300) }))
`

test('fonts that nobody needs any more give their memory back', () => {
  // A process of its own: a collection of all that a test runner holds takes a hundred times as long.
  const said = execFileSync(process.execPath, ['--input-type=module', '-e', script], {
    cwd: serverFolder,
    encoding: 'utf8',
    env: { ...process.env, NODE_OPTIONS: '' },
  })
  const { size, before, after } = JSON.parse(said) as Record<string, number>
  expect(size).toBeGreaterThan(1_000_000)
  // None of them may stay: three hundred are half a gigabyte.
  expect(after! - before!).toBeLessThan(100)
})
