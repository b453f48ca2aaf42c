import { existsSync } from 'node:fs'
import { delimiter, join } from 'node:path'
import { Refusal } from '@hoja/core/refusal'
import { type Rate, rateText } from '@hoja/core/time'
import { execa } from 'execa'
import type { Format } from './settings.ts'

/** sRGB in, BT.709 limited range out, and said so in the file. */
const bt709 = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv']
const toYuv = (pixels: string) => [
  '-vf',
  `scale=in_range=pc:out_range=tv:out_color_matrix=bt709:flags=accurate_rnd+full_chroma_int,format=${pixels}`,
  ...bt709,
]

const encoders: Record<Exclude<Format, 'png'>, string[]> = {
  webm: [
    ...toYuv('yuva420p'),
    '-c:v',
    'libvpx-vp9',
    '-auto-alt-ref',
    '0',
    '-crf',
    '18',
    '-b:v',
    '0',
    '-deadline',
    'good',
    '-cpu-used',
    '4',
    '-row-mt',
    '1',
    '-threads',
    '1',
  ],
  mov: [...toYuv('yuva444p10le'), '-c:v', 'prores_ks', '-profile:v', '4444', '-threads', '1'],
  mkv: ['-c:v', 'ffv1', '-level', '3', '-pix_fmt', 'bgra', '-threads', '1'],
  mp4: [
    ...toYuv('yuv420p'),
    '-c:v',
    'libx264',
    '-crf',
    '16',
    '-preset',
    'fast',
    '-movflags',
    '+faststart',
    '-threads',
    '1',
  ],
}

/** A sound beside the picture. */
export interface Played {
  file: string
  /** Seconds into the movie at which it begins. */
  at: number
  /** dB */
  level: number
}

const soundEncoders: Record<Exclude<Format, 'png'>, string[]> = {
  webm: ['-c:a', 'libopus', '-b:a', '160k'],
  mov: ['-c:a', 'pcm_s16le'],
  mkv: ['-c:a', 'flac'],
  mp4: ['-c:a', 'aac', '-b:a', '192k'],
}

/** Sounds mixed as loud as they are, each from its moment, as long as the picture lasts. */
function soundArguments(format: Exclude<Format, 'png'>, sounds: readonly Played[], seconds: number): string[] {
  if (sounds.length === 0) return []
  const each = sounds.map(
    ({ at, level }, i) =>
      `[${i + 1}:a:0]aresample=48000,aformat=channel_layouts=stereo,volume=${level}dB,adelay=${Math.round(at * 48000)}S:all=1[s${i}]`,
  )
  const mix = `${sounds.map((_, i) => `[s${i}]`).join('')}amix=inputs=${sounds.length}:normalize=0,apad,atrim=end=${seconds}[sound]`
  return ['-filter_complex', `${each.join(';')};${mix}`, '-map', '0:v', '-map', '[sound]', ...soundEncoders[format]]
}

/** Whether ffmpeg can be called. */
export function hasFfmpeg(): boolean {
  return (process.env.PATH ?? '').split(delimiter).some((folder) => existsSync(join(folder, 'ffmpeg')))
}

/**
 * Encodes full frames of straight RGBA to a movie file, with the sounds of the title.
 * @throws Refusal when ffmpeg is not there, or says that it failed.
 */
export async function encodeMovie(
  format: Exclude<Format, 'png'>,
  size: { width: number; height: number; rate: Rate },
  frames: AsyncIterable<Uint8Array> | Iterable<Uint8Array>,
  file: string,
  sound: { sounds: readonly Played[]; seconds: number } = { sounds: [], seconds: 0 },
): Promise<void> {
  if (!hasFfmpeg())
    throw new Refusal('ffmpeg.none', `Movie files need ffmpeg, which is not installed here; install it, or choose PNG.`)
  // Over black, alpha is multiplied in before it is dropped.
  const flatten = format === 'mp4'
  const input = [
    '-f',
    'rawvideo',
    '-pix_fmt',
    'rgba',
    '-s',
    `${size.width}x${size.height}`,
    '-r',
    rateText(size.rate),
    '-i',
    'pipe:0',
  ]
  const args = [
    '-hide_banner',
    '-loglevel',
    'error',
    '-y',
    ...input,
    ...sound.sounds.flatMap((one) => ['-i', one.file]),
    ...(flatten ? flattened(encoders.mp4) : encoders[format]),
    '-r',
    rateText(size.rate),
    ...soundArguments(format, sound.sounds, sound.seconds),
    file,
  ]
  const child = execa('ffmpeg', args, { stdin: 'pipe', stdout: 'ignore', reject: false })
  const input0 = child.stdin!
  let broken = false
  input0.on('error', () => {
    broken = true
  })
  for await (const frame of frames) {
    if (broken || child.exitCode !== null) break
    if (!input0.write(frame)) await Promise.race([new Promise((done) => input0.once('drain', done)), child])
  }
  input0.end()
  const result = await child
  if (result.failed)
    throw new Refusal(
      'ffmpeg.failed',
      `ffmpeg could not write the movie: ${String(result.stderr ?? result.shortMessage)
        .trim()
        .split('\n')
        .pop()}`,
    )
}

function flattened(args: string[]): string[] {
  return args.map((arg) => (arg.startsWith('scale=') ? `premultiply=inplace=1,${arg}` : arg))
}
