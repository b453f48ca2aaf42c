import type { Box } from '@hoja/core/geometry'
import { boxOf } from '@hoja/core/layout'
import type { Layout, Scene } from '@hoja/core/scene'
import { numberedParts, type Part, type Template } from '@hoja/core/template'

/** A part where it rests in the filling that stands in the frame. */
export interface Placed {
  part: Part
  number: number
  box: Box
  gone: boolean
}

/**
 * Every part with its number and its box (frame px), the uppermost first. What runs is where it runs through; what stands in
 * it is seen where it was drawn only while nothing runs.
 */
export function placedParts(template: Template, scene: Scene, layout: Layout): Placed[] {
  const { rest } = layout
  const { strips, inStrips } = scene.entries(layout)
  return numberedParts(template).map(({ part, number }) => {
    const i = rest.order.index.get(part.id)!
    const gone = rest.gone[i] === 1 || inStrips.has(i)
    return { part, number, gone, box: strips.get(i)?.area ?? boxOf(rest, i) }
  })
}

/** px (frame) by which a thin line can be missed and is still hit. */
const reach = 5

/** The uppermost part at a point that can be taken hold of. */
export const partAt = (placed: readonly Placed[], x: number, y: number): Placed | undefined => partsAt(placed, x, y)[0]

/** All of them, the uppermost first. */
export function partsAt(placed: readonly Placed[], x: number, y: number): Placed[] {
  return placed.filter(
    ({ part, box, gone }) =>
      !gone &&
      !part.locked &&
      part.kind !== 'group' &&
      x >= box.x - (box.width < 2 * reach ? reach : 0) &&
      x <= box.x + box.width + (box.width < 2 * reach ? reach : 0) &&
      y >= box.y - (box.height < 2 * reach ? reach : 0) &&
      y <= box.y + box.height + (box.height < 2 * reach ? reach : 0),
  )
}

/** The parts that lie wholly in an area. */
export function partsWithin(placed: readonly Placed[], area: Box): Part[] {
  return placed
    .filter(
      ({ part, box, gone }) =>
        !gone &&
        !part.locked &&
        part.kind !== 'group' &&
        box.x >= area.x &&
        box.y >= area.y &&
        box.x + box.width <= area.x + area.width &&
        box.y + box.height <= area.y + area.height,
    )
    .map(({ part }) => part)
}

/** A box of the frame on the screen, the frame's corner at 0, 0. */
export const scaled = ({ x, y, width, height }: Box, scale: number): Box => ({
  x: x * scale,
  y: y * scale,
  width: width * scale,
  height: height * scale,
})
