import { cached, LastFew } from '../cache/index.ts'
import type { Box } from '../geometry/index.ts'
import type { Rest } from '../layout/index.ts'
import { limits } from '../limits/index.ts'
import { counted, type Pose, unsettled } from '../motion/index.ts'
import {
  aboutPoint,
  boundsOf,
  type Item,
  type LayerItem,
  type Matrix,
  multiply,
  onGrid,
  type PathItem,
  type Pixels,
  placePicture,
  rotationMatrix,
  scaledPicture,
  scaling,
  translation,
} from '../paint/index.ts'
import { areaOf, MeasuredPath, type Segment, segmentsOf, writePathData } from '../path/index.ts'
import {
  fillsHeight,
  type Part,
  type PictureFill,
  type SettleTrack,
  type Template,
  tieOrder,
} from '../template/index.ts'
import type { Block, PlacedGlyph } from '../text/index.ts'
import { isWayStyle, middleOf, outlineData, standingOn, type Way, wayAlong } from './along.ts'
import type { Assets } from './assets.ts'
import { curveOutline, segmentsUnder } from './curve.ts'
import { moved, placement } from './movement.ts'
import { type Content, type PartStyle, styleOf } from './resolve.ts'
import { boxPath, brushOver } from './shapes.ts'
import { type Colour, coloursOf, outlineOf, type TextSegment, textSegmentsOf } from './textSegments.ts'

/** A text's characters, by their UTF-16 offset, as they stand in their lines: what tracking spreads them by. */
type Ranks = Map<number, { rank: number; count: number }>

interface Outlined {
  key: string
  d: string
  bounds: Box
}

/** What has been made so far: by part index, or by the glyphs that it is made of. */
interface Made {
  outlines: WeakMap<PlacedGlyph[], Item[]>
  single: WeakMap<PlacedGlyph, PlacedGlyph[]>
  ranks: WeakMap<Block, Ranks>
  /** Texts whose fonts stand elsewhere on their axes, as at the frames asked for last. */
  shifted: WeakMap<Block, LastFew<string, Block>>
  letters: WeakMap<Block, string[]>
  pictures: Map<number, { width: number; height: number; items: Item[] }>
  shapes: Map<number, Outlined>
}
/** Of a text whose axes move; a frame asks for one. */
const keptShifted = 4
const newMade = (): Made => ({
  outlines: new WeakMap(),
  single: new WeakMap(),
  ranks: new WeakMap(),
  shifted: new WeakMap(),
  letters: new WeakMap(),
  pictures: new Map(),
  shapes: new Map(),
})

/**
 * What the parts of one filling look like in their own coordinates, from 0, 0 to their own size. Outlines, scaled
 * pictures and the segments of texts don't depend on time and are made once.
 */
export class Drawings {
  private readonly parts: Part[]
  /** Indices of the parts that run by the clock: crawls and movies. */
  private readonly running: number[]

  constructor(
    private readonly template: Template,
    private readonly assets: Assets,
    private readonly content: Content,
    private readonly blocks: readonly (Block | undefined)[],
    private readonly gone: Uint8Array,
    private readonly made: Made = newMade(),
  ) {
    this.parts = tieOrder(template).parts
    this.running = this.parts.flatMap((_, i) => {
      const style = content.styles[i]!
      const runs =
        (style.kind === 'text' && style.crawl !== 0) ||
        (style.kind === 'picture' && assets.movie(style.picture) !== undefined)
      return runs && !gone[i] ? [i] : []
    })
  }

  /** The same filling with some texts set otherwise, as at a frame in which rooms move; what was made is made for both. */
  withBlocks(blocks: readonly (Block | undefined)[]): Drawings {
    if (blocks.every((block, i) => block === this.blocks[i])) return this
    return new Drawings(this.template, this.assets, this.content, blocks, this.gone, this.made)
  }

  /** Whether anything runs by the clock, so that no two frames need be the same. */
  get runs(): boolean {
    return this.running.length > 0
  }

  /** What the clock changes: which frame of each movie, and whether a crawl runs. */
  clockKey(seconds: number): string {
    return this.running
      .map((i) => (this.content.styles[i]!.kind === 'text' ? seconds : (this.movieFrame(i, seconds) ?? 'over')))
      .join()
  }

