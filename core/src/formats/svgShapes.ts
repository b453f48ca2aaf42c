import { apply, identity, type Matrix, multiply, rotationMatrix, scaling, translation } from '../paint/index.ts'
import { cubic, type Segment, tightAreaOf } from '../path/index.ts'

/** An element of a drawing. */
export interface SvgNode {
  name: string
  attributes: Record<string, string>
  children: SvgNode[]
}

/** A number at the beginning of a text; units are left to whoever reads it. */
export const lengthOf = (text: string | undefined, rest = 0): number => {
  const value = Number.parseFloat(text ?? '')
  return Number.isFinite(value) ? value : rest
}

/** Path data of a shape; undefined for an element that is none. */
export function pathOf({ name, attributes }: SvgNode): string | undefined {
  const n = (key: string, rest = 0) => lengthOf(attributes[key], rest)
  switch (name) {
    case 'path':
      return attributes.d ?? ''
    case 'rect': {
      const [x, y, w, h] = [n('x'), n('y'), n('width'), n('height')]
      if (w <= 0 || h <= 0) return ''
      const rx = Math.min(w / 2, n('rx', n('ry')))
      const ry = Math.min(h / 2, n('ry', n('rx')))
      if (rx <= 0 || ry <= 0) return `M${x} ${y}H${x + w}V${y + h}H${x}Z`
      const arc = (toX: number, toY: number) => `A${rx} ${ry} 0 0 1 ${toX} ${toY}`
      return `M${x + rx} ${y}H${x + w - rx}${arc(x + w, y + ry)}V${y + h - ry}${arc(x + w - rx, y + h)}H${x + rx}${arc(x, y + h - ry)}V${y + ry}${arc(x + rx, y)}Z`
    }
    case 'circle':
    case 'ellipse': {
      const [cx, cy] = [n('cx'), n('cy')]
      const [rx, ry] = name === 'circle' ? [n('r'), n('r')] : [n('rx'), n('ry')]
      return rx > 0 && ry > 0
        ? `M${cx - rx} ${cy}A${rx} ${ry} 0 0 1 ${cx + rx} ${cy}A${rx} ${ry} 0 0 1 ${cx - rx} ${cy}Z`
        : ''
    }
    case 'line':
      return `M${n('x1')} ${n('y1')}L${n('x2')} ${n('y2')}`
    case 'polyline':
    case 'polygon': {
      const points = (attributes.points ?? '').trim()
      return points ? `M${points}${name === 'polygon' ? 'Z' : ''}` : ''
    }
    default:
      return undefined
  }
}

/** A transform list (SVG 1.1, 7.6) as one map. */
export function transformOf(text: string | undefined): Matrix {
  let matrix = identity
  for (const [, name, list] of (text ?? '').matchAll(/(\w+)\s*\(([^)]*)\)/g)) {
    const v = list!
      .trim()
      .split(/[\s,]+/)
      .map(Number)
    const [a = 0, b = 0, c = 0] = v
    const tan = (degrees: number) => Math.tan((degrees * Math.PI) / 180)
    if (name === 'matrix' && v.length === 6) matrix = multiply(matrix, v as unknown as Matrix)
    else if (name === 'translate') matrix = multiply(matrix, translation(a, b))
    else if (name === 'scale') matrix = multiply(matrix, scaling(a, v.length > 1 ? b : a))
    else if (name === 'rotate')
      matrix = multiply(matrix, multiply(translation(b, c), multiply(rotationMatrix(a), translation(-b, -c))))
    else if (name === 'skewX') matrix = multiply(matrix, [1, 0, tan(a), 1, 0, 0])
    else if (name === 'skewY') matrix = multiply(matrix, [1, tan(a), 0, 1, 0, 0])
  }
  return matrix
}

