import { rmSync, writeFileSync } from 'node:fs'
import { extname, join } from 'node:path'
import { deflateSync } from 'node:zlib'
import { ApngWriter } from '@hoja/core/formats'
import { limits, most } from '@hoja/core/limits'
import { demand, Refusal } from '@hoja/core/refusal'
import type { Rate } from '@hoja/core/time'
import { execa } from 'execa'
import { temporaryFolder } from '../temporary.ts'
import { inputOf } from './demuxer.ts'
import { hasFfmpeg } from './ffmpeg.ts'

/** Movies that are decoded to frames when they come in, by the ends of their names. */
export const isMovie = (name: string): boolean => /\.(mov|mp4|m4v|webm|mkv|avi|gif|apng)$/i.test(name)

export interface DecodedMovie {
  /** An animated PNG of whole frames. */
  bytes: Uint8Array
  rate: Rate
}

/** ffmpeg's input arguments for a movie that somebody brought. @throws Refusal for what is none */
export function movieInput(file: string, name: string): string[] {
  const input = inputOf(file, 'movie')
  if (!input)
    throw new Refusal('movie.kind', `"${name}" is not a movie that can be read; save it as MOV, MP4 or WebM.`, 415)
  return input
}

interface ProbedStream {
  width: number
  height: number
  codec_name: string
  avg_frame_rate: string
  r_frame_rate: string
  color_space?: string
  color_transfer?: string
  color_primaries?: string
}

/** What ffmpeg's reader says of a movie's first picture stream. */
export interface MovieStream {
  width: number
  height: number
  codec: string
  rate: Rate
  /** How its colours are coded, as ffmpeg's scaler calls it. Where it does not say: by its height (common practice). */
  matrix: 'bt709' | 'bt601' | 'bt2020'
  /** How light is coded: by BT.709 and what is like it, or by one of BT.2100's two. */
  transfer: 'bt709' | 'pq' | 'hlg'
  primaries: 'bt709' | 'bt2020'
  /** 0 where the file does not say. */
  seconds: number
}

/** @throws Refusal for what is no movie */
export async function streamOf(file: string, name: string): Promise<MovieStream> {
  const entries =
    'stream=width,height,codec_name,avg_frame_rate,r_frame_rate,color_space,color_transfer,color_primaries:format=duration'
  const args = [
    '-v',
    'error',
    '-select_streams',
    'v:0',
    '-show_entries',
    entries,
    '-of',
    'json',
    ...movieInput(file, name),
  ]
  const result = await execa('ffprobe', args, { reject: false })
  const probed = result.failed
    ? {}
    : (JSON.parse(result.stdout) as { streams?: ProbedStream[]; format?: { duration?: string } })
  const stream = probed.streams?.[0]
  if (!stream?.width || !stream.height)
    throw new Refusal('movie.kind', `"${name}" is not a movie that can be read; save it as MOV, MP4 or WebM.`, 415)
  const { width, height, codec_name: codec } = stream
  return {
    width,
    height,
    codec,
    rate: rateOf(stream),
    matrix: matrixOf(stream),
    transfer: transfers[stream.color_transfer ?? ''] ?? 'bt709',
    primaries: stream.color_primaries === 'bt2020' ? 'bt2020' : 'bt709',
    seconds: Number(probed.format?.duration) || 0,
  }
}

const transfers: Record<string, MovieStream['transfer']> = { smpte2084: 'pq', 'arib-std-b67': 'hlg' }

function matrixOf({ color_space: told = '', height }: ProbedStream): MovieStream['matrix'] {
  if (told.startsWith('bt2020')) return 'bt2020'
  if (told === 'bt709') return 'bt709'
  if (told === 'bt470bg' || told === 'smpte170m') return 'bt601'
  return height >= 720 ? 'bt709' : 'bt601'
}

/** The frame rate: the container's own, unless that is the clock of a variable one. */
function rateOf(stream: ProbedStream): Rate {
  const read = (text: string) => {
    const [num = 0, den = 1] = text.split('/').map(Number)
    return { num, den: den || 1 }
  }
  const own = read(stream.r_frame_rate)
  const rate = own.num / own.den > 120 || own.num === 0 ? read(stream.avg_frame_rate) : own
  return rate.num > 0 && rate.den <= 1001 ? rate : { num: Math.max(1, Math.round(rate.num / rate.den)), den: 1 }
}

/** A movie as a file for as long as `work` takes: ffmpeg reads files. */
export async function asFile<T>(bytes: Uint8Array, name: string, work: (file: string) => Promise<T>): Promise<T> {
  const folder = temporaryFolder()
  try {
    const file = join(folder, `movie${extname(name)}`)
    writeFileSync(file, bytes)
    return await work(file)
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

/**
 * Decodes a short movie to its frames, with its alpha where it has one, as straight RGBA: once, when it is imported, so
 * that preview and render draw the same frames.
 * @throws Refusal for what is no movie, or one that is too long or too large
 */
export async function decodeMovie(file: string, name: string): Promise<DecodedMovie> {
  demand(
    hasFfmpeg(),
    'ffmpeg.none',
    `"${name}" needs ffmpeg to be read, which is not installed here; install it, or choose a picture.`,
  )
  const stream = await streamOf(file, name)
  const { rate } = stream
  const large = new Refusal(
    'movie.large',
    `"${name}" is too much for a title: cut it to ${most('movieFrames')} or fewer, or make its picture smaller than ${stream.width} x ${stream.height}.`,
    413,
  )
  const writer = new ApngWriter({ width: stream.width, height: stream.height, rate }, (raw) =>
    deflateSync(raw, { level: 6 }),
  )
  // ffmpeg's own VP8 and VP9 readers leave the alpha out.
  const reader = { vp8: ['-c:v', 'libvpx'], vp9: ['-c:v', 'libvpx-vp9'] }[stream.codec] ?? []
  const args = ['-v', 'error', ...reader, ...movieInput(file, name), '-an', '-map', '0:v:0', '-fps_mode', 'cfr']
  const out = ['-r', `${rate.num}/${rate.den}`, '-f', 'rawvideo', '-pix_fmt', 'rgba', 'pipe:1']
  const child = execa('ffmpeg', [...args, ...out], {
    buffer: { stdout: false },
    encoding: 'buffer',
    reject: false,
    stdin: 'ignore',
  })
  const frameBytes = stream.width * stream.height * 4
  const frame = Buffer.alloc(frameBytes)
  let [frames, filled] = [0, 0]
  for await (const piece of child.stdout) {
    for (let at = 0; at < piece.length; ) {
      const copied = piece.copy(frame, filled, at, at + frameBytes - filled)
      at += copied
      filled += copied
      if (filled < frameBytes) continue
      frames++
      const isLarge =
        frames > limits.movieFrames.most ||
        frames * stream.width * stream.height > limits.moviePixels.most ||
        writer.length > limits.movieBytes.most
      if (isLarge) {
        child.kill()
        throw large
      }
      writer.add(frame)
      filled = 0
    }
  }
  const result = await child
  demand(
    frames > 0 && !result.failed,
    'movie.broken',
    `"${name}" is a damaged movie; save it again as MOV, MP4 or WebM.`,
  )
  return { bytes: writer.bytes(), rate }
}
