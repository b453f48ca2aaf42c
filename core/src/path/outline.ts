import type { Box } from '../geometry/index.ts'
import type { Outline, PathPoint } from '../template/index.ts'
import type { Segment } from './data.ts'

/** Outlines laid into a box: their fractions become px. */
export function segmentsOf(outlines: readonly Outline[], box: Box): Segment[] {
  const segments: Segment[] = []
  const at = (x: number, y: number): [number, number] => [box.x + x * box.width, box.y + y * box.height]
  for (const { points, closed } of outlines) {
    const join = (from: PathPoint, to: PathPoint) => {
      const [x, y] = at(to.x, to.y)
      if (!from.out && !to.in) {
        segments.push({ type: 'L', x, y })
        return
      }
      const [x1, y1] = at(from.x + (from.out?.[0] ?? 0), from.y + (from.out?.[1] ?? 0))
      const [x2, y2] = at(to.x + (to.in?.[0] ?? 0), to.y + (to.in?.[1] ?? 0))
      segments.push({ type: 'C', x1, y1, x2, y2, x, y })
    }
    const first = points[0]
    if (!first) continue
    const [x, y] = at(first.x, first.y)
    segments.push({ type: 'M', x, y })
    for (let i = 1; i < points.length; i++) join(points[i - 1]!, points[i]!)
    if (closed) {
      const last = points[points.length - 1]!
      if (last.out || first.in) join(last, first)
      segments.push({ type: 'Z' })
    }
  }
  return segments
}

/** The box that segments' points and control points span: never smaller than what they draw. */
export function areaOf(segments: readonly Segment[]): Box {
  let [left, top, right, bottom] = [
    Number.POSITIVE_INFINITY,
    Number.POSITIVE_INFINITY,
    Number.NEGATIVE_INFINITY,
    Number.NEGATIVE_INFINITY,
  ]
  const take = (x: number, y: number) => {
    left = Math.min(left, x)
    right = Math.max(right, x)
    top = Math.min(top, y)
    bottom = Math.max(bottom, y)
  }
  for (const s of segments) {
    if (s.type === 'Z') continue
    take(s.x, s.y)
    if (s.type === 'C') {
      take(s.x1, s.y1)
      take(s.x2, s.y2)
    }
  }
  return right >= left
    ? { x: left, y: top, width: right - left, height: bottom - top }
    : { x: 0, y: 0, width: 0, height: 0 }
}

/** The tight box of segments: curves by their extremes, not their control points. */
export function tightAreaOf(segments: readonly Segment[]): Box {
  const points: Segment[] = []
  let [x, y, startX, startY] = [0, 0, 0, 0]
  for (const s of segments) {
    if (s.type === 'Z') {
      ;[x, y] = [startX, startY]
      continue
    }
    if (s.type === 'M') [startX, startY] = [s.x, s.y]
    if (s.type === 'C') {
      for (const t of [...extremes(x, s.x1, s.x2, s.x), ...extremes(y, s.y1, s.y2, s.y)])
        points.push({ type: 'L', x: cubic(x, s.x1, s.x2, s.x, t), y: cubic(y, s.y1, s.y2, s.y, t) })
    }
    points.push({ type: 'L', x: s.x, y: s.y })
    ;[x, y] = [s.x, s.y]
  }
  return areaOf(points)
}

export function cubic(a: number, b: number, c: number, d: number, t: number): number {
  const u = 1 - t
  return u * u * u * a + 3 * u * u * t * b + 3 * u * t * t * c + t * t * t * d
}

/** Parameters in 0..1 at which a cubic stands still along one axis. */
function extremes(a: number, b: number, c: number, d: number): number[] {
  const [p, q, r] = [-a + 3 * b - 3 * c + d, 2 * (a - 2 * b + c), b - a]
  const roots =
    Math.abs(p) < 1e-12
      ? Math.abs(q) < 1e-12
        ? []
        : [-r / q]
      : q * q - 4 * p * r < 0
        ? []
        : [(-q + Math.sqrt(q * q - 4 * p * r)) / (2 * p), (-q - Math.sqrt(q * q - 4 * p * r)) / (2 * p)]
  return roots.filter((t) => t > 0 && t < 1)
}

/** Segments as outlines over the box `area`: px become fractions. A side without length counts as 1 px. */
export function outlinesOf(segments: readonly Segment[], area: Box): Outline[] {
  const [width, height] = [area.width || 1, area.height || 1]
  const exact = (value: number) => Math.round(value * 1e6) / 1e6
  const u = (x: number) => exact((x - area.x) / width)
  const v = (y: number) => exact((y - area.y) / height)
  const outlines: Outline[] = []
  let open: Outline | undefined
  let [x, y] = [0, 0]
  const handle = (dx: number, dy: number): [number, number] | undefined =>
    Math.abs(dx) < 1e-9 && Math.abs(dy) < 1e-9 ? undefined : [exact(dx / width), exact(dy / height)]
  for (const s of segments) {
    if (s.type === 'Z') {
      // Closing twice closes nothing more.
      if (open && !open.closed) {
        open.closed = true
        // A last point on the first is the same point; its curve ends there.
        const [first, last] = [open.points[0]!, open.points[open.points.length - 1]!]
        if (open.points.length > 1 && Math.abs(first.x - last.x) < 1e-5 && Math.abs(first.y - last.y) < 1e-5) {
          if (last.in) first.in = last.in
          open.points.pop()
        }
        ;[x, y] = [area.x + first.x * width, area.y + first.y * height]
      }
      continue
    }
    if (s.type === 'M' || !open) {
      open = { points: [{ x: u(s.x), y: v(s.y) }], closed: false }
      outlines.push(open)
    } else {
      // After a closing the path goes on from where it began.
      if (open.closed) {
        open = { points: [{ x: u(x), y: v(y) }], closed: false }
        outlines.push(open)
      }
      const from: PathPoint = open.points[open.points.length - 1]!
      const to: PathPoint = { x: u(s.x), y: v(s.y) }
      if (s.type === 'C') {
        const out = handle(s.x1 - x, s.y1 - y)
        const into = handle(s.x2 - s.x, s.y2 - s.y)
        if (out) from.out = out
        if (into) to.in = into
      }
      open.points.push(to)
    }
    ;[x, y] = [s.x, s.y]
  }
  for (const outline of outlines)
    for (const point of outline.points) if (isSmooth(point, width, height)) point.smooth = true
  return outlines.filter((o) => o.points.length > 0)
}

/** Both handles in one line, seen in px. */
function isSmooth(point: PathPoint, width: number, height: number): boolean {
  if (!point.in || !point.out) return false
  const [ax, ay, bx, by] = [point.in[0] * width, point.in[1] * height, point.out[0] * width, point.out[1] * height]
  const cross = Math.abs(ax * by - ay * bx)
  return ax * bx + ay * by < 0 && cross < 0.02 * Math.hypot(ax, ay) * Math.hypot(bx, by)
}
