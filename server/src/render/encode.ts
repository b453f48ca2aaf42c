import { readFileSync, writeFileSync } from 'node:fs'
import {
  framed,
  type Packet,
  PacketReader,
  type PictureTrack,
  RunLengthFrames,
  setGifDelays,
  streamHeader,
  unchangedRunLength,
} from '@hoja/core/formats'
import { type FormatId, gifPictures, type OutputSettings, runsOf } from '@hoja/core/output'
import type { Bounds } from '@hoja/core/paint'
import { type Rate, rateText, secondsOf } from '@hoja/core/time'
import { Ffmpeg } from './ffmpeg.ts'
import { type MovieStream, streamOf } from './movieIn.ts'
import { type Look, looking } from './pixels.ts'
import { type Played, sounding } from './sounds.ts'
import { whileSyncing } from './syncing.ts'
import { shownAgain } from './vp9.ts'

/** A title as an encoder takes it. */
export interface Movie {
  width: number
  height: number
  rate: Rate
  /** What any frame touches. */
  region: Bounds
  /** How many pictures differ; each is asked for once, in order, when its first frame comes. */
  pictures: number
  /** By frame: the picture it shows. A picture's first frame comes after those of the pictures before it. */
  frames: readonly number[]
  /** The region of a picture as straight RGBA, valid until the next call. */
  draw: (picture: number) => Uint8ClampedArray
  /** A picture as a whole PNG. */
  png: (picture: number) => Uint8Array
}

/** How a movie is written, beside its format. */
export interface Writing {
  alpha?: OutputSettings['alpha']
  /** `file`: where the still or the footage lies. */
  backdrop?: { kind: 'colour'; colour: string } | { kind: 'still' | 'footage'; file: string }
  timecode?: string
  sounds?: readonly Played[]
  /** Hears how many pictures of how many have been handed over, or frames of how many written. */
  onPicture?: (done: number, of: number) => void
}

/** ITU-T H.273 numbers: BT.709 throughout. The same for RGB, so that a title looks the same from every movie. */
const bt709 = { matrix: 1, range: 'broadcast', transfer: 1, primaries: 1 } as const
const rgb709 = { matrix: 0, range: 'full', transfer: 1, primaries: 1 } as const
const tagged = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv']

/** Full-range RGB to limited-range BT.709, without shortcuts. */
const toYuv = (pixels: string) =>
  `scale=in_range=pc:out_range=tv:out_color_matrix=bt709:flags=accurate_rnd+full_chroma_int+bicubic,format=${pixels},setparams=range=tv:color_primaries=bt709:color_trc=bt709:colorspace=bt709`

/** A picture codec that codes every frame by itself. */
interface Coding {
  /** What says that nothing has changed since the frame before, where the codec has such a thing. */
  unchanged?: Packet
  /** What ffmpeg's encoder is told; or how Hoja codes a picture itself. */
  by: { filter: string; args: string[] } | ((movie: Movie, look: Look) => (picture: number) => Uint8Array)
  /** Codec and private data: absent, as the encoder says. */
  track: Pick<PictureTrack, 'colour'> & Partial<Pick<PictureTrack, 'codec' | 'private'>>
}

/**
 * BITMAPINFOHEADER, as Matroska keeps codecs that are known by four characters. Its bits a pixel become the depth of
 * QuickTime's sample description: 32 where there is alpha, 24 where there is none.
 */
function fourcc(name: string, depth: 24 | 32 = 32): Uint8Array {
  const header = new Uint8Array(40)
  const view = new DataView(header.buffer)
  view.setUint32(0, 40, true)
  view.setUint16(12, 1, true)
  view.setUint16(14, depth, true)
  header.set(new TextEncoder().encode(name), 16)
  return header
}

/**
 * A fixed step of quantisation: the encoder's own search for one takes five times as long and ends at the finest for
 * titles. 2 is 74 dB on `speaker`.
 */
const prores = (pixels: string, depth: 24 | 32): Coding => ({
  by: {
    filter: toYuv(pixels),
    args: ['-c:v', 'prores_ks', '-profile:v', '4444', '-qscale:v', '2', '-vendor', 'apl0', ...tagged],
  },
  track: { codec: 'V_MS/VFW/FOURCC', private: fourcc('ap4h', depth), colour: bt709 },
})

