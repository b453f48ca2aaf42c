import type { Box } from '../geometry/index.ts'
import { limits, most } from '../limits/index.ts'
import { identity, inverse, lengthFactor, type Matrix, multiply, translation } from '../paint/index.ts'
import { parsePathData, type Segment, tightAreaOf } from '../path/index.ts'
import { demand, Refusal } from '../refusal/index.ts'
import { blendModes, type Gradient } from '../template/index.ts'
import { shallowXml } from './depth.ts'
import { colourWith, gradientOf, paintServer } from './svgPaint.ts'
import { parseXml, safeSvg, writeXml, type XmlNode } from './svgSafety.ts'
import { asNonZero, lengthOf, mapped, pathOf, type SvgNode, transformOf } from './svgShapes.ts'

interface Drawn {
  name?: string
  /** 0..1, of all of it together. */
  opacity: number
  /** A mode of W3C Compositing and Blending Level 1; absent: normal. */
  blend?: string
  /** What cuts it. */
  cut?: { by: 'alpha' | 'luminance'; nodes: ArtworkNode[] }
}

/** One shape of an SVG drawing, in px of its view box. */
export interface ArtworkShape extends Drawn {
  kind: 'shape'
  segments: Segment[]
  fill: string | Gradient | null
  stroke: string | null
  strokeWidth: number
  ends: 'butt' | 'round' | 'square'
  corners: 'miter' | 'round' | 'bevel'
}

export interface ArtworkGroup extends Drawn {
  kind: 'group'
  nodes: ArtworkNode[]
}
export type ArtworkNode = ArtworkShape | ArtworkGroup

export interface Artwork {
  width: number
  height: number
  /** The lowest first. */
  nodes: ArtworkNode[]
  /** What it holds that parts can't say; when there is any, it should come in as a picture. */
  beyond: string[]
  /** What was left out because it could act or fetch: scripts, references to outside. */
  leftOut: string[]
  /** The drawing without it, as SVG. */
  safe: string
}

/** The shapes of a drawing, those that cut others left out. */
export const shapesIn = (nodes: readonly ArtworkNode[]): ArtworkShape[] =>
  nodes.flatMap((node) => (node.kind === 'shape' ? [node] : shapesIn(node.nodes)))

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
  'clip-rule',
  'color',
  'visibility',
]
const silent = new Set([
  ...['title', 'desc', 'metadata', 'defs', 'style', 'sodipodi:namedview', 'symbol'],
  ...['linearGradient', 'radialGradient', 'clipPath', 'mask', 'marker', 'filter', 'pattern'],
])
/** Uses within uses: deeper than any drawing goes by itself. */
const deepest = 12

