import { deflateSync } from 'node:zlib'
import type { Box } from '@hoja/core/geometry'

/** Rows that are pressed together. */
const rowsPerStrip = 32

/** Types of TIFF 6.0, section 2. */
const [short, long, rational] = [3, 4, 5]

/**
 * Pictures of one title as TIFF (6.0, with compression 8, deflate, as its technical notes of 2002 have it, and the horizontal
 * predictor of section 14), little-endian, RGBA. Alpha is told as it is (section 18): straight or premultiplied. Strips in
 * which nothing is drawn are the same in all of them, and pressed once.
 */
export class TiffWriter {
  private readonly empty = new Map<number, Buffer>()

  constructor(
    private readonly width: number,
    private readonly height: number,
    private readonly region: Box,
    private readonly bits: 8 | 16,
    private readonly premultiplied: boolean,
  ) {}

  /** @param pixels the region, as it is to be kept: RGBA, of 16 bits the low byte first */
  encode(pixels: Uint8Array): Buffer {
    const { width, height, region, bits } = this
    const bytes = bits / 8
    const [row, own] = [width * 4 * bytes, region.width * 4 * bytes]
    const strips: Buffer[] = []
    for (let top = 0; top < height; top += rowsPerStrip) {
      const rows = Math.min(rowsPerStrip, height - top)
      if (top + rows <= region.y || top >= region.y + region.height) {
        strips.push(this.emptyStrip(rows, row))
        continue
      }
      const raw = Buffer.alloc(rows * row)
      for (let y = Math.max(top, region.y); y < Math.min(top + rows, region.y + region.height); y++)
        raw.set(pixels.subarray((y - region.y) * own, (y - region.y + 1) * own), (y - top) * row + region.x * 4 * bytes)
      predict(raw, row, bits)
      strips.push(deflateSync(raw, { level: 4 }))
    }
    return this.file(strips)
  }

  private emptyStrip(rows: number, row: number): Buffer {
    let strip = this.empty.get(rows)
    if (!strip) {
      strip = deflateSync(Buffer.alloc(rows * row), { level: 9 })
      this.empty.set(rows, strip)
    }
    return strip
  }

  private file(strips: readonly Buffer[]): Buffer {
    const { width, height, bits } = this
    const count = strips.length
    const entries: [tag: number, type: number, values: number[]][] = [
      [256, long, [width]],
      [257, long, [height]],
      [258, short, [bits, bits, bits, bits]],
      // Deflate, RGB.
      [259, short, [8]],
      [262, short, [2]],
      [273, long, new Array<number>(count).fill(0)],
      [274, short, [1]],
      [277, short, [4]],
      [278, long, [rowsPerStrip]],
      [279, long, strips.map(({ length }) => length)],
      [282, rational, [72, 1]],
      [283, rational, [72, 1]],
      [284, short, [1]],
      [296, short, [2]],
      [317, short, [2]],
      // Alpha: 1 multiplied into the colours, 2 not.
      [338, short, [this.premultiplied ? 1 : 2]],
    ]
    const head = 8 + 2 + entries.length * 12 + 4
    const size = (type: number) => (type === short ? 2 : 4)
    const beside = entries.map(([, type, values]) => (size(type) * values.length > 4 ? size(type) * values.length : 0))
    const dataStart = head + beside.reduce((a, b) => a + b + (b & 1), 0)
    let at = dataStart
    const offsets = strips.map((strip) => {
      const own = at
      at += strip.length
      return own
    })
    entries[5]![2] = offsets
    const out = Buffer.alloc(dataStart)
    out.write('II')
    out.writeUInt16LE(42, 2)
    out.writeUInt32LE(8, 4)
    out.writeUInt16LE(entries.length, 8)
    let free = head
    entries.forEach(([tag, type, values], i) => {
      const entry = 10 + i * 12
      out.writeUInt16LE(tag, entry)
      out.writeUInt16LE(type, entry + 2)
      // A fraction is one value of two numbers.
      out.writeUInt32LE(type === rational ? 1 : values.length, entry + 4)
      let to = entry + 8
      if (beside[i]! > 0) {
        out.writeUInt32LE(free, to)
        to = free
        free += beside[i]! + (beside[i]! & 1)
      }
      for (const value of values) {
        if (type === short) out.writeUInt16LE(value, to)
        else out.writeUInt32LE(value, to)
        to += size(type)
      }
    })
    return Buffer.concat([out, ...strips])
  }
}

/** Each sample becomes its difference from the one to the left of it (section 14). */
function predict(raw: Buffer, row: number, bits: 8 | 16): void {
  const samples = bits === 8 ? raw : new Uint16Array(raw.buffer, raw.byteOffset, raw.length / 2)
  const length = row / (bits / 8)
  for (let start = 0; start < samples.length; start += length)
    for (let i = start + length - 1; i >= start + 4; i--) samples[i] = samples[i]! - samples[i - 4]!
}
