import { PaintResources, type Pixels, type RasterBackend, type Surface } from '@hoja/core/paint'

/**
 * The browser's side of painting: software canvases (`willReadFrequently`), so that the bytes are the server's. Works in
 * the page and in workers.
 */
const backend: RasterBackend = {
  surface(width, height) {
    const canvas = new OffscreenCanvas(width, height)
    return surfaceOf(canvas)
  },
  path: (d) => new Path2D(d),
  image(pixels: Pixels) {
    const canvas = new OffscreenCanvas(pixels.width, pixels.height)
    const context = canvas.getContext('2d', { willReadFrequently: true })!
    context.putImageData(
      new ImageData(pixels.rgba as Uint8ClampedArray<ArrayBuffer>, pixels.width, pixels.height),
      0,
      0,
    )
    return canvas
  },
}

export function surfaceOf(canvas: OffscreenCanvas | HTMLCanvasElement): Surface {
  const context = canvas.getContext('2d', { willReadFrequently: true }) as unknown as Surface['context']
  return { canvas, context, width: canvas.width, height: canvas.height }
}

export const resources = new PaintResources(backend)

/** For pictures as large as a frame, of which few are looked at twice. */
export const frameResources = new PaintResources(backend, 6)

/** Decodes a picture to straight sRGB pixels, without colour conversion. */
export async function decodePicture(bytes: Blob, id: string): Promise<Pixels> {
  const bitmap = await createImageBitmap(bytes, { colorSpaceConversion: 'none' })
  const canvas = new OffscreenCanvas(bitmap.width, bitmap.height)
  const context = canvas.getContext('2d', { willReadFrequently: true })!
  context.drawImage(bitmap, 0, 0)
  const { data } = context.getImageData(0, 0, bitmap.width, bitmap.height)
  return { id, width: bitmap.width, height: bitmap.height, rgba: data }
}
