import { type Box, boxOf, type Rest } from '../layout/index.ts'
import { type Pose, type PoseContext, pose } from '../motion/index.ts'
import {
  about,
  type Bounds,
  boundsOf,
  type DrawList,
  grown,
  type Item,
  identity,
  type LayerItem,
  type Matrix,
  type PathItem,
  type Pixels,
  placePicture,
  resample,
  scaling,
  times,
  translation,
  turning,
  unite,
} from '../paint/index.ts'
import {
  type EllipsePart,
  findPart,
  fullLook,
  type LookValues,
  type Part,
  type PartId,
  type Template,
  tieOrder,
} from '../template/index.ts'
import { type Block, characterStarts, inkOf, outlinePath, type PlacedGlyph, wordStarts } from '../text/index.ts'
import type { Assets } from './assets.ts'
import type { Content } from './resolve.ts'
import { revealOf } from './reveal.ts'
import { boxPath, brushOver, ellipsePath } from './shapes.ts'

/** One stretch of a text that moves by itself: its glyphs in the block's coordinates. */
interface TextUnit {
  glyphs: PlacedGlyph[]
  /** Ink, in the block's coordinates. */
  ink: Box
}

/** Turns rest and pose into a draw list. Outlines and pictures, which don't depend on time, are made once per filling. */
export class Composer {
  private readonly outlines = new Map<PlacedGlyph[], Item[]>()
  private readonly units = new Map<number, TextUnit[]>()
  private readonly pictures = new Map<number, { width: number; height: number; items: Item[] }>()
  private readonly index: Map<PartId, number>
  private readonly parts: Part[]
  private rest!: Rest
  private context!: PoseContext
  private poses: (Pose | undefined)[] = []

  constructor(
    private readonly template: Template,
    private readonly assets: Assets,
    private readonly content: Content,
    private readonly blocks: readonly (Block | undefined)[],
  ) {
    const order = tieOrder(template)
    this.index = order.index
    this.parts = order.parts
  }

  compose(rest: Rest, context: PoseContext): DrawList {
    this.rest = rest
    this.context = context
    this.poses = new Array(this.parts.length)
    const items = this.list(this.template.parts)
    return { width: this.template.frame.width, height: this.template.frame.height, items, key: this.key() }
  }

  /** What distinguishes one frame of this filling from another: every number that time changes. */
  private key(): string {
    let key = ''
    this.parts.forEach((_, i) => {
      if (this.rest.gone[i]) return
      const p = this.poseOf(i)
      const box = boxOf(this.rest, i)
      key += `${i}:${box.x},${box.y},${box.width},${box.height};${poseKey(p)}|`
      for (const unit of p.units ?? []) key += `${poseKey(unit)}|`
    })
    return key
  }

  private list(parts: readonly Part[]): Item[] {
    return parts.flatMap((part) => {
      if (this.lookOf(part).matteOnly) return []
      return this.part(part) ?? []
    })
  }

  private lookOf(part: Part): LookValues<'box'> {
    return this.content.looks[this.index.get(part.id)!] as unknown as LookValues<'box'>
  }

  private poseOf(i: number): Pose {
    let p = this.poses[i]
    if (!p) {
      const box = boxOf(this.rest, i)
      p = pose(this.parts[i]!.motion, box, this.context, this.unitBoxes(i, box))
      this.poses[i] = p
    }
    return p
  }

  /** One part as a layer in the coordinates of its group; undefined when there is nothing to see. */
  private part(part: Part, asMatte = false): LayerItem | undefined {
    const i = this.index.get(part.id)!
    if (this.rest.gone[i]) return undefined
    const look = this.lookOf(part)
    const box = boxOf(this.rest, i)
    const p = this.poseOf(i)
    const opacity = look.opacity * p.fade
    if (opacity <= 0 || p.scale === 0 || p.reveal <= 0 || p.grow <= 0) return undefined
    const placed = this.placed(part, i, box, p)
    if (placed.length === 0) return undefined
    const matrix = this.movement(part, new Set())
    const layer: LayerItem = { kind: 'layer', matrix, opacity, items: placed }
    const track = part.motion.tracks.reveal
    if (track && p.reveal < 1) {
      const area = grown(unite(box, boundsOf(placed))!, 2)
      Object.assign(layer, revealOf(track, p.reveal, area))
    }
    if (part.matte && !asMatte) this.addMatte(part.matte, layer)
    return layer
  }

