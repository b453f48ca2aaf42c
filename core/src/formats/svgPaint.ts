import { formatHex, formatHex8, parse as parseColour, type Rgb, rgb as toRgb } from 'culori'
import type { Box } from '../geometry/index.ts'
import { apply, inverse, lengthFactor, type Matrix, multiply } from '../paint/index.ts'
import type { Gradient } from '../template/index.ts'
import { lengthOf, type SvgNode, transformOf } from './svgShapes.ts'

/** Stops that a gradient of a part may have. */
const mostStops = 16

export interface PaintServer {
  /** The element with what it takes over from others, and its stops. */
  attributes: Readonly<Record<string, string>>
  kind: 'linear' | 'radial'
  stops: { at: number; colour: Rgb & { alpha: number } }[]
}

/** What a shape is painted in, in px of the drawing. */
export interface Painted {
  /** From the shape's own coordinates. */
  matrix: Matrix
  /** The shape's box in its own coordinates, and in px. */
  own: Box
  area: Box
  /** 0..1 */
  opacity: number
}

/** A colour of CSS with an opacity; undefined for what is none. */
export function colourWith(text: string, opacity: number): string | undefined {
  const colour = parseColour(text)
  if (!colour) return undefined
  const alpha = (colour.alpha ?? 1) * opacity
  return alpha < 1 ? formatHex8({ ...colour, alpha }) : formatHex(colour)
}