/** How each picture codec is told to code. */
export const codings = {
  prores: prores('yuva444p10le', 32),
  opaque: prores('yuv444p10le', 24),
  rle: {
    by: ({ width, height, region, draw }, look) => {
      const frames = new RunLengthFrames(width, height, region)
      return (picture) => frames.encode(looking(draw(picture), look, region.width)).slice()
    },
    unchanged: { bytes: unchangedRunLength, key: false },
    track: { codec: 'V_MS/VFW/FOURCC', private: fourcc('rle '), colour: { ...rgb709, matrix: 1 } },
  },
  ffv1: {
    by: { filter: 'format=bgra', args: ['-c:v', 'ffv1', '-level', '3', '-g', '1', '-slicecrc', '1'] },
    track: { colour: rgb709 },
  },
  png: {
    by: ({ png }) => png,
    track: { codec: 'V_MS/VFW/FOURCC', private: fourcc('MPNG'), colour: { ...rgb709, matrix: 1 } },
  },
} satisfies Record<string, Coding>

type Container = 'mov' | 'mkv' | 'webm' | 'mp4'

const soundEncoders: Record<Container, string[]> = {
  webm: ['-c:a', 'libopus', '-b:a', '160k'],
  mov: ['-c:a', 'pcm_s16le'],
  mkv: ['-c:a', 'flac'],
  mp4: ['-c:a', 'aac', '-b:a', '192k'],
}

function wrapped(container: Container, rate: Rate, timecode: string | undefined): string[] {
  // Both clocks count in parts of a frame: an edit in milliseconds would end between two frames.
  const clock = ['-video_track_timescale', String(rate.num), '-movie_timescale', String(rate.num)]
  if (container === 'mov' || container === 'mp4')
    return [
      ...clock,
      ...(timecode ? ['-timecode', timecode] : []),
      ...(container === 'mp4' ? ['-movflags', '+faststart'] : ['-movflags', '+write_colr']),
    ]
  return timecode ? ['-metadata', `timecode=${timecode}`] : []
}

/** Formats of one movie with alpha whose frames are coded each by itself. */
const oneMovie = {
  mov: { coding: codings.prores, container: 'mov' },
  'mov-rle': { coding: codings.rle, container: 'mov' },
  'mov-png': { coding: codings.png, container: 'mov' },
  mkv: { coding: codings.ffv1, container: 'mkv' },
} as const

/**
 * Writes a title as a movie: one file, or two of a fill and key pair. Each file is synced when this returns.
 * @throws Refusal when ffmpeg is not there, says that it failed, or can't write
 */
export function writeMovie(format: FormatId, movie: Movie, files: readonly string[], writing: Writing): Promise<void> {
  return whileSyncing(files, () => written(format, movie, files, writing))
}

async function written(format: FormatId, movie: Movie, files: readonly string[], writing: Writing): Promise<void> {
  const file = files[0]!
  switch (format) {
    case 'mov':
    case 'mov-rle':
    case 'mov-png':
    case 'mkv': {
      const { coding, container } = oneMovie[format]
      await framesAlone(movie, coding, { kind: writing.alpha ?? 'straight' }, container, file, writing)
      break
    }
    case 'pair': {
      const fill: Look = { kind: 'fill', premultiplied: writing.alpha === 'premultiplied' }
      const half = (before: number): Writing => ({
        ...writing,
        onPicture: (done, of) => writing.onPicture?.(before * of + done, 2 * of),
      })
      await framesAlone(movie, codings.opaque, fill, 'mov', file, half(0))
      await framesAlone(movie, codings.opaque, { kind: 'key' }, 'mov', files[1]!, { ...half(1), sounds: [] })
      break
    }
    case 'webm':
      await withVp9(movie, file, writing)
      break
    case 'gif':
      await withGif(movie, file, writing)
      break
    default:
      await withH264(movie, file, writing)
  }
}

const rawTrack = ({ region, rate }: Movie): PictureTrack => ({
  codec: 'V_UNCOMPRESSED',
  pixels: 'RGBA',
  width: region.width,
  height: region.height,
  rate,
})

