import svgpath from 'svgpath'
import { demand } from '../refusal/index.ts'

/** One absolute step of a path. Everything that SVG path data can say comes down to these. */
export type Segment =
  | { type: 'M'; x: number; y: number }
  | { type: 'L'; x: number; y: number }
  | { type: 'C'; x1: number; y1: number; x2: number; y2: number; x: number; y: number }
  | { type: 'Z' }

/**
 * Reads SVG path data (SVG 2, chapter 9) into absolute moves, lines, cubic curves and closings. Quadratic curves and arcs
 * become cubic curves.
 * @throws Refusal for what is no path data.
 */
export function parsePathData(d: string): Segment[] {
  // Its types leave out where it says what it could not read, and at which character, from 0.
  const path = svgpath(d) as ReturnType<typeof svgpath> & { err: string }
  const at = Number(/at pos (\d+)/.exec(path.err)?.[1] ?? 0) + 1
  demand(
    !path.err,
    'path.data',
    `The path data "${d.slice(0, 60)}" can't be read at character ${at}; draw or export it again.`,
  )
  const segments: Segment[] = []
  path
    .abs()
    .unshort()
    .unarc()
    .iterate((step, _, x, y) => {
      const n = step.slice(1) as number[]
      const curve = (x1: number, y1: number, x2: number, y2: number, toX: number, toY: number) =>
        segments.push({ type: 'C', x1, y1, x2, y2, x: toX, y: toY })
      switch (step[0]) {
        case 'M':
        case 'L':
          segments.push({ type: step[0], x: n[0]!, y: n[1]! })
          break
        case 'H':
          segments.push({ type: 'L', x: n[0]!, y })
          break
        case 'V':
          segments.push({ type: 'L', x, y: n[0]! })
          break
        case 'C':
          curve(...(n as [number, number, number, number, number, number]))
          break
        case 'Q': {
          // A quadratic curve raised by a degree.
          const [cx, cy, toX, toY] = n as [number, number, number, number]
          const third = (from: number, control: number) => from + (2 / 3) * (control - from)
          curve(third(x, cx), third(y, cy), third(toX, cx), third(toY, cy), toX, toY)
          break
        }
        default:
          segments.push({ type: 'Z' })
      }
    })
  return segments
}

/** Writes segments as SVG path data; `round` says how exactly. */
export function writePathData(segments: readonly Segment[], round: (value: number) => number = (v) => v): string {
  const n = (value: number) => String(round(value))
  return segments
    .map((s) =>
      s.type === 'Z'
        ? 'Z'
        : s.type === 'C'
          ? `C${n(s.x1)} ${n(s.y1)} ${n(s.x2)} ${n(s.y2)} ${n(s.x)} ${n(s.y)}`
          : `${s.type}${n(s.x)} ${n(s.y)}`,
    )
    .join('')
}
