import { cached } from '../cache/index.ts'
import type { Box } from '../geometry/index.ts'
import { boxOf } from '../layout/index.ts'
import { common, grown } from '../paint/index.ts'
import type { Layout, PartStyle, Scene } from '../scene/index.ts'
import { allParts, type Template, type Track } from '../template/index.ts'
import { type Block, inkOf } from '../text/index.ts'
import { paints, standsAsItRests } from './drawnBoxes.ts'

/**
 * What of a title matters for how it is seen, as words: titles alike in it are seen alike, as long as they are seen well.
 * Undefined: each has to be looked at by itself.
 *
 * Which parts are there, what they look like, and how each text and picture lies to every other part: inside it, apart from
 * it, or neither; then where it lies and what it says exactly.
 */
export function seenKey(scene: Scene, layout: Layout): string | undefined {
  if (!isStill(layout.template) || !standsAsItRests(scene, layout)) return undefined
  const entries = scene.entries(layout)
  if (entries.strips.size > 0 || entries.turns > 1) return undefined
  const all = lyingParts(layout)
  if (!all) return undefined
  const words: unknown[] = [
    layout.rest.gone.join(''),
    layout.content.language,
    ...shapingValues(scene.template, layout),
  ]
  const { frame } = layout.template
  const whole: Box = { x: 0, y: 0, width: frame.width, height: frame.height }
  for (const one of all) {
    if (!one.isContent) continue
    const block = layout.blocks[one.index]
    let isExact = !lies(one.body, whole)
    words.push('|', one.index)
    for (const other of all) {
      if (other === one) continue
      const how = relationOf(one, other)
      words.push(how)
      if (typeof how !== 'string') isExact = true
    }
    if (block) words.push(block.lineCount, fontsOf(block), sizeClass(block.size))
    if (isExact) words.push(one.body, block?.text ?? '', block?.size, block?.tracking)
  }
  return JSON.stringify(words)
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
function shapingValues(template: Template, { content }: Layout): unknown[] {
  const ids = cached(shaping, template, () =>
    template.fields
      .filter(({ type, targets }) => !['text', 'texts', 'number', 'moment'].includes(type) || targets.length > 0)
      .map(({ id }) => id),
  )
  return ids.map((id) => content.fields.get(id))
}

/** A part as it lies in the frame. */
interface Lying {
  index: number
  style: PartStyle
  isContent: boolean
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
  for (const [index, part] of rest.order.parts.entries()) {
    const style = content.styles[index]!
    if (rest.gone[index] || style.kind === 'group') continue
    if (style.kind === 'text' && (style.along || style.crawl !== 0)) return undefined
    const box = boxOf(rest, index)
    if (style.kind === 'text') {
      const block = blocks[index]
      if (!block || style.rotation !== 0) return undefined
      const [ink, shown] = [inkOf(block.glyphs), block.boxes[style.shows as 'line']]
      const body = {
        x: box.x + (ink.x - shown.x) * style.scale,
        y: box.y + (ink.y - shown.y) * style.scale,
        width: ink.width * style.scale,
        height: ink.height * style.scale,
      }
      found.push({ index, style, isContent: !style.matteOnly, body, reach: reachOf(body, style), inner: undefined })
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
      isContent: isPicture || part.kind === 'curve',
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

/** How a part lies to another one: apart, inside, or where exactly. */
function relationOf(one: Lying, other: Lying): string | number[] {
  if (!meet(one, other)) return '-'
  const { body } = other
  if (!other.inner || !lies(one.body, other.inner))
    return [one.body.x - body.x, one.body.y - body.y, one.body.width, one.body.height, body.width, body.height].map(
      (value) => Math.round(value * 2) / 2,
    )
  const { fill } = styleFill(other.style)
  if (fill === null || typeof fill === 'string') return 'in'
  const at = (value: number, size: number) => Math.round((value / Math.max(1, size)) * steps)
  const across = [at(one.body.x - body.x, body.width), at(one.body.x + one.body.width - body.x, body.width)]
  const down = [at(one.body.y - body.y, body.height), at(one.body.y + one.body.height - body.y, body.height)]
  const isDown = fill.kind === 'linear' && Math.abs(fill.angle % 180) === 90
  const isAcross = fill.kind === 'linear' && fill.angle % 180 === 0
  return `in ${isDown ? '' : across}/${isAcross ? '' : down}`
}

const styleFill = (style: PartStyle) => ('fill' in style ? style : { fill: null })

const fontsOf = ({ glyphs }: Block): string => [...new Set(glyphs.map(({ font }) => font.name))].join()

/** Sizes alike enough to be read alike; each of the smallest by itself. */
const sizeClass = (size: number): number => (size < 24 ? Math.round(size * 4) / 4 : Math.round(Math.log2(size) * 4))
