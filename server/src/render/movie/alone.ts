import { framed, type Packet, PacketReader, streamHeader } from '@hoja/core/formats'
import { Ffmpeg } from '../ffmpeg.ts'
import { makeRoom } from '../memory.ts'
import { type Coding, type Encoding, fieldsOf } from './codings.ts'
import { type Container, muxing } from './containers.ts'
import { type Movie, rawTrack, type Writing } from './movie.ts'
import { type AlphaMode, inAlphaMode, inAlphaModeDeep } from './pixels.ts'

/** The region in its frame; around it lies nothing, or a colour. */
export function padded({ width, height, region }: Movie, mode: AlphaMode): string {
  const around =
    mode.kind === 'over'
      ? `0x${mode.colour.slice(1)}`
      : `black@${mode.kind === 'straight' || mode.kind === 'premultiplied' ? 0 : 1}`
  return `pad=${width}:${height}:${region.x}:${region.y}:color=${around}`
}

/**
 * A codec that codes every frame by itself: each picture is encoded once, and its packet stands for every frame that
 * shows it.
 */
export async function framesAlone(
  movie: Movie,
  coding: Coding,
  mode: AlphaMode,
  container: Container,
  file: string,
  writing: Writing,
): Promise<void> {
  const { width, height, rate, frames, fields } = movie
  const muxer = await muxing(movie, container, file, writing)
  const lastUse = new Map(frames.map((picture, frame) => [picture, frame]))
  const held = new Map<number, Packet>()
  let next = 0
  let coded = 0
  let header = false
  /** Hands on every frame whose packet is there. */
  const emit = async (packet: Packet, track: PacketReader['track']) => {
    if (!header) {
      const scan = fields ? { fields } : {}
      await muxer.feed(streamHeader({ codec: '', ...track, ...coding.track, width, height, rate, ...scan }))
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
      const code = coding.by(movie, mode)
      for (let picture = 0; picture < movie.pictures; picture++) {
        await emit({ bytes: code(picture), key: true }, {})
        await makeRoom(4 * movie.region.width * movie.region.height)
        writing.onPicture?.(picture + 1, movie.pictures)
      }
    } else await encoded(movie, coding.by, mode, emit, writing.onPicture)
    muxer.close()
    await muxer.ended
  } finally {
    muxer.kill()
  }
}

/** A picture as an encoder is handed it. */
function handed(movie: Movie, picture: number, mode: AlphaMode, { bits, deep }: Encoding): Uint8Array {
  if (bits === 8 || mode.kind === 'drawn on') return inAlphaMode(movie.draw(picture), mode, movie.region.width)
  return inAlphaModeDeep(deep ? movie.deep(picture) : movie.draw(picture), mode)
}

/** Has pictures encoded, in order, a packet each. @param pictures which; absent: all, once */
export async function encoded(
  movie: Movie,
  encoding: Encoding,
  mode: AlphaMode,
  emit: (packet: Packet, track: PacketReader['track']) => Promise<void>,
  onPicture: Writing['onPicture'],
  pictures: readonly number[] = Array.from({ length: movie.pictures }, (_, i) => i),
): Promise<void> {
  const { filter, args, bits } = encoding
  const fields = fieldsOf(movie)
  const encoder = new Ffmpeg([
    ...['-f', 'matroska', '-i', 'pipe:0', '-vf', `${padded(movie, mode)},${filter}${fields.filter}`],
    ...['-fps_mode', 'passthrough', ...args, ...fields.args],
    ...['-threads', '1', '-f', 'matroska', '-flush_packets', '1', 'pipe:1'],
  ])
  try {
    const reading = (async () => {
      const reader = new PacketReader()
      for await (const piece of encoder.output) for (const packet of reader.add(piece)) await emit(packet, reader.track)
    })()
    reading.catch(() => encoder.kill())
    await encoder.feed(streamHeader(rawTrack(movie, bits)))
    for (const [i, picture] of pictures.entries()) {
      const bytes = handed(movie, picture, mode, encoding)
      await encoder.feed(...framed({ bytes, key: true }, i, movie.rate))
      await makeRoom(2 * bytes.length)
      onPicture?.(i + 1, pictures.length)
    }
    encoder.close()
    await Promise.all([encoder.ended, reading])
  } finally {
    encoder.kill()
  }
}
