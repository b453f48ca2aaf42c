import type { Box } from '../geometry/index.ts'
import type { Item } from './drawList.ts'
import { apply, identity, lengthFactor, type Matrix, multiply } from './matrix.ts'

export function unite(a: Box | undefined, b: Box | undefined): Box | undefined {
  if (!a) return b
  if (!b) return a
  const x = Math.min(a.x, b.x)
  const y = Math.min(a.y, b.y)
  return {
    x,
    y,
    width: Math.max(a.x + a.width, b.x + b.width) - x,
    height: Math.max(a.y + a.height, b.y + b.height) - y,
  }
}

/** Where two boxes lie over each other; of no size or less where they don't. */
export function common(a: Box, b: Box): Box {
  const x = Math.max(a.x, b.x)
  const y = Math.max(a.y, b.y)
  return {
    x,
    y,
    width: Math.min(a.x + a.width, b.x + b.width) - x,
    height: Math.min(a.y + a.height, b.y + b.height) - y,
  }
}

export function mapBounds(matrix: Matrix, b: Box): Box {
  const corners = [
    apply(matrix, b.x, b.y),
    apply(matrix, b.x + b.width, b.y),
    apply(matrix, b.x, b.y + b.height),
    apply(matrix, b.x + b.width, b.y + b.height),
  ]
  const xs = corners.map((c) => c[0])
  const ys = corners.map((c) => c[1])
  const x = Math.min(...xs)
  const y = Math.min(...ys)
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y }
}

export function grown(b: Box, by: number): Box {
  return { x: b.x - by, y: b.y - by, width: b.width + 2 * by, height: b.height + 2 * by }
}

/** px that a layer's blur reaches past what it blurs: three standard deviations and a pixel. */
export function blurReach(blur: number, matrix: Matrix): number {
  return blur * lengthFactor(matrix) * 3 + 1
}

/** What an item can touch, in the coordinates of `matrix`; undefined for nothing. Never too small. */
export function boundsOf(items: readonly Item[], matrix: Matrix = identity): Box | undefined {
  let all: Box | undefined
  for (const item of items) {
    if (item.kind === 'layer') {
      const inside = item.opacity > 0 ? boundsOf(item.items, multiply(matrix, item.matrix)) : undefined
      all = unite(all, inside && item.blur ? grown(inside, blurReach(item.blur, matrix)) : inside)
      continue
    }
    let own = item.bounds
    if (item.kind === 'path') {
      // Pointed corners and square ends reach further than half the width.
      if (item.stroke)
        own = grown(
          own,
          item.stroke.width * (item.stroke.join === 'miter' ? 2 : item.stroke.cap === 'square' ? 1 : 0.5),
        )
      const body = own
      for (const shadow of item.shadows ?? []) {
        // Three standard deviations; Canvas 2D's blur is two of them.
        const reach = shadow.blur * 1.5
        own = unite(own, grown({ ...body, x: body.x + shadow.x, y: body.y + shadow.y }, reach))!
      }
    }
    all = unite(all, mapBounds(matrix, own))
  }
  return all
}

/**
 * Whole pixels of a frame that bounds touch, with a pixel to spare for antialiasing; undefined for none. It begins on a
 * multiple of eight, the period of the raster's dither of gradients, so that a region is drawn to the frame's own bytes.
 */
export function pixelRegion(bounds: Box | undefined, width: number, height: number): Box | undefined {
  if (!bounds) return undefined
  const from = (edge: number) => Math.max(0, Math.floor((Math.floor(edge) - 1) / 8) * 8)
  const [x, y] = [from(bounds.x), from(bounds.y)]
  const right = Math.min(width, Math.ceil(bounds.x + bounds.width) + 1)
  const bottom = Math.min(height, Math.ceil(bounds.y + bounds.height) + 1)
  return right > x && bottom > y ? { x, y, width: right - x, height: bottom - y } : undefined
}
