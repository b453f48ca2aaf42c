import { readImageHeader } from '@hoja/core/formats'
import { type Bounds, type DrawList, type Pixels, paint, Studio, type Surface, type Workshop } from '@hoja/core/paint'
import { Refusal } from '@hoja/core/refusal'
import { createCanvas, ImageData, loadImage, Path2D } from '@napi-rs/canvas'

/** The server's raster: Skia on the CPU, the same library the browser paints with. */
const workshop: Workshop = {
  surface(width, height) {
    const canvas = createCanvas(width, height)
    return { canvas, context: canvas.getContext('2d') as unknown as Surface['context'], width, height }
  },
  path: (d) => new Path2D(d),
  image(pixels) {
    const canvas = createCanvas(pixels.width, pixels.height)
    canvas.getContext('2d').putImageData(new ImageData(pixels.rgba, pixels.width, pixels.height), 0, 0)
    return canvas
  },
}

/** Draws frames of one size after another on one surface. */
export class Raster {
  readonly studio = new Studio(workshop)
  private own: Surface | undefined

  /**
   * A region of a frame as straight RGBA; valid until the next call. `scale`: picture px per frame px. `within`: the region
   * may be larger than the frame, and nothing is drawn beside that.
   */
  draw(list: DrawList, region: Bounds, scale = 1, within = false): Uint8ClampedArray {
    if (scale === 1 && !within) return this.drawnInPlace(list, region)
    const width = Math.max(1, Math.round(region.width * scale))
    const height = Math.max(1, Math.round(region.height * scale))
    const { context } = this.cleared(width, height)
    paint(list, this.own!, this.studio, { x: region.x, y: region.y, scale, ...(within ? { frame: list } : {}) })
    return context.getImageData(0, 0, width, height).data
  }

  /**
   * Drawn where it lies in the frame, whatever the region: edges are counted in numbers that are coarser the further they
   * lie from the corner, so a part moved there would come out some levels apart from the same part in the whole frame.
   */
  private drawnInPlace(list: DrawList, region: Bounds): Uint8ClampedArray {
    const { context } = this.cleared(list.width, list.height)
    paint(list, this.own!, this.studio)
    return context.getImageData(region.x, region.y, region.width, region.height).data
  }

  private cleared(width: number, height: number): Surface {
    if (this.own?.width !== width || this.own.height !== height) this.own = this.studio.surface(width, height)
    // To set its size empties a canvas, in half of the time that wiping what was read out of it takes.
    else (this.own.canvas as { width: number }).width = width
    return this.own
  }
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