/**
 * Reads SVG 1.1 artwork: paths and basic shapes, flat or in gradients, strokes, groups, transforms, opacity, blend modes,
 * clips, masks, what is used again, style attributes and simple class rules. Everything else is named in `beyond`.
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
  const nodes = reader.visit(root.children, hasBox ? translation(-box[0]!, -box[1]!) : identity, { fill: '#000000' })
  return { width, height, nodes, beyond: [...new Set(reader.beyond)], leftOut, safe }
}

function parse(text: string, name: string): { root: SvgNode; leftOut: string[]; safe: string } {
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

function toNodes(list: XmlNode[]): SvgNode[] {
  return list.flatMap((entry): SvgNode[] => {
    const name = Object.keys(entry).find((key) => key !== ':@')
    if (!name) return []
    const attributes = (entry[':@'] ?? {}) as Record<string, string>
    if (name === '#text') return [{ name, attributes: { text: String(entry[name]) }, children: [] }]
    return [{ name, attributes, children: toNodes((entry[name] ?? []) as XmlNode[]) }]
  })
}

/** Which element an attribute names: `url(#a)`, `#a`. */
const named = (text: string | undefined): string | undefined => /^(?:url\(\s*['"]?)?#([^)'"\s]+)/.exec(text ?? '')?.[1]

class Reader {
  readonly beyond: string[] = []
  private readonly classes = new Map<string, Style>()
  private readonly byId = new Map<string, SvgNode>()
  private depth = 0
  private count = 0

  constructor(root: SvgNode) {
    const index = (node: SvgNode) => {
      if (node.attributes.id !== undefined && !this.byId.has(node.attributes.id))
        this.byId.set(node.attributes.id, node)
      node.children.forEach(index)
    }
    index(root)
    const sheets = (node: SvgNode): string[] =>
      node.name === 'style' ? node.children.map((c) => c.attributes.text ?? '') : node.children.flatMap(sheets)
    for (const sheet of sheets(root))
      for (const [, selectors, rules] of sheet.matchAll(/([^{}]+)\{([^}]*)\}/g))
        for (const selector of selectors!.split(',')) {
          const known = selector.trim().match(/^\.([\w-]+)$/)
          if (known) this.classes.set(known[1]!, { ...this.classes.get(known[1]!), ...rulesOf(rules!) })
          else if (selector.trim()) this.beyond.push(`the style rule ${selector.trim().slice(0, 40)}`)
        }
  }

  visit(nodes: readonly SvgNode[], outer: Matrix, above: Style): ArtworkNode[] {
    return nodes.flatMap((node) => {
      if (silent.has(node.name) || node.name.startsWith('#') || node.name.startsWith('?')) return []
      const own = this.styleOf(node)
      if (own.display === 'none') return []
      const style: Style = { ...above }
      for (const key of inherited) if (own[key] !== undefined && own[key] !== 'inherit') style[key] = own[key]
      const matrix = multiply(outer, transformOf(node.attributes.transform))
      const drawn = this.drawn(node, matrix, style)
      return drawn ? [this.dressed(drawn, own, matrix, node)] : []
    })
  }

  private drawn(node: SvgNode, matrix: Matrix, style: Style): ArtworkNode | undefined {
    switch (node.name) {
      case 'g':
      case 'a':
      case 'svg':
        return asOne(this.visit(node.children, matrix, style))
      case 'use':
        return this.used(node, matrix, style)
      case 'switch':
        return asOne(this.visit(node.children.slice(0, 1), matrix, style))
      default:
        return this.shape(node, matrix, style)
    }
  }

  private used(node: SvgNode, matrix: Matrix, style: Style): ArtworkNode | undefined {
    const target = this.byId.get(named(node.attributes.href ?? node.attributes['xlink:href']) ?? '')
    if (!target || this.depth >= deepest) return undefined
    const at = multiply(matrix, translation(lengthOf(node.attributes.x), lengthOf(node.attributes.y)))
    if (target.name === 'symbol' && target.attributes.viewBox && node.attributes.width)
      this.beyond.push('a symbol that is scaled')
    this.depth++
    const found = this.visit(target.name === 'symbol' ? target.children : [target], at, style)
    this.depth--
    const one = asOne(found)
    const box = target.name === 'symbol' && one ? this.boxOf(one, at) : undefined
    // A symbol shows what is right of and below its own corner (SVG 1.1, 14.3.3).
    if (box && (box.x < -1e-6 || box.y < -1e-6)) this.beyond.push('a symbol that is cut')
    return one
  }

  /** A shape or group with its opacity, its blend mode and what cuts it. */
  private dressed(drawn: ArtworkNode, own: Style, matrix: Matrix, node: SvgNode): ArtworkNode {
    if (own.filter && own.filter !== 'none') this.beyond.push('a filter')
    const opacity = Math.min(1, Math.max(0, lengthOf(own.opacity, 1) / (own.opacity?.trim().endsWith('%') ? 100 : 1)))
    const mode = own['mix-blend-mode'] ?? 'normal'
    const blend = blendModes.find((one) => one === mode)
    if (!blend) this.beyond.push(`the blend mode ${mode.slice(0, 30)}`)
    const cuts = [this.clipOf(own['clip-path'], drawn, matrix), this.maskOf(own.mask, drawn, matrix)].flatMap(
      (cut) => cut ?? [],
    )
    const name = node.attributes['inkscape:label'] ?? node.attributes.id
    const dressing = {
      ...(name ? { name } : {}),
      ...(blend && blend !== 'normal' ? { blend } : {}),
    }
    const isPlain = drawn.opacity === 1 && !drawn.blend && !drawn.cut
    const one: ArtworkNode = isPlain
      ? { ...drawn, ...dressing, opacity, ...(cuts[0] ? { cut: cuts[0] } : {}) }
      : opacity < 1 || dressing.blend || cuts.length > 0
        ? { kind: 'group', ...dressing, opacity, nodes: [drawn], ...(cuts[0] ? { cut: cuts[0] } : {}) }
        : drawn
    return cuts[1] ? { kind: 'group', opacity: 1, nodes: [one], cut: cuts[1] } : one
  }

  /** The box of what is drawn, in the coordinates of its element. */
  private boxOf(drawn: ArtworkNode, matrix: Matrix): Box | undefined {
    const back = inverse(matrix)
    const segments = shapesIn([drawn]).flatMap((shape) => shape.segments)
    return back && segments.length > 0 ? tightAreaOf(segments.map((s) => mapped(s, back))) : undefined
  }

  /** From the units of a clip or mask to px. */
  private unitsOf(kind: string | undefined, drawn: ArtworkNode, matrix: Matrix): Matrix | undefined {
    if (kind !== 'objectBoundingBox') return matrix
    const box = this.boxOf(drawn, matrix)
    return box && multiply(matrix, [box.width, 0, 0, box.height, box.x, box.y])
  }

  private clipOf(said: string | undefined, drawn: ArtworkNode, matrix: Matrix): Drawn['cut'] {
    const node = said && said !== 'none' ? this.byId.get(named(said) ?? '') : undefined
    if (!said || said === 'none') return undefined
    if (node?.name !== 'clipPath' || node.attributes['clip-path']) {
      this.beyond.push('a clip that is no path')
      return undefined
    }
    const units = this.unitsOf(node.attributes.clipPathUnits, drawn, matrix)
    if (!units) return undefined
    const inner = multiply(units, transformOf(node.attributes.transform))
    // What cuts is solid, and filled by a rule of its own.
    const solid = (one: ArtworkNode): ArtworkNode =>
      one.kind === 'group'
        ? { ...one, opacity: 1, nodes: one.nodes.map(solid) }
        : { ...one, opacity: 1, fill: '#ffffff', stroke: null, strokeWidth: 0 }
    const before = this.beyond.length
    const nodes = this.visit(node.children, inner, { fill: '#ffffff', clip: 'yes' }).map(solid)
    // How it is painted is of no matter.
    this.beyond.splice(
      before,
      this.beyond.length,
      ...this.beyond.slice(before).filter((words) => !words.includes('gradient')),
    )
    return { by: 'alpha', nodes }
  }

  private maskOf(said: string | undefined, drawn: ArtworkNode, matrix: Matrix): Drawn['cut'] {
    const node = said && said !== 'none' ? this.byId.get(named(said) ?? '') : undefined
    if (!said || said === 'none') return undefined
    if (node?.name !== 'mask' || node.attributes.mask) {
      this.beyond.push('a mask that is no drawing')
      return undefined
    }
    const units = this.unitsOf(node.attributes.maskContentUnits, drawn, matrix)
    if (!units) return undefined
    const nodes = this.visit(node.children, units, { fill: '#000000' })
    const by = this.styleOf(node)['mask-type'] === 'alpha' ? 'alpha' : 'luminance'
    const region = this.maskRegion(node, drawn, matrix)
    if (!region) return { by, nodes }
    const inside: ArtworkShape = { ...plainShape, segments: region }
    return { by, nodes: [{ kind: 'group', opacity: 1, nodes, cut: { by: 'alpha', nodes: [inside] } }] }
  }

  /** The rectangle outside of which a mask lets nothing through, where what is masked leaves it (SVG 1.1, 14.4). */
  private maskRegion(node: SvgNode, drawn: ArtworkNode, matrix: Matrix): Segment[] | undefined {
    const box = this.boxOf(drawn, matrix)
    if (!box) return undefined
    const isUser = node.attributes.maskUnits === 'userSpaceOnUse'
    const value = (key: 'x' | 'y' | 'width' | 'height', rest: number) => {
      const text = node.attributes[key]
      if (text === undefined) return rest
      return lengthOf(text) / (text.trim().endsWith('%') ? 100 : 1)
    }
    const share = { x: value('x', -0.1), y: value('y', -0.1), width: value('width', 1.2), height: value('height', 1.2) }
    const at: Box = isUser
      ? {
          x: value('x', box.x - box.width),
          y: value('y', box.y - box.height),
          width: value('width', box.width * 3),
          height: value('height', box.height * 3),
        }
      : {
          x: box.x + share.x * box.width,
          y: box.y + share.y * box.height,
          width: share.width * box.width,
          height: share.height * box.height,
        }
    const holds =
      at.x <= box.x && at.y <= box.y && at.x + at.width >= box.x + box.width && at.y + at.height >= box.y + box.height
    if (holds) return undefined
    const d = `M${at.x} ${at.y}H${at.x + at.width}V${at.y + at.height}H${at.x}Z`
    return parsePathData(d).map((s) => mapped(s, matrix))
  }

  private styleOf(node: SvgNode): Style {
    const fromClasses = (node.attributes.class ?? '').split(/\s+/).map((name) => this.classes.get(name) ?? {})
    return { ...node.attributes, ...Object.assign({}, ...fromClasses), ...rulesOf(node.attributes.style ?? '') }
  }

  private shape(node: SvgNode, matrix: Matrix, style: Style): ArtworkShape | undefined {
    const d = pathOf(node)
    if (d === undefined) {
      this.beyond.push(node.name === 'text' ? 'text' : `the element ${node.name}`)
      return undefined
    }
    if (d === '' || style.visibility === 'hidden') return undefined
    if (++this.count > limits.parts.most) {
      this.beyond.push(`more than ${limits.parts.most} shapes`)
      return undefined
    }
    const own = parsePathData(d)
    let segments = own.map((s) => mapped(s, matrix))
    const rule = style.clip ? style['clip-rule'] : style['fill-rule']
    const fill = this.fillOf(style, matrix, own, segments)
    const stroke = this.strokeOf(style)
    if (!fill && !stroke) return undefined
    if (fill && rule === 'evenodd') {
      const plain = asNonZero(segments)
      if (!plain) this.beyond.push('the even-odd fill rule on lines that cross')
      segments = plain ?? segments
    }
    return {
      ...plainShape,
      segments,
      fill,
      stroke,
      strokeWidth: stroke ? lengthOf(style['stroke-width'], 1) * lengthFactor(matrix) : 0,
      ends: (['round', 'square'] as const).find((end) => end === style['stroke-linecap']) ?? 'butt',
      corners: (['round', 'bevel'] as const).find((corner) => corner === style['stroke-linejoin']) ?? 'miter',
    }
  }

  private fillOf(style: Style, matrix: Matrix, own: Segment[], segments: Segment[]): string | Gradient | null {
    const text = (style.fill ?? '').trim()
    const opacity = lengthOf(style['fill-opacity'], 1)
    const id = named(text)
    const node = id === undefined ? undefined : this.byId.get(id)
    const server = node && paintServer(node, this.byId, (one) => this.styleOf(one))
    if (!server) return this.colour(text, opacity, style.color)
    const painted = { matrix, own: tightAreaOf(own), area: tightAreaOf(segments), opacity }
    const gradient = gradientOf(server, painted)
    if (typeof gradient !== 'string' || gradient.startsWith('#')) return gradient
    this.beyond.push(gradient)
    return null
  }

  private strokeOf(style: Style): string | null {
    const text = (style.stroke ?? 'none').trim()
    if (!text.startsWith('url(')) return this.colour(text, lengthOf(style['stroke-opacity'], 1), style.color)
    this.beyond.push('a gradient or pattern in a stroke')
    return null
  }

  private colour(text: string, opacity: number, current: string | undefined): string | null {
    if (text === 'none' || text === 'transparent' || text === '') return null
    const colour = colourWith(text === 'currentColor' ? (current ?? '#000000') : text, opacity)
    if (!colour) this.beyond.push(text.startsWith('url(') ? 'a pattern' : `the colour ${text.slice(0, 30)}`)
    return colour ?? null
  }
}

const plainShape: ArtworkShape = {
  kind: 'shape',
  segments: [],
  fill: '#ffffff',
  stroke: null,
  strokeWidth: 0,
  ends: 'butt',
  corners: 'miter',
  opacity: 1,
}

/** Several as a group; one as itself. */
function asOne(nodes: ArtworkNode[]): ArtworkNode | undefined {
  return nodes.length > 1 ? { kind: 'group', opacity: 1, nodes } : nodes[0]
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
