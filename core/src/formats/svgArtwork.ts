import { formatHex, formatHex8, parse as parseColour } from 'culori'
import { limits, most } from '../limits/index.ts'
import {
  apply,
  identity,
  lengthFactor,
  type Matrix,
  multiply,
  rotationMatrix,
  scaling,
  translation,
} from '../paint/index.ts'
import { outlinesOf, parsePathData, type Segment, tightAreaOf } from '../path/index.ts'
import { demand, Refusal } from '../refusal/index.ts'
import { fixedAxis, type Outline, type Part, stillMotion } from '../template/index.ts'
import { shallowXml } from './depth.ts'
import { parseXml, safeSvg, writeXml, type XmlNode } from './svgSafety.ts'

/** One shape of an SVG drawing, in px of its view box. */
export interface ArtworkShape {
  segments: Segment[]
  fill: string | null
  stroke: string | null
  strokeWidth: number
  ends: 'butt' | 'round' | 'square'
  corners: 'miter' | 'round' | 'bevel'
  opacity: number
}

export interface Artwork {
  width: number
  height: number
  shapes: ArtworkShape[]
  /** What it holds that paths can't say; when there is any, it should come in as a picture. */
  beyond: string[]
  /** What was left out because it could act or fetch: scripts, references to outside. */
  leftOut: string[]
  /** The drawing without it, as SVG. */
  safe: string
}

interface Node {
  name: string
  attributes: Record<string, string>
  children: Node[]
}

type Style = Record<string, string>

const inherited = [
  'fill',
  'stroke',
  'stroke-width',
  'stroke-linecap',
  'stroke-linejoin',
  'fill-opacity',
  'stroke-opacity',
  'fill-rule',
  'color',
  'visibility',
]
const silent = new Set(['title', 'desc', 'metadata', 'defs', 'style', 'sodipodi:namedview'])

/**
 * Reads SVG 1.1 artwork into shapes: paths and basic shapes with flat fills and strokes, groups, transforms, style
 * attributes and simple class rules. Everything else is named in `beyond`.
 * @throws Refusal for what is no SVG.
 */
export function readSvgArtwork(text: string, name: string): Artwork {
  const { root, leftOut, safe } = parse(text, name)
  const box = (root.attributes.viewBox ?? '').split(/[\s,]+/).map(Number)
  const hasBox = box.length === 4 && box.every(Number.isFinite) && box[2]! > 0 && box[3]! > 0
  const width = hasBox ? box[2]! : lengthOf(root.attributes.width)
  const height = hasBox ? box[3]! : lengthOf(root.attributes.height)
  demand(
    width > 0 && height > 0,
    'svg.size',
    `"${name}" has neither a viewBox nor a size; give it one in the program it was drawn in.`,
  )
  const reader = new Reader(root)
  reader.visit(root.children, hasBox ? translation(-box[0]!, -box[1]!) : identity, { fill: '#000000' }, 1)
  return { width, height, shapes: reader.shapes, beyond: [...new Set(reader.beyond)], leftOut, safe }
}

function parse(text: string, name: string): { root: Node; leftOut: string[]; safe: string } {
  demand(
    text.length <= limits.drawingCharacters.most,
    'svg.large',
    `"${name}" holds more than ${most('drawingCharacters')}; simplify it in the program it was drawn in.`,
  )
  let nodes: XmlNode[]
  try {
    nodes = parseXml(shallowXml(text, `"${name}"`))
  } catch (error) {
    if (error instanceof Refusal) throw error
    throw new Refusal('svg.xml', `"${name}" is not well-formed SVG: ${(error as Error).message}.`)
  }
  const { nodes: safe, leftOut } = safeSvg(nodes)
  const root = toNodes(safe).find((node) => node.name === 'svg')
  demand(root, 'svg.root', `"${name}" holds no svg element; choose an SVG drawing.`)
  return { root, leftOut, safe: writeXml(safe) }
}

