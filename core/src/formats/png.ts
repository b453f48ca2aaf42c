import { zlibSync } from 'fflate'
import type { Pixels } from '../paint/index.ts'

const table = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1
  return c >>> 0
})

/** CRC-32 as PNG (3rd edition, annex D) defines it. */
export function crc32(bytes: Uint8Array, start = 0): number {
  let c = ~start >>> 0
  for (let i = 0; i < bytes.length; i++) c = table[(c ^ bytes[i]!) & 255]! ^ (c >>> 8)
  return ~c >>> 0
}

/** One PNG chunk: length, type, data, CRC. */
export function pngChunk(type: string, data: Uint8Array, crc: (bytes: Uint8Array) => number = crc32): Uint8Array {
  const chunk = new Uint8Array(data.length + 12)
  const view = new DataView(chunk.buffer)
  view.setUint32(0, data.length)
  for (let i = 0; i < 4; i++) chunk[4 + i] = type.charCodeAt(i)
  chunk.set(data, 8)
  view.setUint32(data.length + 8, crc(chunk.subarray(4, data.length + 8)))
  return chunk
}

export const pngSignature = Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a)

/** IHDR of an eight-bit RGBA picture, straight alpha, not interlaced. */
export function pngHeader(width: number, height: number, bits: 8 | 16 = 8): Uint8Array {
  const data = new Uint8Array(13)
  const view = new DataView(data.buffer)
  view.setUint32(0, width)
  view.setUint32(4, height)
  data[8] = bits
  data[9] = 6
  return data
}

/** Writes pixels as PNG with an sRGB chunk. */
export function writePng(pixels: Pixels): Uint8Array {
  const row = pixels.width * 4
  const raw = new Uint8Array((row + 1) * pixels.height)
  for (let y = 0; y < pixels.height; y++) raw.set(pixels.rgba.subarray(y * row, (y + 1) * row), y * (row + 1) + 1)
  return joined([
    pngSignature,
    pngChunk('IHDR', pngHeader(pixels.width, pixels.height)),
    pngChunk('sRGB', Uint8Array.of(0)),
    pngChunk('IDAT', zlibSync(raw, { level: 6 })),
    pngChunk('IEND', new Uint8Array()),
  ])
}

/** Bytes behind one another. */
export function joined(pieces: readonly Uint8Array[]): Uint8Array {
  const bytes = new Uint8Array(pieces.reduce((sum, piece) => sum + piece.length, 0))
  let at = 0
  for (const piece of pieces) {
    bytes.set(piece, at)
    at += piece.length
  }
  return bytes
}
