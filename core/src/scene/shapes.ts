import { type Bounds, type Brush, onGrid } from '../paint/index.ts'
import type { Fill } from '../template/index.ts'

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

export function ellipsePath(x: number, y: number, width: number, height: number): string {
  const [rx, ry] = [width / 2, height / 2]
  return `M${n(x)} ${n(y + ry)}A${n(rx)} ${n(ry)} 0 0 1 ${n(x + width)} ${n(y + ry)}A${n(rx)} ${n(ry)} 0 0 1 ${n(x)} ${n(y + ry)}Z`
}

export function polygonPath(points: readonly (readonly [number, number])[]): string {
  return `${points.map(([x, y], i) => `${i ? 'L' : 'M'}${n(x)} ${n(y)}`).join('')}Z`
}

/** A fill laid over a box: a linear gradient runs through its middle at its angle, from side to side (CSS Images 3). */
export function brushOver(fill: Fill, box: Bounds): Brush | undefined {
  if (fill === null || typeof fill === 'string') return fill ?? undefined
  const stops = fill.stops.map((stop): [number, string] => [stop.at, stop.colour])
  const [cx, cy] = [box.x + box.width / 2, box.y + box.height / 2]
  if (fill.kind === 'radial')
    return { kind: 'radial', x: cx, y: cy, radius: Math.max(box.width, box.height) / 2, stops }
  const angle = (fill.angle * Math.PI) / 180
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  const half = (Math.abs(box.width * c) + Math.abs(box.height * s)) / 2
  return { kind: 'linear', x0: cx - c * half, y0: cy - s * half, x1: cx + c * half, y1: cy + s * half, stops }
}
