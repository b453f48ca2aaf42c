import { inflateSync } from 'node:zlib'
import { crc32, type ImageHeader } from '@hoja/core/formats'
import { Refusal } from '@hoja/core/refusal'

/**
 * Decoders fill up what is missing of a picture, or damaged in it, and say nothing: whether all of it is there is looked at
 * here. Of PNG every chunk's CRC-32, and that its pixels unfold to as many bytes as they must be; of JPEG and WebP that
 * every segment and chunk lies in the file, to the end.
 * @throws Refusal
 */
export function demandWholePicture(bytes: Uint8Array, kind: ImageHeader['kind'], name: string): void {
  const isWhole = { png: isWholePng, jpeg: isWholeJpeg, webp: isWholeWebp }[kind]
  if (!isWhole(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length)))
    throw new Refusal('picture.broken', `"${name}" is a damaged picture; save it again.`)
}

/** Samples of a pixel by colour type (PNG specification, 3rd edition, 11.2.1), and the depths that it may have. */
const samples: Record<number, { count: number; depths: readonly number[] }> = {
  0: { count: 1, depths: [1, 2, 4, 8, 16] },
  2: { count: 3, depths: [8, 16] },
  3: { count: 1, depths: [1, 2, 4, 8] },
  4: { count: 2, depths: [8, 16] },
  6: { count: 4, depths: [8, 16] },
}

/** First pixel and step of the passes of an interlaced picture (8.1). */
const passes = [
  [0, 0, 8, 8],
  [4, 0, 8, 8],
  [0, 4, 4, 8],
  [2, 0, 4, 4],
  [0, 2, 2, 4],
  [1, 0, 2, 2],
  [0, 1, 1, 2],
] as const

function isWholePng(bytes: Buffer): boolean {
  const data: Buffer[] = []
  let at = 8
  for (let type = ''; type !== 'IEND'; ) {
    if (at + 12 > bytes.length) return false
    const length = bytes.readUInt32BE(at)
    if (at + 12 + length > bytes.length) return false
    type = bytes.toString('latin1', at + 4, at + 8)
    if (crc32(bytes.subarray(at + 4, at + 8 + length)) !== bytes.readUInt32BE(at + 8 + length)) return false
    if (type === 'IDAT') data.push(bytes.subarray(at + 8, at + 8 + length))
    at += 12 + length
  }
  const [width, height] = [bytes.readUInt32BE(16), bytes.readUInt32BE(20)]
  const [depth, colour, interlaced] = [bytes[24]!, bytes[25]!, bytes[28]!]
  const pixel = samples[colour]
  if (!pixel?.depths.includes(depth) || bytes[26] !== 0 || bytes[27] !== 0 || interlaced > 1) return false
  // Each line begins with the number of its filter (9.2).
  const lines: [count: number, length: number][] = (interlaced ? passes : [[0, 0, 1, 1] as const]).map(
    ([x, y, across, down]) => {
      const own = Math.ceil((width - x) / across)
      return [own > 0 ? Math.max(0, Math.ceil((height - y) / down)) : 0, 1 + Math.ceil((own * pixel.count * depth) / 8)]
    },
  )
  const expected = lines.reduce((sum, [count, length]) => sum + count * length, 0)
  let raw: Buffer
  try {
    raw = inflateSync(Buffer.concat(data), { maxOutputLength: expected + 1 })
  } catch {
    return false
  }
  if (raw.length !== expected) return false
  let line = 0
  for (const [count, length] of lines) for (let i = 0; i < count; i++, line += length) if (raw[line]! > 4) return false
  return true
}

/** ITU-T T.81, annex B: segments with their lengths, and between them what is coded, to the end of the image. */
function isWholeJpeg(bytes: Buffer): boolean {
  let hasScan = false
  for (let at = 2; at + 1 < bytes.length; ) {
    if (bytes[at] !== 0xff) return false
    const marker = bytes[at + 1]!
    if (marker === 0xff) {
      at++
      continue
    }
    if (marker === 0xd9) return hasScan
    if (marker === 0x01 || (marker >= 0xd0 && marker <= 0xd7)) {
      at += 2
      continue
    }
    if (at + 4 > bytes.length) return false
    const length = bytes.readUInt16BE(at + 2)
    if (length < 2 || at + 2 + length > bytes.length) return false
    at += 2 + length
    if (marker !== 0xda) continue
    hasScan = true
    // Coded bytes go on until a marker that is neither stuffed nor a restart.
    for (;;) {
      at = bytes.indexOf(0xff, at)
      if (at < 0 || at + 1 >= bytes.length) return false
      const next = bytes[at + 1]!
      if (next !== 0 && (next < 0xd0 || next > 0xd7)) break
      at += 2
    }
  }
  return false
}

/** WebP container specification: chunks behind one another, as long as the file says. */
function isWholeWebp(bytes: Buffer): boolean {
  const end = 8 + bytes.readUInt32LE(4)
  if (end > bytes.length + 1) return false
  let hasPicture = false
  for (let at = 12; at + 8 <= end; ) {
    const length = bytes.readUInt32LE(at + 4)
    if (at + 8 + length > bytes.length) return false
    hasPicture ||= ['VP8 ', 'VP8L', 'ANMF'].includes(bytes.toString('latin1', at, at + 4))
    at += 8 + length + (length & 1)
  }
  return hasPicture
}
