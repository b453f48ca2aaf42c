import type { Box } from '../geometry/index.ts'

/** Longest run, and most pixels told one by one, that a signed byte says: -1 ends a line, 0 skips. */
const longestRun = 128
const longestRow = 127

/** A chunk without lines: its own size, and an empty header. It says that nothing has changed. */
export const unchangedRunLength = Uint8Array.of(0, 0, 0, 6, 0, 0)

/**
 * Frames of QuickTime's run-length video (`rle `, 32 bits, big-endian ARGB), each with all of its lines: a chunk's size
 * in four bytes, a header of two; a line is a skip of 1, then runs (a negative count and a pixel) and rows (a count and
 * its pixels), then -1. As FFmpeg's decoder reads it.
 */
export class RunLengthFrames {
  private readonly line: Uint32Array
  private readonly chunk: Uint8Array
  private readonly empty: Uint8Array
  private readonly swapped: Uint32Array
  private at = 0

  /** @param region whole pixels that any frame touches; what lies around it is clear */
  constructor(
    width: number,
    private readonly height: number,
    private readonly region: Box,
  ) {
    this.line = new Uint32Array(width)
    this.swapped = new Uint32Array(region.width)
    const most = 2 + width * 4 + Math.ceil(width / longestRow)
    this.chunk = new Uint8Array(6 + most * height)
    this.code()
    this.empty = this.chunk.slice(0, this.at)
  }

  /** A frame from its region's RGBA; valid until the next call. */
  encode(rgba: Uint8Array): Uint8Array {
    const { region, height, line, chunk, empty, swapped } = this
    const pixels = new DataView(rgba.buffer, rgba.byteOffset, rgba.byteLength)
    this.at = 6
    for (let y = 0; y < height; y++) {
      const row = y - region.y
      if (row < 0 || row >= region.height) {
        chunk.set(empty, this.at)
        this.at += empty.length
        continue
      }
      for (let x = 0; x < region.width; x++) swapped[x] = pixels.getUint32((row * region.width + x) * 4)
      line.set(swapped, region.x)
      this.code()
    }
    new DataView(chunk.buffer).setUint32(0, this.at)
    return chunk.subarray(0, this.at)
  }

  /** Codes the line that is there, behind what has been coded. */
  private code(): void {
    const { line, chunk } = this
    const { length } = line
    let at = this.at
    const pixel = (rgba: number) => {
      chunk[at++] = rgba & 255
      chunk[at++] = rgba >>> 24
      chunk[at++] = rgba >>> 16
      chunk[at++] = rgba >>> 8
    }
    chunk[at++] = 1
    for (let x = 0; x < length; ) {
      const value = line[x]!
      let end = x + 1
      while (end < length && end - x < longestRun && line[end] === value) end++
      if (end - x > 1) {
        chunk[at++] = x - end
        pixel(value)
      } else {
        while (end < length && end - x < longestRow && line[end] !== line[end + 1]) end++
        chunk[at++] = end - x
        for (let n = x; n < end; n++) pixel(line[n]!)
      }
      x = end
    }
    chunk[at++] = -1
    this.at = at
  }
}
