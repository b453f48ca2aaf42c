import type { Segment } from './data.ts'
import { cubic } from './outline.ts'

/** Chords that a curve is measured by: a quarter circle of 1000 px comes out within 0.02 px. */
const chords = 32

interface Piece {
  /** px along the path where it begins and how long it is. */
  from: number
  length: number
  x0: number
  y0: number
  segment: Exclude<Segment, { type: 'M' | 'Z' }>
  /** Lengths up to each chord's end; curves only. */
  upTo?: Float64Array
}

/** A path measured along its way. */
export class MeasuredPath {
  readonly length: number
  private readonly pieces: Piece[] = []

  constructor(segments: readonly Segment[]) {
    let [x, y, startX, startY, sum] = [0, 0, 0, 0, 0]
    const push = (segment: Piece['segment']) => {
      const piece: Piece = { from: sum, length: 0, x0: x, y0: y, segment }
      if (segment.type === 'L') piece.length = Math.hypot(segment.x - x, segment.y - y)
      else {
        piece.upTo = new Float64Array(chords)
        let [px, py] = [x, y]
        for (let i = 0; i < chords; i++) {
          const [qx, qy] = curvePoint(piece, (i + 1) / chords)
          piece.length += Math.hypot(qx - px, qy - py)
          piece.upTo[i] = piece.length
          ;[px, py] = [qx, qy]
        }
      }
      sum += piece.length
      if (piece.length > 0) this.pieces.push(piece)
      ;[x, y] = [segment.x, segment.y]
    }
    for (const s of segments) {
      if (s.type === 'M') [x, y, startX, startY] = [s.x, s.y, s.x, s.y]
      else if (s.type === 'Z') push({ type: 'L', x: startX, y: startY })
      else push(s)
    }
    this.length = sum
  }

  /** The place (px) and direction (radians) after `distance` px; before the start and past the end it runs straight on. */
  at(distance: number): { x: number; y: number; angle: number } {
    const piece = this.pieces.find((p) => distance < p.from + p.length) ?? this.pieces[this.pieces.length - 1]
    if (!piece) return { x: 0, y: 0, angle: 0 }
    const t = parameterAt(piece, distance - piece.from)
    const inside = Math.min(1, Math.max(0, t))
    const [x, y] = piece.segment.type === 'L' ? linePoint(piece, inside) : curvePoint(piece, inside)
    const angle = angleAt(piece, inside)
    const beyond = t < 0 ? distance - piece.from : t > 1 ? distance - piece.from - piece.length : 0
    return { x: x + Math.cos(angle) * beyond, y: y + Math.sin(angle) * beyond, angle }
  }

  /** The stretch between two distances (px), as open segments. */
  between(from: number, to: number): Segment[] {
    const result: Segment[] = []
    let [endX, endY] = [Number.NaN, Number.NaN]
    for (const piece of this.pieces) {
      const [a, b] = [Math.max(from, piece.from), Math.min(to, piece.from + piece.length)]
      if (b <= a) continue
      const [t0, t1] = [parameterAt(piece, a - piece.from), parameterAt(piece, b - piece.from)]
      const cut = stretch(piece, t0, t1)
      if (Math.hypot(cut.x0 - endX, cut.y0 - endY) < 1e-6) result.push(cut.segment)
      else result.push({ type: 'M', x: cut.x0, y: cut.y0 }, cut.segment)
      ;[endX, endY] = [cut.segment.x, cut.segment.y]
    }
    return result
  }
}

function linePoint({ x0, y0, segment }: Piece, t: number): [number, number] {
  return [x0 + (segment.x - x0) * t, y0 + (segment.y - y0) * t]
}

function curvePoint({ x0, y0, segment }: Piece, t: number): [number, number] {
  if (segment.type === 'L') return linePoint({ x0, y0, segment } as Piece, t)
  return [cubic(x0, segment.x1, segment.x2, segment.x, t), cubic(y0, segment.y1, segment.y2, segment.y, t)]
}

/** The curve parameter after `distance` px of a piece; below 0 and above 1 outside it. */
function parameterAt(piece: Piece, distance: number): number {
  if (!piece.upTo || distance < 0 || distance > piece.length) return distance / piece.length
  let i = piece.upTo.findIndex((end) => end >= distance)
  if (i < 0) i = chords - 1
  const before = i === 0 ? 0 : piece.upTo[i - 1]!
  const chord = piece.upTo[i]! - before
  return (i + (chord > 0 ? (distance - before) / chord : 0)) / chords
}

function angleAt(piece: Piece, t: number): number {
  const { x0, y0, segment } = piece
  if (segment.type === 'L') return Math.atan2(segment.y - y0, segment.x - x0)
  // Where a handle has no length the direction is taken a little further along.
  for (const [a, b] of [
    [t - 1e-4, t + 1e-4],
    [t - 0.02, t + 0.02],
  ] as const) {
    const [px, py] = curvePoint(piece, Math.max(0, a))
    const [qx, qy] = curvePoint(piece, Math.min(1, b))
    if (Math.hypot(qx - px, qy - py) > 1e-9) return Math.atan2(qy - py, qx - px)
  }
  return 0
}

/** The part of a piece between two parameters, by de Casteljau's construction. */
function stretch(piece: Piece, t0: number, t1: number): { x0: number; y0: number; segment: Piece['segment'] } {
  const { x0, y0, segment } = piece
  if (segment.type === 'L') {
    const [a, b] = [linePoint(piece, t0), linePoint(piece, t1)]
    return { x0: a[0], y0: a[1], segment: { type: 'L', x: b[0], y: b[1] } }
  }
  const along = (p0: number, p1: number, p2: number, p3: number) => {
    const blossom = (a: number, b: number, c: number) => {
      const lerp = (p: number, q: number, t: number) => p + (q - p) * t
      const [l1, l2, l3] = [lerp(p0, p1, a), lerp(p1, p2, a), lerp(p2, p3, a)]
      return lerp(lerp(l1, l2, b), lerp(l2, l3, b), c)
    }
    return [blossom(t0, t0, t0), blossom(t0, t0, t1), blossom(t0, t1, t1), blossom(t1, t1, t1)] as const
  }
  const [ax, bx, cx, dx] = along(x0, segment.x1, segment.x2, segment.x)
  const [ay, by, cy, dy] = along(y0, segment.y1, segment.y2, segment.y)
  return { x0: ax, y0: ay, segment: { type: 'C', x1: bx, y1: by, x2: cx, y2: cy, x: dx, y: dy } }
}
