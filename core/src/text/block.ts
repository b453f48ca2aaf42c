import type { Box } from '../geometry/index.ts'
import type { FitStep } from '../template/index.ts'
import { visualOrder } from './bidi.ts'
import { characterStarts } from './breaks.ts'
import {
  dealtOut,
  type FitReport,
  type FitState,
  type Fitted,
  type FitUse,
  fit,
  justified,
  type LineBreaks,
  unfitted,
  widest,
} from './fit.ts'
import type { AxisValues, Font } from './font.ts'
import { type Glyph, type Item, type Shaped, type StyledRun, softHyphen } from './itemize.ts'
import { narrow } from './narrow.ts'
import { type Shape, shapeText } from './shape.ts'

export interface PlacedGlyph {
  font: Font
  id: number
  /** px from the block's left and first baseline; y down. */
  x: number
  y: number
  /** px per em, across and down. */
  scaleX: number
  scaleY: number
  /** px to the next glyph, without tracking. */
  advance: number
  colour: string
  /** UTF-16 offset of its character. */
  start: number
  line: number
}

/** A line of a text: its characters from `start` to `end` (UTF-16, without the spaces that hang over it). */
export interface BlockLine {
  start: number
  end: number
  /** px, the block's own coordinates. */
  x: number
  width: number
  baseline: number
  /** px added to each of its spaces. */
  spread?: number
}

/** What HarfBuzz shaped as one, where it stands in its line. */
export interface Cluster {
  /** UTF-16 offset of its first unit. */
  start: number
  /** px, the block's own: its left and right end, tracking left out. */
  left: number
  right: number
  /** UAX #9 embedding level. */
  level: number
  line: number
}

/** A text set in lines. Its own coordinates: px, x from the left of its widest line, y down from the first baseline. */
export interface Block {
  text: string
  readonly glyphs: PlacedGlyph[]
  readonly lines: readonly BlockLine[]
  /** From left to right, line by line; spaces that hang over the end of their line stand behind it. */
  readonly clusters: readonly Cluster[]
  /**
   * How far ink reaches up and down (px, the block's own y) and at most past either end of the line; undefined for
   * several lines, whose places have to be worked out.
   */
  readonly reach: Reach | undefined
  lineCount: number
  /** The three boxes a text can show others. */
  boxes: { line: Box; cap: Box; readonly ink: Box }
  /** Reading direction of the first paragraph. */
  direction: 'ltr' | 'rtl'
  /** px per em as set, after shrinking. */
  size: number
  /** Size as set, as a share of its own. */
  shrink: number
  condense: number
  tracking: number
  fit: FitReport
  missing: string[]
  /**
   * Another character in a glyph's place, in the middle of its advance, so that nothing beside it moves; undefined where its
   * font has none.
   */
  instead(glyph: PlacedGlyph, character: string): PlacedGlyph[] | undefined
  /** The same lines with every font that much further on its axes, in their own units. */
  shifted(by: AxisValues): Block
}

export interface BlockStyle {
  /** Baseline to baseline, as a share of the size. */
  leading: number
  align: 'start' | 'middle' | 'end' | 'justified'
  fit: readonly FitStep[]
  /** How words are dealt out over lines; absent: as they come. */
  breaks?: LineBreaks
  /** px; undefined: as much as it wants. */
  room?: number
  /** px of the box that it fills; undefined: as high as it is. */
  height?: number
  /** At most so many times its own size. */
  most?: number
}

function fitInto(shape: Shape, style: BlockStyle): Fitted {
  const widthsAt = (condense: number) => narrow(shape, condense).widths
  const { room, height: high, most } = style
  const height = high === undefined ? undefined : { room: high, of: (lines: number) => heightOf(shape, style, lines) }
  const fitted = fit(widthsAt, room, style.fit, shape.runs[0]!.tracking, { height, most })
  const dealt =
    style.breaks && style.breaks !== 'as they come'
      ? dealtOut(fitted, widthsAt(fitted.state.condense), style.breaks)
      : fitted
  return style.align === 'justified' && room !== undefined && dealt.fits
    ? { ...dealt, lines: justified(dealt.lines, shape.shaped.text, room) }
    : dealt
}

/** px that so many lines of a text are high at its own size. */
function heightOf({ runs }: Shape, { leading }: BlockStyle, lines: number): number {
  const { ascender, descender, size } = heightsOf(runs, 1)
  return ascender + (lines - 1) * size * leading + descender
}

const ellipsis = '…'

