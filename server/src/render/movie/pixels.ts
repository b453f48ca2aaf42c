import { bytesOf } from '@hoja/core/colour'
import type { Movie } from './movie.ts'

/** How straight RGBA is handed to an encoder. Alpha is multiplied into 8-bit values as they are coded (common practice). */
export type AlphaMode =
  | { kind: 'straight' }
  | { kind: 'premultiplied' }
  /** Colours alone, without alpha. */
  | { kind: 'fill'; premultiplied: boolean }
  /** Colours alone, drawn on beyond the edge of what is seen, for codecs that keep colour for two pixels by two. */
  | { kind: 'drawn on' }
  /** Alpha alone, as grey. */
  | { kind: 'key' }
  | { kind: 'over'; colour: string }

/** Pixels in an alpha mode, in memory of their own. @param width of the picture, px */
export function inAlphaMode(rgba: Uint8ClampedArray, mode: AlphaMode, width: number): Uint8Array {
  const out = new Uint8Array(rgba)
  if (mode.kind === 'straight') return out
  if (mode.kind === 'drawn on') {
    drawOn(out, width)
    return out
  }
  const [r0, g0, b0] = mode.kind === 'over' ? bytesOf(mode.colour) : [0, 0, 0]
  for (let i = 0; i < out.length; i += 4) {
    const a = out[i + 3]!
    if (mode.kind === 'key') out[i] = out[i + 1] = out[i + 2] = a
    else if (mode.kind !== 'fill' || mode.premultiplied) {
      out[i] = mixed(out[i]!, r0, a)
      out[i + 1] = mixed(out[i + 1]!, g0, a)
      out[i + 2] = mixed(out[i + 2]!, b0, a)
    }
    if (mode.kind !== 'premultiplied') out[i + 3] = 255
  }
  return out
}

/**
 * The same as bytes of 16 bits a channel, the low one first. From 8 bits, too: what is mixed of colours and alpha has more
 * than either.
 */
export function inAlphaModeDeep(
  pixels: Uint16Array | Uint8ClampedArray,
  mode: Exclude<AlphaMode, { kind: 'drawn on' }>,
): Uint8Array {
  const k = pixels instanceof Uint16Array ? 1 : 257
  const out = new Uint16Array(pixels.length)
  const under = (mode.kind === 'over' ? bytesOf(mode.colour) : [0, 0, 0]).map((value) => value * 257)
  const isMixed = mode.kind === 'premultiplied' || mode.kind === 'over' || (mode.kind === 'fill' && mode.premultiplied)
  for (let i = 0; i < out.length; i += 4) {
    const a = pixels[i + 3]! * k
    for (let c = 0; c < 3; c++) {
      const value = pixels[i + c]! * k
      if (mode.kind === 'key') out[i + c] = a
      else out[i + c] = isMixed ? (value * a + under[c]! * (65535 - a)) / 65535 + 0.5 : value
    }
    out[i + 3] = mode.kind === 'straight' || mode.kind === 'premultiplied' ? a : 65535
  }
  return new Uint8Array(out.buffer)
}

/** A movie over a still that fills its frame: straight, opaque RGBA of 8 bits. */
export function overStill(movie: Movie, still: Uint8Array): Movie {
  const { width, height, region } = movie
  const lay = (picture: number): Uint16Array => {
    const out = new Uint16Array(width * height * 4)
    for (let i = 0; i < out.length; i++) out[i] = still[i]! * 257
    const title = movie.draw(picture)
    for (let y = 0; y < region.height; y++)
      for (let x = 0; x < region.width; x++) {
        const from = (y * region.width + x) * 4
        const a = title[from + 3]!
        if (a === 0) continue
        const to = ((region.y + y) * width + region.x + x) * 4
        for (let c = 0; c < 3; c++)
          out[to + c] = ((title[from + c]! * a + still[to + c]! * (255 - a)) / 255) * 257 + 0.5
      }
    return out
  }
  return {
    ...movie,
    region: { x: 0, y: 0, width, height },
    deep: lay,
    draw: (picture) => Uint8ClampedArray.from(lay(picture), (value) => (value + 128) / 257),
  }
}

/** Rounded to the nearest level. */
function mixed(value: number, under: number, alpha: number): number {
  return Math.floor((value * alpha + under * (255 - alpha)) / 255 + 0.5)
}

/** Pixels that a colour is drawn on beyond the edge of what is seen: more than what halved chroma is mixed from. */
const reach = 8

/** Draws colours on into what is clear, and makes it opaque: halved chroma is mixed with more of the same, not black. */
function drawOn(pixels: Uint8Array, width: number): void {
  const height = pixels.length / 4 / width
  // 0 clear, 1 a colour that is drawn on, 2 drawn on in this direction.
  const seen = new Uint8Array(width * height)
  for (let i = 0; i < seen.length; i++) seen[i] = pixels[i * 4 + 3]! > 0 ? 1 : 0
  const along = (start: number, step: number, count: number) => {
    let last = -1
    for (let n = 0, at = start; n < count; n++, at += step) {
      if (seen[at] === 1) last = n
      else if (seen[at] === 0 && last >= 0 && n - last <= reach) {
        const from = (at - step * (n - last)) * 4
        pixels.copyWithin(at * 4, from, from + 3)
        seen[at] = 2
      }
    }
  }
  for (let y = 0; y < height; y++) {
    along(y * width, 1, width)
    along((y + 1) * width - 1, -1, width)
  }
  for (let i = 0; i < seen.length; i++) if (seen[i] === 2) seen[i] = 1
  for (let x = 0; x < width; x++) {
    along(x, width, height)
    along((height - 1) * width + x, -width, height)
  }
  for (let i = 3; i < pixels.length; i += 4) pixels[i] = 255
}