  /** A part in its own coordinates: from 0, 0 to its own size. `seconds`: since the title began. */
  draw(
    part: Exclude<Part, { kind: 'group' }>,
    i: number,
    width: number,
    height: number,
    p: Pose,
    seconds: number,
  ): Item[] {
    switch (part.kind) {
      case 'box':
      case 'ellipse':
      case 'path':
        return this.surface(part, i, width, height, p)
      case 'curve':
        return this.curve(i, width, height, p)
      case 'picture':
        return this.picture(i, width, height, seconds)
      case 'text':
        return this.textStyle(i).crawl === 0
          ? this.text(part, i, width, height, p)
          : this.crawl(part, i, width, height, p, seconds)
    }
  }

  /** A line through numbers, and the area under it. */
  private curve(i: number, width: number, height: number, p: Pose): Item[] {
    const style = styleOf(this.content, i, 'curve')
    const area = grownArea({ x: 0, y: 0, width, height }, p)
    const line = this.trimmed(segmentsOf([curveOutline(style)], area), p)
    if (line.length === 0) return []
    const bounds = areaOf(line)
    const shadows = style.shadows.length > 0 ? { shadows: style.shadows } : {}
    const items: Item[] = []
    const { fill } = style
    if (fill) {
      const closed = [...line, ...segmentsUnder(line, area.y + area.height)]
      const path: PathItem = { kind: 'path', d: `${writePathData(closed, onGrid)}Z`, bounds: areaOf(closed) }
      if (typeof fill === 'object' && fill.kind === 'picture') items.push(...this.pictured(path, fill, i, area))
      else items.push({ ...path, fill: brushOver(fill, area)! })
    }
    if (style.strokeWidth > 0)
      items.push({
        kind: 'path',
        d: writePathData(line, onGrid),
        bounds,
        stroke: {
          brush: style.stroke,
          width: style.strokeWidth,
          cap: style.ends as 'butt',
          join: style.corners as 'miter',
          ...(style.dash > 0 ? { dash: style.dash } : {}),
        },
        ...shadows,
      })
    return items
  }

  /** A text that runs through its box without end, cut at the box's sides; it comes in at the far one. */
  private crawl(part: Part, i: number, width: number, height: number, p: Pose, seconds: number): Item[] {
    const block = this.blocks[i]
    const items = block ? this.textItems(part, i, p) : []
    if (!block || items.length === 0) return []
    const { crawl, shows } = this.textStyle(i)
    const shown = block.boxes[shows as 'line']
    const way = width + shown.width
    const run = (Math.abs(crawl) * seconds) % way
    const x = crawl > 0 ? width - run : run - shown.width
    const inside: Item = { kind: 'layer', matrix: translation(x - shown.x, -shown.y), opacity: 1, items }
    const [top, tall] = [-height, 3 * height]
    return [
      {
        kind: 'layer',
        matrix: translation(0, 0),
        opacity: 1,
        clip: boxPath(0, top, width, tall, [0, 0, 0, 0]),
        items: [inside],
      },
    ]
  }

  /** The frame of a movie that is seen after so many seconds; undefined when it is over and gone. */
  private movieFrame(i: number, seconds: number): number | undefined {
    const style = styleOf(this.content, i, 'picture')
    const movie = this.assets.movie(style.picture)!
    const perSecond = movie.rate.num / movie.rate.den
    const first = Math.min(movie.frames - 1, Math.round(style.movieStart * perSecond))
    const left = movie.frames - first
    const count = style.movieLength > 0 ? Math.min(left, Math.max(1, Math.round(style.movieLength * perSecond))) : left
    const at = Math.floor(seconds * style.movieSpeed * perSecond + 1e-6)
    if (style.playing === 'over and over') return first + (at % count)
    if (style.playing === 'once, then goes' && at >= count) return undefined
    return first + Math.min(at, count - 1)
  }

  private surface(part: Part, i: number, width: number, height: number, p: Pose): Item[] {
    const style = styleOf(this.content, i, 'box', 'ellipse', 'path')
    const { d, bounds, area } = this.outlined(part, i, width, height, p)
    if (!d) return []
    const stroke: PathItem['stroke'] = {
      brush: style.stroke,
      width: style.strokeWidth,
      ...(style.kind === 'path'
        ? { cap: style.ends as 'butt', join: style.corners as 'miter', ...(style.dash > 0 ? { dash: style.dash } : {}) }
        : {}),
    }
    const path: PathItem = {
      kind: 'path',
      d,
      bounds,
      ...(style.strokeWidth > 0 ? { stroke } : {}),
      ...(style.shadows.length > 0 ? { shadows: style.shadows } : {}),
    }
    const { fill } = style
    if (fill && typeof fill === 'object' && fill.kind === 'picture') return this.pictured(path, fill, i, area)
    const brush = brushOver(fill, area)
    return brush || path.stroke ? [{ ...path, ...(brush ? { fill: brush } : {}) }] : []
  }