function toNodes(list: XmlNode[]): Node[] {
  return list.flatMap((entry): Node[] => {
    const name = Object.keys(entry).find((key) => key !== ':@')
    if (!name) return []
    const attributes = (entry[':@'] ?? {}) as Record<string, string>
    if (name === '#text') return [{ name, attributes: { text: String(entry[name]) }, children: [] }]
    return [{ name, attributes, children: toNodes((entry[name] ?? []) as XmlNode[]) }]
  })
}

const lengthOf = (text: string | undefined, rest = 0): number => {
  const value = Number.parseFloat(text ?? '')
  return Number.isFinite(value) ? value : rest
}

class Reader {
  readonly shapes: ArtworkShape[] = []
  readonly beyond: string[] = []
  private readonly classes = new Map<string, Style>()

  constructor(root: Node) {
    const sheets = (node: Node): string[] =>
      node.name === 'style' ? node.children.map((c) => c.attributes.text ?? '') : node.children.flatMap(sheets)
    for (const sheet of sheets(root))
      for (const [, selectors, rules] of sheet.matchAll(/([^{}]+)\{([^}]*)\}/g))
        for (const selector of selectors!.split(',')) {
          const known = selector.trim().match(/^\.([\w-]+)$/)
          if (known) this.classes.set(known[1]!, { ...this.classes.get(known[1]!), ...rulesOf(rules!) })
          else if (selector.trim()) this.beyond.push(`the style rule ${selector.trim().slice(0, 40)}`)
        }
  }

  visit(nodes: readonly Node[], outer: Matrix, above: Style, opacity: number): void {
    for (const node of nodes) {
      if (silent.has(node.name) || node.name.startsWith('#') || node.name.startsWith('?')) continue
      const own = this.styleOf(node)
      if (own.display === 'none') continue
      const style: Style = { ...above }
      for (const key of inherited) if (own[key] !== undefined && own[key] !== 'inherit') style[key] = own[key]
      for (const key of ['filter', 'mask', 'clip-path'])
        if (own[key] && own[key] !== 'none') this.beyond.push(`a ${key}`)
      if (own['mix-blend-mode'] && own['mix-blend-mode'] !== 'normal') this.beyond.push('a blend mode')
      const matrix = multiply(outer, transformOf(node.attributes.transform))
      const seen = opacity * lengthOf(own.opacity, 1)
      if (node.name === 'g' || node.name === 'a' || node.name === 'svg') {
        if (lengthOf(own.opacity, 1) < 1 && node.children.length > 1) this.beyond.push('a group with opacity')
        this.visit(node.children, matrix, style, seen)
      } else this.shape(node, matrix, style, seen)
    }
  }

  private styleOf(node: Node): Style {
    const fromClasses = (node.attributes.class ?? '').split(/\s+/).map((name) => this.classes.get(name) ?? {})
    return { ...node.attributes, ...Object.assign({}, ...fromClasses), ...rulesOf(node.attributes.style ?? '') }
  }

  private shape(node: Node, matrix: Matrix, style: Style, opacity: number): void {
    const d = pathOf(node)
    if (d === undefined) {
      this.beyond.push(node.name === 'text' ? 'text' : `the element ${node.name}`)
      return
    }
    if (d === '' || style.visibility === 'hidden') return
    const segments = parsePathData(d).map((s) => mapped(s, matrix))
    const fill = this.paint(style.fill, style['fill-opacity'], style.color)
    const stroke = this.paint(style.stroke ?? 'none', style['stroke-opacity'], style.color)
    if (fill && style['fill-rule'] === 'evenodd' && segments.filter((s) => s.type === 'M').length > 1)
      this.beyond.push('the even-odd fill rule')
    if (!fill && !stroke) return
    this.shapes.push({
      segments,
      fill,
      stroke,
      strokeWidth: stroke ? lengthOf(style['stroke-width'], 1) * lengthFactor(matrix) : 0,
      ends: (['round', 'square'] as const).find((end) => end === style['stroke-linecap']) ?? 'butt',
      corners: (['round', 'bevel'] as const).find((corner) => corner === style['stroke-linejoin']) ?? 'miter',
      opacity,
    })
  }

  private paint(value: string | undefined, opacity: string | undefined, current: string | undefined): string | null {
    const text = (value ?? '').trim()
    if (text === 'none' || text === 'transparent' || text === '') return null
    const colour = parseColour(text === 'currentColor' ? (current ?? '#000000') : text)
    if (!colour) {
      this.beyond.push(text.startsWith('url(') ? 'a gradient or pattern' : `the colour ${text.slice(0, 30)}`)
      return null
    }
    const alpha = (colour.alpha ?? 1) * lengthOf(opacity, 1)
    return alpha < 1 ? formatHex8({ ...colour, alpha }) : formatHex(colour)
  }
}

