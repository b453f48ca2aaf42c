import type { Box } from '../layout/index.ts'
import type { Pose } from '../motion/index.ts'
import { type Item, type PathItem, type Pixels, placePicture, scaledPicture, translation } from '../paint/index.ts'
import { type LookValues, type Part, type Template, tieOrder } from '../template/index.ts'
import { type Block, characterStarts, inkOf, outlinePath, type PlacedGlyph, wordStarts } from '../text/index.ts'
import type { Assets } from './assets.ts'
import { moved } from './movement.ts'
import type { Content } from './resolve.ts'
import { boxPath, brushOver, ellipsePath } from './shapes.ts'

/** One stretch of a text that moves by itself: its glyphs in the block's coordinates. */
interface TextUnit {
  glyphs: PlacedGlyph[]
  /** Ink, in the block's coordinates. */
  ink: Box
}

/**
 * What the parts of one filling look like in their own coordinates, from 0, 0 to their own size. Outlines, scaled
 * pictures and the units of texts don't depend on time and are made once.
 */
export class Drawings {
  private readonly outlines = new Map<PlacedGlyph[], Item[]>()
  private readonly units = new Map<number, TextUnit[]>()
  private readonly pictures = new Map<number, { width: number; height: number; items: Item[] }>()
  private readonly parts: Part[]

  constructor(
    template: Template,
    private readonly assets: Assets,
    private readonly content: Content,
    private readonly blocks: readonly (Block | undefined)[],
  ) {
    this.parts = tieOrder(template).parts
  }

  /** A part in its own coordinates: from 0, 0 to its own size. */
  draw(part: Exclude<Part, { kind: 'group' }>, i: number, width: number, height: number, p: Pose): Item[] {
    switch (part.kind) {
      case 'box':
      case 'ellipse':
        return [this.surface(part, i, width, height, p)]
      case 'picture':
        return this.picture(i, width, height)
      case 'text':
        return this.text(part, i, width, p)
    }
  }

  private surface(part: Part, i: number, width: number, height: number, p: Pose): PathItem {
    const look = this.content.looks[i] as unknown as LookValues<'box'>
    const track = part.motion.tracks.grow
    const b = { x: 0, y: 0, width, height }
    if (track) {
      const at = track.from === 'start' ? 0 : track.from === 'end' ? 1 : 0.5
      if (track.axis === 'x') Object.assign(b, { x: width * (1 - p.grow) * at, width: width * p.grow })
      else Object.assign(b, { y: height * (1 - p.grow) * at, height: height * p.grow })
    }
    const d =
      part.kind === 'ellipse'
        ? ellipsePath(b.x, b.y, b.width, b.height)
        : boxPath(b.x, b.y, b.width, b.height, [
            look.radiusTopLeft,
            look.radiusTopRight,
            look.radiusBottomRight,
            look.radiusBottomLeft,
          ])
    const fill = brushOver(look.fill, b)
    return {
      kind: 'path',
      d,
      bounds: b,
      ...(fill ? { fill } : {}),
      ...(look.strokeWidth > 0 ? { stroke: { brush: look.stroke, width: look.strokeWidth } } : {}),
      ...(look.shadow ? { shadow: look.shadow } : {}),
    }
  }

  private picture(i: number, width: number, height: number): Item[] {
    const look = this.content.looks[i] as unknown as LookValues<'picture'>
    const picture = this.assets.picture(look.picture)
    if (!picture || width <= 0 || height <= 0) return []
    const known = this.pictures.get(i)
    if (known?.width === width && known.height === height) return known.items
    const items = this.scaled(picture, look, width, height)
    this.pictures.set(i, { width, height, items })
    return items
  }

  private scaled(picture: Pixels, look: LookValues<'picture'>, width: number, height: number): Item[] {
    const { at, crop } = placePicture(
      picture,
      { width, height },
      look.scaling as 'cover',
      look.focusX,
      look.focusY,
      look.zoom,
    )
    if (at.width <= 0 || at.height <= 0) return []
    const pixels = scaledPicture(picture, crop, Math.max(1, Math.round(at.width)), Math.max(1, Math.round(at.height)))
    return [{ kind: 'picture', pixels, bounds: at }]
  }

  private text(part: Part, i: number, width: number, p: Pose): Item[] {
    const block = this.blocks[i]
    if (!block) return []
    const look = this.content.looks[i] as unknown as LookValues<'text'>
    const shown = block.boxes[look.shows as 'line']
    const toEnd = look.align === 'middle' ? 0.5 : (look.align === 'end') !== (block.direction === 'rtl') ? 1 : 0
    const origin = translation((width - shown.width) * toEnd - shown.x, -shown.y)
    if (!p.units || !part.motion.units)
      return [{ kind: 'layer', matrix: origin, opacity: 1, items: this.glyphItems(block.glyphs, look.shadow) }]
    const units = this.unitsOf(i, part.motion.units.by)
    const items = units.flatMap((unit, n): Item[] => {
      const u = p.units![n]!
      if (u.fade <= 0 || u.scale === 0) return []
      const matrix = moved(u, unit.ink.x + unit.ink.width / 2, unit.ink.y + unit.ink.height / 2)
      return [{ kind: 'layer', matrix, opacity: u.fade, items: this.glyphItems(unit.glyphs, look.shadow) }]
    })
    return items.length > 0 ? [{ kind: 'layer', matrix: origin, opacity: 1, items }] : []
  }

  /** Glyphs as one path per colour; cached by the list they come from. */
  private glyphItems(glyphs: PlacedGlyph[], shadow: LookValues<'text'>['shadow']): Item[] {
    let items = this.outlines.get(glyphs)
    if (!items) {
      const colours = [...new Set(glyphs.map((g) => g.colour))]
      items = colours.flatMap((colour): Item[] => {
        const same = glyphs.filter((g) => g.colour === colour)
        const d = outlinePath(same)
        return d ? [{ kind: 'path', d, bounds: inkOf(same), fill: colour, ...(shadow ? { shadow } : {}) }] : []
      })
      this.outlines.set(glyphs, items)
    }
    return items
  }

  /** A text's characters, words or lines, in reading order. */
  private unitsOf(i: number, by: 'character' | 'word' | 'line'): TextUnit[] {
    let units = this.units.get(i)
    if (!units) {
      const block = this.blocks[i]!
      const starts = by === 'line' ? [] : by === 'word' ? wordStarts(block.text) : characterStarts(block.text)
      const unitOf = (g: PlacedGlyph) => (by === 'line' ? g.line : starts.findLastIndex((start) => start <= g.start))
      const groups = new Map<number, PlacedGlyph[]>()
      for (const g of block.glyphs) groups.set(unitOf(g), [...(groups.get(unitOf(g)) ?? []), g])
      units = [...groups]
        .sort(([a], [b]) => a - b)
        .map(([, glyphs]) => ({ glyphs, ink: inkOf(glyphs) }))
        .filter((unit) => unit.ink.width > 0)
      this.units.set(i, units)
    }
    return units
  }

  /** Rest boxes (frame px) of a text's units when its motion moves them by themselves. */
  unitBoxes(i: number, box: Box): Box[] {
    const part = this.parts[i]!
    if (part.kind !== 'text' || !part.motion.units || !this.blocks[i]) return []
    return this.unitsOf(i, part.motion.units.by).map(({ ink }) => ({ ...ink, x: box.x + ink.x, y: box.y + ink.y }))
  }
}
