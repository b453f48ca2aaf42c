import { unzlibSync, zlibSync } from 'fflate'
import { cached, LastFew } from '../cache/index.ts'
import type { Box } from '../geometry/index.ts'
import type { Pixels } from '../paint/index.ts'
import { demand, Refusal } from '../refusal/index.ts'
import type { Rate } from '../time/index.ts'
import { crc32, joined, pngChunk, pngHeader, pngSignature } from './png.ts'

type Deflate = (raw: Uint8Array) => Uint8Array

/** Straight RGBA rows as PNG filters them: each row by the filter whose differences are smallest (PNG, 12.7). */
function filtered(rgba: Uint8Array, width: number, height: number): Uint8Array {
  const row = width * 4
  const raw = new Uint8Array((row + 1) * height)
  const none = new Uint8Array(row)
  const [sub, up] = [new Uint8Array(row), new Uint8Array(row)]
  for (let y = 0; y < height; y++) {
    const own = rgba.subarray(y * row, (y + 1) * row)
    const above = y > 0 ? rgba.subarray((y - 1) * row, y * row) : none
    let [sums0, sums1, sums2] = [0, 0, 0]
    for (let i = 0; i < row; i++) {
      const left = i >= 4 ? own[i - 4]! : 0
      sub[i] = own[i]! - left
      up[i] = own[i]! - above[i]!
      sums0 += Math.min(own[i]!, 256 - own[i]!)
      sums1 += Math.min(sub[i]!, 256 - sub[i]!)
      sums2 += Math.min(up[i]!, 256 - up[i]!)
    }
    const best = Math.min(sums0, sums1, sums2)
    const [type, bytes] = best === sums0 ? [0, own] : best === sums1 ? [1, sub] : [2, up]
    raw[y * (row + 1)] = type as number
    raw.set(bytes as Uint8Array, y * (row + 1) + 1)
  }
  return raw
}

/** Rows as they were before they were filtered (PNG, 9.2). */
function unfiltered(raw: Uint8Array, width: number, height: number): Uint8ClampedArray {
  const row = width * 4
  demand(raw.length === (row + 1) * height, 'movie.broken', 'A frame of the movie is not as large as it says.')
  const rgba = new Uint8ClampedArray(row * height)
  for (let y = 0; y < height; y++) {
    const type = raw[y * (row + 1)]!
    const from = y * (row + 1) + 1
    const to = y * row
    for (let i = 0; i < row; i++) {
      const left = i >= 4 ? rgba[to + i - 4]! : 0
      const above = y > 0 ? rgba[to + i - row]! : 0
      const corner = i >= 4 && y > 0 ? rgba[to + i - row - 4]! : 0
      rgba[to + i] = (raw[from + i]! + predicted(type, left, above, corner)) & 255
    }
  }
  return rgba
}

function predicted(type: number, left: number, above: number, corner: number): number {
  if (type === 1) return left
  if (type === 2) return above
  if (type === 3) return (left + above) >> 1
  if (type !== 4) return 0
  const p = left + above - corner
  const [a, b, c] = [Math.abs(p - left), Math.abs(p - above), Math.abs(p - corner)]
  return a <= b && a <= c ? left : b <= c ? above : corner
}

/**
 * Writes pictures as an animated PNG (PNG specification, 3rd edition, 11.3.6), one after another, straight alpha. The
 * first covers the canvas; a later one may be the part of it outside of which nothing differs from the first.
 */
export class ApngWriter {
  private readonly chunks: Uint8Array[] = []
  private sequence = 0
  private frames = 0

  /** @param deflate a faster zlib than the built-in one, where there is one */
  constructor(
    private readonly size: { width: number; height: number; rate: Rate },
    private readonly deflate: Deflate = (raw) => zlibSync(raw, { level: 6 }),
  ) {}

  /** Bytes so far. */
  get length(): number {
    return this.chunks.reduce((sum, chunk) => sum + chunk.length, 0)
  }

