import { execFileSync } from 'node:child_process'
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { gifDelays } from '@hoja/core/formats'
import { outputFormats } from '@hoja/core/output'
import { PNG } from 'pngjs'
import { titleMovie, wholeFrame } from '../../testing/movie.ts'
import { temporaryFolder } from '../../testing/running.ts'
import { hasFfmpeg } from '../ffmpeg.ts'
import type { Movie, Writing } from './movie.ts'
import { inAlphaMode } from './pixels.ts'
import { writeMovie } from './write.ts'

const folder = temporaryFolder()
afterAll(() => rmSync(folder, { recursive: true, force: true }))

interface Probed {
  codec_name: string
  codec_tag_string: string
  pix_fmt: string
  r_frame_rate: string
  avg_frame_rate: string
  nb_read_frames: string
  color_space: string
  color_primaries: string
  color_transfer: string
  color_range: string
  tags?: Record<string, string>
  codec_type: string
  duration?: string
}
function probe(file: string): Probed[] {
  const args = ['-v', 'error', '-count_frames', '-show_streams', '-of', 'json', file]
  return JSON.parse(execFileSync('ffprobe', args, { encoding: 'utf8' })).streams
}

const reader = (file: string) => (file.endsWith('.webm') ? ['-c:v', 'libvpx-vp9'] : [])

/** Every frame of a movie as straight or coded RGBA. */
function decoded(file: string, pixels = 'rgba', filter?: string): Buffer {
  const how = filter ? ['-vf', filter] : []
  return execFileSync(
    'ffmpeg',
    ['-v', 'error', ...reader(file), '-i', file, ...how, '-f', 'rawvideo', '-pix_fmt', pixels, '-'],
    { maxBuffer: 1 << 30 },
  )
}
/** A movie's frames back in full-range RGBA by BT.709. */
const decodedRgb = (file: string) =>
  decoded(
    file,
    'rgba',
    'scale=in_color_matrix=bt709:in_range=tv:out_range=pc:flags=accurate_rnd+full_chroma_int+full_chroma_inp',
  )

async function written(format: keyof typeof outputFormats, movie: Movie, writing: Writing = {}): Promise<string[]> {
  const files = outputFormats[format].endings.map((end) => join(folder, `${format}-${Math.random()}${end}`))
  await writeMovie(format, movie, files, writing)
  return files
}

/** PSNR of colours where they are seen, and the largest difference of alpha. */
function compared(movie: Movie, file: string): { psnr: number; alpha: number } {
  const raw = decodedRgb(file)
  const bytes = movie.width * movie.height * 4
  let [sum, count, alpha] = [0, 0, 0]
  for (let picture = 0; picture < movie.pictures; picture++) {
    const frame = movie.frames.indexOf(picture)
    const want = wholeFrame(movie, picture)
    const got = raw.subarray(frame * bytes, (frame + 1) * bytes)
    for (let i = 0; i < bytes; i += 4) {
      const off = want[i + 3]! - got[i + 3]!
      if (off > alpha || -off > alpha) alpha = off < 0 ? -off : off
      if (want[i + 3] === 0) continue
      // As much as it is seen.
      for (let c = 0; c < 3; c++) sum += (((want[i + c]! - got[i + c]!) * want[i + 3]!) / 255) ** 2
      count += 3
    }
  }
  return { psnr: 10 * Math.log10(255 ** 2 / (sum / count)), alpha }
}