/** The region in its frame; around it lies nothing, or a colour. */
function padded({ width, height, region }: Movie, look: Look): string {
  const around =
    look.kind === 'over'
      ? `0x${look.colour.slice(1)}`
      : `black@${look.kind === 'straight' || look.kind === 'premultiplied' ? 0 : 1}`
  return `pad=${width}:${height}:${region.x}:${region.y}:color=${around}`
}

/** Puts packets that are fed to it into a file, with the sounds. */
async function muxing({ rate, frames }: Movie, container: Container, file: string, writing: Writing): Promise<Ffmpeg> {
  const sound = await sounding(writing.sounds ?? [], secondsOf(frames.length, rate), 1)
  // The pipe counts milliseconds, as Matroska does; QuickTime's times are exact fractions.
  const exact = `setts=pts=N*${rate.den}:dts=N*${rate.den}:duration=${rate.den}:time_base=1/${rate.num}`
  return new Ffmpeg([
    ...['-f', 'matroska', '-i', 'pipe:0', ...sound.inputs],
    ...(sound.graph.length > 0 ? ['-filter_complex', sound.graph.join(';')] : []),
    ...['-map', '0:v', '-c:v', 'copy', ...(container === 'mov' ? ['-bsf:v', exact] : [])],
    ...(sound.graph.length > 0 ? ['-map', '[sound]', ...soundEncoders[container]] : []),
    ...wrapped(container, rate, writing.timecode),
    file,
  ])
}

/**
 * A codec that codes every frame by itself: each picture is encoded once, and its packet stands for every frame that
 * shows it.
 */
async function framesAlone(
  movie: Movie,
  coding: Coding,
  look: Look,
  container: Container,
  file: string,
  writing: Writing,
): Promise<void> {
  const { width, height, rate, frames } = movie
  const muxer = await muxing(movie, container, file, writing)
  const lastUse = new Map(frames.map((picture, frame) => [picture, frame]))
  const held = new Map<number, Packet>()
  let next = 0
  let coded = 0
  let header = false
  /** Hands on every frame whose packet is there. */
  const emit = async (packet: Packet, track: PacketReader['track']) => {
    if (!header) {
      await muxer.feed(streamHeader({ codec: '', ...track, ...coding.track, width, height, rate }))
      header = true
    }
    held.set(coded++, packet)
    for (; next < frames.length; next++) {
      const picture = frames[next]!
      const ready = held.get(picture)
      if (!ready) return
      const isHeld = picture === frames[next - 1]
      await muxer.feed(...framed((isHeld && coding.unchanged) || ready, next, rate))
      if (lastUse.get(picture) === next) held.delete(picture)
    }
  }
  try {
    if (typeof coding.by === 'function') {
      const code = coding.by(movie, look)
      for (let picture = 0; picture < movie.pictures; picture++) {
        await emit({ bytes: code(picture), key: true }, {})
        writing.onPicture?.(picture + 1, movie.pictures)
      }
    } else await encoded(movie, coding.by, look, emit, writing.onPicture)
    muxer.close()
    await muxer.ended
  } finally {
    muxer.kill()
  }
}

/** Has pictures encoded, in order, a packet each. @param pictures which; absent: all, once */
async function encoded(
  movie: Movie,
  { filter, args }: Exclude<Coding['by'], (...given: never[]) => unknown>,
  look: Look,
  emit: (packet: Packet, track: PacketReader['track']) => Promise<void>,
  onPicture: Writing['onPicture'],
  pictures: readonly number[] = Array.from({ length: movie.pictures }, (_, i) => i),
): Promise<void> {
  const encoder = new Ffmpeg([
    ...['-f', 'matroska', '-i', 'pipe:0', '-vf', `${padded(movie, look)},${filter}`],
    ...['-fps_mode', 'passthrough', ...args, '-threads', '1', '-f', 'matroska', '-flush_packets', '1', 'pipe:1'],
  ])
  try {
    const reading = (async () => {
      const reader = new PacketReader()
      for await (const piece of encoder.output) for (const packet of reader.add(piece)) await emit(packet, reader.track)
    })()
    reading.catch(() => encoder.kill())
    await encoder.feed(streamHeader(rawTrack(movie)))
    for (const [i, picture] of pictures.entries()) {
      await encoder.feed(
        ...framed({ bytes: looking(movie.draw(picture), look, movie.region.width), key: true }, i, movie.rate),
      )
      onPicture?.(i + 1, pictures.length)
    }
    encoder.close()
    await Promise.all([encoder.ended, reading])
  } finally {
    encoder.kill()
  }
}