export function mapped(s: Segment, matrix: Matrix): Segment {
  if (s.type === 'Z') return s
  const [x, y] = apply(matrix, s.x, s.y)
  if (s.type !== 'C') return { ...s, x, y }
  const [[x1, y1], [x2, y2]] = [apply(matrix, s.x1, s.y1), apply(matrix, s.x2, s.y2)]
  return { type: 'C', x1, y1, x2, y2, x, y }
}

/** Points that each curve is looked at by. */
const steps = 12

type Point = readonly [x: number, y: number]
interface Line {
  segments: Segment[]
  /** The same as a polygon. */
  points: Point[]
}

function linesOf(segments: readonly Segment[]): Line[] {
  const lines: Line[] = []
  let [x, y] = [0, 0]
  for (const s of segments) {
    if (s.type === 'M') lines.push({ segments: [], points: [] })
    const line = lines.at(-1)
    if (!line) continue
    line.segments.push(s)
    if (s.type === 'Z') continue
    if (s.type === 'C')
      for (let i = 1; i < steps; i++)
        line.points.push([cubic(x, s.x1, s.x2, s.x, i / steps), cubic(y, s.y1, s.y2, s.y, i / steps)])
    line.points.push([s.x, s.y])
    ;[x, y] = [s.x, s.y]
  }
  return lines
}

/** How often a polygon goes round a point: clockwise counts up, the other way down. */
function winding(points: readonly Point[], [x, y]: Point): number {
  let turns = 0
  points.forEach(([x1, y1], i) => {
    const [x2, y2] = points[(i + 1) % points.length]!
    if (y1 <= y === y2 <= y) return
    const side = (x2 - x1) * (y - y1) - (x - x1) * (y2 - y1)
    if (y2 > y1 ? side > 0 : side < 0) turns += y2 > y1 ? 1 : -1
  })
  return turns
}

function backwards(segments: readonly Segment[]): Segment[] {
  const drawn = segments.filter((s) => s.type !== 'Z') as Exclude<Segment, { type: 'Z' }>[]
  const last = drawn.at(-1)!
  const back = drawn.slice(1).map((s, i): Segment => {
    const { x, y } = drawn[i]!
    return s.type === 'C' ? { type: 'C', x1: s.x2, y1: s.y2, x2: s.x1, y2: s.y1, x, y } : { type: 'L', x, y }
  })
  const closed = segments.some((s) => s.type === 'Z')
  return [{ type: 'M', x: last.x, y: last.y }, ...back.reverse(), ...(closed ? [{ type: 'Z' as const }] : [])]
}

/** Points at which the two rules are held against each other, along each side. */
const looks = 24

/**
 * Lines filled by the even-odd rule as lines that the non-zero rule fills alike: what lies within another runs the other way
 * round. Undefined where lines cross, which turning them round can't say.
 */
export function asNonZero(segments: readonly Segment[]): Segment[] | undefined {
  const lines = linesOf(segments)
  if (lines.length === 0) return [...segments]
  const turned = lines.map((line, i) => {
    const depth = lines.filter((other, n) => n !== i && winding(other.points, line.points[0]!) % 2 !== 0).length
    const area = line.points.reduce((sum, [x1, y1], n) => {
      const [x2, y2] = line.points[(n + 1) % line.points.length]!
      return sum + x1 * y2 - x2 * y1
    }, 0)
    return area > 0 === (depth % 2 === 0) ? line.segments : backwards(line.segments)
  })
  const result = turned.flat()
  const after = linesOf(result)
  const { x, y, width, height } = tightAreaOf(segments)
  for (let row = 0; row < looks; row++)
    for (let column = 0; column < looks; column++) {
      // Beside round shares, where lines of drawings lie.
      const at: Point = [x + ((column + 0.4837) / looks) * width, y + ((row + 0.5171) / looks) * height]
      const isOdd = lines.reduce((sum, { points }) => sum + winding(points, at), 0) % 2 !== 0
      const isFilled = after.reduce((sum, { points }) => sum + winding(points, at), 0) !== 0
      if (isOdd !== isFilled) return undefined
    }
  return result
}