// ffprobe reads Matroska (RFC 9559), FFV1 (RFC 9043) and QuickTime; H.273 numbers tell the colours.
describe('movies of a real title, read by ffprobe and decoded', () => {
  const facts: [keyof typeof outputFormats, Partial<Probed>][] = [
    ['mov', { codec_name: 'prores', codec_tag_string: 'ap4h', pix_fmt: 'yuva444p12le', color_range: 'tv' }],
    ['mov-png', { codec_name: 'png', pix_fmt: 'rgba' }],
    ['mov-rle', { codec_name: 'qtrle', codec_tag_string: 'rle ', pix_fmt: 'argb' }],
    ['mkv', { codec_name: 'ffv1', pix_fmt: 'bgra', color_space: 'gbr', color_range: 'pc' }],
    ['webm', { codec_name: 'vp9', color_range: 'tv' }],
    ['mp4', { codec_name: 'h264', pix_fmt: 'yuv420p', color_range: 'tv' }],
  ]
  test.each(facts)('%s: frames, rate, pixels, tags', async (format, want) => {
    const movie = titleMovie()
    const [file] = await written(format, movie)
    const [picture, ...others] = probe(file!)
    expect(others).toEqual([])
    expect(picture).toMatchObject({
      color_space: 'bt709',
      color_primaries: 'bt709',
      color_transfer: 'bt709',
      ...want,
      r_frame_rate: '30000/1001',
      avg_frame_rate: '30000/1001',
      nb_read_frames: '60',
    })
    if (format === 'webm') expect(picture!.tags).toMatchObject({ ALPHA_MODE: '1' })
  })

  test.each(['mov-png', 'mov-rle', 'mkv'] as const)('%s gives back every byte of the raster', async (format) => {
    const movie = titleMovie()
    const raw = decoded((await written(format, movie))[0]!)
    expect(raw.equals(Buffer.concat(movie.frames.map((picture) => wholeFrame(movie, picture))))).toBe(true)
  })

  test('ProRes: over 45 dB, alpha within 2 levels', async () => {
    const movie = titleMovie()
    const { psnr, alpha } = compared(movie, (await written('mov', movie))[0]!)
    expect(psnr).toBeGreaterThan(45)
    expect(alpha).toBeLessThanOrEqual(2)
  })

  // VP9 with alpha keeps chroma for two pixels by two; what the codec loses is judged on those samples.
  test('WebM: over 45 dB, alpha without loss', async () => {
    const movie = titleMovie()
    const [file] = await written('webm', movie)
    expect(compared(movie, file!).alpha).toBe(0)
    const { width, height } = movie
    const colours = movie.frames.map((picture) => {
      const whole = wholeFrame(movie, picture)
      return inAlphaMode(new Uint8ClampedArray(whole), { kind: 'drawn on' }, width)
    })
    const want = execFileSync(
      'ffmpeg',
      [
        ...['-v', 'error', '-f', 'rawvideo', '-pix_fmt', 'rgba', '-s', `${width}x${height}`, '-i', '-', '-vf'],
        'scale=in_range=pc:out_range=tv:out_color_matrix=bt709:flags=accurate_rnd+full_chroma_int+bicubic,format=yuv420p',
        ...['-f', 'rawvideo', '-'],
      ],
      { input: Buffer.concat(colours), maxBuffer: 1 << 30 },
    )
    const got = decoded(file!, 'yuv420p')
    expect(got).toHaveLength(want.length)
    let sum = 0
    for (let i = 0; i < got.length; i++) sum += (got[i]! - want[i]!) ** 2
    expect(10 * Math.log10(255 ** 2 / (sum / got.length))).toBeGreaterThan(45)
  })

  test('a held frame is coded once: packets are those of the plain encode, one for one', async () => {
    const movie = titleMovie(75)
    const [file] = await written('mov', movie)
    const plain = join(folder, 'plain.mov')
    const raw = Buffer.concat(movie.frames.map((picture) => wholeFrame(movie, picture)))
    execFileSync(
      'ffmpeg',
      [
        ...[
          '-v',
          'error',
          '-f',
          'rawvideo',
          '-pix_fmt',
          'rgba',
          '-s',
          `${movie.width}x${movie.height}`,
          '-r',
          '30000/1001',
          '-i',
          '-',
          '-vf',
        ],
        'scale=in_range=pc:out_range=tv:out_color_matrix=bt709:flags=accurate_rnd+full_chroma_int+bicubic,format=yuva444p10le,setparams=range=tv:color_primaries=bt709:color_trc=bt709:colorspace=bt709',
        ...['-c:v', 'prores_ks', '-profile:v', '4444', '-qscale:v', '2', '-vendor', 'apl0', plain],
      ],
      { input: raw },
    )
    const sums = (of: string, how: string[]) =>
      execFileSync('ffmpeg', ['-v', 'error', '-i', of, ...how, '-f', 'framemd5', '-'], { encoding: 'utf8' })
        .split('\n')
        .filter((line) => line.startsWith('0,'))
    expect(sums(file!, [])).toEqual(sums(plain, []))
    expect(sums(file!, ['-c', 'copy'])).toEqual(sums(plain, ['-c', 'copy']))
    expect(new Set(sums(file!, ['-c', 'copy']).map((line) => line.split(',').pop()))).toHaveProperty(
      'size',
      movie.pictures,
    )
  })
})

