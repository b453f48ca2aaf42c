import { readFileSync } from 'node:fs'
import { Font, fontFacts } from '@hoja/core/text'
import { shippedFile } from '../shippedFonts.ts'
import { releaseAll } from './memory.ts'

test('fonts that nobody needs any more give their memory back', async () => {
  // The largest that ships: of so many of them none may stay, or half a gigabyte would.
  const bytes = readFileSync(shippedFile('m-plus-1p/700Bold'))
  const load = async (times: number) => {
    for (let n = 0; n < times; n++) {
      expect(new Font(bytes, 'm.ttf').covers(0x3042)).toBe(true)
      if (n % 10 === 0) fontFacts(bytes)
      await releaseAll()
    }
    return process.memoryUsage().rss / 1024 / 1024
  }
  const before = await load(20)
  const after = await load(300)
  expect(bytes.length).toBeGreaterThan(1_000_000)
  expect(after - before).toBeLessThan(100)
})
