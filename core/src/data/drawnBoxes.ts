import { cached } from '../cache/index.ts'
import type { Box } from '../geometry/index.ts'
import { boxOf } from '../layout/index.ts'
import { restFrame, timingOf } from '../motion/index.ts'
import { common, type Matrix, mapBounds } from '../paint/index.ts'
import { areaOf, type Segment, segmentsOf } from '../path/index.ts'
import { type Layout, type PartStyle, type Scene, styleOf } from '../scene/index.ts'
import type { Part } from '../template/index.ts'
import { type Block, inkOf } from '../text/index.ts'

/** Letters may touch; more than two px are meant. */
export const touching = 2

/** How far (px) two boxes lie over each other: as far as one would have to move to be clear; 0 or less: they don't. */
export function overlapOf(a: Box, b: Box): number {
  const { width, height } = common(a, b)
  return Math.min(width, height)
}

/** What one part of a settled title draws, in frame px: its ink, or its shape with its stroke; never its shadows. */
export interface DrawnPart {
  part: Part
  index: number
  /** Never too small, and soon known. */
  outer: Box
  /** As it is; a text's ink takes its glyphs to be placed. */
  box(): Box
  /** What the box is made of: a text's letters, one by one. */
  pieces(): readonly Box[]
}

/**
 * How far (px) two parts lie over each other, by their letters: what is written may reach past something without meeting
 * it. 0 or less: they don't.
 */
export function drawnOverlap(a: DrawnPart, b: DrawnPart): number {
  const whole = overlapOf(a.box(), b.box())
  if (whole <= touching || (a.part.kind !== 'text' && b.part.kind !== 'text')) return whole
  let most = 0
  for (const one of a.pieces()) for (const other of b.pieces()) most = Math.max(most, overlapOf(one, other))
  return most
}

/** How a drawing's parts stand when all have arrived, as far as that does not hang on what fills it. */
interface Standing {
  /** Ids of parts that are not seen then, or only in part. */
  hidden: ReadonlySet<string>
  /** Ids of parts that movement leaves elsewhere than where they rest. */
  moved: ReadonlySet<string>
}

const standings = new WeakMap<Layout['template'], Standing>()

function standingOf(scene: Scene, layout: Layout): Standing {
  return cached(standings, layout.template, () => {
    const timing = timingOf(layout.template)
    const posed = scene.posed(layout, timing, restFrame(timing))
    const hidden = new Set<string>()
    const moved = new Set<string>()
    for (const part of layout.rest.order.parts) {
      // A part that is gone in this filling shows in the next how it moves.
      const place = posed.standingOf(part.id)
      if (place.seen < 1) hidden.add(part.id)
      else if (place.moved) moved.add(part.id)
    }
    return { hidden, moved }
  })
}

/** Whether everything stands where it rests when all have arrived, and all of it is there, whatever fills the drawing. */
export function standsAsItRests(scene: Scene, layout: Layout): boolean {
  const { hidden, moved } = standingOf(scene, layout)
  return hidden.size === 0 && moved.size === 0
}

const isClear = (colour: unknown) => typeof colour === 'string' && colour.length === 9 && colour.endsWith('00')

/** Whether a surface draws anything. */
export function paints(style: PartStyle<'box' | 'ellipse' | 'path' | 'curve'>): boolean {
  const fills = style.fill !== null && !isClear(style.fill)
  return fills || (style.strokeWidth > 0 && !isClear(style.stroke))
}

/** The outline of a path or curve stands in fractions of its box, and may lead out of it. */
function outlineBox(style: PartStyle<'path'>, box: Box): Box {
  const segments: Segment[] = segmentsOf(style.outlines, box)
  return areaOf(segments)
}

/** A text: what its letters cover is worked out only where it is asked for. */
class DrawnText implements DrawnPart {
  private ink: Box | undefined
  readonly outer: Box

  constructor(
    private readonly layout: Layout,
    readonly part: Part,
    readonly index: number,
    private readonly block: Block,
    private readonly matrix: Matrix | undefined,
  ) {
    const { line } = block.boxes
    const { size, reach } = block
    // Letters reach out of their line; how far they can is soon known.
    const [top, bottom, aside] = reach
      ? [reach.top, reach.bottom, reach.aside]
      : [line.y - size, line.y + line.height + size, size]
    this.outer = this.placed(line.x - aside, top, line.width + 2 * aside, bottom - top)
  }

