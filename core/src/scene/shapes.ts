import type { Box } from '../geometry/index.ts'
import { type Brush, onGrid } from '../paint/index.ts'
import type { Fill, PictureFill } from '../template/index.ts'

const n = (value: number) => String(onGrid(value))

/** A rectangle with a radius per corner (top left, clockwise), as SVG path data. Radii shrink together when they don't fit (CSS Backgrounds 3, corner overlap). */
export function boxPath(
  x: number,
  y: number,
  width: number,
  height: number,
  radii: readonly [number, number, number, number],
): string {
  const [tl, tr, br, bl] = radii
  const fit = Math.min(1, width / Math.max(tl + tr, bl + br, 1e-9), height / Math.max(tl + bl, tr + br, 1e-9))
  const r = radii.map((radius) => Math.max(0, radius * fit)) as [number, number, number, number]
  if (r.every((radius) => radius === 0)) return `M${n(x)} ${n(y)}H${n(x + width)}V${n(y + height)}H${n(x)}Z`
  const arc = (radius: number, toX: number, toY: number) =>
    radius > 0 ? `A${n(radius)} ${n(radius)} 0 0 1 ${n(toX)} ${n(toY)}` : ''
  return (
    `M${n(x + r[0])} ${n(y)}H${n(x + width - r[1])}${arc(r[1], x + width, y + r[1])}` +
    `V${n(y + height - r[2])}${arc(r[2], x + width - r[2], y + height)}` +
    `H${n(x + r[3])}${arc(r[3], x, y + height - r[3])}` +
    `V${n(y + r[0])}${arc(r[0], x + r[0], y)}Z`
  )
}

/**
 * A box whose left and right sides lean inside it by degrees clockwise, corners rounded by arcs that touch both sides.
 * The shape reaches all four sides of the box, so what is tied to it stays where it is.
 */
export function leaningBoxPath(
  x: number,
  y: number,
  width: number,
  height: number,
  radii: readonly [number, number, number, number],
  leanLeft: number,
  leanRight: number,
): string {
  if (leanLeft === 0 && leanRight === 0) return boxPath(x, y, width, height, radii)
  const inset = (degrees: number) => Math.min(Math.abs(Math.tan((degrees * Math.PI) / 180) * height), width)
  const [left, right] = [inset(leanLeft), inset(leanRight)]
  const corners: [number, number][] = [
    [x + (leanLeft > 0 ? left : 0), y],
    [x + width - (leanRight < 0 ? right : 0), y],
    [x + width - (leanRight > 0 ? right : 0), y + height],
    [x + (leanLeft < 0 ? left : 0), y + height],
  ]
  return roundedPolygonPath(corners, radii)
}

/** A closed polygon with a radius per corner; a radius is cut so that two arcs never meet on one side. */
function roundedPolygonPath(corners: readonly [number, number][], radii: readonly number[]): string {
  const count = corners.length
  const side = (i: number) => {
    const [[ax, ay], [bx, by]] = [corners[i % count]!, corners[(i + 1) % count]!]
    const length = Math.hypot(bx - ax, by - ay) || 1
    return { length, ux: (bx - ax) / length, uy: (by - ay) / length }
  }
  // Along each side an arc takes radius / tan(half the corner's angle).
  const half = corners.map((_, i) => {
    const [before, after] = [side(i + count - 1), side(i)]
    const cos = -(before.ux * after.ux + before.uy * after.uy)
    return Math.acos(Math.min(1, Math.max(-1, cos))) / 2
  })
  const wanted = radii.map((radius, i) => Math.max(0, radius) / Math.max(1e-6, Math.tan(half[i]!)))
  let fit = 1
  for (let i = 0; i < count; i++) {
    const needed = wanted[i]! + wanted[(i + 1) % count]!
    if (needed > 0) fit = Math.min(fit, side(i).length / needed)
  }
  let d = ''
  corners.forEach(([cx, cy], i) => {
    const [before, after] = [side(i + count - 1), side(i)]
    const reach = wanted[i]! * fit
    const radius = reach * Math.tan(half[i]!)
    const to = i === 0 ? 'M' : 'L'
    if (radius <= 0) d += `${to}${n(cx)} ${n(cy)}`
    else
      d += `${to}${n(cx - before.ux * reach)} ${n(cy - before.uy * reach)}A${n(radius)} ${n(radius)} 0 0 1 ${n(cx + after.ux * reach)} ${n(cy + after.uy * reach)}`
  })
  return `${d}Z`
}

export function ellipsePath(x: number, y: number, width: number, height: number): string {
  const [rx, ry] = [width / 2, height / 2]
  return `M${n(x)} ${n(y + ry)}A${n(rx)} ${n(ry)} 0 0 1 ${n(x + width)} ${n(y + ry)}A${n(rx)} ${n(ry)} 0 0 1 ${n(x)} ${n(y + ry)}Z`
}

export function polygonPath(points: readonly (readonly [number, number])[]): string {
  return `${points.map(([x, y], i) => `${i ? 'L' : 'M'}${n(x)} ${n(y)}`).join('')}Z`
}

/** A fill laid over a box: a linear gradient runs through its middle at its angle, from side to side (CSS Images 3). */
export function brushOver(fill: Exclude<Fill, PictureFill>, box: Box): Brush | undefined {
  if (fill === null || typeof fill === 'string') return fill ?? undefined
  const stops = fill.stops.map((stop): [number, string] => [stop.at, stop.colour])
  const [cx, cy] = [box.x + box.width / 2, box.y + box.height / 2]
  if (fill.kind === 'radial') {
    const { centre = { x: 0.5, y: 0.5 }, radius = 1 } = fill
    const [x, y] = [box.x + centre.x * box.width, box.y + centre.y * box.height]
    return { kind: 'radial', x, y, radius: (radius * Math.max(box.width, box.height)) / 2, stops }
  }
  const angle = (fill.angle * Math.PI) / 180
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  const half = (Math.abs(box.width * c) + Math.abs(box.height * s)) / 2
  return { kind: 'linear', x0: cx - c * half, y0: cy - s * half, x1: cx + c * half, y1: cy + s * half, stops }
}
