import { execFileSync } from 'node:child_process'
import { existsSync, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { temporaryFolder } from '../testing/running.ts'
import { encodeMovie, hasFfmpeg } from './encode.ts'

const folder = temporaryFolder()
afterAll(() => rmSync(folder, { recursive: true, force: true }))
const size = { width: 64, height: 36, rate: { num: 30000, den: 1001 } }

/** Frames whose every pixel differs, some of them clear. */
function* noise(count: number): Generator<Uint8Array> {
  for (let f = 0; f < count; f++)
    yield Uint8Array.from({ length: size.width * size.height * 4 }, (_, i) =>
      i % 4 === 3 ? (i % 7 ? 255 : 0) : ((i + f * 101) * 2654435761) >>> 24,
    )
}

// RFC 9043 (FFV1) is lossless: what ffmpeg decodes is what it was given.
test('FFV1 gives back every byte, at a rate that is a fraction', async () => {
  const file = join(folder, 'a.mkv')
  await encodeMovie('mkv', size, noise(5), file)
  const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-f', 'rawvideo', '-pix_fmt', 'rgba', '-'], {
    maxBuffer: 1 << 24,
  })
  expect(Buffer.compare(raw, Buffer.concat([...noise(5)]))).toBe(0)
  const probe = JSON.parse(
    execFileSync('ffprobe', ['-v', 'error', '-show_streams', '-of', 'json', file], { encoding: 'utf8' }),
  ).streams[0]
  expect(probe.r_frame_rate).toBe('30000/1001')
})

// ITU-R BT.709, item 3: full-range sRGB green is Y 173, Cb 42, Cr 26 in limited range.
test('movies say that they are BT.709, and are', async () => {
  const green = Uint8Array.from({ length: size.width * size.height * 4 }, (_, i) => [0, 255, 0, 255][i % 4]!)
  const file = join(folder, 'b.mp4')
  await encodeMovie(
    'mp4',
    size,
    Array.from({ length: 4 }, () => green),
    file,
  )
  const probe = JSON.parse(
    execFileSync('ffprobe', ['-v', 'error', '-show_streams', '-of', 'json', file], { encoding: 'utf8' }),
  ).streams[0]
  expect([probe.color_space, probe.color_primaries, probe.color_transfer, probe.color_range]).toEqual([
    'bt709',
    'bt709',
    'bt709',
    'tv',
  ])
  const yuv = execFileSync('ffmpeg', [
    '-v',
    'error',
    '-i',
    file,
    '-frames:v',
    '1',
    '-f',
    'rawvideo',
    '-pix_fmt',
    'yuv420p',
    '-',
  ])
  const pixels = size.width * size.height
  expect(Math.abs(yuv[pixels / 2]! - 173)).toBeLessThanOrEqual(1)
  expect(Math.abs(yuv[pixels + pixels / 8]! - 42)).toBeLessThanOrEqual(1)
  expect(Math.abs(yuv[pixels + pixels / 4 + pixels / 8]! - 26)).toBeLessThanOrEqual(1)
})

test('without ffmpeg, and where it cannot write, one sentence says so', async () => {
  const path = process.env.PATH
  process.env.PATH = folder
  try {
    expect(hasFfmpeg()).toBe(false)
    await expect(encodeMovie('webm', size, noise(1), join(folder, 'c.webm'))).rejects.toThrow(
      'Movie files need ffmpeg, which is not installed here; install it, or choose PNG.',
    )
  } finally {
    process.env.PATH = path
  }
  expect(hasFfmpeg()).toBe(true)
  await expect(encodeMovie('mkv', size, noise(1), join(folder, 'no/such/folder/d.mkv'))).rejects.toThrow(
    /^ffmpeg could not write the movie: [^\n]+$/,
  )
  expect(existsSync(join(folder, 'c.webm'))).toBe(false)
})

test('an encoder that is slower than its frames makes them wait', async () => {
  let ahead = 0
  async function* counted() {
    for await (const frame of noise(40)) {
      ahead++
      yield frame
    }
  }
  const file = join(folder, 'e.webm')
  await encodeMovie('webm', size, counted(), file)
  expect(ahead).toBe(40)
  expect(statSync(file).size).toBeGreaterThan(1000)
})

test('where there is no alpha, a title lies over black: half-clear white is mid grey', async () => {
  const half = Uint8Array.from({ length: size.width * size.height * 4 }, (_, i) => (i % 4 === 3 ? 128 : 255))
  const file = join(folder, 'f.mp4')
  await encodeMovie('mp4', size, [half, half], file)
  const rgb = execFileSync('ffmpeg', [
    '-v',
    'error',
    '-i',
    file,
    '-frames:v',
    '1',
    '-f',
    'rawvideo',
    '-pix_fmt',
    'rgb24',
    '-',
  ])
  for (const value of rgb.subarray(300, 330)) expect(Math.abs(value - 128)).toBeLessThanOrEqual(2)
})