/** Fits a shaped text into its room and sets its lines. */
export function setText(shape: Shape, style: BlockStyle): Block {
  const fitted = fitInto(shape, style)
  // Where no step was needed, the text stands as it wants to.
  const natural =
    fitted.steps.length === 0
      ? widest(fitted.lines)
      : widest(shape.widths.lines(Number.POSITIVE_INFINITY, unfitted, true))
  if (!fitted.fits && style.fit.some((step) => step.step === 'cut')) return cutText(shape, style, natural)
  return place(shape, style, fitted, natural, 0)
}

/** The longest beginning that fits with an ellipsis behind it, by bisection over its characters. */
function cutText(shape: Shape, style: BlockStyle, natural: number): Block {
  const starts = [...characterStarts(shape.shaped.text), shape.shaped.text.length]
  const attempt = (count: number) => {
    const shortened = shapeText(beginning(shape.runs, starts[count]!), shape.fallbacks, shape.direction)
    return { shortened, fitted: fitInto(shortened, style) }
  }
  let low = 0
  let high = starts.length - 1
  let best = attempt(0)
  while (low < high - 1) {
    const middle = (low + high) >> 1
    const tried = attempt(middle)
    if (tried.fitted.fits) {
      low = middle
      best = tried
    } else high = middle
  }
  const cut = starts.length - 1 - low
  return place(best.shortened, style, best.fitted, natural, cut)
}

function beginning(runs: StyledRun[], units: number): StyledRun[] {
  const kept: StyledRun[] = []
  let left = units
  for (const run of runs) {
    kept.push({ ...run, text: run.text.slice(0, left) })
    left -= run.text.length
    if (left <= 0) break
  }
  const last = kept[kept.length - 1]!
  kept[kept.length - 1] = { ...last, text: `${last.text.trimEnd()}${ellipsis}` }
  return kept
}

function place(shape: Shape, style: BlockStyle, fitted: Fitted, natural: number, cut: number): Block {
  return new PlacedText(narrow(shape, fitted.state.condense), style, fitted, natural, cut)
}

/** A set text. Where its glyphs stand is worked out when first asked for: layout and checks mostly do without. */
class PlacedText implements Block {
  readonly text: string
  readonly lineCount: number
  readonly boxes: PlacedBoxes
  readonly direction: 'ltr' | 'rtl'
  readonly size: number
  readonly shrink: number
  readonly condense: number
  readonly tracking: number
  readonly fit: FitReport
  readonly missing: string[]
  private placed: PlacedGlyph[] | undefined

  constructor(
    private readonly shape: Shape,
    private readonly style: BlockStyle,
    private readonly fitted: Fitted,
    natural: number,
    cut: number,
  ) {
    const { shaped, runs } = shape
    const { state, lines } = fitted
    const { ascender, descender, cap, size } = heightsOf(runs, state.shrink)
    const width = widest(lines)
    const lastBaseline = (lines.length - 1) * size * style.leading
    this.text = shaped.text
    this.lineCount = lines.length
    this.direction = shaped.base === 1 ? 'rtl' : 'ltr'
    this.size = size
    this.shrink = state.shrink
    this.condense = state.condense
    this.tracking = runs[0]!.tracking + state.tracking
    this.missing = shaped.missing
    this.boxes = new PlacedBoxes(
      this,
      { x: 0, y: -ascender, width, height: ascender + lastBaseline + descender },
      { x: 0, y: -cap, width, height: cap + lastBaseline },
    )
    const { room, height } = style
    const steps: FitUse[] =
      cut > 0 ? [...fitted.steps, { step: 'cut', from: 0, to: cut, bound: cut, used: 1 }] : fitted.steps
    const over = Math.max(
      room === undefined ? 0 : width - room,
      height === undefined ? 0 : this.boxes.line.height - height,
    )
    const isBound = room !== undefined || height !== undefined
    const overflow = fitted.fits || !isBound ? 0 : Math.max(over, 0.01)
    this.fit =
      room === undefined ? { width, natural, steps, overflow, cut } : { room, width, natural, steps, overflow, cut }
  }

  shifted(by: AxisValues): Block {
    const runs = this.shape.runs.map((run) => ({ ...run, font: furtherOn(run.font, by) }))
    const { fallbacks, direction, narrowed } = this.shape
    const shape = shapeText(runs, fallbacks, direction, narrowed)
    const { state } = this.fitted
    const lines = shape.widths.measured(this.fitted.lines, state)
    return new PlacedText(shape, this.style, { ...this.fitted, lines }, this.fit.natural, this.fit.cut)
  }

  private readonly others = new Map<string, PlacedGlyph[] | undefined>()

  instead(glyph: PlacedGlyph, character: string): PlacedGlyph[] | undefined {
    const key = `${glyph.start} ${character}`
    if (!this.others.has(key)) this.others.set(key, this.another(glyph, character))
    return this.others.get(key)
  }

