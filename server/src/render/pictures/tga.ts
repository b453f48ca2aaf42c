import type { Box } from '@hoja/core/geometry'

/**
 * A picture as TGA (Truevision TGA File Format Specification 2.0): true colour of 32 bits, run-length coded, the top line
 * first; the extension area says whether alpha is straight or premultiplied.
 * @param pixels RGBA of the region; around it lies nothing
 */
export function tga(width: number, height: number, region: Box, pixels: Uint8Array, premultiplied: boolean): Buffer {
  const header = Buffer.alloc(18)
  // Run-length coded true colour.
  header[2] = 10
  header.writeUInt16LE(width, 12)
  header.writeUInt16LE(height, 14)
  header[16] = 32
  // Eight bits of alpha; the first line is the top one.
  header[17] = 8 | 0x20
  const line = new Uint32Array(width)
  const rows: Buffer[] = []
  const empty = codedLine(line)
  const words = new Uint32Array(pixels.buffer.slice(pixels.byteOffset, pixels.byteOffset + pixels.length))
  for (let y = 0; y < height; y++) {
    if (y < region.y || y >= region.y + region.height) {
      rows.push(empty)
      continue
    }
    const own = (y - region.y) * region.width
    for (let x = 0; x < region.width; x++) line[region.x + x] = swapped(words[own + x]!)
    rows.push(codedLine(line))
  }
  const body = Buffer.concat([header, ...rows])
  const extension = Buffer.alloc(495)
  extension.writeUInt16LE(495, 0)
  extension.write('Hoja', 426)
  // Attributes type: 3 alpha, 4 alpha that is multiplied into the colours.
  extension[494] = premultiplied ? 4 : 3
  const footer = Buffer.alloc(26)
  footer.writeUInt32LE(body.length, 0)
  footer.write('TRUEVISION-XFILE.\0', 8, 'latin1')
  return Buffer.concat([body, extension, footer])
}

/** RGBA, low byte first, as BGRA. */
const swapped = (word: number) => ((word & 0xff00ff00) | ((word & 0xff) << 16) | ((word >>> 16) & 0xff)) >>> 0

/** A line as packets of up to 128 pixels: runs, and pixels as they are. */
function codedLine(line: Uint32Array): Buffer {
  const out = Buffer.alloc(line.length * 4 + Math.ceil(line.length / 128) + 8)
  let to = 0
  for (let x = 0; x < line.length; ) {
    let run = 1
    while (run < 128 && x + run < line.length && line[x + run] === line[x]) run++
    if (run > 1) {
      out[to++] = 0x80 | (run - 1)
      to = out.writeUInt32LE(line[x]!, to)
      x += run
      continue
    }
    let raw = 1
    while (raw < 128 && x + raw < line.length && line[x + raw] !== line[x + raw + 1]) raw++
    out[to++] = raw - 1
    for (let i = 0; i < raw; i++) to = out.writeUInt32LE(line[x + i]!, to)
    x += raw
  }
  return out.subarray(0, to)
}
