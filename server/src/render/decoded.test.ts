import { rmSync } from 'node:fs'
import { join } from 'node:path'
import { type FormatId, outputFormats } from '@hoja/core/output'
import { PNG } from 'pngjs'
import { titleMovie, wholeFrame } from '../testing/movie.ts'
import { temporaryFolder } from '../testing/running.ts'
import { decodedFrame, keptAlpha } from './decoded.ts'
import type { Writing } from './movie/movie.ts'
import { writeMovie } from './movie/write.ts'

const folder = temporaryFolder()
afterAll(() => rmSync(folder, { recursive: true, force: true }))

async function written(format: FormatId, writing: Writing = {}) {
  const movie = titleMovie(60, { width: 320, height: 180 })
  const files = outputFormats[format].endings.map((end) => join(folder, `${format}-${writing.alpha ?? ''}${end}`))
  await writeMovie(format, movie, files, writing)
  return { movie, files }
}

/** The largest differences of colour, as much as it is seen, and of alpha. */
function differences(want: Buffer, got: Buffer): { colour: number; alpha: number } {
  let [colour, alpha] = [0, 0]
  for (let i = 0; i < want.length; i += 4) {
    alpha = Math.max(alpha, Math.abs(want[i + 3]! - got[i + 3]!))
    for (let c = 0; c < 3; c++)
      colour = Math.max(colour, Math.abs(want[i + c]! * want[i + 3]! - got[i + c]! * got[i + 3]!) / 255)
  }
  return { colour, alpha }
}

// Multiplied by alpha and back are two roundings; what is lossy may lose a few levels at an edge.
const kinds: [FormatId, 'straight' | 'premultiplied', number][] = [
  ['mov-png', 'straight', 1.5],
  ['mov-rle', 'premultiplied', 1.5],
  ['mkv', 'premultiplied', 1.5],
  ['mov', 'straight', 12],
  ['mov', 'premultiplied', 12],
]
test.each(kinds)('a frame of %s, %s, is the one that was drawn, with straight alpha', async (format, alpha, loss) => {
  const { movie, files } = await written(format, { alpha })
  const { width, height, frames } = movie
  // In the move in, in the hold, and the last one.
  for (const frame of [6, 30, 59]) {
    const of = { frame, rate: movie.rate, alpha: keptAlpha(format, { alpha }), width }
    const png = PNG.sync.read(await decodedFrame(files[0]!, of))
    expect([png.width, png.height]).toEqual([width, height])
    const { colour, alpha: clear } = differences(wholeFrame(movie, frames[frame]!), png.data)
    expect(clear).toBeLessThanOrEqual(2)
    expect(colour).toBeLessThanOrEqual(loss)
  }
  expect(differences(wholeFrame(movie, frames[6]!), wholeFrame(movie, frames[7]!)).colour).toBeGreaterThan(20)
})

test('a smaller picture of straight colours has no fringe of what lies under clear pixels', async () => {
  const { movie, files } = await written('mov-png')
  const of = { frame: 30, rate: movie.rate, alpha: 'straight' as const, width: 160 }
  const small = PNG.sync.read(await decodedFrame(files[0]!, of))
  expect([small.width, small.height]).toEqual([160, 90])
  const whole = wholeFrame(movie, movie.frames[30]!)
  // Of four pixels the colour is that of those that are seen, as much as each is.
  for (let y = 0; y < 90; y++)
    for (let x = 0; x < 160; x++) {
      const four = [0, 4, 1280, 1284].map((off) => (y * 2 * 320 + x * 2) * 4 + off)
      const alpha = four.reduce((sum, i) => sum + whole[i + 3]!, 0)
      const at = (y * 160 + x) * 4
      expect(Math.abs(alpha / 4 - small.data[at + 3]!)).toBeLessThanOrEqual(2)
      if (alpha < 4 * 64) continue
      for (let c = 0; c < 3; c++) {
        const colour = four.reduce((sum, i) => sum + whole[i + c]! * whole[i + 3]!, 0) / alpha
        expect(Math.abs(colour - small.data[at + c]!)).toBeLessThanOrEqual(4)
      }
    }
})

test('the fill and the key are looked at as they are; WebM with its alpha', async () => {
  const { movie, files } = await written('pair')
  const key = { frame: 30, rate: movie.rate, alpha: keptAlpha('pair', {}), width: 320 }
  const png = PNG.sync.read(await decodedFrame(files[1]!, key))
  const whole = wholeFrame(movie, movie.frames[30]!)
  let far = 0
  for (let i = 0; i < whole.length; i += 4) {
    far = Math.max(far, Math.abs(png.data[i]! - whole[i + 3]!))
    if (png.data[i + 3] !== 255) throw new Error('the key has alpha')
  }
  expect(far).toBeLessThanOrEqual(12)
  const web = await written('webm')
  const of = { frame: 30, rate: movie.rate, alpha: keptAlpha('webm', {}), width: 320 }
  const seen = PNG.sync.read(await decodedFrame(web.files[0]!, of))
  expect(differences(whole, seen.data).alpha).toBeLessThanOrEqual(2)
})

test('what is no movie any more is told in a sentence', async () => {
  const of = { frame: 0, rate: { num: 25, den: 1 }, alpha: 'none' as const, width: 64 }
  await expect(decodedFrame(join(folder, 'gone.mov'), of)).rejects.toThrow(
    'Frame 0 of the movie could not be decoded; fetch its file to look at it.',
  )
})