/** A movie of pictures that fill the frame. */
function plainMovie(pictures: Uint8ClampedArray[], size: { width: number; height: number }): Movie {
  return {
    ...size,
    rate: { num: 25, den: 1 },
    region: { x: 0, y: 0, ...size },
    pictures: pictures.length,
    frames: pictures.map((_, i) => i),
    draw: (picture) => pictures[picture]!,
    deep: (picture) => Uint16Array.from(pictures[picture]!, (value) => value * 257),
    png: (picture) => PNG.sync.write(Object.assign(new PNG(size), { data: Buffer.from(pictures[picture]!) })),
  }
}

test('run-length lines of any runs and rows, at both bounds of a count, come back as they were', async () => {
  const size = { width: 400, height: 4 }
  const region = { x: 8, y: 1, width: 384, height: 2 }
  /** Runs and rows of pixels, one of each after the other, in turn of these lengths. */
  const picture = (lengths: readonly number[], seed: number) => {
    const pixels = new Uint32Array(region.width * region.height)
    let [at, n] = [0, seed]
    for (let turn = 0; at < pixels.length; turn++) {
      const length = lengths[turn % lengths.length]!
      for (let k = 0; k < length; k++) {
        if (turn % 2 === 1 || k === 0) n = (Math.imul(n, 1664525) + 1013904223) >>> 0
        if (at < pixels.length) pixels[at++] = n
      }
    }
    return new Uint8ClampedArray(pixels.buffer)
  }
  const bounds = [1, 2, 3, 126, 127, 128, 129, 255, 256, 257]
  const pictures = bounds.flatMap((a) => bounds.map((b) => picture([a, b], a * 1000 + b)))
  const movie: Movie = { ...plainMovie(pictures, size), region }
  const raw = decoded((await written('mov-rle', movie))[0]!)
  expect(raw.equals(Buffer.concat(movie.frames.map((frame) => wholeFrame(movie, frame))))).toBe(true)
})

// ITU-R BT.709-6, items 3.2 to 3.4 and 4: 75 % bars, in 8 bits Y'CbCr of limited range.
const bars: [name: string, rgb: [number, number, number], yuv: [number, number, number]][] = [
  ['white', [191, 191, 191], [180, 128, 128]],
  ['yellow', [191, 191, 0], [168, 44, 136]],
  ['cyan', [0, 191, 191], [145, 147, 44]],
  ['green', [0, 191, 0], [133, 63, 52]],
  ['magenta', [191, 0, 191], [63, 193, 204]],
  ['red', [191, 0, 0], [51, 109, 212]],
  ['blue', [0, 0, 191], [28, 212, 120]],
  ['black', [0, 0, 0], [16, 128, 128]],
]
describe('75 % bars become the values of ITU-R BT.709, within a level', () => {
  const size = { width: 256, height: 64 }
  const picture = new Uint8ClampedArray(size.width * size.height * 4)
  for (let y = 0; y < size.height; y++)
    for (let x = 0; x < size.width; x++) picture.set([...bars[x >> 5]![1], 255], (y * size.width + x) * 4)
  const movie = plainMovie([picture, picture], size)
  test.each(['mov', 'pair', 'webm', 'mp4'] as const)('%s', async (format) => {
    const raw = decoded((await written(format, movie))[0]!, 'yuv444p')
    const plane = size.width * size.height
    for (const [i, [name, , yuv]] of bars.entries())
      for (let c = 0; c < 3; c++) {
        const got = raw[c * plane + 32 * size.width + i * 32 + 16]!
        expect([name, c, Math.abs(got - yuv[c]!) <= 1, got, yuv[c]]).toEqual([name, c, true, got, yuv[c]])
      }
  })
})

