import { cached } from '../cache/index.ts'
import type { Box } from '../geometry/index.ts'
import { boxOf } from '../layout/index.ts'
import { common, grown } from '../paint/index.ts'
import type { Layout, PartStyle, Scene } from '../scene/index.ts'
import { allParts, type Template, type Track } from '../template/index.ts'
import { type Block, inkOf, type Shape } from '../text/index.ts'
import { paints, standsAsItRests } from './drawnBoxes.ts'

/**
 * What matters for how each of some parts of a title is seen, as words, by part index: parts alike in it are seen alike, as
 * long as they are seen well. Undefined: the title has to be looked at by itself.
 *
 * Which parts are there, what fields say besides words, and how the part lies to every other one: inside it, apart from it, or
 * neither; then where it lies and what it says exactly.
 */
export function seenKeys(scene: Scene, layout: Layout, wanted: readonly number[]): Map<number, string> | undefined {
  if (!isStill(layout.template) || !standsAsItRests(scene, layout)) return undefined
  const entries = scene.entries(layout)
  if (entries.strips.size > 0 || entries.turns > 1) return undefined
  const all = lyingParts(layout)
  if (!all) return undefined
  const title = `${layout.rest.gone.join('')} ${layout.content.language} ${shapingValues(scene.template, layout)}`
  const { width, height } = layout.template.frame
  const whole: Box = { x: 0, y: 0, width, height }
  const keys = new Map<number, string>()
  for (const one of all) {
    if (!wanted.includes(one.index)) continue
    let key = `${title}|${one.index}`
    let isExact = !lies(one.body, whole)
    for (const other of all) {
      if (other === one) continue
      const how = one.style.kind === 'text' ? relationOf(one, other) : coverOf(one, other)
      if (how === undefined) isExact = true
      key += ` ${how ?? exactly(one, other)}`
    }
    const block = layout.blocks[one.index]
    if (block) key += ` ${block.lineCount} ${fontsOf(layout.shapes[one.index])} ${sizeClass(block.size)}`
    if (isExact) key += ` ${placeWords(one.body)} ${block ? `${block.size} ${block.tracking} ${block.text}` : ''}`
    keys.set(one.index, key)
  }
  return wanted.every((index) => keys.has(index)) ? keys : undefined
}

const still = new WeakMap<Template, boolean>()

/** Whether nothing moves while a title holds. */
const isStill = (template: Template): boolean =>
  cached(still, template, () => {
    if (template.spans.hold.gives === 'freeze') return true
    const tracks = allParts(template.parts).flatMap(({ motion }): Track[] => [
      ...Object.values(motion.tracks),
      ...Object.values(motion.segments?.tracks ?? {}),
    ])
    return tracks.every(({ keys }) => keys.every(({ span }) => span !== 'hold'))
  })

const shaping = new WeakMap<Template, readonly string[]>()

/** What fields say that does more than to stand in texts: colours, switches, choices, pictures, numbers that drive a size. */
function shapingValues(template: Template, { content }: Layout): string {
  const ids = cached(shaping, template, () =>
    template.fields
      .filter(({ type, targets }) => !['text', 'texts', 'number', 'moment'].includes(type) || targets.length > 0)
      .map(({ id }) => id),
  )
  return ids.length === 0 ? '' : JSON.stringify(ids.map((id) => content.fields.get(id)))
}

/** A part as it lies in the frame. */
interface Lying {
  index: number
  style: PartStyle
  /** What it draws, and what that reaches to with its shadows and its blur; px. */
  body: Box
  reach: Box
  /** What lies in here lies on it whole; undefined: nothing surely does. */
  inner: Box | undefined
}

/** The parts that draw, or cut what others draw; undefined where one of them does not stand in its box. */
function lyingParts(layout: Layout): Lying[] | undefined {
  const { rest, content, blocks } = layout
  const found: Lying[] = []
  for (let index = 0; index < rest.order.parts.length; index++) {
    const style = content.styles[index]!
    if (rest.gone[index] || style.kind === 'group') continue
    if (style.kind === 'text' && (style.along || style.crawl !== 0)) return undefined
    const box = boxOf(rest, index)
    if (style.kind === 'text') {
      const block = blocks[index]
      if (!block || style.rotation !== 0) return undefined
      const [ink, shown] = [inkWithin(block), block.boxes[style.shows as 'line']]
      const body = {
        x: box.x + (ink.x - shown.x) * style.scale,
        y: box.y + (ink.y - shown.y) * style.scale,
        width: ink.width * style.scale,
        height: ink.height * style.scale,
      }
      found.push({ index, style, body, reach: reachOf(body, style), inner: undefined })
      continue
    }
    const isPicture = style.kind === 'picture'
    if (!isPicture && !paints(style)) continue
    const stroke = isPicture ? 0 : style.strokeWidth * style.scale
    const body = grown(box, stroke / 2)
    const isPlain = style.kind === 'box' && style.rotation === 0
    const round = isPlain
      ? Math.max(style.radiusTopLeft, style.radiusTopRight, style.radiusBottomLeft, style.radiusBottomRight)
      : 0
    const inner = isPlain ? grown(box, -round - stroke) : undefined
    found.push({
      index,
      style,
      body,
      reach: reachOf(body, style),
      inner,
    })
  }
  return found
}