  /** The outline of a surface as it stands in a pose: grown, and drawn on as far as its trim. */
  private outlined(
    part: Part,
    i: number,
    width: number,
    height: number,
    p: Pose,
  ): { d: string; bounds: Box; area: Box } {
    const area = grownArea({ x: 0, y: 0, width, height }, p)
    if (part.kind !== 'path')
      return { d: outlineData(styleOf(this.content, i, 'box', 'ellipse'), area), bounds: area, area }
    const key = `${area.x},${area.y},${area.width},${area.height},${p.trim},${p.by.trim?.from}`
    let known = this.made.shapes.get(i)
    if (known?.key !== key) {
      const segments = this.trimmed(this.segments(i, area), p)
      known = { key, d: writePathData(segments, onGrid), bounds: areaOf(segments) }
      this.made.shapes.set(i, known)
    }
    return { ...known, area }
  }

  private segments(i: number, area: Box): Segment[] {
    return segmentsOf(styleOf(this.content, i, 'path').outlines, area)
  }

  private trimmed(segments: Segment[], p: Pose): Segment[] {
    if (p.trim >= 1) return segments
    const path = new MeasuredPath(segments)
    const { length } = path
    const from = p.by.trim?.from ?? 'start'
    const start = from === 'start' ? 0 : from === 'end' ? length * (1 - p.trim) : (length * (1 - p.trim)) / 2
    return path.between(start, start + length * p.trim)
  }

  /** The way that a text runs along, and the map that puts it where it rests; undefined for what stands in its box. */
  wayOf(part: Part, rest: Rest): { way: Way; map: Matrix } | undefined {
    const { index } = rest.order
    const j = part.kind === 'text' && part.style.along ? index.get(part.style.along) : undefined
    const style = j === undefined ? undefined : this.content.styles[j]!
    if (j === undefined || !style || !isWayStyle(style)) return undefined
    const [width, height] = [rest.own[0][j]!, rest.own[1][j]!]
    const way = wayAlong(style, width, height, this.textStyle(index.get(part.id)!))
    return { way, map: placement(rest, j, style.scale, style.rotation) }
  }

  /** A path filled with a picture: cut out of it, the stroke above, the shadows below. */
  private pictured(path: PathItem, fill: PictureFill, i: number, area: Box): Item[] {
    const picture = this.assets.picture(fill.picture)
    const { stroke, shadows, ...bare } = path
    const items: Item[] = []
    if (shadows) items.push({ ...bare, fill: '#808080', shadows, castsOnly: true })
    if (picture && area.width > 0 && area.height > 0) {
      const style = { scaling: fill.scaling, focusX: 0.5, focusY: 0.5, zoom: 1 }
      const known = this.made.pictures.get(i)
      const same = known?.width === area.width && known.height === area.height
      const inside = same ? known.items : scaled(picture, style, area)
      if (!same) this.made.pictures.set(i, { width: area.width, height: area.height, items: inside })
      const matrix = translation(area.x, area.y)
      items.push({
        kind: 'layer',
        matrix: translation(0, 0),
        opacity: 1,
        clip: path.d,
        items: [{ kind: 'layer', matrix, opacity: 1, items: inside }],
      })
    }
    if (stroke) items.push({ ...bare, stroke })
    return items
  }

  private picture(i: number, width: number, height: number, seconds: number): Item[] {
    const style = styleOf(this.content, i, 'picture')
    const movie = this.assets.movie(style.picture)
    if (movie) {
      const frame = this.movieFrame(i, seconds)
      if (frame === undefined || width <= 0 || height <= 0) return []
      return scaled(movie.frame(frame), style, { width, height })
    }
    const picture = this.assets.picture(style.picture)
    if (!picture || width <= 0 || height <= 0) return []
    const known = this.made.pictures.get(i)
    if (known?.width === width && known.height === height) return known.items
    const items = scaled(picture, style, { width, height })
    this.made.pictures.set(i, { width, height, items })
    return items
  }

