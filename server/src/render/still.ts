import { type Match, type Row, valuesOf } from '@hoja/core/data'
import { writePng } from '@hoja/core/formats'
import { type DrawList, type Pixels, paintSvg } from '@hoja/core/paint'
import { readableCrop, type Scene } from '@hoja/core/scene'
import type { Values } from '@hoja/core/template'
import { FramePng } from './pictures/png.ts'
import type { Raster } from './raster.ts'

/** One frame as PNG, `scale` picture px per frame px. */
export function framePng(list: DrawList, raster: Raster, scale = 1): Buffer {
  const full = { x: 0, y: 0, width: list.width, height: list.height }
  const [width, height] = [Math.round(list.width * scale), Math.round(list.height * scale)]
  return new FramePng(width, height, { x: 0, y: 0, width, height }, 6).encode(raster.draw(list, full, scale))
}

/** One frame of a filling as PNG. */
export function restPng(scene: Scene, values: Values, frame: number, scale: number, raster: Raster): Buffer {
  const timing = scene.timing()
  return framePng(scene.frame(scene.layout(values), timing, Math.min(frame, timing.total - 1)), raster, scale)
}

/** A row at its settled frame, cropped to what it touches, as PNG of a size. */
export function rowPng(
  scene: Scene,
  match: Match,
  row: Row,
  size: { width: number; height: number },
  raster: Raster,
): Buffer {
  const { values } = valuesOf(scene.template, match, row)
  const list = scene.restFrame(scene.layout(values))
  const { x, y, width } = readableCrop(scene, values, size.width / size.height)
  const region = { x, y, width, height: (width * size.height) / size.width }
  const whole = { x: 0, y: 0, ...size }
  return new FramePng(size.width, size.height, whole, 6).encode(raster.draw(list, region, size.width / width, true))
}

export function frameSvg(list: DrawList): string {
  return paintSvg(list, (pixels: Pixels) => Buffer.from(writePng(pixels)).toString('base64'))
}