function reachOf(body: Box, style: PartStyle): Box {
  const shadows = 'shadows' in style ? (style.shadows as { x: number; y: number; blur: number }[]) : []
  const most = Math.max(0, ...shadows.map(({ x, y, blur }) => Math.max(Math.abs(x), Math.abs(y)) + 1.5 * blur))
  return grown(body, (most + 3 * style.blur) * Math.max(1, style.scale))
}

/** px around a part that are looked at with it. */
const around = 10

/** Whether a box lies in another with all that is looked at around it. */
function lies(one: Box, other: Box): boolean {
  const [a, b] = [grown(one, around), other]
  return a.x >= b.x && a.y >= b.y && a.x + a.width <= b.x + b.width && a.y + a.height <= b.y + b.height
}

/** Letters of one text may come near those of another: what is around them is judged by all of it. */
function meet(one: Lying, other: Lying): boolean {
  const both = common(grown(one.body, other.style.kind === 'text' ? 1 : around), other.reach)
  return both.width > 0 && both.height > 0
}

/** Steps in which it is told where on a gradient something lies. */
const steps = 16

/** Share of a text's height that another's letters may reach into: of no letter enough is hidden by that. */
const brushed = 0.12

/** Whether the ink of two texts meets at an edge alone, as letters that hang down do with what stands below. */
function isBrushed(one: Box, other: Box): boolean {
  const { width, height } = common(one, other)
  return Math.min(width, height) <= brushed * Math.min(one.height, other.height)
}

/** How a text lies to another part: apart, or inside, and where on what is not the same all over; undefined: neither. */
function relationOf(one: Lying, other: Lying): string | undefined {
  if (!meet(one, other)) return '-'
  const { style, body } = other
  if (style.kind === 'text' && isBrushed(one.body, body)) return '~'
  // What a curve fills is told by where on it something lies.
  const isInside =
    style.kind === 'curve' ? lies(one.body, grown(body, 2 * around)) : other.inner && lies(one.body, other.inner)
  if (!isInside) return undefined
  const fill = 'fill' in style ? style.fill : null
  if (style.kind !== 'curve' && (fill === null || typeof fill === 'string')) return 'in'
  const at = (value: number, size: number) => Math.round((value / Math.max(1, size)) * steps)
  const isLinear = fill !== null && typeof fill === 'object' && fill.kind === 'linear' && style.kind !== 'curve'
  const isDown = isLinear && Math.abs(fill.angle % 180) === 90
  const isAcross = isLinear && fill.angle % 180 === 0
  const across = isDown
    ? ''
    : `${at(one.body.x - body.x, body.width)},${at(one.body.x + one.body.width - body.x, body.width)}`
  const down = isAcross
    ? ''
    : `${at(one.body.y - body.y, body.height)},${at(one.body.y + one.body.height - body.y, body.height)}`
  return `in ${across}/${down}`
}

/** How much of a picture, or of what a field draws, another part may cover: enough is seen of one that is seen well. */
function coverOf(one: Lying, other: Lying): string {
  const { width, height } = common(one.body, other.body)
  const share = (Math.max(0, width) * Math.max(0, height)) / Math.max(1, one.body.width * one.body.height)
  return `${Math.ceil(share * steps)}`
}

const exactly = (one: Lying, other: Lying): string =>
  `${placeWords({ ...one.body, x: one.body.x - other.body.x, y: one.body.y - other.body.y })} ${Math.round(other.body.width)} ${Math.round(other.body.height)}`

const placeWords = ({ x, y, width, height }: Box): string =>
  `${Math.round(x * 2)},${Math.round(y * 2)},${Math.round(width * 2)},${Math.round(height * 2)}`

/** A box that a text's ink does not leave: soon known where it stands on one line, without placing its glyphs. */
function inkWithin(block: Block): Box {
  const { reach } = block
  if (!reach) return inkOf(block.glyphs)
  const { x, width } = block.boxes.line
  return { x: x - reach.aside, y: reach.top, width: width + 2 * reach.aside, height: reach.bottom - reach.top }
}

/** The fonts that a text is set in, each as often as they change. */
const fontsOf = (shape: Shape | undefined): string =>
  shape ? shape.shaped.items.map(({ font }) => font.name).join() : ''

/** Sizes alike enough to be read alike; each of the smallest by itself. */
const sizeClass = (size: number): number => (size < 24 ? Math.round(size * 4) / 4 : Math.round(Math.log2(size) * 4))