function rulesOf(text: string): Style {
  return Object.fromEntries(
    text
      .split(';')
      .map((rule) => rule.split(':').map((piece) => piece.trim()))
      .filter((rule) => rule.length >= 2 && rule[0])
      .map(([key, ...value]) => [key!, value.join(':').replace(/\s*!important$/, '')]),
  )
}

/** Path data of a shape; undefined for an element that is none. */
function pathOf({ name, attributes }: Node): string | undefined {
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
function transformOf(text: string | undefined): Matrix {
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

function mapped(s: Segment, matrix: Matrix): Segment {
  if (s.type === 'Z') return s
  const [x, y] = apply(matrix, s.x, s.y)
  if (s.type !== 'C') return { ...s, x, y }
  const [[x1, y1], [x2, y2]] = [apply(matrix, s.x1, s.y1), apply(matrix, s.x2, s.y2)]
  return { type: 'C', x1, y1, x2, y2, x, y }
}

/**
 * Artwork as parts: one path, or a group of a fixed size in which every path is tied to the group by shares of it, so
 * that the whole stretches with the group. Ids are `prefix` and a number.
 */
export function artworkParts(artwork: Artwork, prefix: string, name: string, at: { x: number; y: number }): Part {
  const paths = artwork.shapes.map((shape, i): Part => {
    const area = tightAreaOf(shape.segments)
    const outlines: Outline[] = outlinesOf(shape.segments, area)
    const tied = (start: number, size: number, whole: number) => ({
      ties: (['start', 'end'] as const).map((edge) => ({
        edge,
        to: { region: 'group' as const },
        at: (edge === 'start' ? start : start + size) / whole,
        gap: 0,
        follow: 'settled' as const,
        gone: 'collapse' as const,
      })),
      size: { kind: 'content' as const },
      place: 0,
    })
    return {
      id: `${prefix}-${i + 1}`,
      name: `${name} ${i + 1}`,
      kind: 'path',
      x: tied(area.x, area.width, artwork.width),
      y: tied(area.y, area.height, artwork.height),
      style: {
        outlines,
        fill: shape.fill,
        ...(shape.stroke
          ? { stroke: shape.stroke, strokeWidth: shape.strokeWidth, ends: shape.ends, corners: shape.corners }
          : {}),
        ...(shape.opacity < 1 ? { opacity: shape.opacity } : {}),
      },
      motion: stillMotion(),
    }
  })
  demand(paths.length > 0, 'svg.empty', `"${name}" draws nothing; choose another drawing.`)
  const only = paths[0]!
  if (paths.length === 1) {
    const area = tightAreaOf(artwork.shapes[0]!.segments)
    return {
      ...only,
      id: prefix,
      name,
      x: fixedAxis(at.x + area.x, area.width),
      y: fixedAxis(at.y + area.y, area.height),
    }
  }
  return {
    id: prefix,
    name,
    kind: 'group',
    x: fixedAxis(at.x, artwork.width),
    y: fixedAxis(at.y, artwork.height),
    style: {},
    motion: stillMotion(),
    parts: paths,
  }
}
