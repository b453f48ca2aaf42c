import { Refusal } from '../refusal/index.ts'

/** One absolute step of a path. Everything that SVG path data can say comes down to these. */
export type Segment =
  | { type: 'M'; x: number; y: number }
  | { type: 'L'; x: number; y: number }
  | { type: 'C'; x1: number; y1: number; x2: number; y2: number; x: number; y: number }
  | { type: 'Z' }

const counts: Record<string, number> = { M: 2, L: 2, H: 1, V: 1, C: 6, S: 4, Q: 4, T: 2, A: 7, Z: 0 }
const token = /([MLHVCSQTAZmlhvcsqtaz])|([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)|([\s,]+)|(.)/g

/** Commands with their numbers; arc flags may stand without a space between them (SVG 2, 9.3.9). */
function* commands(d: string): Generator<{ command: string; values: number[] }> {
  let command = ''
  let values: number[] = []
  const refuse = (what: string): never => {
    throw new Refusal('path.data', `The path data "${d.slice(0, 60)}" ${what}; draw or export it again.`)
  }
  token.lastIndex = 0
  for (let match = token.exec(d); match; match = token.exec(d)) {
    const [whole, letter, number, , other] = match
    if (other) refuse(`holds "${other}", which is no path command`)
    if (letter) {
      if (values.length > 0) refuse(`ends a command ${command} in the middle`)
      if (!command && letter.toUpperCase() !== 'M') refuse('does not begin with a move')
      command = letter
      if (letter.toUpperCase() === 'Z') yield { command, values: [] }
      continue
    }
    if (number === undefined) continue
    if (!command || command.toUpperCase() === 'Z') refuse('has a number where a command should stand')
    const isFlag = command.toUpperCase() === 'A' && (values.length === 3 || values.length === 4)
    if (isFlag) {
      if (!/^[01]/.test(whole)) refuse('has an arc flag that is neither 0 nor 1')
      token.lastIndex = match.index + 1
      values.push(Number(whole[0]))
    } else values.push(Number(number))
    if (values.length === counts[command.toUpperCase()]) {
      yield { command, values }
      values = []
      // Further pairs after a move are lines.
      if (command === 'M') command = 'L'
      if (command === 'm') command = 'l'
    }
  }
  if (values.length > 0) refuse(`ends a command ${command} in the middle`)
}

/**
 * Reads SVG path data (SVG 2, chapter 9) into absolute moves, lines, cubic curves and closings. Quadratic curves and arcs
 * become cubic curves.
 * @throws Refusal for what is no path data.
 */
export function parsePathData(d: string): Segment[] {
  const segments: Segment[] = []
  let [x, y, startX, startY] = [0, 0, 0, 0]
  let reflected: { kind: 'C' | 'Q'; x: number; y: number } | undefined
  for (const { command, values } of commands(d)) {
    const kind = command.toUpperCase()
    const relative = command !== kind
    const [ox, oy] = relative ? [x, y] : [0, 0]
    const at = (i: number): [number, number] => [values[i]! + ox, values[i + 1]! + oy]
    const curve = (x1: number, y1: number, x2: number, y2: number, toX: number, toY: number) => {
      segments.push({ type: 'C', x1, y1, x2, y2, x: toX, y: toY })
      ;[x, y] = [toX, toY]
    }
    const quadratic = (cx: number, cy: number, toX: number, toY: number) => {
      const third = 2 / 3
      curve(x + third * (cx - x), y + third * (cy - y), toX + third * (cx - toX), toY + third * (cy - toY), toX, toY)
      reflected = { kind: 'Q', x: 2 * toX - cx, y: 2 * toY - cy }
    }
    const before = reflected
    reflected = undefined
    if (kind === 'M' || kind === 'L') {
      ;[x, y] = at(0)
      if (kind === 'M') [startX, startY] = [x, y]
      segments.push({ type: kind, x, y })
    } else if (kind === 'H' || kind === 'V') {
      if (kind === 'H') x = values[0]! + ox
      else y = values[0]! + oy
      segments.push({ type: 'L', x, y })
    } else if (kind === 'C' || kind === 'S') {
      const [x1, y1] = kind === 'C' ? at(0) : before?.kind === 'C' ? [before.x, before.y] : [x, y]
      const rest = kind === 'C' ? 2 : 0
      const [x2, y2] = at(rest)
      const [toX, toY] = at(rest + 2)
      curve(x1, y1, x2, y2, toX, toY)
      reflected = { kind: 'C', x: 2 * toX - x2, y: 2 * toY - y2 }
    } else if (kind === 'Q') quadratic(...at(0), ...at(2))
    else if (kind === 'T')
      quadratic(...(before?.kind === 'Q' ? ([before.x, before.y] as const) : ([x, y] as const)), ...at(0))
    else if (kind === 'A') {
      const [rx, ry, turn, large, sweep] = values as [number, number, number, number, number]
      const [toX, toY] = at(5)
      for (const c of arcCurves(x, y, rx, ry, turn, large === 1, sweep === 1, toX, toY)) {
        if (c.length === 2) {
          segments.push({ type: 'L', x: c[0], y: c[1] })
          ;[x, y] = c
        } else curve(...c)
      }
    } else {
      segments.push({ type: 'Z' })
      ;[x, y] = [startX, startY]
    }
  }
  return segments
}

type Curve = [number, number, number, number, number, number]

/** An elliptical arc as cubic curves of at most a quarter turn each (SVG 2, appendix B.2: endpoint to centre). */
function arcCurves(
  x0: number,
  y0: number,
  radiusX: number,
  radiusY: number,
  degrees: number,
  large: boolean,
  sweep: boolean,
  x: number,
  y: number,
): (Curve | [number, number])[] {
  if (x0 === x && y0 === y) return []
  let [rx, ry] = [Math.abs(radiusX), Math.abs(radiusY)]
  if (rx === 0 || ry === 0) return [[x, y]]
  const angle = (degrees * Math.PI) / 180
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  const [hx, hy] = [(x0 - x) / 2, (y0 - y) / 2]
  const [px, py] = [c * hx + s * hy, -s * hx + c * hy]
  const reach = (px * px) / (rx * rx) + (py * py) / (ry * ry)
  if (reach > 1) {
    rx *= Math.sqrt(reach)
    ry *= Math.sqrt(reach)
  }
  const below = rx * rx * py * py + ry * ry * px * px
  const root = Math.sqrt(Math.max(0, (rx * rx * ry * ry - below) / below)) * (large === sweep ? -1 : 1)
  const [qx, qy] = [(root * rx * py) / ry, (-root * ry * px) / rx]
  const [cx, cy] = [c * qx - s * qy + (x0 + x) / 2, s * qx + c * qy + (y0 + y) / 2]
  const from = Math.atan2((py - qy) / ry, (px - qx) / rx)
  let sweepAngle = Math.atan2((-py - qy) / ry, (-px - qx) / rx) - from
  if (sweep && sweepAngle < 0) sweepAngle += 2 * Math.PI
  if (!sweep && sweepAngle > 0) sweepAngle -= 2 * Math.PI
  const count = Math.max(1, Math.ceil(Math.abs(sweepAngle) / (Math.PI / 2) - 1e-9))
  const step = sweepAngle / count
  const k = (4 / 3) * Math.tan(step / 4)
  const place = (u: number, v: number): [number, number] => [c * rx * u - s * ry * v + cx, s * rx * u + c * ry * v + cy]
  return Array.from({ length: count }, (_, i): Curve => {
    const [a, b] = [from + i * step, from + (i + 1) * step]
    const [ca, sa, cb, sb] = [Math.cos(a), Math.sin(a), Math.cos(b), Math.sin(b)]
    const end: [number, number] = i === count - 1 ? [x, y] : place(cb, sb)
    return [...place(ca - k * sa, sa + k * ca), ...place(cb + k * sb, sb - k * cb), ...end]
  })
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
