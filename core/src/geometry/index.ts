/** An upright rectangle, its y downwards. px, in whatever coordinates its place says. */
export interface Box {
  x: number
  y: number
  width: number
  height: number
}

/** Where a box starts along an axis and how long it is there; px, in the box's coordinates. */
export const extentAlong = (box: Box, axis: 'x' | 'y'): [start: number, size: number] =>
  axis === 'x' ? [box.x, box.width] : [box.y, box.height]