  box(): Box {
    if (!this.ink) {
      const { x, y, width, height } = inkOf(this.block.glyphs)
      this.ink = this.placed(x, y, width, height)
    }
    return this.ink
  }

  pieces(): readonly Box[] {
    return this.block.glyphs.flatMap((glyph) => {
      const { x, y, width, height } = inkOf([glyph])
      return width > 0 ? [this.placed(x, y, width, height)] : []
    })
  }

  /** A box of the block's own coordinates, in the frame. */
  private placed(x: number, y: number, width: number, height: number): Box {
    const { rest, content } = this.layout
    const shown = this.block.boxes[styleOf(content, this.index, 'text').shows as 'line']
    const box = {
      x: rest.start[0][this.index]! + x - shown.x,
      y: rest.start[1][this.index]! + y - shown.y,
      width,
      height,
    }
    return cutBox(this.layout, this.part, this.matrix ? mapBounds(this.matrix, box) : box)
  }
}

class DrawnShape implements DrawnPart {
  constructor(
    readonly part: Part,
    readonly index: number,
    readonly outer: Box,
  ) {}

  box(): Box {
    return this.outer
  }

  pieces(): readonly Box[] {
    return [this.outer]
  }
}

/** Every part of a settled title that is seen when all have arrived, in painting order; groups are what they hold. */
export function drawnParts(scene: Scene, layout: Layout): DrawnPart[] {
  const { rest, content, blocks } = layout
  const { hidden, moved } = standingOf(scene, layout)
  const timing = moved.size > 0 ? timingOf(layout.template) : undefined
  const posed = timing && scene.posed(layout, timing, restFrame(timing))
  const found: DrawnPart[] = []
  const { parts } = rest.order
  const { inStrips: running, strips } = scene.entries(layout)
  for (let index = 0; index < parts.length; index++) {
    const part = parts[index]!
    const style = content.styles[index]!
    if (running.has(index) || rest.gone[index] || style.matteOnly || hidden.has(part.id) || isFaded(layout, index))
      continue
    const matrix = posed && moved.has(part.id) ? posed.placeOf(part.id)?.matrix : undefined
    if (style.kind === 'group') {
      // What rolls or crawls is where it runs through.
      if (strips.has(index)) found.push(new DrawnShape(part, index, cutBox(layout, part, boxOf(rest, index))))
      continue
    }
    if (style.kind === 'text') {
      const block = blocks[index]
      if (block && !style.along && style.crawl === 0) found.push(new DrawnText(layout, part, index, block, matrix))
      continue
    }
    if (style.kind !== 'picture' && !paints(style)) continue
    let box = boxOf(rest, index)
    if (style.kind === 'path' && style.rotation === 0) box = outlineBox(style, box)
    const stroke = style.kind === 'picture' || isClear(style.stroke) ? 0 : style.strokeWidth * style.scale
    if (stroke > 0)
      box = { x: box.x - stroke / 2, y: box.y - stroke / 2, width: box.width + stroke, height: box.height + stroke }
    const whole = cutBox(layout, part, matrix ? mapBounds(matrix, box) : box)
    if (whole.width > 0 && whole.height > 0) found.push(new DrawnShape(part, index, whole))
  }
  return found
}

/** Whether a part, or a group around it, is clear in this filling. */
function isFaded({ rest, content }: Layout, index: number): boolean {
  for (let i = index; i >= 0; i = rest.order.parent[i]!) if (content.styles[i]!.opacity <= 0) return true
  return false
}

/** What is left of a part's box where another part cuts it out. */
function cutBox({ rest }: Layout, part: Part, box: Box): Box {
  if (!part.matte || part.matte.invert) return box
  const i = rest.order.index.get(part.matte.part)
  if (i === undefined) return box
  if (rest.gone[i]) return { ...box, width: 0, height: 0 }
  const left = common(box, boxOf(rest, i))
  return { ...left, width: Math.max(0, left.width), height: Math.max(0, left.height) }
}
