import { execFileSync } from 'node:child_process'
import { readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { type FormatId, formatIds, outputFormats } from '@hoja/core/output'
import { asRgb, mediaFacts, probed, rawFrames } from '../../testing/decoded.ts'
import { titleMovie, wholeFrame } from '../../testing/movie.ts'
import { temporaryFolder } from '../../testing/running.ts'
import type { Writing } from './movie.ts'
import { writeMovie } from './write.ts'

const folder = temporaryFolder()
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const frameCount = 44
const movie = titleMovie(frameCount, { width: 320, height: 184 })
async function written(format: FormatId, writing: Writing = {}): Promise<string> {
  const file = join(folder, `${format}${outputFormats[format].endings[0]}`)
  await writeMovie(format, movie, [file], writing)
  return file
}
const frames = movie.frames.map((picture) => wholeFrame(movie, picture))

/** Every frame over a colour, in 8 bits. */
function overColour([r, g, b]: readonly [number, number, number]): Buffer {
  const out = Buffer.concat(frames)
  const over = (at: number, under: number, a: number) => {
    // Rounded to the nearest: numbers are cut to bytes as they are put.
    out[at] = (out[at]! * a + under * (255 - a)) / 255 + 0.5
  }
  for (let i = 0; i < out.length; i += 4) {
    const a = out[i + 3]!
    over(i, r, a)
    over(i + 1, g, a)
    over(i + 2, b, a)
    out[i + 3] = 255
  }
  return out
}

function psnr(got: Buffer, want: Buffer): number {
  expect(got).toHaveLength(want.length)
  let sum = 0
  for (let i = 0; i < got.length; i++) sum += (got[i]! - want[i]!) ** 2
  return 10 * Math.log10(255 ** 2 / Math.max(1e-9, sum / got.length))
}

describe('opaque movies over a backdrop', () => {
  const kinds: [format: FormatId, codec: string, profile: string, pixels: string, container: string, least: number][] =
    [
      ['prores422', 'prores', 'HQ', 'yuv422p10le', 'ProRes', 45],
      ['prores422-mxf', 'prores', 'HQ', 'yuv422p10le', 'ProRes', 45],
      ['dnxhr', 'dnxhd', 'DNXHR HQX', 'yuv422p10le', 'VC-3', 45],
      ['dnxhr-mxf', 'dnxhd', 'DNXHR HQX', 'yuv422p10le', 'VC-3', 45],
      ['dnxhr444', 'dnxhd', 'DNXHR 444', 'yuv444p10le', 'VC-3', 45],
      ['dnxhr444-mxf', 'dnxhd', 'DNXHR 444', 'yuv444p10le', 'VC-3', 45],
    ]
  // ffprobe reads the codec and its own tags, mediainfo those of the container; the picture is judged on what halved
  // colour leaves of it.
  test.each(kinds)(
    '%s: codec, bits, tags, rate, timecode, and the picture',
    async (format, codec, profile, pixels, told, least) => {
      const backdrop = { kind: 'colour', colour: '#335577' } as const
      const file = await written(format, { backdrop, timecode: '10:00:00:00' })
      const [picture] = probed(file).streams
      expect(picture).toMatchObject({
        codec_name: codec,
        profile,
        pix_fmt: pixels,
        width: 320,
        height: 184,
        r_frame_rate: '30000/1001',
        nb_read_frames: String(frameCount),
        color_space: 'bt709',
        color_primaries: 'bt709',
        color_transfer: 'bt709',
      })
      const facts = mediaFacts(file)
      expect(facts).toMatchObject({ Format: told, FrameCount: String(frameCount), ScanType: 'Progressive' })
      expect(execFileSync('mediainfo', ['--Output=Other;%TimeCode_FirstFrame%', file], { encoding: 'utf8' })).toContain(
        '10:00:00:00',
      )
      // Halved colour on both sides: what is left is the codec's own loss.
      const halved = (raw: Buffer) =>
        execFileSync(
          'ffmpeg',
          [
            ...['-v', 'error', '-f', 'rawvideo', '-pix_fmt', 'rgba', '-s', '320x184', '-i', '-', '-vf'],
            'scale=in_range=pc:out_range=tv:out_color_matrix=bt709:flags=accurate_rnd+full_chroma_int+bicubic,format=yuv422p',
            ...['-f', 'rawvideo', '-'],
          ],
          { input: raw, maxBuffer: 1 << 30 },
        )
      expect(
        psnr(
          rawFrames(file, 'yuv422p', 'scale=flags=accurate_rnd+full_chroma_int+bicubic'),
          halved(overColour([0x33, 0x55, 0x77])),
        ),
      ).toBeGreaterThan(least)
    },
  )

  test('over a still it is laid in RGB, over footage for as long as it lasts', async () => {
    const still = join(folder, 'still.png')
    const clip = join(folder, 'clip.mp4')
    const blue = 'color=c=0x0000f0:s=320x184:r=30000/1001'
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', blue, '-frames:v', '1', still])
    execFileSync('ffmpeg', [
      ...[
        '-v',
        'error',
        '-y',
        '-f',
        'lavfi',
        '-i',
        `${blue}:d=0.3`,
        '-vf',
        'scale=out_color_matrix=bt709,format=yuv420p',
      ],
      ...['-colorspace', 'bt709', '-qp', '0', clip],
    ])
    const want = overColour([0, 0, 240])
    for (const backdrop of [
      { kind: 'still', file: still },
      { kind: 'footage', file: clip },
    ] as const) {
      const file = await written('dnxhr444', { backdrop })
      expect(psnr(rawFrames(file, 'rgba', asRgb), want)).toBeGreaterThan(38)
      expect(probed(file).streams[0]).toMatchObject({ nb_read_frames: String(frameCount), pix_fmt: 'yuv444p10le' })
    }
  })

  // 10 bits are worth nothing when what comes in has 8: soft edges over a colour have more than 256 steps.
  test('what is mixed of a soft edge and a colour keeps more than 8 bits', async () => {
    const ramp = new Uint8ClampedArray(320 * 184 * 4)
    for (let i = 0; i < 320 * 184; i++) ramp.set([255, 255, 255, Math.floor((i % 320) / 1.25)], i * 4)
    const soft = {
      ...movie,
      region: { x: 0, y: 0, width: 320, height: 184 },
      pictures: 1,
      frames: [0],
      draw: () => ramp,
    }
    const file = join(folder, 'soft.mov')
    await writeMovie('dnxhr444', soft, [file], { backdrop: { kind: 'colour', colour: '#f0f0f0' } })
    const raw = rawFrames(file, 'yuv444p10le')
    const line = new Uint16Array(raw.buffer, raw.byteOffset + 320 * 90 * 2, 320)
    // From #f0 to white in 8 bits there are 16 levels.
    expect(new Set(line).size).toBeGreaterThan(40)
  })
})

describe('movies with alpha', () => {
  test('CineForm: RGB of 12 bits with alpha', async () => {
    // A wavelet loses most in what is small: judged at the size of a title, not of a stamp.
    const large = titleMovie(36)
    const file = join(folder, 'cineform.mov')
    await writeMovie('cineform', large, [file], { timecode: '01:00:00:00' })
    expect(probed(file).streams[0]).toMatchObject({
      codec_name: 'cfhd',
      codec_tag_string: 'CFHD',
      pix_fmt: 'gbrap12le',
      nb_read_frames: '36',
      color_primaries: 'bt709',
    })
    const got = rawFrames(file, 'rgba')
    const want = Buffer.concat(large.frames.map((picture) => wholeFrame(large, picture)))
    let [alpha, colour, count] = [0, 0, 0]
    for (let i = 0; i < want.length; i += 4) {
      alpha = Math.max(alpha, Math.abs(got[i + 3]! - want[i + 3]!))
      for (let c = 0; c < 3; c++) colour += (((got[i + c]! - want[i + c]!) * want[i + 3]!) / 255) ** 2
      if (want[i + 3]! > 0) count += 3
    }
    expect(alpha).toBeLessThanOrEqual(4)
    expect(10 * Math.log10(255 ** 2 / (colour / count))).toBeGreaterThan(42)
  })

  test('UT Video gives back every byte of the raster, and multiplies when it is told to', async () => {
    const file = await written('utvideo')
    expect(probed(file).streams[0]).toMatchObject({
      codec_name: 'utvideo',
      codec_tag_string: 'ULRA',
      nb_read_frames: String(frameCount),
    })
    expect(rawFrames(file, 'rgba').equals(Buffer.concat(frames))).toBe(true)
  })

  // RFC 9649 and Google's own tool read it; ffmpeg decodes the pictures.
  test('an animated WebP holds each picture without loss, as long as it stands', async () => {
    const file = await written('webp')
    const told = execFileSync('webpmux', ['-info', file], { encoding: 'utf8' })
    expect(told).toContain('Canvas size: 320 x 184')
    expect(told).toContain('Loop Count : 0')
    const rows = [
      ...told.matchAll(/^\s*(\d+):\s+(\d+)\s+(\d+)\s+yes\s+(\d+)\s+(\d+)\s+(\d+)\s+none\s+no\s+\d+\s+lossless$/gm),
    ]
    const { x, y, width, height } = movie.region
    for (const [, , w, h, left, top] of rows) expect([w, h, left, top].map(Number)).toEqual([width, height, x, y])
    const milliseconds = rows.reduce((sum, row) => sum + Number(row[6]), 0)
    expect(milliseconds).toBe(Math.round((frameCount * 1001 * 1000) / 30000))
    // The picture of the hold, taken out by itself.
    const longest = rows.reduce((a, b) => (Number(b[6]) > Number(a[6]) ? b : a))
    const one = join(folder, 'one.webp')
    execFileSync('webpmux', ['-get', 'frame', longest[1]!, file, '-o', one], { stdio: 'ignore' })
    const got = rawFrames(one, 'rgba')
    const want = Buffer.from(movie.draw(movie.frames[22]!))
    for (let i = 0; i < want.length; i += 4)
      if (want[i + 3]! > 0 && got.readUInt32LE(i) !== want.readUInt32LE(i)) throw new Error(`pixel ${i / 4} differs`)
      else if (got[i + 3] !== want[i + 3]) throw new Error(`alpha ${i / 4} differs`)
  })
})

// ITU-R BT.709-6 part 1, 1080i: two fields a frame, the lines of each drawn at its own moment.
describe('frames of two fields', () => {
  const kinds = formatIds.filter((format) => outputFormats[format].fields)
  test.each(kinds)('%s says which field comes first', async (format) => {
    for (const [fields, told, order] of [
      ['top', 'tb', 'TFF'],
      ['bottom', 'bt', 'BFF'],
    ] as const) {
      const files = outputFormats[format].endings.map((end) => join(folder, `${fields}-${format}${end}`))
      await writeMovie(format, { ...movie, fields }, files, {})
      for (const file of files) {
        // H.264 says it with every frame, the others once for all of them.
        if (format === 'mp4') {
          const shown = execFileSync(
            'ffprobe',
            ['-v', 'error', '-show_entries', 'frame=interlaced_frame,top_field_first', '-of', 'csv=p=0', file],
            { encoding: 'utf8' },
          )
          const told = new Set([...shown.matchAll(/^\d,\d/gm)].map(([flags]) => flags))
          expect(told).toEqual(new Set([fields === 'top' ? '1,1' : '1,0']))
        } else {
          expect(probed(file).streams[0]!.field_order).toBe(told)
          expect(mediaFacts(file)).toMatchObject({ ScanType: 'Interlaced', ScanOrder: order })
        }
      }
    }
  })
})

describe('marks', () => {
  const marks = [
    { name: 'In', from: 0, count: 15 },
    { name: 'Hold', from: 15, count: frameCount - 30 },
    { name: 'Out', from: frameCount - 15, count: 15 },
  ]
  const kinds = formatIds.filter((format) => outputFormats[format].chapters && format !== 'pair')
  test.each(kinds)('%s has In, Hold and Out as chapters', async (format) => {
    const file = await written(format, { marks })
    const { chapters } = probed(file)
    expect(chapters.map(({ tags }) => tags.title)).toEqual(['In', 'Hold', 'Out'])
    for (const [i, { start_time }] of chapters.entries())
      expect(Math.abs(Number(start_time) - (marks[i]!.from * 1001) / 30000)).toBeLessThan(0.002)
  })

  test('without marks there are no chapters, whatever a sound has', async () => {
    const sound = join(folder, 'chaptered.ogg')
    const facts = join(folder, 'facts.txt')
    writeFileSync(facts, ';FFMETADATA1\n[CHAPTER]\nTIMEBASE=1/1\nSTART=0\nEND=1\ntitle=Verse\n')
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-y', '-f', 'lavfi', '-i', 'sine=440:duration=1', '-i', facts, '-map_chapters', '1'],
      ...['-c:a', 'libvorbis', sound],
    ])
    expect(probed(await written('mkv', { sounds: [{ file: sound, at: 0, level: 0 }] })).chapters).toEqual([])
  })
})

test('every format has an ending of its own kind and a note in one line', () => {
  for (const format of formatIds) {
    const { endings, note, name, pictures, still } = outputFormats[format]
    expect(endings.length).toBeGreaterThan(0)
    expect(note).toMatch(/^[^\n]+\.$/)
    expect(name).not.toBe('')
    if (pictures) expect([still, endings]).toEqual([false, ['']])
  }
  expect(readFileSync(join(folder, 'utvideo.avi')).subarray(0, 4).toString()).toBe('RIFF')
})