/** VP9 with a packet a frame: no frames that are not shown, none that wait for later ones. */
const vp9 = (...quality: string[]) => [
  ...['-c:v', 'libvpx-vp9', '-auto-alt-ref', '0', '-lag-in-frames', '0', '-deadline', 'good', '-cpu-used', '4'],
  ...[...quality, ...tagged],
]

/**
 * VP9 with alpha. Colours and alpha are coded each by itself, alpha without loss; a held frame is coded once, and what
 * follows says that it is shown again.
 */
async function withVp9(movie: Movie, file: string, writing: Writing): Promise<void> {
  const { width, height, rate, frames } = movie
  const runs = runsOf(frames)
  const pictures = runs.map(({ picture }) => picture)
  const muxer = await muxing(movie, 'webm', file, writing)
  // Alpha is whole before the colours come: its packets are few bytes.
  const alphas: Packet[] = []
  const half =
    (before: number): Writing['onPicture'] =>
    (done, of) =>
      writing.onPicture?.(before * of + done, 2 * of)
  const keyed = { filter: 'format=gray,setparams=range=tv,format=yuv420p', args: vp9('-lossless', '1') }
  let run = 0
  try {
    await encoded(movie, keyed, { kind: 'key' }, async (packet) => void alphas.push(packet), half(0), pictures)
    await muxer.feed(streamHeader({ codec: 'V_VP9', width, height, rate, alpha: true, colour: bt709 }))
    const emit = async (packet: Packet) => {
      const alpha = alphas[run]!
      const { from, count } = runs[run++]!
      await muxer.feed(...framed({ ...packet, alpha: alpha.bytes }, from, rate))
      const again = { bytes: shownAgain(packet), alpha: shownAgain(alpha), key: false }
      for (let frame = from + 1; frame < from + count; frame++) await muxer.feed(...framed(again, frame, rate))
    }
    const coloured = { filter: toYuv('yuv420p'), args: vp9('-crf', '12', '-b:v', '0') }
    await encoded(movie, coloured, { kind: 'drawn on' }, emit, half(1), pictures)
    muxer.close()
    await muxer.ended
  } finally {
    muxer.kill()
  }
}

/** Footage in a wider space than BT.709, or with more light than its white. */
const isWide = ({ matrix, transfer, primaries }: MovieStream) =>
  transfer !== 'bt709' || (matrix === 'bt2020' && primaries === 'bt2020')

/**
 * Footage of BT.2020 or BT.2100 as BT.709. Its reference white of 203 cd/m² (ITU-R BT.2408) becomes white; what is
 * brighter is pressed together near it, what is darker stays as it is.
 */
function toBt709({ transfer }: MovieStream): string {
  const from = { pq: 'smpte2084', hlg: 'arib-std-b67', bt709: 'bt2020-10' }[transfer]
  const linear = `zscale=tin=${from}:min=bt2020nc:pin=bt2020:t=linear:npl=203,format=gbrpf32le,zscale=p=bt709`
  const pressed = transfer === 'bt709' ? '' : ',tonemap=mobius:param=0.8:desat=0'
  return `${linear}${pressed},zscale=t=bt709:m=bt709:r=tv`
}