describe('alpha, backdrops, timecode, sound', () => {
  const size = { width: 64, height: 36 }
  const half = new Uint8ClampedArray(size.width * size.height * 4).map((_, i) => [200, 100, 50, 128][i % 4]!)
  const movie = plainMovie([half, half], size)
  const pixel = (raw: Buffer) => [...raw.subarray(64 * 4 * 18 + 128, 64 * 4 * 18 + 132)]

  test('straight keeps colours, premultiplied multiplies them by alpha', async () => {
    for (const format of ['mov-rle', 'mkv'] as const) {
      expect(pixel(decoded((await written(format, movie))[0]!))).toEqual([200, 100, 50, 128])
      const [file] = await written(format, movie, { alpha: 'premultiplied' })
      expect(pixel(decoded(file!))).toEqual([100, 50, 25, 128])
    }
    const near = (got: number[], want: number[]) => got.every((value, i) => Math.abs(value - want[i]!) <= 1)
    expect(near(pixel(decodedRgb((await written('mov', movie))[0]!)), [200, 100, 50, 128])).toBe(true)
    const [file] = await written('mov', movie, { alpha: 'premultiplied' })
    expect(near(pixel(decodedRgb(file!)), [100, 50, 25, 128])).toBe(true)
  })

  test('multiplying is exact to the nearest level', () => {
    const all = Uint8ClampedArray.from({ length: 256 * 256 * 4 }, (_, i) =>
      i % 4 === 3 ? (i >> 2) >> 8 : (i >> 2) & 255,
    )
    const got = inAlphaMode(all, { kind: 'premultiplied' }, 256)
    const want = all.map((value, i) => (i % 4 === 3 ? value : Math.round((value * all[i - (i % 4) + 3]!) / 255)))
    expect(Buffer.from(got).equals(Buffer.from(want))).toBe(true)
  })

  test('a pair is the colours and the key, each without alpha', async () => {
    const [fill, key] = await written('pair', movie, { alpha: 'premultiplied' })
    for (const file of [fill!, key!]) expect(probe(file)[0]).toMatchObject({ pix_fmt: 'yuv444p12le' })
    expect(
      pixel(decodedRgb(fill!))
        .slice(0, 3)
        .map((v, i) => Math.abs(v - [100, 50, 25][i]!) <= 1),
    ).toEqual([true, true, true])
    for (const value of pixel(decodedRgb(key!)).slice(0, 3)) expect(Math.abs(value - 128)).toBeLessThanOrEqual(1)
  })

  test('where there is no alpha a title lies over black, a colour, a still, or footage', async () => {
    const still = join(folder, 'still.png')
    const blue = new PNG({ width: 128, height: 128 })
    blue.data.set(Uint8Array.from({ length: 128 * 128 * 4 }, (_, i) => [0, 0, 240, 255][i % 4]!))
    writeFileSync(still, PNG.sync.write(blue))
    const footage = join(folder, 'footage.mp4')
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-f', 'lavfi', '-i', 'color=c=0x0000f0:s=96x96:r=50:d=0.04', '-vf'],
      'scale=out_color_matrix=bt709,format=yuv420p',
      ...['-colorspace', 'bt709', '-qp', '0', footage],
    ])
    const over = (under: number[]) => [200, 100, 50].map((value, i) => (value * 128 + under[i]! * 127) / 255)
    const cases: [Writing, number[]][] = [
      [{}, over([0, 0, 0])],
      [{ backdrop: { kind: 'colour', colour: '#0000f0' } }, over([0, 0, 240])],
      [{ backdrop: { kind: 'still', file: still } }, over([0, 0, 240])],
      [{ backdrop: { kind: 'footage', file: footage } }, over([0, 0, 240])],
    ]
    // Longer than the footage, which stands still at its end.
    const longer = plainMovie(
      Array.from({ length: 6 }, () => half),
      size,
    )
    for (const [writing, want] of cases) {
      const [file] = await written('mp4', longer, writing)
      expect(probe(file!)[0]!.nb_read_frames).toBe('6')
      const raw = decodedRgb(file!)
      for (const frame of [0, 5]) {
        const got = pixel(raw.subarray(frame * 64 * 36 * 4)).slice(0, 3)
        for (const [i, value] of got.entries()) expect(Math.abs(value - want[i]!)).toBeLessThanOrEqual(4)
      }
    }
  })

  // ITU-R BT.2408-7, table 1: HDR reference white, 203 cd/m², is 58 % of PQ and 75 % of HLG; a grey card is 38 % of both.
  const codes = [
    ['smpte2084', 0.58],
    ['arib-std-b67', 0.75],
  ] as const
  test.each(codes)(
    'footage in %s is laid under as BT.709: its white is white, and a grey keeps its light',
    async (transfer, white) => {
      const file = join(folder, `${transfer}.mkv`)
      const level = (share: number) => Math.round(64 + 876 * share)
      const luma = `if(lt(X,32),${level(white)},${level(0.38)})`
      const wide = [
        '-colorspace',
        'bt2020nc',
        '-color_primaries',
        'bt2020',
        '-color_trc',
        transfer,
        '-color_range',
        'tv',
      ]
      execFileSync('ffmpeg', [
        ...['-v', 'error', '-y', '-f', 'lavfi', '-i', 'color=black:s=64x36:r=25:d=0.08,format=yuv420p10le'],
        ...['-vf', `geq=lum='${luma}':cb=512:cr=512`, ...wide, '-c:v', 'ffv1', file],
      ])
      const clear = plainMovie([new Uint8ClampedArray(size.width * size.height * 4)], size)
      const [made] = await written('mp4', clear, { backdrop: { kind: 'footage', file } })
      const raw = decodedRgb(made!)
      const at = (x: number) => [...raw.subarray((18 * 64 + x) * 4, (18 * 64 + x) * 4 + 3)]
      for (const value of at(16)) expect(value).toBeGreaterThan(235)
      // 18 % of the light of white, by BT.709's own curve: 0.41 of its signal.
      for (const value of at(48)) expect(Math.abs(value - 0.41 * 255)).toBeLessThan(16)
      expect(probe(made!)[0]).toMatchObject({ color_transfer: 'bt709', color_primaries: 'bt709', color_space: 'bt709' })
    },
  )

  test('a GIF is clear or not, or lies over a colour', async () => {
    const frames = { ...movie, frames: [0, 0, 0, 0, 0, 1, 1] }
    const [clear] = await written('gif', frames)
    expect(pixel(decoded(clear!))[3]).toBe(255)
    const [file] = await written('gif', frames, { backdrop: { kind: 'colour', colour: '#000000' } })
    expect(pixel(decoded(file!)).map((v, i) => Math.abs(v - [100, 50, 25, 255][i]!) <= 2)).toEqual([
      true,
      true,
      true,
      true,
    ])
  })

  // A held last picture, rates whose frames are no hundredths, and rates that viewers do not play.
  const rates = [
    [25, 1],
    [24000, 1001],
    [30000, 1001],
    [50, 1],
    [60000, 1001],
    [120, 1],
  ] as const
  test.each(rates)('a GIF of %d/%d lasts as long as its frames, to a hundredth', async (num, den) => {
    const grey = (level: number) =>
      new Uint8ClampedArray(size.width * size.height * 4).map((_, i) => (i % 4 === 3 ? 255 : level))
    const pictures = Array.from({ length: 23 }, (_, i) => grey(10 * i))
    // Two that look alike once there are 256 colours, and a hold of a minute and more at the end.
    pictures.push(pictures.at(-1)!)
    const frames = [...pictures.keys(), ...new Array(4000).fill(23)]
    const rate = { num, den }
    const [file] = await written('gif', { ...plainMovie(pictures, size), rate, frames })
    const delays = gifDelays(readFileSync(file!))
    expect(delays.reduce((a, b) => a + b, 0)).toBe(Math.round((100 * frames.length * den) / num))
    expect(Math.min(...delays)).toBeGreaterThanOrEqual(2)
    const read = probe(file!)[0]!
    expect(Number(read.duration)).toBeCloseTo((frames.length * den) / num, 2)
    expect(Number(read.nb_read_frames)).toBe(delays.length)
  })

  test('timecode begins where it is told to', async () => {
    for (const format of ['mov', 'mp4', 'mkv', 'mov-png'] as const) {
      const [file] = await written(format, movie, { timecode: '10:59:30:12' })
      const streams = JSON.parse(
        execFileSync('ffprobe', ['-v', 'error', '-show_streams', '-show_format', '-of', 'json', file!], {
          encoding: 'utf8',
        }),
      ) as { streams: Probed[]; format: { tags: Record<string, string> } }
      const told = [...streams.streams.map(({ tags }) => tags), streams.format.tags].flatMap((tags) =>
        Object.entries(tags ?? {}).flatMap(([key, value]) => (/^timecode$/i.test(key) ? [value] : [])),
      )
      expect([format, new Set(told)]).toEqual([format, new Set(['10:59:30:12'])])
    }
  })

  // W3C Web Audio API 1.1, up- and down-mixing of loudspeakers: what a browser's preview plays.
  const mixes: [channels: number, layout: string, left: number[], right: number[]][] = [
    [1, 'mono', [1], [1]],
    [2, 'stereo', [1, 0], [0, 1]],
    [4, 'quad', [0.5, 0, 0.5, 0], [0, 0.5, 0, 0.5]],
    [6, '5.1', [1, 0, Math.SQRT1_2, 0, Math.SQRT1_2, 0], [0, 1, Math.SQRT1_2, 0, 0, Math.SQRT1_2]],
  ]
  test.each(mixes)(
    '%d channels come out as loud as they are heard, to 0.1 dB',
    async (channels, layout, left, right) => {
      const file = join(folder, `${layout}.wav`)
      // Every channel a tone of its own, so that what becomes of it can be told from the others.
      const tones = Array.from({ length: channels }, (_, c) => `0.1*sin(2*PI*${200 + 100 * c}*t)`).join('|')
      const source = `aevalsrc=${tones}:s=48000:d=1:c=${layout}`
      execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', source, '-c:a', 'pcm_s16le', file])
      const longer = plainMovie(
        Array.from({ length: 25 }, () => half),
        size,
      )
      const [made] = await written('mov', longer, { sounds: [{ file, at: 0, level: -6 }] })
      const args = ['-v', 'error', '-i', made!, '-vn', '-f', 's16le', '-']
      const raw = execFileSync('ffmpeg', args)
      const samples = new Int16Array(raw.buffer, raw.byteOffset, raw.length / 2)
      /** How loud a tone is in a channel: over a second, each tone is a line of its own. */
      const loudness = (side: 0 | 1, hertz: number) => {
        let [real, imaginary] = [0, 0]
        for (let i = 0; i < 48000; i++) {
          const angle = (2 * Math.PI * hertz * i) / 48000
          real += samples[2 * i + side]! * Math.cos(angle)
          imaginary += samples[2 * i + side]! * Math.sin(angle)
        }
        return (2 * Math.hypot(real, imaginary)) / 48000 / 32768
      }
      for (const [side, gains] of [left, right].entries())
        for (const [c, gain] of gains.entries()) {
          const got = loudness(side as 0 | 1, 200 + 100 * c)
          if (gain === 0) expect(got).toBeLessThan(0.0005)
          else expect(Math.abs(20 * Math.log10(got / (0.1 * gain)) + 6)).toBeLessThan(0.1)
        }
    },
  )

  test('sounds begin at their moments, in every container', async () => {
    const file = join(folder, 'beep.wav')
    execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'sine=1000:duration=0.1', '-y', file])
    const longer = plainMovie(
      Array.from({ length: 25 }, () => half),
      size,
    )
    for (const format of ['mov', 'mov-rle', 'mkv', 'webm', 'mp4'] as const) {
      const [made] = await written(format, longer, { sounds: [{ file, at: 0.5, level: 0 }] })
      const streams = probe(made!)
      expect(streams.map(({ codec_type }) => codec_type)).toEqual(['video', 'audio'])
      const raw = execFileSync('ffmpeg', [
        '-v',
        'error',
        '-i',
        made!,
        '-vn',
        '-ac',
        '1',
        '-ar',
        '48000',
        '-f',
        's16le',
        '-',
      ])
      const loud = (from: number, to: number) => {
        let most = 0
        for (let i = Math.round(from * 48000); i < to * 48000; i++)
          most = Math.max(most, Math.abs(raw.readInt16LE(i * 2)))
        return most
      }
      expect(loud(0.05, 0.45)).toBeLessThan(200)
      expect(loud(0.51, 0.59)).toBeGreaterThan(2000)
    }
  })
})

