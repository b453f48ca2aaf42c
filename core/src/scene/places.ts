import type { Box } from '../geometry/index.ts'
import type { Timing } from '../motion/index.ts'
import type { Matrix } from '../paint/index.ts'
import type { PartId } from '../template/index.ts'
import type { Layout } from './layout.ts'
import type { Scene } from './scene.ts'

/** From a frame on until the next place: how a part has moved from where it rests. */
export interface Place {
  /** From 0. */
  frame: number
  /** `a b c d e f` of SVG and CSS: frame px to frame px. */
  matrix: Matrix
  /** 0..1 */
  opacity: number
}

/** Where a part rests (frame px), and where it is from frame to frame; undefined for one that is never there. */
export function placesOf(
  scene: Scene,
  layout: Layout,
  timing: Timing,
  id: PartId,
): { box: Box; places: Place[] } | undefined {
  const places: Place[] = []
  let box: Box | undefined
  let last = ''
  for (let frame = 0; frame < timing.total; frame++) {
    const place = scene.posed(layout, timing, frame).placeOf(id)
    if (!place) continue
    box ??= place.box
    const { matrix, opacity } = place
    const key = JSON.stringify([matrix, opacity])
    if (key !== last) places.push({ frame, matrix, opacity })
    last = key
  }
  return box && { box, places }
}