  private another(glyph: PlacedGlyph, character: string): PlacedGlyph[] | undefined {
    const item = this.shape.shaped.items.find(({ start, end }) => glyph.start >= start && glyph.start < end)
    if (!item) return undefined
    const { shaped } = shapeText([{ ...item.run, font: glyph.font, text: character, tracking: 0 }], [])
    if (shaped.missing.length > 0) return undefined
    const glyphs = shaped.items.flatMap((one) => one.glyphs)
    const width = glyphs.reduce((sum, one) => sum + one.advance, 0) * glyph.scaleX
    let x = glyph.x + (glyph.advance - width) / 2
    return glyphs.map((one) => {
      const placed = { ...glyph, id: one.id, x: x + one.dx * glyph.scaleX, y: glyph.y - one.dy * glyph.scaleY }
      x += one.advance * glyph.scaleX
      return { ...placed, advance: one.advance * glyph.scaleX }
    })
  }

  get reach(): Reach | undefined {
    return this.lineCount === 1 ? reachOf(this.shape.shaped, this.fitted.state.shrink) : undefined
  }

  get glyphs(): PlacedGlyph[] {
    this.placed ??= placeGlyphs(this.shape, this.fitted, this.toEnd, this.fit.width, this.size * this.style.leading)
    return this.placed
  }

  get lines(): BlockLine[] {
    return this.fitted.lines.map(({ start, end, width, spread }, n) => ({
      start,
      end,
      width,
      ...(spread === undefined ? {} : { spread }),
      x: (this.fit.width - width) * this.toEnd,
      baseline: n * this.size * this.style.leading,
    }))
  }

  get clusters(): Cluster[] {
    return placeClusters(this.shape, this.fitted, this.lines, this.direction)
  }

  /** Which share of the room beside a line stands at its left. */
  private get toEnd(): number {
    const { align } = this.style
    return align === 'middle' ? 0.5 : (align === 'end') !== (this.direction === 'rtl') ? 1 : 0
  }
}

const furtherOn = (font: Font, by: AxisValues): Font =>
  font.at(Object.fromEntries(Object.entries(by).map(([tag, value]) => [tag, (font.standing[tag] ?? 0) + value])))

interface Reach {
  top: number
  bottom: number
  aside: number
}

/** How far the glyphs of a text on one line reach, which does not depend on where they stand in it. */
function reachOf({ items }: Shaped, shrink: number): Reach {
  let [top, bottom, aside] = [0, 0, 0]
  for (const { font, run, glyphs } of items) {
    const em = run.size * shrink
    const scale = em / font.unitsPerEm
    let over = 0
    for (const { id, dx, dy, advance } of glyphs) {
      const ink = font.ink(id)
      const shift = dy * em
      // HarfBuzz gives heights downwards, so they are negative.
      top = Math.min(top, -shift - ink.y * scale)
      bottom = Math.max(bottom, -shift - (ink.y + ink.height) * scale)
      over = Math.max(over, -ink.x * scale - dx * em, (ink.x + ink.width) * scale + dx * em - advance * em)
    }
    // What stands between characters stands behind the last one, too.
    aside = Math.max(aside, over + (em * Math.max(0, -run.tracking)) / 1000)
  }
  return { top, bottom, aside }
}

class PlacedBoxes {
  private found: Box | undefined

  constructor(
    private readonly block: PlacedText,
    readonly line: Box,
    readonly cap: Box,
  ) {}

  get ink(): Box {
    this.found ??= inkOf(this.block.glyphs)
    return this.found
  }
}

/** How wide an item's glyphs are drawn, as a share of what its font gives. */
const acrossOf = (item: Item, state: FitState) => item.across ?? state.condense

/**
 * Goes through the glyphs of a stretch of text as they stand from left to right.
 * @param visit is told where each begins; px
 * @returns px, where the stretch ends, the tracking behind it included
 */
function walkGlyphs(
  { shaped }: Shape,
  state: FitState,
  { start, end, spread = 0 }: { start: number; end: number; spread?: number },
  from: number,
  visit: (item: Item, glyph: Glyph, x: number, em: number) => void,
  behind?: (item: Item, x: number, em: number) => void,
): number {
  let x = from
  const pieces = shaped.items.filter((item) => item.end > start && item.start < end)
  for (const index of visualOrder(pieces.map((item) => item.level))) {
    const item = pieces[index]!
    const em = item.run.size * state.shrink
    const tracking = (em * (item.run.tracking + state.tracking)) / 1000
    let previous = -1
    for (const glyph of item.glyphs) {
      if (glyph.start < start || glyph.start >= end) continue
      // Tracking stands between characters; glyphs of one cluster stay together.
      if (previous >= 0 && glyph.start !== previous) x += tracking
      previous = glyph.start
      visit(item, glyph, x, em)
      x += glyph.advance * em * acrossOf(item, state)
      if (spread !== 0 && shaped.text[glyph.start] === ' ') x += spread
    }
    if (previous >= 0) x += tracking
    behind?.(item, x, em)
  }
  return x
}

