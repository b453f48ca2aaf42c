import { type Match, type Row, valuesOf } from '@hoja/core/data'
import { writePng } from '@hoja/core/formats'
import type { Box } from '@hoja/core/geometry'
import { type DrawList, type Pixels, paintSvg } from '@hoja/core/paint'
import { readableCrop, type Scene } from '@hoja/core/scene'
import type { Template, Values } from '@hoja/core/template'
import { FramePng } from './pictures/png.ts'
import type { Raster } from './raster.ts'

/** What of a frame a picture shows, frame px, and picture px per frame px. */
export interface View {
  region: Box
  scale: number
  /** The region may lead out of the frame, where there is no picture. */
  within?: boolean
}

export const wholeFrame = ({ frame }: Template, scale: number): View => ({
  region: { x: 0, y: 0, width: frame.width, height: frame.height },
  scale,
})

/** What the settled title touches, in the shape of a picture. `width`: picture px. */
export function nearView(scene: Scene, values: Values, shape: number, width: number): View {
  const region = readableCrop(scene, values, shape)
  return { region, scale: width / region.width, within: true }
}

function viewPng(list: DrawList, { region, scale, within }: View, raster: Raster): Buffer {
  const [width, height] = [Math.round(region.width * scale), Math.round(region.height * scale)]
  const pixels = raster.draw(list, region, scale, within)
  return new FramePng(width, height, { x: 0, y: 0, width, height }, 6).encode(pixels)
}

/** One frame as PNG, `scale` picture px per frame px. */
export const framePng = (list: DrawList, raster: Raster, scale = 1): Buffer =>
  viewPng(list, { region: { x: 0, y: 0, width: list.width, height: list.height }, scale }, raster)

/** One frame of a filling as PNG; without one, as it is seen when it stands. */
export function restPng(scene: Scene, values: Values, frame: number | undefined, view: View, raster: Raster): Buffer {
  const layout = scene.layout(values)
  const timing = scene.timing(layout)
  return viewPng(
    scene.frame(layout, timing, Math.min(frame ?? scene.settled(layout, timing), timing.total - 1)),
    view,
    raster,
  )
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
  const view = nearView(scene, values, size.width / size.height, size.width)
  return viewPng(scene.restFrame(scene.layout(values)), view, raster)
}

export function frameSvg(list: DrawList): string {
  return paintSvg(list, (pixels: Pixels) => Buffer.from(writePng(pixels)).toString('base64'))
}
