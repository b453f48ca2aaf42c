import { type Bounds, boundsOf, pixelRegion } from '../paint/index.ts'
import type { Values } from '../template/index.ts'
import type { Scene } from './scene.ts'

/** The part of the frame that a settled title touches, with air around it, as wide as it is to be shown: so that a proof can be read. */
export function readableCrop(scene: Scene, values: Values, aspect: number): Bounds {
  const { width, height } = scene.template.frame
  const touched = pixelRegion(boundsOf(scene.settledFrame(scene.settle(values)).items), width, height) ?? {
    x: 0,
    y: 0,
    width,
    height,
  }
  const air = 40
  let w = Math.max(touched.width + 2 * air, width * 0.45)
  let h = w / aspect
  if (h < touched.height + 2 * air) {
    h = touched.height + 2 * air
    w = h * aspect
  }
  if (w > width || h > height) {
    const fit = Math.max(w / width, h / height)
    w = Math.min(width, w / fit)
    h = Math.min(height, h / fit)
  }
  const clamp = (from: number, size: number, own: number, length: number) =>
    Math.max(0, Math.min(length - size, from + own / 2 - size / 2))
  return {
    x: clamp(touched.x, w, touched.width, width),
    y: clamp(touched.y, h, touched.height, height),
    width: w,
    height: h,
  }
}
