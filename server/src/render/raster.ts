import { bytesOf } from '@hoja/core/colour'
import { Looks } from '@hoja/core/data'
import { readImageHeader } from '@hoja/core/formats'
import type { Box } from '@hoja/core/geometry'
import { type DrawList, PaintResources, type Pixels, paint, type RasterBackend, type Surface } from '@hoja/core/paint'
import { Refusal } from '@hoja/core/refusal'
import { createCanvas, ImageData, loadImage, Path2D } from '@napi-rs/canvas'

/** The server's raster: Skia on the CPU, the same library the browser paints with. */
const backend: RasterBackend = {
  surface: (width, height) => surfaceOf(width, height, 'unorm8'),
  path: (d) => new Path2D(d),
  image(pixels) {
    const canvas = createCanvas(pixels.width, pixels.height)
    canvas.getContext('2d').putImageData(new ImageData(pixels.rgba, pixels.width, pixels.height), 0, 0)
    return canvas
  },
}

function surfaceOf(width: number, height: number, colorType: 'unorm8' | 'float16'): Surface {
  const canvas = createCanvas(width, height)
  return { canvas, context: canvas.getContext('2d', { colorType }) as unknown as Surface['context'], width, height }
}

/** Straight RGBA from 0 to 1 of a surface of half floats. */
function floats({ context }: Surface, { x, y, width, height }: Box): Float32Array {
  const read = context.getImageData(x, y, width, height, { pixelFormat: 'rgba-float32' })
  return read.data as unknown as Float32Array
}

const put = (context: Surface['context'], pixels: Float32Array, width: number, height: number) =>
  context.putImageData(new ImageData(pixels, width, height, { pixelFormat: 'rgba-float32' }) as never, 0, 0)

/** The same raster with half floats: gradients, shadows, blurs, scaled pictures and what is laid over what keep 11 bits. */
const deepBackend: RasterBackend = {
  ...backend,
  surface: (width, height) => surfaceOf(width, height, 'float16'),
  deep: {
    read(surface) {
      const pixels = floats(surface, { x: 0, y: 0, width: surface.width, height: surface.height })
      for (let i = 0; i < pixels.length; i += 4)
        for (let c = 0; c < 3; c++) pixels[i + c] = pixels[i + c]! * pixels[i + 3]!
      return pixels
    },
    write({ context, width, height }, pixels) {
      for (let i = 0; i < pixels.length; i += 4) {
        const alpha = pixels[i + 3]!
        if (alpha > 0) for (let c = 0; c < 3; c++) pixels[i + c] = pixels[i + c]! / alpha
      }
      put(context, pixels, width, height)
    },
    alpha(surface) {
      const pixels = floats(surface, { x: 0, y: 0, width: surface.width, height: surface.height })
      const alpha = new Float32Array(pixels.length / 4)
      for (let i = 0; i < alpha.length; i++) alpha[i] = pixels[4 * i + 3]!
      return alpha
    },
    fillUnder({ context, width, height }, alpha, colour) {
      const [r, g, b, most] = bytesOf(colour)
      const pixels = new Float32Array(4 * alpha.length)
      for (let i = 0; i < alpha.length; i++)
        if (alpha[i]! > 0) {
          pixels[4 * i] = r / 255
          pixels[4 * i + 1] = g / 255
          pixels[4 * i + 2] = b / 255
          pixels[4 * i + 3] = (alpha[i]! * most) / 255
        }
      put(context, pixels, width, height)
    },
  },
}

/** Draws frames of one size after another on one surface. */
export class Raster {
  readonly resources = new PaintResources(backend)
  /** Looks at titles on it. */
  readonly looks = new Looks(this.resources)
  private own: Surface | undefined
  private deepResources: PaintResources | undefined
  private deepOwn: Surface | undefined

  /**
   * A region of a frame as straight RGBA; valid until the next call. `scale`: picture px per frame px. `within`: the region
   * may be larger than the frame, and nothing is drawn beside that.
   */
  draw(list: DrawList, region: Box, scale = 1, within = false): Uint8ClampedArray {
    if (scale === 1 && !within) return this.drawnInPlace(list, region)
    const width = Math.max(1, Math.round(region.width * scale))
    const height = Math.max(1, Math.round(region.height * scale))
    const { context } = this.cleared(width, height)
    paint(list, this.own!, this.resources, { x: region.x, y: region.y, scale, ...(within ? { frame: list } : {}) })
    return context.getImageData(0, 0, width, height).data
  }

  /**
   * Drawn where it lies in the frame, whatever the region: edges are counted in numbers that are coarser the further they
   * lie from the corner, so a part moved there would come out some levels apart from the same part in the whole frame.
   */
  private drawnInPlace(list: DrawList, region: Box): Uint8ClampedArray {
    const { context } = this.cleared(list.width, list.height)
    paint(list, this.own!, this.resources)
    return context.getImageData(region.x, region.y, region.width, region.height).data
  }

  /** A region of a frame as straight RGBA of 16 bits, drawn in more than 8. */
  drawDeep(list: DrawList, region: Box): Uint16Array {
    this.deepResources ??= new PaintResources(deepBackend)
    this.deepOwn = emptied(this.deepOwn, list.width, list.height, this.deepResources)
    paint(list, this.deepOwn, this.deepResources)
    const read = floats(this.deepOwn, region)
    const out = new Uint16Array(read.length)
    for (let i = 0; i < read.length; i++) {
      const value = read[i]!
      out[i] = value <= 0 ? 0 : value >= 1 ? 65535 : value * 65535 + 0.5
    }
    return out
  }

  private cleared(width: number, height: number): Surface {
    this.own = emptied(this.own, width, height, this.resources)
    return this.own
  }
}

/** A surface of a size with nothing on it: the one that there is, where it fits. */
function emptied(own: Surface | undefined, width: number, height: number, resources: PaintResources): Surface {
  if (own?.width !== width || own.height !== height)
    return resources.surface(width, height)
    // To set its size empties a canvas, in half of the time that wiping what was read out of it takes.
  ;(own.canvas as { width: number }).width = width
  return own
}

/** Decodes a picture to straight sRGB pixels. @throws Refusal when it cannot be decoded. */
export async function decodePicture(bytes: Uint8Array, name: string, id: string): Promise<Pixels> {
  readImageHeader(bytes, name)
  try {
    const image = await loadImage(Buffer.from(bytes))
    const canvas = createCanvas(image.width, image.height)
    const context = canvas.getContext('2d')
    context.drawImage(image, 0, 0)
    return {
      id,
      width: image.width,
      height: image.height,
      rgba: context.getImageData(0, 0, image.width, image.height).data,
    }
  } catch {
    throw new Refusal('picture.broken', `"${name}" is a damaged picture; save it again.`)
  }
}
