import { Inflate } from 'fflate'
import { Refusal } from '../refusal/index.ts'
import { crc32, joined } from './png.ts'

/** What a zip may hold, and what is said when it is otherwise. */
export interface ZipRoom {
  bytes: number
  files: number
  tooMuch: () => Refusal
  broken: () => Refusal
  /** Which of its files are wanted, of the others nothing is unfolded; may throw a refusal. */
  wanted?: (path: string) => boolean
}

interface Entry {
  path: string
  method: number
  crc: number
  packed: number
  size: number
  at: number
}

/** Packed bytes that are unfolded at a time: a thousand times as many may come of them before they are counted. */
const piece = 1 << 13

/**
 * Unpacks a zip (APPNOTE 6.3.10; stored and deflated files, no Zip64). What an entry says of its size is not trusted: it is
 * counted while it unfolds, stopped where it goes on behind what it had said, and held to its CRC-32.
 * @throws Refusal as `room` words it
 */
export function unzipped(bytes: Uint8Array, room: ZipRoom): Map<string, Uint8Array> {
  const files = new Map<string, Uint8Array>()
  const chosen: Entry[] = []
  let said = 0
  for (const entry of entriesOf(bytes, room)) {
    if (entry.path.endsWith('/') || !(room.wanted?.(entry.path) ?? true)) continue
    said += entry.size
    chosen.push(entry)
    if (chosen.length > room.files || said > room.bytes) throw room.tooMuch()
  }
  for (const entry of chosen) {
    const whole = unfolded(bytes, entry, room)
    if (crc32(whole) !== entry.crc) throw room.broken()
    files.set(entry.path, whole)
  }
  return files
}

/** The central directory (4.3.12), which alone says what a zip holds. */
function* entriesOf(bytes: Uint8Array, room: ZipRoom): Generator<Entry> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  let end = bytes.length - 22
  // The end record may be followed by a comment of 65,535 bytes at most (4.3.16).
  while (end >= 0 && view.getUint32(end, true) !== 0x06054b50)
    if (--end < bytes.length - 22 - 65_535) throw room.broken()
  if (end < 0) throw room.broken()
  const count = view.getUint16(end + 10, true)
  let at = view.getUint32(end + 16, true)
  for (let i = 0; i < count; i++) {
    if (at + 46 > end || view.getUint32(at, true) !== 0x02014b50) throw room.broken()
    const [flags, method] = [view.getUint16(at + 8, true), view.getUint16(at + 10, true)]
    const [crc, packed, size] = [16, 20, 24].map((n) => view.getUint32(at + n, true)) as [number, number, number]
    const [name, extra, comment] = [28, 30, 32].map((n) => view.getUint16(at + n, true)) as [number, number, number]
    const label = flags & 0x800 ? 'utf-8' : 'latin1'
    const path = new TextDecoder(label).decode(bytes.subarray(at + 46, at + 46 + name))
    yield { path, method, crc, packed, size, at: view.getUint32(at + 42, true) }
    at += 46 + name + extra + comment
  }
}

function unfolded(bytes: Uint8Array, { method, packed, size, at }: Entry, room: ZipRoom): Uint8Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (at + 30 > bytes.length || view.getUint32(at, true) !== 0x04034b50) throw room.broken()
  const from = at + 30 + view.getUint16(at + 26, true) + view.getUint16(at + 28, true)
  const own = bytes.subarray(from, from + packed)
  if (own.length !== packed || (method !== 0 && method !== 8)) throw room.broken()
  if (method === 0) {
    if (packed !== size) throw room.broken()
    return own.slice()
  }
  const pieces: Uint8Array[] = []
  let length = 0
  const inflate = new Inflate((chunk) => {
    length += chunk.length
    if (length > size) throw room.broken()
    pieces.push(chunk)
  })
  try {
    for (let i = 0; i < own.length; i += piece) inflate.push(own.subarray(i, i + piece), i + piece >= own.length)
  } catch (error) {
    throw error instanceof Refusal ? error : room.broken()
  }
  if (length !== size) throw room.broken()
  return joined(pieces)
}