/** A linear or radial gradient with what it takes over by `href` (SVG 1.1, 13.2.4). */
export function paintServer(
  node: SvgNode,
  byId: ReadonlyMap<string, SvgNode>,
  styleOf: (node: SvgNode) => Readonly<Record<string, string>>,
): PaintServer | undefined {
  const kind = { linearGradient: 'linear', radialGradient: 'radial' }[node.name] as PaintServer['kind'] | undefined
  if (!kind) return undefined
  let attributes: Record<string, string> = {}
  let stops: SvgNode[] = []
  const seen = new Set<SvgNode>()
  for (let one: SvgNode | undefined = node; one && !seen.has(one); ) {
    seen.add(one)
    attributes = { ...one.attributes, ...attributes }
    if (stops.length === 0) stops = one.children.filter(({ name }) => name === 'stop')
    one = byId.get((one.attributes.href ?? one.attributes['xlink:href'] ?? '').replace(/^#/, ''))
  }
  let least = 0
  return {
    kind,
    attributes,
    stops: stops.map((stop) => {
      const style = styleOf(stop)
      const said = stop.attributes.offset ?? '0'
      const at = Math.min(1, Math.max(least, lengthOf(said) / (said.trim().endsWith('%') ? 100 : 1)))
      least = at
      const colour = toRgb(parseColour(style['stop-color'] ?? '#000000')) ?? { mode: 'rgb', r: 0, g: 0, b: 0 }
      return { at, colour: { ...colour, alpha: (colour.alpha ?? 1) * lengthOf(style['stop-opacity'], 1) } }
    }),
  }
}

const said = (colour: Rgb & { alpha: number }, opacity: number): string => {
  const alpha = colour.alpha * opacity
  return alpha < 1 ? formatHex8({ ...colour, alpha }) : formatHex(colour)
}

type Stop = PaintServer['stops'][number]

function colourAt(stops: readonly Stop[], at: number): Stop['colour'] {
  const after = stops.findIndex((stop) => stop.at > at)
  if (after < 0) return stops.at(-1)!.colour
  if (after === 0) return stops[0]!.colour
  const [one, other] = [stops[after - 1]!, stops[after]!]
  const k = (at - one.at) / (other.at - one.at)
  const between = (key: 'r' | 'g' | 'b' | 'alpha') => one.colour[key] + (other.colour[key] - one.colour[key]) * k
  return { mode: 'rgb', r: between('r'), g: between('g'), b: between('b'), alpha: between('alpha') }
}

/** The stops of a gradient that goes on behind its ends, as far as from one place to another. */
function spreadOver(stops: readonly Stop[], spread: string | undefined, from: number, to: number): readonly Stop[] {
  if (spread !== 'repeat' && spread !== 'reflect') return stops
  const all: Stop[] = []
  for (let n = Math.floor(from); n < to && all.length <= mostStops; n++) {
    const isBack = spread === 'reflect' && Math.abs(n) % 2 === 1
    const own = isBack ? [...stops].reverse().map(({ at, colour }) => ({ at: 1 - at, colour })) : stops
    all.push(...own.map(({ at, colour }) => ({ at: n + at, colour })))
  }
  return all
}

/**
 * A gradient of SVG as that of a part, whose line runs from corner to corner of its box: the same colours at every px.
 * @returns what it is in words where a part can't have it
 */
export function gradientOf(server: PaintServer, painted: Painted): Gradient | string | null {
  const { attributes, stops, kind } = server
  if (stops.length === 0) return null
  const first = said(stops.at(-1)!.colour, painted.opacity)
  if (stops.length === 1) return first
  const isBox = attributes.gradientUnits !== 'userSpaceOnUse'
  const { own, area } = painted
  if (isBox && (own.width === 0 || own.height === 0)) return null
  const units: Matrix = isBox ? [own.width, 0, 0, own.height, own.x, own.y] : [1, 0, 0, 1, 0, 0]
  const map = multiply(painted.matrix, multiply(units, transformOf(attributes.gradientTransform)))
  const share = (key: string, rest: string) => {
    const text = attributes[key] ?? rest
    if (!text.trim().endsWith('%')) return lengthOf(text)
    // Of the view box; in units of the box it is a share as it stands.
    return isBox ? lengthOf(text) / 100 : Number.NaN
  }
  if (kind === 'radial') return radial(server, painted, map, share)
  const [x1, y1, x2, y2] = [share('x1', '0%'), share('y1', '0%'), share('x2', '100%'), share('y2', '0%')]
  if (![x1, y1, x2, y2].every(Number.isFinite)) return 'a gradient by shares of the drawing'
  const back = inverse(map)
  const [dx, dy] = [x2 - x1, y2 - y1]
  const length = dx * dx + dy * dy
  if (!back || length === 0) return first
  // How far along it a px is, is a linear function of where that is.
  const [a, b, c, d, e, f] = back
  const across = (a * dx + b * dy) / length
  const down = (c * dx + d * dy) / length
  const rest = ((e - x1) * dx + (f - y1) * dy) / length
  const angle = Math.atan2(down, across)
  const slope = Math.hypot(across, down)
  const half = (Math.abs(area.width * Math.cos(angle)) + Math.abs(area.height * Math.sin(angle))) / 2
  const middle = across * (area.x + area.width / 2) + down * (area.y + area.height / 2) + rest
  const [from, to] = [middle - slope * half, middle + slope * half]
  if (to - from < 1e-9) return said(colourAt(stops, middle), painted.opacity)
  const all = spreadOver(stops, attributes.spreadMethod, from, to)
  const inner = all.filter(({ at }) => at > from && at < to)
  if (inner.length + 2 > mostStops) return 'a gradient that repeats often'
  const placed = [
    { at: 0, colour: said(colourAt(all, from), painted.opacity) },
    ...inner.map(({ at, colour }) => ({ at: (at - from) / (to - from), colour: said(colour, painted.opacity) })),
    { at: 1, colour: said(colourAt(all, to), painted.opacity) },
  ]
  return { kind: 'linear', angle: (angle * 180) / Math.PI, stops: placed }
}

function radial(
  { attributes, stops }: PaintServer,
  { area, opacity }: Painted,
  map: Matrix,
  share: (key: string, rest: string) => number,
): Gradient | string {
  const [cx, cy, r] = [share('cx', '50%'), share('cy', '50%'), share('r', '50%')]
  if (![cx, cy, r].every(Number.isFinite)) return 'a gradient by shares of the drawing'
  const isAside = (key: 'fx' | 'fy', middle: number) =>
    attributes[key] !== undefined && Math.abs(share(key, '50%') - middle) > 1e-6
  if (isAside('fx', cx) || isAside('fy', cy)) return 'a gradient with its focus aside'
  const [a, b, c, d] = map
  const [one, other] = [Math.hypot(a, b), Math.hypot(c, d)]
  const isRound = Math.abs(one - other) < 1e-3 * Math.max(one, other) && Math.abs(a * c + b * d) < 1e-3 * one * other
  if (!isRound) return 'an oval gradient'
  if (attributes.spreadMethod && attributes.spreadMethod !== 'pad') return 'a round gradient that repeats'
  const [x, y] = apply(map, cx, cy)
  const whole = Math.max(area.width, area.height) / 2
  if (stops.length > mostStops) return 'a gradient of many stops'
  return {
    kind: 'radial',
    angle: 0,
    centre: { x: (x - area.x) / area.width, y: (y - area.y) / area.height },
    radius: (r * lengthFactor(map)) / whole,
    stops: stops.map(({ at, colour }) => ({ at, colour: said(colour, opacity) })),
  }
}
