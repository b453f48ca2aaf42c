import { type Rate, secondsOf } from '../time/index.ts'
import { joined } from './png.ts'

/**
 * One picture track as a Matroska stream (RFC 9559, EBML by RFC 8794), written piece by piece and read piece by piece:
 * the pipe between Hoja and an encoder, which can say which frames are held and for how long. Every picture is a block in
 * a cluster of its own.
 */
const ids = {
  ebml: 0x1a45dfa3,
  version: 0x4286,
  readVersion: 0x42f7,
  maxIdLength: 0x42f2,
  maxSizeLength: 0x42f3,
  docType: 0x4282,
  docTypeVersion: 0x4287,
  docTypeReadVersion: 0x4285,
  segment: 0x18538067,
  info: 0x1549a966,
  timestampScale: 0x2ad7b1,
  muxer: 0x4d80,
  writer: 0x5741,
  tracks: 0x1654ae6b,
  track: 0xae,
  number: 0xd7,
  uid: 0x73c5,
  type: 0x83,
  defaultDuration: 0x23e383,
  language: 0x22b59c,
  codec: 0x86,
  codecPrivate: 0x63a2,
  video: 0xe0,
  interlaced: 0x9a,
  fieldOrder: 0x9d,
  width: 0xb0,
  height: 0xba,
  alphaMode: 0x53c0,
  uncompressed: 0x2eb524,
  colour: 0x55b0,
  matrix: 0x55b1,
  range: 0x55b9,
  transfer: 0x55ba,
  primaries: 0x55bb,
  cluster: 0x1f43b675,
  timestamp: 0xe7,
  simpleBlock: 0xa3,
  blockGroup: 0xa0,
  block: 0xa1,
  referenceBlock: 0xfb,
  additions: 0x75a1,
  more: 0xa6,
  additional: 0xa5,
  addId: 0xee,
} as const

/** Elements that hold elements; the reader goes into these. */
const masters = new Set<number>([
  ids.segment,
  ids.tracks,
  ids.track,
  ids.cluster,
  ids.blockGroup,
  ids.additions,
  ids.more,
])

function idBytes(id: number): Uint8Array {
  const bytes = [id >>> 24, (id >>> 16) & 255, (id >>> 8) & 255, id & 255]
  return Uint8Array.from(bytes.slice(bytes.findIndex((byte) => byte !== 0)))
}

/** A size in eight bytes: longer than it must be, and never too short. */
function sizeBytes(size: number): Uint8Array {
  const bytes = new Uint8Array(8)
  new DataView(bytes.buffer).setBigUint64(0, BigInt(size))
  bytes[0] = 1
  return bytes
}

const unknownSize = Uint8Array.of(1, 255, 255, 255, 255, 255, 255, 255)

function element(id: number, ...content: Uint8Array[]): Uint8Array {
  const size = content.reduce((sum, piece) => sum + piece.length, 0)
  return joined([idBytes(id), sizeBytes(size), ...content])
}

function whole(id: number, value: number): Uint8Array {
  const bytes = new Uint8Array(8)
  new DataView(bytes.buffer).setBigUint64(0, BigInt(value))
  return element(id, bytes)
}

const word = (id: number, value: string) => element(id, new TextEncoder().encode(value))

/** How a picture track is coded. Numbers of `colour` are those of ITU-T H.273, as RFC 9559 takes them. */
export interface PictureTrack {
  /** A codec of the Matroska codec registry, for example `V_UNCOMPRESSED`. */
  codec: string
  private?: Uint8Array
  /** Four characters that name the layout of uncompressed pixels. */
  pixels?: string
  width: number
  height: number
  rate: Rate
  /** Frames are woven of two fields: which of them comes first. */
  fields?: 'top' | 'bottom'
  /** The second coded picture of each block is its alpha. */
  alpha?: boolean
  colour?: { matrix: number; range: 'broadcast' | 'full'; transfer: number; primaries: number }
}

/** What a stream begins with. */
export function streamHeader(track: PictureTrack): Uint8Array {
  const { colour, rate } = track
  return joined([
    element(
      ids.ebml,
      whole(ids.version, 1),
      whole(ids.readVersion, 1),
      whole(ids.maxIdLength, 4),
      whole(ids.maxSizeLength, 8),
      word(ids.docType, 'matroska'),
      whole(ids.docTypeVersion, 4),
      whole(ids.docTypeReadVersion, 2),
    ),
    idBytes(ids.segment),
    unknownSize,
    element(ids.info, whole(ids.timestampScale, 1_000_000), word(ids.muxer, 'Hoja'), word(ids.writer, 'Hoja')),
    element(
      ids.tracks,
      element(
        ids.track,
        whole(ids.number, 1),
        whole(ids.uid, 1),
        whole(ids.type, 1),
        whole(ids.defaultDuration, Math.round((1e9 * rate.den) / rate.num)),
        // Else it is taken for English.
        word(ids.language, 'und'),
        word(ids.codec, track.codec),
        ...(track.private ? [element(ids.codecPrivate, track.private)] : []),
        element(
          ids.video,
          // Fields are interleaved, the top line first: 9 shows the top field first, 14 the bottom one (RFC 9559,
          // 5.1.4.1.28.2).
          ...(track.fields
            ? [whole(ids.interlaced, 1), whole(ids.fieldOrder, track.fields === 'top' ? 9 : 14)]
            : [whole(ids.interlaced, 2)]),
          whole(ids.width, track.width),
          whole(ids.height, track.height),
          ...(track.alpha ? [whole(ids.alphaMode, 1)] : []),
          ...(track.pixels ? [word(ids.uncompressed, track.pixels)] : []),
          ...(colour
            ? [
                element(
                  ids.colour,
                  whole(ids.matrix, colour.matrix),
                  whole(ids.range, colour.range === 'full' ? 2 : 1),
                  whole(ids.transfer, colour.transfer),
                  whole(ids.primaries, colour.primaries),
                ),
              ]
            : []),
        ),
      ),
    ),
  ])
}