/** The clusters of a text, line by line; what hangs over the end of a line stands behind it, where the line leads. */
function placeClusters(
  shape: Shape,
  { state }: Fitted,
  lines: readonly BlockLine[],
  direction: 'ltr' | 'rtl',
): Cluster[] {
  const { text } = shape.shaped
  return lines.flatMap((line, n) => {
    const next = lines[n + 1]?.start ?? text.length
    const clusters: Cluster[] = []
    const visit = (item: Item, glyph: Glyph, x: number, em: number) => {
      const right = x + glyph.advance * em * acrossOf(item, state)
      const last = clusters.at(-1)
      if (last?.start === glyph.start) last.right = right
      else clusters.push({ start: glyph.start, left: x, right, level: item.level, line: n })
    }
    walkGlyphs(shape, state, line, line.x, visit)
    if (next === line.end) return clusters
    const own = clusters.splice(0)
    const hanging = { start: line.end, end: next }
    const length = walkGlyphs(shape, state, hanging, 0, visit)
    const by = direction === 'rtl' ? line.x - length : line.x + line.width
    const hung = clusters.map((one) => ({ ...one, left: one.left + by, right: one.right + by }))
    return direction === 'rtl' ? [...hung, ...own] : [...own, ...hung]
  })
}

function placeGlyphs(shape: Shape, fitted: Fitted, toEnd: number, blockWidth: number, pitch: number): PlacedGlyph[] {
  const { shaped } = shape
  const { state, lines } = fitted
  const glyphs: PlacedGlyph[] = []
  lines.forEach((line, n) => {
    const put = (item: Item, glyph: Glyph, x: number, em: number) =>
      glyphs.push({
        font: item.font,
        id: glyph.id,
        x: x + glyph.dx * em * acrossOf(item, state),
        y: n * pitch - glyph.dy * em,
        scaleX: em * acrossOf(item, state),
        scaleY: em,
        advance: glyph.advance * em * acrossOf(item, state),
        colour: item.run.colour,
        start: glyph.start,
        line: n,
      })
    walkGlyphs(shape, state, line, (blockWidth - line.width) * toEnd, put, (item, x, em) => {
      const { hyphen } = item
      // A word that is parted here; scripts that run to the left part none.
      if (hyphen && line.end < shaped.text.length && item.end >= line.end && shaped.text[line.end - 1] === softHyphen)
        glyphs.push({
          font: item.font,
          id: hyphen.id,
          x,
          y: n * pitch,
          scaleX: em * acrossOf(item, state),
          scaleY: em,
          advance: hyphen.advance * em * acrossOf(item, state),
          colour: item.run.colour,
          start: line.end - 1,
          line: n,
        })
    })
  })
  return glyphs
}

/** Heights (px) come from the text's own fonts, not from fallbacks, so they stay the same from name to name. */
function heightsOf(
  runs: StyledRun[],
  shrink: number,
): { ascender: number; descender: number; cap: number; size: number } {
  let [ascender, descender, cap, most] = [0, 0, 0, 0]
  for (const { font, size } of runs) {
    const px = size * shrink
    ascender = Math.max(ascender, font.metrics.ascender * px)
    descender = Math.max(descender, font.metrics.descender * px)
    cap = Math.max(cap, font.metrics.capHeight * px)
    most = Math.max(most, px)
  }
  return { ascender, descender, cap, size: most }
}

/** What glyphs really cover (px, the glyphs' own coordinates); nothing for spaces. */
export function inkOf(glyphs: readonly PlacedGlyph[]): Box {
  let left = Number.POSITIVE_INFINITY
  let top = Number.POSITIVE_INFINITY
  let right = Number.NEGATIVE_INFINITY
  let bottom = Number.NEGATIVE_INFINITY
  for (const g of glyphs) {
    const ink = g.font.ink(g.id)
    if (ink.width === 0 || ink.height === 0) continue
    const sx = g.scaleX / g.font.unitsPerEm
    const sy = g.scaleY / g.font.unitsPerEm
    left = Math.min(left, g.x + ink.x * sx)
    top = Math.min(top, g.y - ink.y * sy)
    right = Math.max(right, g.x + (ink.x + ink.width) * sx)
    // HarfBuzz gives heights downwards, so they are negative.
    bottom = Math.max(bottom, g.y - (ink.y + ink.height) * sy)
  }
  return right > left
    ? { x: left, y: top, width: right - left, height: bottom - top }
    : { x: 0, y: 0, width: 0, height: 0 }
}