/** Where the backdrop comes from, made to cover the frame and to last. */
async function underneath(
  { width, height, rate }: Movie,
  backdrop: { kind: 'still' | 'footage'; file: string },
): Promise<string> {
  const cover = `crop=${width}:${height},setsar=1,format=yuv444p`
  const size = `${width}:${height}:force_original_aspect_ratio=increase`
  if (backdrop.kind === 'footage') {
    const stream = await streamOf(backdrop.file, 'the footage')
    const scaled = `scale=${size}:in_color_matrix=${stream.matrix}:out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int+bicubic`
    const as709 = isWide(stream) ? `scale=${size}:flags=bicubic,${toBt709(stream)}` : scaled
    return `[1:v]fps=${rateText(rate)},${as709},${cover},tpad=stop=-1:stop_mode=clone[base]`
  }
  const scaled = `scale=${size}:out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int+bicubic`
  return `[1:v]${scaled},${cover},loop=loop=-1:size=1,settb=1/${rate.num},setpts=N*${rate.den}[base]`
}
/** H.264, which codes frames by what changed since the last: pictures are handed over once a run, and repeated inside. */
async function withH264(movie: Movie, file: string, writing: Writing): Promise<void> {
  const { rate, frames, region } = movie
  const backdrop = writing.backdrop ?? { kind: 'colour' as const, colour: '#000000' }
  const over = backdrop.kind === 'colour' ? undefined : backdrop
  const look: Look = backdrop.kind === 'colour' ? { kind: 'over', colour: backdrop.colour } : { kind: 'straight' }
  const sound = await sounding(writing.sounds ?? [], secondsOf(frames.length, rate), over ? 2 : 1)
  const repeated = `fps=${rateText(rate)}`
  const end = `trim=end_frame=${frames.length}`
  const graph = over
    ? [
        await underneath(movie, over),
        `[0:v]${toYuv('yuva444p')},${repeated}[t]`,
        `[base][t]overlay=${region.x}:${region.y}:format=yuv444,format=yuv420p,${end}[v]`,
      ]
    : [`[0:v]${padded(movie, look)},${toYuv('yuv420p')},${repeated},${end}[v]`]
  // A long hold is written long after its last picture was handed over.
  const onFrame = (done: number) => writing.onPicture?.(done, frames.length)
  const call = [
    ...['-f', 'matroska', '-i', 'pipe:0', ...(over ? ['-i', over.file] : []), ...sound.inputs],
    ...['-filter_complex', [...graph, ...sound.graph].join(';'), '-map', '[v]'],
    ...(sound.graph.length > 0 ? ['-map', '[sound]', ...soundEncoders.mp4] : []),
    ...['-c:v', 'libx264', '-crf', '16', '-preset', 'fast', ...tagged],
    ...['-threads', '1', '-fps_mode', 'passthrough', ...wrapped('mp4', rate, writing.timecode), file],
  ]
  const encoder = new Ffmpeg(call, onFrame)
  try {
    await encoder.feed(streamHeader(rawTrack(movie)))
    const runs = runsOf(frames)
    let bytes: Uint8Array = new Uint8Array()
    for (const { picture, from } of runs) {
      bytes = looking(movie.draw(picture), look, region.width)
      await encoder.feed(...framed({ bytes, key: true }, from, rate))
    }
    // The last frame by itself: nothing else tells how long the last run is.
    const last = runs.at(-1)!
    if (last.count > 1) await encoder.feed(...framed({ bytes, key: true }, frames.length - 1, rate))
    encoder.close()
    await encoder.ended
  } finally {
    encoder.kill()
  }
}

/** A GIF of pictures that each stand for hundredths of a second; the times are set in the file that ffmpeg has written. */
async function withGif(movie: Movie, file: string, writing: Writing): Promise<void> {
  const { rate, region } = movie
  const { backdrop } = writing
  const look: Look = backdrop?.kind === 'colour' ? { kind: 'over', colour: backdrop.colour } : { kind: 'straight' }
  const pictures = gifPictures(movie.frames, rate)
  // For the encoder they come one after another, at a rate that GIF has.
  const piped = { num: 25, den: 1 }
  const graph = `${padded(movie, look)},split[a][b];[a]palettegen[p];[b][p]paletteuse=alpha_threshold=128:diff_mode=rectangle`
  const encoder = new Ffmpeg([
    ...['-f', 'matroska', '-i', 'pipe:0', '-filter_complex', graph],
    ...['-threads', '1', '-fps_mode', 'passthrough', file],
  ])
  try {
    await encoder.feed(streamHeader(rawTrack({ ...movie, rate: piped })))
    for (const [i, { picture }] of pictures.entries()) {
      await encoder.feed(...framed({ bytes: looking(movie.draw(picture), look, region.width), key: true }, i, piped))
      writing.onPicture?.(i + 1, pictures.length)
    }
    encoder.close()
    await encoder.ended
  } finally {
    encoder.kill()
  }
  const bytes = readFileSync(file)
  setGifDelays(
    bytes,
    pictures.map(({ delay }) => delay),
  )
  writeFileSync(file, bytes)
}
