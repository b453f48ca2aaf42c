import { crc32, deflateRawSync, deflateSync, constants as zlib } from 'node:zlib'
import { pngChunk, pngHeader, pngSignature } from '@hoja/core/formats'
import type { Box } from '@hoja/core/geometry'

const adlerBase = 65521

/**
 * PNG frames of a title. A lower third touches a fifth of its frame, and what lies above it is empty in all of them: the
 * zlib stream (RFC 1950) is put together from deflate blocks for the empty rows above, made once and ended on a byte by a
 * sync flush (RFC 1951), and those of the rows from the region down. zlib's own Adler-32 of the latter is carried on:
 * n zero bytes before leave the first sum as it is and add n to the second.
 */
export class FramePng {
  private readonly raw: Buffer
  private readonly head: Buffer
  private readonly above: Buffer
  private readonly zerosAbove: number
  private readonly tail = Buffer.from(pngChunk('IEND', new Uint8Array(), crc))
  private readonly rowBytes: number

  constructor(
    width: number,
    height: number,
    private readonly region: Box,
    private readonly level = 3,
    private readonly bits: 8 | 16 = 8,
  ) {
    this.rowBytes = (width * 4 * bits) / 8 + 1
    this.zerosAbove = region.y * this.rowBytes
    this.raw = Buffer.alloc(this.rowBytes * (height - region.y))
    this.head = Buffer.concat([
      pngSignature,
      pngChunk('IHDR', pngHeader(width, height, bits), crc),
      // Rendering intent: perceptual; says that the colours are sRGB.
      pngChunk('sRGB', Uint8Array.of(0), crc),
    ])
    const empty = deflateRawSync(Buffer.alloc(this.zerosAbove), { level: 6, finishFlush: zlib.Z_SYNC_FLUSH })
    // zlib header: deflate, 32 KB window, fastest.
    this.above = Buffer.concat([Buffer.from([0x78, 0x01]), empty])
  }

  /** A whole frame as PNG from its region's straight RGBA. `level`: of zlib, 1 to 9 */
  encode(rgba: Uint8ClampedArray | Uint16Array, level = this.level): Buffer {
    const { region, rowBytes, raw, bits } = this
    // The high byte comes first.
    const bytes = Buffer.from(rgba.buffer, rgba.byteOffset, rgba.byteLength)
    if (bits === 16) bytes.swap16()
    const each = bits / 2
    const own = region.width * each
    for (let y = 0; y < region.height; y++) {
      const to = y * rowBytes + 1 + region.x * each
      raw.set(bytes.subarray(y * own, (y + 1) * own), to)
    }
    const stream = deflateSync(raw, { level, chunkSize: 1 << 18 })
    // Two bytes of header before the blocks, four of Adler-32 behind them.
    const blocks = stream.subarray(2, -4)
    const sum = Buffer.from(stream.subarray(-4))
    sum.writeUInt16BE((sum.readUInt16BE(0) + this.zerosAbove) % adlerBase, 0)
    return Buffer.concat([this.head, pngChunk('IDAT', Buffer.concat([this.above, blocks, sum]), crc), this.tail])
  }
}

function crc(bytes: Uint8Array): number {
  return crc32(bytes)
}