test('without ffmpeg, and where it cannot write, one sentence says so', async () => {
  const path = process.env.PATH
  process.env.PATH = folder
  try {
    expect(hasFfmpeg()).toBe(false)
    await expect(writeMovie('webm', titleMovie(40), [join(folder, 'c.webm')], {})).rejects.toThrow(
      'Movie files need ffmpeg, which is not installed here; install it, or choose PNG.',
    )
  } finally {
    process.env.PATH = path
  }
  expect(hasFfmpeg()).toBe(true)
  await expect(writeMovie('mkv', titleMovie(40), [join(folder, 'no/such/folder/d.mkv')], {})).rejects.toThrow(
    /^ffmpeg could not write the movie: [^\n]+$/,
  )
  expect(existsSync(join(folder, 'c.webm'))).toBe(false)
})

test('an encoder that is slower than its frames makes them wait, and every frame arrives', async () => {
  const size = { width: 64, height: 36 }
  const noise = (f: number) =>
    Uint8ClampedArray.from({ length: 64 * 36 * 4 }, (_, i) => (i % 4 === 3 ? 255 : ((i + f * 101) * 2654435761) >>> 24))
  const movie = plainMovie(
    Array.from({ length: 40 }, (_, f) => noise(f)),
    size,
  )
  const seen: number[] = []
  const [file] = await written('mkv', movie, { onPicture: (done, of) => seen.push(done / of) })
  expect(seen.at(-1)).toBe(1)
  expect(seen).toHaveLength(40)
  expect(decoded(file!).equals(Buffer.concat(Array.from({ length: 40 }, (_, f) => Buffer.from(noise(f)))))).toBe(true)
  expect(readFileSync(file!).subarray(0, 4).toString('hex')).toBe('1a45dfa3')
})