  private addMatte(matte: NonNullable<Part['matte']>, layer: LayerItem): void {
    const other = findPart(this.template, matte.part)
    const mask = other && this.part(other, true)
    layer.matte = { items: mask ? [mask] : [], by: matte.by, invert: matte.invert }
  }

  /** The movement of a part in frame coordinates, carried by what it rides. */
  private movement(part: Part, riding: Set<PartId>): Matrix {
    const i = this.index.get(part.id)!
    const box = boxOf(this.rest, i)
    const p = this.poseOf(i)
    const { anchor } = part.motion
    const own = moved(p, box.x + anchor.x * box.width, box.y + anchor.y * box.height)
    const carrier = part.motion.ride && !riding.has(part.id) ? findPart(this.template, part.motion.ride) : undefined
    return carrier ? times(this.movement(carrier, riding.add(part.id)), own) : own
  }

  /** A part's own drawing, put where it rests with its own scale and rotation. */
  private placed(part: Part, i: number, box: Box, p: Pose): Item[] {
    const { scale, rotation } = fullLook(part.kind, part.look as never) as LookValues<'group'>
    const [width, height] = [this.rest.own[0][i]!, this.rest.own[1][i]!]
    if (part.kind === 'group') {
      const items = this.list(part.parts ?? [])
      if (items.length === 0 || (scale === 1 && rotation === 0)) return this.squeezed(items, part, box, p)
      const turned = times(turning(rotation), scaling(scale))
      const [cx, cy] = [box.x + width / 2, box.y + height / 2]
      const map = times(
        translation(box.x + box.width / 2, box.y + box.height / 2),
        times(turned, translation(-cx, -cy)),
      )
      return this.squeezed([{ kind: 'layer', matrix: map, opacity: 1, items }], part, box, p)
    }
    const items = this.drawn(part, i, width, height, p)
    if (items.length === 0) return []
    const map =
      rotation === 0
        ? times(translation(box.x, box.y), scaling(scale))
        : times(
            translation(box.x + box.width / 2, box.y + box.height / 2),
            times(turning(rotation), times(scaling(scale), translation(-width / 2, -height / 2))),
          )
    const placed: Item = { kind: 'layer', matrix: map, opacity: 1, items }
    return part.kind === 'box' || part.kind === 'ellipse' ? [placed] : this.squeezed([placed], part, box, p)
  }

  /** Grow for what cannot be redrawn at another size: squeezed along the axis. */
  private squeezed(items: Item[], part: Part, box: Box, p: Pose): Item[] {
    const track = part.motion.tracks.grow
    if (!track || p.grow === 1 || items.length === 0) return items
    const at = track.from === 'start' ? 0 : track.from === 'end' ? 1 : 0.5
    const map =
      track.axis === 'x'
        ? about(box.x + box.width * at, 0, scaling(p.grow, 1))
        : about(0, box.y + box.height * at, scaling(1, p.grow))
    return [{ kind: 'layer', matrix: map, opacity: 1, items }]
  }

  /** A part in its own coordinates: from 0, 0 to its own size. */
  private drawn(part: Exclude<Part, { kind: 'group' }>, i: number, width: number, height: number, p: Pose): Item[] {
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
    const fill = brushOver(look.fill as EllipsePart['look']['fill'] as never, b)
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
    const pixels = resample(picture, crop, Math.max(1, Math.round(at.width)), Math.max(1, Math.round(at.height)))
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

function moved(p: Pose, x: number, y: number): Matrix {
  const still = p.scale === 1 && p.turn === 0
  if (still) return p.dx === 0 && p.dy === 0 ? identity : translation(p.dx, p.dy)
  return times(translation(p.dx, p.dy), about(x, y, times(turning(p.turn), scaling(p.scale))))
}

function poseKey(p: Pose): string {
  return `${p.dx},${p.dy},${p.scale},${p.turn},${p.fade},${p.reveal},${p.grow}`
}
