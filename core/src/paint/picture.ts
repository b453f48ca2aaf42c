import { cached, LastFew } from '../cache/index.ts'
/** Decoded pixels, sRGB, straight alpha, four bytes each. */
export interface Pixels {
  /** Names the pixels: equal ids are equal pixels. */
  id: string
  width: number
  height: number
  rgba: Uint8ClampedArray
}

export interface Crop {
  x: number
  y: number
  width: number
  height: number
}

/** For each target pixel the source pixels it averages and their weights: a triangle as wide as the step (at least one pixel). */
function filter(
  from: number,
  length: number,
  source: number,
  target: number,
): { first: number; weights: Float64Array }[] {
  const step = length / target
  const radius = Math.max(1, step)
  return Array.from({ length: target }, (_, i) => {
    const centre = from + (i + 0.5) * step
    const first = Math.max(0, Math.ceil(centre - radius - 0.5))
    const last = Math.min(source - 1, Math.floor(centre + radius - 0.5))
    const weights = new Float64Array(Math.max(1, last - first + 1))
    let sum = 0
    for (let j = 0; j < weights.length; j++) {
      weights[j] = Math.max(0, 1 - Math.abs(first + j + 0.5 - centre) / radius)
      sum += weights[j]!
    }
    for (let j = 0; j < weights.length; j++) weights[j] = sum > 0 ? weights[j]! / sum : 1 / weights.length
    return { first: Math.min(first, source - 1), weights }
  })
}

const scaledPictures = new WeakMap<Pixels, LastFew<string, Pixels>>()

/** `resample`, remembering for each picture the last few sizes asked for. */
export function scaledPicture(picture: Pixels, crop: Crop, width: number, height: number): Pixels {
  const known = cached(scaledPictures, picture, () => new LastFew<string, Pixels>(8))
  const key = `${crop.x},${crop.y},${crop.width},${crop.height}>${width}x${height}`
  return cached(known, key, () => resample(picture, crop, width, height))
}

/**
 * Scales a crop of a picture to whole target pixels with a triangle filter over premultiplied colour. This is Hoja's one
 * way of scaling: plain arithmetic, so that browser and server draw the same pixels.
 */
export function resample(picture: Pixels, crop: Crop, width: number, height: number): Pixels {
  const across = filter(crop.x, crop.width, picture.width, width)
  const down = filter(crop.y, crop.height, picture.height, height)
  const firstRow = down[0]!.first
  const end = down.at(-1)!
  const lastRow = end.first + end.weights.length - 1
  const rows = new Float64Array((lastRow - firstRow + 1) * width * 4)
  for (let y = firstRow; y <= lastRow; y++)
    for (let x = 0; x < width; x++) {
      const { first, weights } = across[x]!
      let [r, g, b, a] = [0, 0, 0, 0]
      for (let j = 0; j < weights.length; j++) {
        const at = (y * picture.width + first + j) * 4
        const alpha = picture.rgba[at + 3]! * weights[j]!
        r += picture.rgba[at]! * alpha
        g += picture.rgba[at + 1]! * alpha
        b += picture.rgba[at + 2]! * alpha
        a += alpha
      }
      rows.set([r, g, b, a], ((y - firstRow) * width + x) * 4)
    }
  const rgba = new Uint8ClampedArray(width * height * 4)
  for (let y = 0; y < height; y++) {
    const { first, weights } = down[y]!
    for (let x = 0; x < width; x++) {
      let [r, g, b, a] = [0, 0, 0, 0]
      for (let j = 0; j < weights.length; j++) {
        const at = ((first - firstRow + j) * width + x) * 4
        const w = weights[j]!
        r += rows[at]! * w
        g += rows[at + 1]! * w
        b += rows[at + 2]! * w
        a += rows[at + 3]! * w
      }
      const out = (y * width + x) * 4
      if (a > 0) {
        rgba[out] = r / a
        rgba[out + 1] = g / a
        rgba[out + 2] = b / a
        rgba[out + 3] = a
      }
    }
  }
  return {
    id: `${picture.id}@${crop.x},${crop.y},${crop.width},${crop.height}>${width}x${height}`,
    width,
    height,
    rgba,
  }
}

/**
 * Where a picture lies in a box: `cover` fills it, `contain` shows all of the picture. Returns the crop of the picture
 * that is seen (px of the picture) and where in the box it goes.
 */
export function placePicture(
  picture: { width: number; height: number },
  box: { width: number; height: number },
  how: 'cover' | 'contain',
  focusX: number,
  focusY: number,
  zoom: number,
) {
  const ratios = [box.width / picture.width, box.height / picture.height] as const
  const scale = (how === 'cover' ? Math.max(...ratios) : Math.min(...ratios)) * zoom
  const left = (box.width - picture.width * scale) * focusX
  const top = (box.height - picture.height * scale) * focusY
  const x = Math.max(0, left)
  const y = Math.max(0, top)
  const width = Math.min(box.width, left + picture.width * scale) - x
  const height = Math.min(box.height, top + picture.height * scale) - y
  return {
    at: { x, y, width, height },
    crop: { x: (x - left) / scale, y: (y - top) / scale, width: width / scale, height: height / scale },
  }
}