  /**
   * @param stands how many frames of the rate it is seen for
   * @param area where it lies; absent: the whole canvas
   */
  add(rgba: Uint8Array | Uint8ClampedArray, stands = 1, area?: Box): void {
    const { rate } = this.size
    const { x, y, width, height } = area ?? { x: 0, y: 0, ...this.size }
    const control = new Uint8Array(26)
    const view = new DataView(control.buffer)
    view.setUint32(0, this.sequence++)
    view.setUint32(4, width)
    view.setUint32(8, height)
    view.setUint32(12, x)
    view.setUint32(16, y)
    // Seconds as a fraction of 16-bit numbers.
    const shrink = Math.max(1, Math.ceil(Math.max(rate.num, rate.den * stands) / 65535))
    view.setUint16(20, Math.round((rate.den * stands) / shrink))
    view.setUint16(22, Math.round(rate.num / shrink))
    this.chunks.push(pngChunk('fcTL', control))
    const bytes = new Uint8Array(rgba.buffer, rgba.byteOffset, rgba.byteLength)
    const data = this.deflate(filtered(bytes, width, height))
    if (this.frames++ === 0) this.chunks.push(pngChunk('IDAT', data))
    else {
      const numbered = new Uint8Array(data.length + 4)
      new DataView(numbered.buffer).setUint32(0, this.sequence++)
      numbered.set(data, 4)
      this.chunks.push(pngChunk('fdAT', numbered))
    }
  }

  bytes(): Uint8Array {
    const animation = new Uint8Array(8)
    new DataView(animation.buffer).setUint32(0, this.frames)
    return joined([
      pngSignature,
      pngChunk('IHDR', pngHeader(this.size.width, this.size.height)),
      pngChunk('sRGB', Uint8Array.of(0)),
      pngChunk('acTL', animation),
      ...this.chunks,
      pngChunk('IEND', new Uint8Array()),
    ])
  }
}

/** Where the frames of a movie lie in an animated PNG of the kind `ApngWriter` writes. @throws Refusal for any other. */
export function apngFrames(bytes: Uint8Array, name: string): { width: number; height: number; frames: Uint8Array[] } {
  const refuse = (what: string): never => {
    throw new Refusal('movie.kind', `"${name}" is not a movie as Hoja keeps them: ${what}; import the movie again.`)
  }
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (bytes.length < 8 || pngSignature.some((byte, i) => bytes[i] !== byte)) refuse('it is not an animated PNG')
  const found: { width: number; height: number; frames: Uint8Array[] } = { width: 0, height: 0, frames: [] }
  let expected = -1
  for (let at = 8; at + 12 <= bytes.length; ) {
    const length = view.getUint32(at)
    if (at + 12 + length > bytes.length) refuse('it breaks off before its end')
    const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8))
    const data = bytes.subarray(at + 8, at + 8 + length)
    if (crc32(bytes.subarray(at + 4, at + 8 + length)) !== view.getUint32(at + 8 + length)) refuse('it is damaged')
    if (type === 'IHDR') {
      found.width = view.getUint32(at + 8)
      found.height = view.getUint32(at + 12)
      if (data[8] !== 8 || data[9] !== 6 || data[12] !== 0) refuse('its pixels are not eight-bit RGBA')
    }
    if (type === 'acTL') expected = view.getUint32(at + 8)
    if (type === 'fcTL' && (view.getUint32(at + 12) !== found.width || view.getUint32(at + 16) !== found.height))
      refuse('its frames differ in size')
    if (type === 'IDAT') found.frames.push(data)
    if (type === 'fdAT') found.frames.push(data.subarray(4))
    at += 12 + length
  }
  if (expected !== found.frames.length) refuse(`it holds ${found.frames.length} frames of ${expected}`)
  return found
}

/** Decoded frames that are kept of each movie; the browser and the render ask for one after another. */
const keptBytes = 48 * 1024 * 1024

/** A movie whose frames are decoded when they are asked for. @throws Refusal for bytes that are none */
export function readMovie(bytes: Uint8Array, id: string, name: string, rate: Rate) {
  const { width, height, frames } = apngFrames(bytes, name)
  const keep = Math.max(2, Math.floor(keptBytes / (width * height * 4)))
  const kept = new LastFew<number, Pixels>(keep)
  return {
    width,
    height,
    rate,
    frames: frames.length,
    frame(n: number): Pixels {
      const decode = () => unfiltered(unzlibSync(frames[n]!), width, height)
      return cached(kept, n, () => ({ id: `${id}#${n}`, width, height, rgba: decode() }))
    },
  }
}