  private text(part: Part, i: number, width: number, height: number, p: Pose): Item[] {
    const origin = this.textOrigin(i, width, height)
    const items = origin ? this.textItems(part, i, p) : []
    if (items.length === 0) return []
    const [rest, now] = [this.blocks[i]!, this.blockIn(i, p)]
    // A text that is wider or narrower than at rest keeps the end, or the middle, that its lines are set by.
    const by = (rest.fit.width - now.fit.width) * toEnd(this.textStyle(i), rest)
    const matrix = now === rest ? origin! : multiply(origin!, translation(by, 0))
    return [{ kind: 'layer', matrix, opacity: 1, items }]
  }

  /** A text as it is set at rest, or with its fonts where a pose has them on their axes. */
  private blockIn(i: number, { axes }: Pose): Block {
    const block = this.blocks[i]!
    const moved = Object.entries(axes)
    return moved.length === 0
      ? block
      : cached(
          cached(this.made.shifted, block, () => new LastFew<string, Block>(keptShifted)),
          moved.flat().join(),
          () => block.shifted(axes),
        )
  }

  /** A text as it is set at rest. */
  blockOf(i: number): Block | undefined {
    return this.blocks[i]
  }

  /** From a text's block to its part's own coordinates. @param width px of the part @param height likewise */
  textOrigin(i: number, width: number, height: number): Matrix | undefined {
    const block = this.blocks[i]
    const style = this.content.styles[i]!
    if (!block || style.kind !== 'text') return undefined
    const shown = block.boxes[style.shows as 'line']
    // What fills a box that is given stands in the middle of what it leaves.
    const down = fillsHeight(this.parts[i]!) ? (height - shown.height) / 2 : 0
    return translation((width - shown.width) * toEnd(style, block) - shown.x, down - shown.y)
  }

  /** A text whose baseline runs along a way; in the way's coordinates. */
  textAlong(part: Part, i: number, way: Way, p: Pose): Item[] {
    return this.blocks[i] ? this.textItems(part, i, p, way) : []
  }

  private textStyle(i: number): PartStyle<'text'> {
    return styleOf(this.content, i, 'text')
  }

  private textItems(part: Part, i: number, p: Pose, way?: Way): Item[] {
    const block = this.blockIn(i, p)
    const changed = p.count < 1 ? counted(block.text, p.count, p.by.count?.start ?? 0) : noneCounted
    const { segments } = part.motion
    if (!p.segments || !segments)
      return this.glyphItems(
        i,
        block,
        changed.size > 0 ? changedGlyphs(block, block.glyphs, changed) : block.glyphs,
        p,
        way,
      )
    const units = textSegmentsOf(block, segments.by)
    const carets = segments.caret && p.at !== undefined ? this.caret(i, block, units, p) : []
    const drawn = units.flatMap((unit, n): Item[] => {
      const u = p.segments![n]
      if (!u || u.fade <= 0 || u.scale === 0) return []
      const settling = u.settle < 1 && u.by.settle
      const own = changed.size > 0 ? changedGlyphs(block, unit.glyphs, changed) : unit.glyphs
      const items = settling
        ? this.unsettled(i, block, unit.glyphs, p, way, { u, track: settling, seed: segments.seed, unit: n })
        : this.glyphItems(i, block, own, p, way)
      const ink = (way && boundsOf(items)) || unit.ink
      const matrix = moved(u, ink.x + ink.width / 2, ink.y + ink.height / 2)
      return [{ kind: 'layer', matrix, opacity: u.fade, items, ...(u.blur > 0 ? { blur: u.blur } : {}) }]
    })
    return [...drawn, ...carets]
  }

  /** What stands where letters have not settled: others of their kind, perhaps as their flaps fall. */
  private unsettled(
    i: number,
    block: Block,
    glyphs: PlacedGlyph[],
    p: Pose,
    way: Way | undefined,
    { u, track, seed, unit }: { u: Pose; track: SettleTrack; seed: number; unit: number },
  ): Item[] {
    const own = cached(this.made.letters, block, () => lettersOf(block))
    const starts = [...new Set(glyphs.map(({ start }) => start))]
    return starts.flatMap((start, n): Item[] => {
      const cluster = starts.length === 1 ? glyphs : glyphs.filter((glyph) => glyph.start === start)
      const character = characterAt(block.text, start)
      // Letters of one word are each another one.
      const by = { seed, unit: unit + n * 977, at: p.at ?? 0 }
      const { letter, height } = unsettled(track, u.settle, character, own, by)
      if (height <= 0) return []
      const shown = (letter !== undefined && block.instead(cluster[0]!, letter)) || cluster
      const items = this.glyphItems(i, block, shown, p, way)
      return height < 1 ? squashed(items, block, cluster[0]!, height) : items
    })
  }

