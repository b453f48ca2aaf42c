/** Standard deviation up to which the bell itself is summed up, px; above it three boxes are as good. */
const exact = 2

/**
 * Blurs pixels in place as CSS counts a blur, in floating point: what a canvas's own filter rounds to 8 bits. Three boxes
 * one after another, as the W3C's Filter Effects Module (Level 1, `feGaussianBlur`) approximates the bell; a narrow one
 * by the bell itself.
 * @param pixels `channels` numbers a pixel (colours premultiplied), `width` x `height`
 * @param deviation px
 */
export function gaussian(
  pixels: Float32Array,
  width: number,
  height: number,
  deviation: number,
  channels: 1 | 4 = 4,
): void {
  if (!(deviation > 0)) return
  const pass = deviation < exact ? bell(deviation) : boxes(deviation)
  const spare = new Float32Array(pixels.length)
  // Line after line, then, turned over, column after column: memory is read in order both times.
  pass(pixels, spare, width, height, channels)
  turned(pixels, spare, width, height, channels)
  pass(spare, pixels, height, width, channels)
  turned(spare, pixels, height, width, channels)
}

/** Columns become lines. */
function turned(from: Float32Array, to: Float32Array, width: number, height: number, channels: number): void {
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = (y * width + x) * channels
      const into = (x * height + y) * channels
      for (let c = 0; c < channels; c++) to[into + c] = from[at + c]!
    }
}

/** Blurs every line of pixels, in place; `spare` is written to. */
type Pass = (pixels: Float32Array, spare: Float32Array, width: number, height: number, channels: number) => void

function bell(deviation: number): Pass {
  const reach = Math.ceil(3 * deviation)
  const raw = Array.from({ length: 2 * reach + 1 }, (_, i) => Math.exp(-((i - reach) ** 2) / (2 * deviation ** 2)))
  const sum = raw.reduce((a, b) => a + b, 0)
  const weights = Float64Array.from(raw, (weight) => weight / sum)
  return (pixels, spare, width, height, channels) => {
    const length = width * channels
    const margin = reach * channels
    // With nothing on either side of a line, no pixel has to ask where it stands.
    const line = new Float32Array(length + 2 * margin)
    for (let start = 0; start < height * length; start += length) {
      if (isEmpty(pixels, start, length)) {
        spare.fill(0, start, start + length)
        continue
      }
      line.set(pixels.subarray(start, start + length), margin)
      for (let i = 0; i < length; i++) {
        let value = 0
        for (let k = 0, at = i; k < weights.length; k++, at += channels) value += line[at]! * weights[k]!
        spare[start + i] = value
      }
    }
    pixels.set(spare)
  }
}

function isEmpty(pixels: Float32Array, start: number, length: number): boolean {
  for (let i = start; i < start + length; i++) if (pixels[i] !== 0) return false
  return true
}

function boxes(deviation: number): Pass {
  const size = Math.floor((deviation * 3 * Math.sqrt(2 * Math.PI)) / 4 + 0.5)
  // Of an even size, two boxes lean to either side and the third is one wider.
  const half = Math.floor(size / 2)
  const reaches: [before: number, after: number][] =
    size % 2 === 1
      ? [
          [half, half],
          [half, half],
          [half, half],
        ]
      : [
          [half, half - 1],
          [half - 1, half],
          [half, half],
        ]
  return (pixels, _spare, width, height, channels) => {
    const length = width * channels
    const reach = (half + 1) * channels
    // What lies beyond the ends of a line is nothing, three times as far as a box reaches.
    const margin = 3 * reach
    const lines = [new Float32Array(length + 2 * margin), new Float32Array(length + 2 * margin)] as const
    for (let start = 0; start < height * length; start += length) {
      if (isEmpty(pixels, start, length)) continue
      let [from, to] = lines as readonly [Float32Array, Float32Array]
      from.fill(0)
      from.set(pixels.subarray(start, start + length), margin)
      for (const [before, after] of reaches) {
        to.fill(0)
        boxed(from, to, reach, channels, before, after)
        ;[from, to] = [to, from]
      }
      for (let i = 0; i < length; i++) {
        // What is left of adding and taking away the same numbers is not light.
        const value = from[margin + i]!
        pixels[start + i] = value < 1e-6 ? 0 : value
      }
    }
  }
}

/** Each pixel becomes what those from `before` to `after` it come to on average. `reach`: more than either, in numbers. */
function boxed(
  from: Float32Array,
  to: Float32Array,
  reach: number,
  channels: number,
  before: number,
  after: number,
): void {
  const share = 1 / (before + after + 1)
  const end = from.length - reach
  const [ahead, behind] = [after * channels, (before + 1) * channels]
  if (channels === 1) {
    let sum = 0
    for (let at = reach; at < end; at++) {
      sum += from[at + ahead]! - from[at - behind]!
      to[at] = sum * share
    }
    return
  }
  let [r, g, b, a] = [0, 0, 0, 0]
  for (let at = reach; at < end; at += 4) {
    const [next, last] = [at + ahead, at - behind]
    r += from[next]! - from[last]!
    g += from[next + 1]! - from[last + 1]!
    b += from[next + 2]! - from[last + 2]!
    a += from[next + 3]! - from[last + 3]!
    to[at] = r * share
    to[at + 1] = g * share
    to[at + 2] = b * share
    to[at + 3] = a * share
  }
}
