import { deflateSync } from 'node:zlib'
import type { Box } from '@hoja/core/geometry'

/** Lines that are pressed together: ZIP compression. */
const linesPerBlock = 16

/** Primaries and white of ITU-R BT.709, which are sRGB's: x and y of red, green, blue and white. */
const chromaticities = [0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329]

/** Linear light of an sRGB value (IEC 61966-2-1), by 16-bit code. */
const linear = Float32Array.from({ length: 65536 }, (_, code) => {
  const value = code / 65535
  return value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4
})

const float = new Float32Array(1)
const bits = new Uint32Array(float.buffer)

/** A number from 0 to 65504 as a half float (IEEE 754), rounded to the nearest, ties to even. */
export function half(value: number): number {
  float[0] = value
  const word = bits[0]!
  const exponent = (word >>> 23) - 112
  const fraction = word & 0x7fffff
  if (exponent >= 31) return 0x7bff
  if (exponent <= 0) {
    if (exponent < -10) return 0
    const shift = 14 - exponent
    return rounded(fraction | 0x800000, shift)
  }
  return rounded((exponent << 23) | fraction, 13)
}

/** Without its last bits, rounded by them. */
function rounded(value: number, drop: number): number {
  const kept = value >>> drop
  const rest = value & ((1 << drop) - 1)
  const middle = 1 << (drop - 1)
  return rest > middle || (rest === middle && (kept & 1) === 1) ? kept + 1 : kept
}

/**
 * A picture as OpenEXR ("OpenEXR File Layout", Academy Software Foundation): half floats of linear light, premultiplied, as the
 * format has alpha, in a data window that holds what is drawn; ZIP compressed.
 * @param pixels the region as straight RGBA of 16 bits, sRGB
 */
export function exr(width: number, height: number, region: Box, pixels: Uint16Array): Buffer {
  const head = header(width, height, region)
  const blocks: Buffer[] = []
  for (let top = 0; top < region.height; top += linesPerBlock) {
    const lines = Math.min(linesPerBlock, region.height - top)
    const raw = Buffer.alloc(lines * region.width * 8)
    const words = new Uint16Array(raw.buffer, raw.byteOffset, raw.length / 2)
    for (let y = 0; y < lines; y++) {
      const line = y * region.width * 4
      for (let x = 0; x < region.width; x++) {
        const from = ((top + y) * region.width + x) * 4
        const alpha = pixels[from + 3]! / 65535
        // Channels in the order of their names: A, B, G, R.
        words[line + x] = half(alpha)
        for (let c = 0; c < 3; c++)
          words[line + (3 - c) * region.width + x] = alpha === 0 ? 0 : half(linear[pixels[from + c]!]! * alpha)
      }
    }
    const pressed = deflateSync(parted(raw), { level: 4 })
    // What gets no smaller is kept as it is.
    const data = pressed.length < raw.length ? pressed : raw
    const block = Buffer.alloc(8)
    block.writeInt32LE(region.y + top, 0)
    block.writeInt32LE(data.length, 4)
    blocks.push(Buffer.concat([block, data]))
  }
  const table = Buffer.alloc(8 * blocks.length)
  let at = head.length + table.length
  blocks.forEach((block, i) => {
    table.writeBigUInt64LE(BigInt(at), 8 * i)
    at += block.length
  })
  return Buffer.concat([head, table, ...blocks])
}

/** Bytes apart by their place in a number, and each as its difference from the one before: they press better so. */
function parted(raw: Buffer): Buffer {
  const out = Buffer.alloc(raw.length)
  const middle = Math.ceil(raw.length / 2)
  for (let i = 0, a = 0, b = middle; i < raw.length; i++) out[i % 2 === 0 ? a++ : b++] = raw[i]!
  for (let i = out.length - 1; i > 0; i--) out[i] = out[i]! - out[i - 1]! + 384
  return out
}

function header(width: number, height: number, { x, y, width: w, height: h }: Box): Buffer {
  const text = (value: string) => Buffer.from(`${value}\0`, 'latin1')
  const ints = (...values: number[]) => {
    const out = Buffer.alloc(4 * values.length)
    for (const [i, value] of values.entries()) out.writeInt32LE(value, 4 * i)
    return out
  }
  const floats = (...values: number[]) => {
    const out = Buffer.alloc(4 * values.length)
    for (const [i, value] of values.entries()) out.writeFloatLE(value, 4 * i)
    return out
  }
  const attribute = (name: string, type: string, value: Buffer) =>
    Buffer.concat([text(name), text(type), ints(value.length), value])
  // Half floats, one sample a pixel.
  const channel = (name: string) => Buffer.concat([text(name), ints(1, 0, 1, 1)])
  const channels = Buffer.concat([...['A', 'B', 'G', 'R'].map(channel), Buffer.of(0)])
  return Buffer.concat([
    // Magic number and version 2: one part of lines.
    ints(20000630, 2),
    attribute('channels', 'chlist', channels),
    attribute('chromaticities', 'chromaticities', floats(...chromaticities)),
    attribute('compression', 'compression', Buffer.of(3)),
    attribute('dataWindow', 'box2i', ints(x, y, x + w - 1, y + h - 1)),
    attribute('displayWindow', 'box2i', ints(0, 0, width - 1, height - 1)),
    attribute('lineOrder', 'lineOrder', Buffer.of(0)),
    attribute('pixelAspectRatio', 'float', floats(1)),
    attribute('screenWindowCenter', 'v2f', floats(0, 0)),
    attribute('screenWindowWidth', 'float', floats(1)),
    Buffer.of(0),
  ])
}