  /** Where the next letter will be typed: behind the last one that is there; it blinks while none comes. */
  private caret(i: number, block: Block, units: readonly TextSegment[], p: Pose): Item[] {
    const there = p.segments!.filter(({ fade }) => fade > 0).length
    const { num, den } = this.template.frame.rate
    const waits = there === 0 || there === units.length
    if (units.length === 0 || (waits && Math.floor((p.at! * 2 * den) / num) % 2 === 1)) return []
    const last =
      units[
        Math.max(
          0,
          p.segments!.findLastIndex(({ fade }) => fade > 0),
        )
      ]!.glyphs
    const ends = last.map(({ x, advance }) => [x, x + advance] as const)
    const isBack = block.direction === 'rtl'
    const [left, right] = [Math.min(...ends.map(([a]) => a)), Math.max(...ends.map(([, b]) => b))]
    const { size, boxes } = block
    const wide = Math.max(2, size * caretWide)
    const past = size * caretGap
    const x = (there === 0) === isBack ? right + past : left - past - wide
    const top = boxes.cap.y - size * 0.06
    const area: Box = { x, y: last[0]!.y + top, width: wide, height: size * 0.12 - boxes.cap.y }
    const d = boxPath(area.x, area.y, area.width, area.height, [0, 0, 0, 0])
    return [{ kind: 'path', d, bounds: area, fill: this.textStyle(i).colour }]
  }

  /** Glyphs as one path per colour where they stand as set, else each by itself: spread by tracking, or along a way. */
  private glyphItems(i: number, block: Block, glyphs: PlacedGlyph[], p: Pose, way?: Way): Item[] {
    if (p.track === 0 && !way) return this.glyphPaths(i, block, glyphs)
    const style = this.textStyle(i)
    const ranks = this.ranksOf(block)
    const share = toEnd(style, block)
    return glyphs.flatMap((glyph): LayerItem[] => {
      const alone = this.made.single.get(glyph) ?? [glyph]
      this.made.single.set(glyph, alone)
      const items = this.glyphPaths(i, block, alone)
      if (items.length === 0) return []
      const { rank, count } = ranks.get(glyph.start)!
      const spread = ((p.track * glyph.scaleY) / 1000) * (rank - (count - 1) * share)
      if (!way) return [{ kind: 'layer', matrix: translation(spread, 0), opacity: 1, items }]
      const middle = middleOf(glyph)
      const [x, y, angle] = this.standing(i, glyph, way, spread, p.travel)
      const matrix = multiply(
        translation(x, y),
        multiply(rotationMatrix((angle * 180) / Math.PI), translation(-middle, 0)),
      )
      return [{ kind: 'layer', matrix, opacity: 1, items }]
    })
  }

  /**
   * Where a glyph's advance has its middle on a way, in the way's coordinates (px), and how the glyph is turned there
   * (radians).
   * @param spread px by which tracking moves it along its line
   * @param travel share of the way that its text has travelled
   */
  standing(i: number, glyph: PlacedGlyph, way: Way, spread = 0, travel = 0): [x: number, y: number, angle: number] {
    const block = this.blocks[i]!
    const style = this.textStyle(i)
    const at = { middle: middleOf(glyph) + spread, line: block.fit.width, share: toEnd(style, block), travel }
    const { x, y, angle } = standingOn(way, style, at)
    return [x, y, angle]
  }

  private glyphPaths(i: number, block: Block, glyphs: PlacedGlyph[]): Item[] {
    let items = this.made.outlines.get(glyphs)
    if (!items) {
      const style = this.textStyle(i)
      const { fill } = style
      const rest = {
        ...(style.strokeWidth > 0
          ? { stroke: { brush: style.stroke, width: style.strokeWidth, join: 'round' as const } }
          : {}),
        ...(style.shadows.length > 0 ? { shadows: style.shadows } : {}),
      }
      const made = ({ d, bounds }: Colour) => (d ? [{ kind: 'path' as const, d, bounds, ...rest }] : [])
      const { line } = block.boxes
      if (fill && typeof fill === 'object' && fill.kind === 'picture')
        items = made(outlineOf(glyphs)).flatMap((path) => this.pictured(path, fill, i, line))
      else if (fill) items = made(outlineOf(glyphs)).map((path) => ({ ...path, fill: brushOver(fill, line)! }))
      else items = coloursOf(glyphs).flatMap((one) => made(one).map((path) => ({ ...path, fill: one.colour })))
      this.made.outlines.set(glyphs, items)
    }
    return items
  }