/** One coded picture. */
export interface Packet {
  bytes: Uint8Array
  /** Decoded by itself. */
  key: boolean
  /** The coded alpha that goes with it, where alpha is a picture of its own. */
  alpha?: Uint8Array
}

/**
 * A picture with what stands around it in the stream.
 * @param frame its number, from 0; the stream tells it in milliseconds, which is near enough to tell frames apart
 */
export function framed(packet: Packet, frame: number, rate: Rate): Uint8Array[] {
  const stamp = whole(ids.timestamp, Math.round(secondsOf(frame, rate) * 1000))
  // Track 1; no time of its own within the cluster.
  const head = Uint8Array.of(0x81, 0, 0, packet.key && !packet.alpha ? 0x80 : 0)
  const size = head.length + packet.bytes.length
  const cluster = (content: number) => [idBytes(ids.cluster), sizeBytes(stamp.length + 9 + content), stamp]
  if (!packet.alpha) return [joined([...cluster(size), idBytes(ids.simpleBlock), sizeBytes(size), head]), packet.bytes]
  const rest = joined([
    ...(packet.key ? [] : [element(ids.referenceBlock, Uint8Array.of(255))]),
    element(ids.additions, element(ids.more, whole(ids.addId, 1), element(ids.additional, packet.alpha))),
  ])
  const group = 9 + size + rest.length
  return [
    joined([...cluster(group), idBytes(ids.blockGroup), sizeBytes(group), idBytes(ids.block), sizeBytes(size), head]),
    packet.bytes,
    rest,
  ]
}

/**
 * Takes coded pictures out of a stream as an encoder writes it to a pipe, in the order in which they come. Bytes go in as
 * they arrive; what is not whole yet is kept.
 */
export class PacketReader {
  /** How the track says that it is coded. */
  readonly track: { codec?: string; private?: Uint8Array } = {}
  private rest = new Uint8Array()
  private length = 0
  private group: { packet?: Packet; key: boolean; end: number } | undefined
  private position = 0

  /** The packets that are whole now. */
  add(bytes: Uint8Array): Packet[] {
    this.keep(bytes)
    const packets: Packet[] = []
    for (;;) {
      this.closeGroup(packets)
      const head = this.head()
      if (!head) break
      const { id, size, start } = head
      if (masters.has(id)) {
        if (id === ids.blockGroup) this.group = { key: true, end: this.position + start + size }
        this.drop(start)
        continue
      }
      if (this.length < start + size) break
      this.take(id, this.rest.slice(start, start + size), packets)
      this.drop(start + size)
    }
    return packets
  }

  /** Bytes that are waiting for the rest of their element. */
  get waiting(): number {
    return this.length
  }

  private take(id: number, content: Uint8Array, packets: Packet[]): void {
    if (id === ids.codec) this.track.codec = new TextDecoder().decode(content)
    if (id === ids.codecPrivate) this.track.private = content
    if (id === ids.simpleBlock) packets.push({ bytes: content.subarray(4), key: (content[3]! & 0x80) !== 0 })
    if (!this.group) return
    if (id === ids.block) this.group.packet = { bytes: content.subarray(4), key: true }
    if (id === ids.referenceBlock) this.group.key = false
    if (id === ids.additional && this.group.packet) this.group.packet.alpha = content
  }

  private closeGroup(packets: Packet[]): void {
    if (!this.group || this.position < this.group.end) return
    if (this.group.packet) packets.push({ ...this.group.packet, key: this.group.key })
    this.group = undefined
  }

  private keep(bytes: Uint8Array): void {
    if (this.length + bytes.length > this.rest.length) {
      const larger = new Uint8Array(Math.max(2 * this.rest.length, this.length + bytes.length))
      larger.set(this.rest.subarray(0, this.length))
      this.rest = larger
    }
    this.rest.set(bytes, this.length)
    this.length += bytes.length
  }

  private drop(count: number): void {
    this.rest.copyWithin(0, count, this.length)
    this.length -= count
    this.position += count
  }

  /** The id and the size of the element that comes next, when both have arrived. */
  private head(): { id: number; size: number; start: number } | undefined {
    const id = this.number(0, true)
    if (!id) return undefined
    const size = this.number(id.length, false)
    return size && { id: id.value, size: size.value, start: id.length + size.length }
  }

  /** A number of variable length (RFC 8794, 4): leading zero bits tell how many bytes it has. */
  private number(at: number, withMarker: boolean): { value: number; length: number } | undefined {
    if (at >= this.length) return undefined
    const first = this.rest[at]!
    const length = Math.clz32(first) - 23
    if (at + length > this.length) return undefined
    let value = withMarker ? first : first & (255 >> length)
    let ones = (first & (255 >> length)) === 255 >> length
    for (let i = 1; i < length; i++) {
      value = value * 256 + this.rest[at + i]!
      ones &&= this.rest[at + i] === 255
    }
    return { value: ones && !withMarker ? Number.POSITIVE_INFINITY : value, length }
  }
}
