import type { Segment } from '../path/index.ts'
import type { Outline, PathPoint, StyleValues } from '../template/index.ts'

type CurveStyle = Pick<StyleValues<'curve'>, 'values' | 'range' | 'low' | 'high' | 'line'>

/**
 * The line of a curve as fractions of its box: numbers evenly from left to right, the highest at the top. A smooth line
 * never swings past its numbers: its slopes are those of F. N. Fritsch and R. E. Carlson, "Monotone Piecewise Cubic
 * Interpolation", SIAM Journal on Numerical Analysis 17 (1980).
 */
export function curveOutline(style: CurveStyle): Outline {
  const values = style.values.length === 1 ? [style.values[0]!, style.values[0]!] : style.values
  const isFixed = style.range === 'fixed'
  const low = isFixed ? style.low : Math.min(...values)
  const high = isFixed ? style.high : Math.max(...values)
  const y = (value: number) => (high === low ? 0.5 : 1 - (value - low) / (high - low))
  const step = 1 / Math.max(1, values.length - 1)
  const ys = values.map(y)
  if (style.line === 'steps') return { points: stairs(ys), closed: false }
  const points: PathPoint[] = ys.map((at, i) => ({ x: i * step, y: at }))
  if (style.line === 'smooth') {
    const slopes = monotoneSlopes(ys)
    points.forEach((point, i) => {
      const handle: [number, number] = [step / 3, slopes[i]! / 3]
      if (i > 0) point.in = [-handle[0], -handle[1]]
      if (i < points.length - 1) point.out = handle
    })
  }
  return { points, closed: false }
}

function stairs(ys: number[]): PathPoint[] {
  return ys.flatMap((y, i) => [
    { x: i / ys.length, y },
    { x: (i + 1) / ys.length, y },
  ])
}

/** Slopes per step at each of some evenly spaced heights. */
function monotoneSlopes(ys: number[]): number[] {
  const rises = ys.slice(1).map((y, i) => y - ys[i]!)
  const slopes = ys.map((_, i) => {
    const [before, after] = [rises[i - 1], rises[i]]
    if (before === undefined || after === undefined) return before ?? after ?? 0
    return before * after <= 0 ? 0 : (before + after) / 2
  })
  rises.forEach((rise, i) => {
    if (rise === 0) {
      slopes[i] = 0
      slopes[i + 1] = 0
      return
    }
    const [a, b] = [slopes[i]! / rise, slopes[i + 1]! / rise]
    const length = Math.hypot(a, b)
    if (length <= 3) return
    slopes[i] = (3 / length) * a * rise
    slopes[i + 1] = (3 / length) * b * rise
  })
  return slopes
}

/** From a line's end down to a floor and back under its beginning. */
export function segmentsUnder(line: readonly Segment[], floor: number): Segment[] {
  const points = line.filter((segment) => segment.type !== 'Z') as Exclude<Segment, { type: 'Z' }>[]
  const [first, last] = [points[0], points[points.length - 1]]
  if (!first || !last) return []
  return [
    { type: 'L', x: last.x, y: floor },
    { type: 'L', x: first.x, y: floor },
  ]
}