  /** By where its character stands in the text: which character of its line it belongs to, from the left, and of how many. */
  private ranksOf(block: Block): Ranks {
    let ranks = this.made.ranks.get(block)
    if (!ranks) {
      ranks = new Map()
      const all = block.glyphs
      for (const line of new Set(all.map((glyph) => glyph.line))) {
        const glyphs = all.filter((glyph) => glyph.line === line)
        const starts = [...new Set([...glyphs].sort((a, b) => a.x - b.x).map((glyph) => glyph.start))]
        const rankOf = new Map(starts.map((start, rank) => [start, rank]))
        for (const glyph of glyphs) ranks.set(glyph.start, { rank: rankOf.get(glyph.start)!, count: starts.length })
      }
      this.made.ranks.set(block, ranks)
    }
    return ranks
  }

  /** Rest boxes (frame px) of a text's segments when its motion moves them by themselves. */
  segmentBoxes(i: number, box: Box): Box[] {
    const part = this.parts[i]!
    if (part.kind !== 'text' || !part.motion.segments || !this.blocks[i]) return []
    return textSegmentsOf(this.blocks[i], part.motion.segments.by).map(({ ink }) => ({
      ...ink,
      x: box.x + ink.x,
      y: box.y + ink.y,
    }))
  }
}

/** A caret's width and its distance from a letter, as shares of the size. */
const caretWide = 0.07
const caretGap = 0.06

const noneCounted: ReadonlyMap<number, string> = new Map()

/** Glyphs of a text of which some characters are others: those of nothing are left out. */
function changedGlyphs(block: Block, glyphs: PlacedGlyph[], changed: ReadonlyMap<number, string>): PlacedGlyph[] {
  return glyphs.flatMap((glyph) => {
    const other = changed.get(glyph.start)
    if (other === undefined) return [glyph]
    return other === '' ? [] : (block.instead(glyph, other) ?? [glyph])
  })
}

/** The character that begins at an offset. */
function characterAt(text: string, at: number): string {
  return String.fromCodePoint(text.codePointAt(at) ?? 0x20)
}

/** The letters of a text, each once, in their order. */
const lettersOf = ({ text }: Block): string[] => [...new Set(text.match(/[\p{L}\p{N}]/gu) ?? [])].sort()

/** A letter as its flap falls: squeezed to its middle line. */
function squashed(items: Item[], { boxes, size }: Block, { y }: PlacedGlyph, height: number): Item[] {
  const middle = y + (boxes.cap.y < 0 ? Math.max(boxes.cap.y, -size) : -size * 0.7) / 2
  return [{ kind: 'layer', matrix: aboutPoint(0, middle, scaling(1, height)), opacity: 1, items }]
}

/** An area as far as it has grown. */
function grownArea(area: Box, p: Pose): Box {
  const { grow } = p.by
  if (!grow) return area
  const at = grow.from === 'start' ? 0 : grow.from === 'end' ? 1 : 0.5
  return grow.axis === 'x'
    ? { ...area, x: area.width * (1 - p.grow) * at, width: area.width * p.grow }
    : { ...area, y: area.height * (1 - p.grow) * at, height: area.height * p.grow }
}

/** Where a text's lines stand in their box: 0 at its left, 1 at its right. */
function toEnd(style: PartStyle<'text'>, block: Block): number {
  return style.align === 'middle' ? 0.5 : (style.align === 'end') !== (block.direction === 'rtl') ? 1 : 0
}

/** Pixels that a picture is scaled to at most: those of the largest frame, 8K. What is larger still is drawn from these. */
const most = { side: limits.frameSide.most, area: 7680 * 4320 }

function scaled(
  picture: Pixels,
  style: { scaling: string; focusX: number; focusY: number; zoom: number },
  box: { width: number; height: number },
): Item[] {
  const { at, crop } = placePicture(picture, box, style.scaling as 'cover', style.focusX, style.focusY, style.zoom)
  if (at.width <= 0 || at.height <= 0) return []
  const fit = Math.min(1, Math.sqrt(most.area / (at.width * at.height)))
  const side = (length: number) => Math.min(most.side, Math.max(1, Math.round(length * fit)))
  const pixels = scaledPicture(picture, crop, side(at.width), side(at.height))
  return [{ kind: 'picture', pixels, bounds: at }]
}
