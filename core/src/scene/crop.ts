import type { Box } from '../geometry/index.ts'
import { boundsOf, pixelRegion, unite } from '../paint/index.ts'
import type { Values } from '../template/index.ts'
import type { Scene } from './scene.ts'

interface Size {
  width: number
  height: number
}

/** px of the frame left free around what a title touches. */
const air = 40

/**
 * The part of the frame that a settled title touches, each of its texts in turn, frame px; all of it for one that touches
 * nothing.
 */
export function touchedBy(scene: Scene, values: Values): Box {
  const { width, height } = scene.template.frame
  const layout = scene.layout(values)
  const timing = scene.timing(layout)
  const frames = timing.turns?.map(({ from }) => timing.in + from) ?? [scene.settled(layout, timing)]
  const bounds = frames.reduce(
    (all: Box | undefined, frame) => unite(all, boundsOf(scene.frame(layout, timing, frame).items)),
    undefined,
  )
  const touched = pixelRegion(bounds, width, height)
  return touched ?? { x: 0, y: 0, width, height }
}

/**
 * How large a view of a frame has to be to show all that is touched, with air around it, in the shape that it is shown
 * in. Where the frame has another shape than the view, it may be larger than the frame: what is beside that is no picture.
 * @param aspect width over height
 * @param least share of the frame's width that is shown at least, so that titles can be compared
 */
export function cropSize(frame: Size, touched: Size, aspect: number, least: number): Size {
  const wide = Math.max(Math.min(touched.width + 2 * air, frame.width), frame.width * least)
  const high = Math.min(touched.height + 2 * air, frame.height)
  return wide / aspect >= high ? { width: wide, height: wide / aspect } : { width: high * aspect, height: high }
}

/** Where a view begins along one axis: `wanted`, but within the frame; a view that is larger has the frame in its middle. */
export function cropStart(wanted: number, size: number, length: number): number {
  return size >= length ? (length - size) / 2 : Math.max(0, Math.min(length - size, wanted))
}

/**
 * The part of the frame that a settled title touches, with air around it, in the shape that it is to be shown in: so that
 * a proof can be read. It shows all of it, and what leads out of the frame where the shapes differ.
 */
export function readableCrop(scene: Scene, values: Values, aspect: number): Box {
  const { frame } = scene.template
  const touched = touchedBy(scene, values)
  const { width, height } = cropSize(frame, touched, aspect, 0.45)
  return {
    x: cropStart(touched.x + touched.width / 2 - width / 2, width, frame.width),
    y: cropStart(touched.y + touched.height / 2 - height / 2, height, frame.height),
    width,
    height,
  }
}
