import { createCanvas, ImageData, loadImage, Path2D } from '@napi-rs/canvas'
import { writePng } from '../formats/index.ts'
import { type DrawList, type PaintOptions, PaintResources, paint, paintSvg, type Surface } from '../paint/index.ts'

/** Draws on the raster that the server draws with. */
export const resources = new PaintResources({
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
})

type PixelAt = (x: number, y: number) => number[]

/** A draw list as pixels: `[red, green, blue, alpha]` at a place. */
export function drawn(list: DrawList, options: PaintOptions = {}): PixelAt {
  const surface = resources.surface(list.width, list.height)
  paint(list, surface, resources, options)
  const { data } = surface.context.getImageData(0, 0, list.width, list.height)
  return (x, y) => [...data.subarray((y * list.width + x) * 4, (y * list.width + x) * 4 + 4)]
}

/** The same by way of SVG, read by a renderer that is not ours. */
export async function drawnAsSvg(list: DrawList): Promise<PixelAt> {
  const svg = paintSvg(list, (pixels) => Buffer.from(writePng(pixels)).toString('base64'))
  const canvas = createCanvas(list.width, list.height)
  canvas.getContext('2d').drawImage(await loadImage(Buffer.from(svg)), 0, 0)
  const { data } = canvas.getContext('2d').getImageData(0, 0, list.width, list.height)
  return (x, y) => [...data.subarray((y * list.width + x) * 4, (y * list.width + x) * 4 + 4)]
}
