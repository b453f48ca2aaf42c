import { execFileSync, spawnSync } from 'node:child_process'
import { rmSync } from 'node:fs'
import { join } from 'node:path'
import { runsOf } from '@hoja/core/output'
import { mediaFacts, probed } from '../../testing/decoded.ts'
import { temporaryFolder } from '../../testing/running.ts'
import type { Movie } from './movie.ts'
import { writeMovie } from './write.ts'

const folder = temporaryFolder()
afterAll(() => rmSync(folder, { recursive: true, force: true }))

/** A movie of noise that changes, each picture shown for as long as told. */
function movieOf(size: { width: number; height: number }, holds: readonly number[], back = false): Movie {
  const { width, height } = size
  const pictures = holds.map((_, f) =>
    Uint8ClampedArray.from({ length: width * height * 4 }, (_, i) =>
      i % 4 === 3 ? 255 : ((Math.floor(i / 64) + f * 7) * 40503) & 255,
    ),
  )
  const frames = holds.flatMap((count, picture) => new Array<number>(count).fill(picture))
  if (back) frames.push(...frames.slice(0, -1).reverse())
  return {
    ...size,
    rate: { num: 25, den: 1 },
    region: { x: 0, y: 0, ...size },
    pictures: pictures.length,
    frames,
    draw: (picture) => pictures[picture]!,
    deep: () => new Uint16Array(),
    png: () => new Uint8Array(),
  }
}

/** The sum of every frame as ffmpeg decodes it; any fault of the stream ends it. */
function sums(file: string): string[] {
  const strict = ['-v', 'warning', '-xerror', '-err_detect', 'explode']
  const { status, stdout, stderr } = spawnSync('ffmpeg', [...strict, '-i', file, '-f', 'framemd5', '-'], {
    encoding: 'utf8',
  })
  expect([status, stderr]).toEqual([0, ''])
  return stdout.split('\n').flatMap((line) => (line.startsWith('0,') ? [line.split(',').pop()!.trim()] : []))
}

// ITU-T H.264: frames of skipped macroblocks, judged by ffmpeg's decoder.
const cases: [name: string, size: { width: number; height: number }, holds: number[], back: boolean][] = [
  ['holds of any length, numbers past their sixteen', { width: 64, height: 48 }, [1, 1, 2, 17, 1, 33, 1, 1], true],
  ['sides that are no macroblocks', { width: 70, height: 38 }, [3, 1, 40, 2], false],
  ['a hold longer than a player waits', { width: 128, height: 72 }, [1, 1, 900, 1, 1], false],
]
test.each(cases)('%s: a held frame is the one before, to the last bit', async (_, size, holds, back) => {
  const movie = movieOf(size, holds, back)
  const file = join(folder, `${size.width}.mp4`)
  await writeMovie('mp4', movie, [file], { timecode: '10:00:00:00' })
  const got = sums(file)
  expect(got).toHaveLength(movie.frames.length)
  // Between two frames that stand by themselves nothing changes in a hold.
  const packets = execFileSync(
    'ffprobe',
    ['-v', 'error', '-select_streams', 'v', '-show_entries', 'packet=flags', '-of', 'csv=p=0', file],
    { encoding: 'utf8' },
  )
  const keys = packets
    .trim()
    .split('\n')
    .flatMap((flags, frame) => (flags.startsWith('K') ? [frame] : []))
  for (const { from, count } of runsOf(movie.frames))
    for (let frame = from + 1; frame < from + count; frame++)
      if (!keys.includes(frame)) expect([frame, got[frame]]).toEqual([frame, got[frame - 1]])
  for (const [i, key] of keys.entries()) expect((keys[i + 1] ?? movie.frames.length) - key).toBeLessThanOrEqual(251)
  expect(probed(file).streams[0]).toMatchObject({ codec_name: 'h264', nb_read_frames: String(movie.frames.length) })
  expect(mediaFacts(file)).toMatchObject({ FrameRate: '25.000', ScanType: 'Progressive', colour_primaries: 'BT.709' })
})

test('what the encoder coded is decoded as if it stood alone', async () => {
  const size = { width: 96, height: 64 }
  const movie = movieOf(size, [1, 4, 1, 9, 2])
  const file = join(folder, 'held.mp4')
  await writeMovie('mp4', movie, [file], {})
  const alone = join(folder, 'alone.mkv')
  execFileSync(
    'ffmpeg',
    [
      ...['-v', 'error', '-y', '-f', 'rawvideo', '-pix_fmt', 'rgba', '-s', '96x64', '-r', '25', '-i', '-', '-vf'],
      'scale=in_range=pc:out_range=tv:out_color_matrix=bt709:flags=accurate_rnd+full_chroma_int+bicubic,format=yuv420p,setparams=range=tv:color_primaries=bt709:color_trc=bt709:colorspace=bt709',
      ...['-c:v', 'libx264', '-crf', '16', '-preset', 'fast', '-bf', '0', '-refs', '1', '-x264-params', 'weightp=0'],
      ...['-threads', '1', alone],
    ],
    { input: Buffer.concat([0, 1, 2, 3, 4].map((picture) => Buffer.from(movie.draw(picture)))) },
  )
  const held = sums(file)
  expect([0, 1, 5, 6, 15].map((frame) => held[frame])).toEqual(sums(alone))
})
