import type { Box } from '../geometry/index.ts'
import { boxOf, type Rest } from '../layout/index.ts'
import { type Pose, type PoseContext, pose, uncovered } from '../motion/index.ts'
import {
  aboutPoint,
  boundsOf,
  common,
  type DrawList,
  grown,
  type Item,
  identity,
  inverse,
  type LayerItem,
  type Matrix,
  mapBounds,
  multiply,
  rotationMatrix,
  scaling,
  translation,
  unite,
} from '../paint/index.ts'
import { findPart, type Part, type PartId, type Template } from '../template/index.ts'
import { inkOf, type PlacedGlyph } from '../text/index.ts'
import type { Drawings } from './drawings.ts'
import type { Entries, RunClock } from './entries.ts'
import { moved, placement } from './movement.ts'
import { type Content, colourOf, type EntryChoice, type PartStyle } from './resolve.ts'
import { revealOf } from './reveal.ts'
import { tinted } from './tint.ts'

/** What endless runs show at a moment, by part index; frame px. `key`: differs when that does. */
export interface RunsShown {
  key: string
  items: ReadonlyMap<number, readonly Item[]>
}

/** What a frame of a filling is made of. */
export interface PosedOf {
  template: Template
  content: Content
  chosen: EntryChoice
  drawings: Drawings
  rest: Rest
  contextOf: (index: number) => PoseContext
  /** Since the title began; what runs by the clock goes by it. */
  seconds: number
  /** What runs or comes in turn, and where its clock stands; absent: nothing does. */
  entries?: Entries
  clock?: RunClock
  /** What endless runs show that go by items of their own. */
  runs?: RunsShown | undefined
  /** How much of a part's opacity is left, 0..1; absent: all of it. */
  dim?: ((index: number) => number) | undefined
  /** Every part whole, where it stands: with nothing that clears, covers, cuts, wipes or blurs it, and without its shadows. */
  bare?: true
}

const lessens = ['opacity', 'fade', 'reveal', 'grow', 'trim', 'scale', 'letters'] as const

/** Something by which less than all of a part is seen: of itself or of a group that holds it; 0: nothing. */
export interface Lessening {
  part: Part
  by: (typeof lessens)[number]
  value: number
}

/** How some parts are drawn in place of as they are: as each of these frames has them, lowest first. By part index. */
export type DrawnAs = ReadonlyMap<number, readonly Posed[]>

/** One frame of a filling: every part's pose, from which its key and its draw list follow. */
export class Posed {
  private readonly poses: (Pose | undefined)[] = []
  private readonly index: Map<PartId, number>
  private readonly parts: Part[]

  private readonly template: Template
  private readonly content: Content
  private readonly drawings: Drawings
  private readonly rest: Rest
  private change: DrawnAs | undefined

  constructor(private readonly of: PosedOf) {
    this.template = of.template
    this.content = of.content
    this.drawings = of.drawings
    this.rest = of.rest
    this.index = of.rest.order.index
    this.parts = of.rest.order.parts
  }

  /** The same frame, in which some parts are drawn as other frames have them: texts that leave and come. */
  inChange(change: DrawnAs): this {
    this.change = change
    return this
  }

  /** Some parts of the frame, in the coordinates of their group. */
  itemsOf(parts: readonly Part[]): Item[] {
    return this.list(parts)
  }

  /** What distinguishes this frame from others of its filling: every number that time changes. */
  get key(): string {
    const { entries, clock, chosen, seconds, runs } = this.of
    let key = `${chosen.turn},`
    if (this.drawings.runs) key += this.drawings.clockKey(seconds)
    if (entries?.runsBeside(runs?.items)) key += `${clock!.frame},`
    if (runs) key += `${runs.key},`
    const others = new Set([...(this.change?.values() ?? [])].flat())
    for (const posed of others) key += `${posed === this ? 'own' : posed.key}~`
    for (const [i, drawn] of this.change ?? []) key += `${i}=${drawn.length},`
    this.parts.forEach((_, i) => {
      if (this.rest.gone[i]) return
      if (this.of.dim) key += `${this.of.dim(i)} `
      const p = this.poseOf(i)
      const { start, size } = this.rest
      key += `${i}:${start[0][i]},${start[1][i]},${size[0][i]},${size[1][i]};${poseKey(p)}|`
      for (const unit of p.segments ?? []) key += `${poseKey(unit)}|`
    })
    return key
  }

  /**
   * The same frame with every part whole, where it stands: nothing clears, cuts, wipes or blurs it, and it casts nothing. What
   * runs is as it is drawn.
   */
  get bare(): Posed {
    const { dim: _, ...of } = this.of
    return new Posed({ ...of, bare: true })
  }

  /** @param only parts to draw, by id, as they stand in their groups; absent: all */
  drawList(only?: ReadonlySet<PartId>): DrawList {
    const { parts, frame } = this.template
    return { width: frame.width, height: frame.height, items: this.list(only ? thinned(parts, only) : parts) }
  }

  private list(parts: readonly Part[]): Item[] {
    return parts.flatMap((part) => {
      if (this.styleOf(part).matteOnly) return []
      return this.layersOf(part)
    })
  }

  /** A part as it is drawn: once, or, while texts change, as the one that leaves and the one that comes. */
  private layersOf(part: Part, cutting?: readonly PartId[]): LayerItem[] {
    const drawn = this.change?.get(this.index.get(part.id)!) ?? [this]
    return drawn.flatMap((posed) => posed.part(part, cutting) ?? [])
  }

  private styleOf(part: Part): PartStyle {
    return this.content.styles[this.index.get(part.id)!]!
  }

  private poseOf(i: number): Pose {
    let p = this.poses[i]
    if (!p) {
      const box = boxOf(this.rest, i)
      p = pose(this.parts[i]!.motion, box, this.of.contextOf(i), this.drawings.segmentBoxes(i, box))
      if (this.of.bare) p = uncut(p)
      this.poses[i] = p
    }
    return p
  }

  /** One part as a layer in the coordinates of its group; undefined when there is nothing to see. */
  private part(part: Part, cutting: readonly PartId[] = []): LayerItem | undefined {
    const i = this.index.get(part.id)!
    if (this.rest.gone[i]) return undefined
    const style = this.styleOf(part)
    const box = boxOf(this.rest, i)
    const p = this.poseOf(i)
    const opacity = this.of.bare ? 1 : style.opacity * p.fade * (this.of.dim?.(i) ?? 1)
    if (opacity <= 0 || p.scale === 0 || p.reveal <= 0 || p.grow <= 0) return undefined
    let placed = this.placed(part, i, box, p)
    if (placed.length === 0) return undefined
    const { colour, reveal } = p.by
    if (colour && p.tint > 0) placed = tinted(placed, colourOf(this.template, colour.to), p.tint)
    const matrix = this.movement(part, new Set())
    const layer: LayerItem = { kind: 'layer', of: part.id, matrix, opacity, items: placed }
    if (this.of.bare) return withoutCasts(layer)
    if (style.blur + p.blur > 0) layer.blur = style.blur + p.blur
    if (style.blend !== 'normal') layer.blend = style.blend
    if (reveal && p.reveal < 1) {
      const area = grown(unite(box, boundsOf(placed))!, 2)
      Object.assign(layer, revealOf(reveal, p.reveal, area))
    }
    if (part.matte && !cutting.includes(part.id)) this.addMatte(part, part.matte, layer, [...cutting, part.id])
    return layer
  }

  /** Cuts a part's layer. `cutting`: the parts being cut on the way here, each of which is cut once. */
  private addMatte(part: Part, matte: NonNullable<Part['matte']>, layer: LayerItem, cutting: readonly PartId[]): void {
    const other = findPart(this.template, matte.part)
    const drawn = other ? this.layersOf(other, cutting) : []
    const items = drawn.flatMap((one) => this.among(part, other!, matte.shadows ? one : withoutCasts(one)) ?? [])
    layer.matte = { items, by: matte.by, invert: matte.invert }
  }

  /** A part's layer as it stands in the coordinates of another part's group: carried by its own groups. */
  private among(part: Part, other: Part, layer: LayerItem): LayerItem | undefined {
    const parent = (one: Part) => this.rest.order.parent[this.index.get(one.id)!]!
    if (parent(part) === parent(other)) return layer
    const [here, there] = [this.carried(parent(part)), this.carried(parent(other))]
    const back = inverse(here.matrix)
    if (!back || there.opacity <= 0) return undefined
    // What fades both fades what is cut already.
    const shared = this.carried(this.nearest(parent(part), parent(other))).opacity
    return {
      kind: 'layer',
      matrix: multiply(back, there.matrix),
      opacity: shared > 0 ? there.opacity / shared : 0,
      items: [layer],
    }
  }

  /** The innermost group that holds both; -1 for none. */
  private nearest(a: number, b: number): number {
    const above = new Set<number>()
    for (let i = a; i >= 0; i = this.rest.order.parent[i]!) above.add(i)
    let i = b
    while (i >= 0 && !above.has(i)) i = this.rest.order.parent[i]!
    return i
  }

  /** The movement of a part in frame coordinates, carried by what it rides. */
  private movement(part: Part, riding: Set<PartId>): Matrix {
    const i = this.index.get(part.id)!
    const box = boxOf(this.rest, i)
    const p = this.poseOf(i)
    const { anchor } = part.motion
    const own = moved(p, box.x + anchor.x * box.width, box.y + anchor.y * box.height)
    const carrier = part.motion.ride && !riding.has(part.id) ? findPart(this.template, part.motion.ride) : undefined
    return carrier ? multiply(this.movement(carrier, riding.add(part.id)), own) : own
  }

  /** A part's own drawing, put where it rests with its own scale and rotation. */
  private placed(part: Part, i: number, box: Box, p: Pose): Item[] {
    const { scale, rotation } = this.styleOf(part)
    const [width, height] = [this.rest.own[0][i]!, this.rest.own[1][i]!]
    if (part.kind === 'group') {
      const strip = this.of.entries?.strips.get(i)
      const run = this.of.runs?.items.get(i)
      const items = run ? [...run] : strip ? strip.items(this.of.clock!) : this.list(part.parts ?? [])
      const map = this.turnOf(part, i)
      if (items.length === 0 || !map) return this.squeezed(items, box, p)
      return this.squeezed([{ kind: 'layer', matrix: map, opacity: 1, items }], box, p)
    }
    const way = this.drawings.wayOf(part, this.rest)
    if (way) {
      const items = this.drawings.textAlong(part, i, way.way, p)
      return items.length > 0 ? this.squeezed([{ kind: 'layer', matrix: way.map, opacity: 1, items }], box, p) : []
    }
    const items = this.drawings.draw(part, i, width, height, p, this.of.seconds)
    if (items.length === 0) return []
    const placed: Item = { kind: 'layer', matrix: placement(this.rest, i, scale, rotation), opacity: 1, items }
    const isSurface = part.kind !== 'text' && part.kind !== 'picture'
    return isSurface ? [placed] : this.squeezed([placed], box, p)
  }

  /** What a group's own scale and rotation do to what it holds; undefined for nothing. */
  private turnOf(part: Part, i: number): Matrix | undefined {
    const { scale, rotation } = this.styleOf(part)
    if (scale === 1 && rotation === 0) return undefined
    const box = boxOf(this.rest, i)
    const [width, height] = [this.rest.own[0][i]!, this.rest.own[1][i]!]
    const turned = multiply(rotationMatrix(rotation), scaling(scale))
    const back = translation(-box.x - width / 2, -box.y - height / 2)
    return multiply(translation(box.x + box.width / 2, box.y + box.height / 2), multiply(turned, back))
  }

  /**
   * Where a part is: the box it rests in (frame px), the movement that takes it from there to where it is now, and its
   * opacity, those of the groups that hold it included; undefined when it is gone.
   */
  placeOf(id: PartId): { box: Box; matrix: Matrix; opacity: number } | undefined {
    const own = this.index.get(id)
    if (own === undefined || this.rest.gone[own]) return undefined
    return { box: boxOf(this.rest, own), ...this.carried(own) }
  }

  /**
   * From a text's block to the frame (px), as it stands now; undefined for what is no text. A text without words has its
   * place as well. What runs, along a path or as a crawl, stands elsewhere (`isWritable`).
   */
  textMap(id: PartId): Matrix | undefined {
    const i = this.index.get(id)!
    const part = this.parts[i]!
    const origin = this.drawings.textOrigin(i, this.rest.own[0][i]!, this.rest.own[1][i]!)
    if (!origin) return undefined
    const { scale, rotation } = this.styleOf(part)
    return multiply(this.carried(i).matrix, multiply(placement(this.rest, i, scale, rotation), origin))
  }

  /** How much of a part is seen (0: nothing, less than 1: a part of it), and whether movement leaves it elsewhere. */
  standingOf(id: PartId): { seen: number; moved: boolean } {
    const own = this.index.get(id)!
    let seen = 1
    for (let i = own; i >= 0; i = this.rest.order.parent[i]!) {
      const p = this.poseOf(i)
      if (p.fade <= 0 || p.scale === 0) seen = 0
      seen *= Math.min(1, Math.max(0, Math.min(p.reveal, p.grow, p.trim)))
    }
    const { matrix } = this.carried(own)
    return { seen, moved: matrix.some((value, i) => Math.abs(value - identity[i]!) > 1e-6) }
  }

  /** Thousandths of an em that movement adds between a text's characters. */
  trackingOf(id: PartId): number {
    return this.poseOf(this.index.get(id)!).track
  }

  /** Where the ink of a text's letters is, px of the frame; undefined where they don't stand as they are set. */
  letterBoxes(id: PartId): Box[] | undefined {
    const i = this.index.get(id)!
    const block = this.drawings.blockOf(i)
    const map = this.textMap(id)
    const p = this.poseOf(i)
    if (!block || !map || !this.isAsSet(i, p)) return undefined
    const clusters = new Map<number, PlacedGlyph[]>()
    for (const glyph of block.glyphs) {
      const known = clusters.get(glyph.start)
      if (known) known.push(glyph)
      else clusters.set(glyph.start, [glyph])
    }
    return [...clusters.values()].flatMap((glyphs) => {
      const ink = inkOf(glyphs)
      return ink.width > 0 ? [mapBounds(map, ink)] : []
    })
  }

  /** Whether a text's letters stand where they were set: in its box, and none by itself. */
  private isAsSet(i: number, p: Pose): boolean {
    const style = this.content.styles[i]!
    if (style.kind !== 'text' || style.along || style.crawl !== 0) return false
    if (p.track !== 0 || p.count < 1 || p.by.grow || Object.keys(p.axes).length > 0) return false
    return (p.segments ?? []).every(({ dx, dy, scale, turn }) => dx === 0 && dy === 0 && scale === 1 && turn === 0)
  }

  /** What lessens how much is seen of a part: its own style and pose, and those of the groups that hold it. */
  lessenings(id: PartId): Lessening[] {
    const found: Lessening[] = []
    for (let i = this.index.get(id)!; i >= 0; i = this.rest.order.parent[i]!) {
      const part = this.parts[i]!
      const p = this.poseOf(i)
      const letters = p.segments?.length ? Math.max(...p.segments.map(({ fade, scale }) => fade * scale)) : 1
      const all = { opacity: this.styleOf(part).opacity, ...p, letters }
      for (const by of lessens) if (all[by] < 1) found.push({ part, by, value: all[by] })
    }
    return found
  }

  /**
   * The box (frame px) in which a part is seen as it moves, without what its growth, its wipe or the part that cuts it
   * leave out; undefined where nothing of it is seen. Wipes of the groups around it are left out of account.
   */
  seenBox(id: PartId, cutting: readonly PartId[] = []): Box | undefined {
    const place = this.placeOf(id)
    if (!place || place.opacity <= 0) return undefined
    const i = this.index.get(id)!
    const box = mapBounds(place.matrix, uncovered(place.box, this.poseOf(i)))
    const { matte } = this.parts[i]!
    const mask = matte && !matte.invert && !cutting.includes(id) ? this.seenBox(matte.part, [...cutting, id]) : box
    const seen = mask && common(box, mask)
    return seen && seen.width > 0 && seen.height > 0 ? seen : undefined
  }

  /** What a part and the groups around it do to what stands in it: their movement and turns, and their opacity. */
  private carried(own: number): { matrix: Matrix; opacity: number } {
    let matrix = identity
    let opacity = 1
    for (let i = own; i >= 0; i = this.rest.order.parent[i]!) {
      const part = this.parts[i]!
      const map = part.kind === 'group' ? this.turnOf(part, i) : undefined
      const movement = this.movement(part, new Set())
      matrix = multiply(map ? multiply(movement, map) : movement, matrix)
      opacity *= this.styleOf(part).opacity * this.poseOf(i).fade
    }
    return { matrix, opacity }
  }

  /** Grow for what cannot be redrawn at another size: squeezed along the axis. */
  private squeezed(items: Item[], box: Box, p: Pose): Item[] {
    const track = p.by.grow
    if (!track || p.grow === 1 || items.length === 0) return items
    const at = track.from === 'start' ? 0 : track.from === 'end' ? 1 : 0.5
    const map =
      track.axis === 'x'
        ? aboutPoint(box.x + box.width * at, 0, scaling(p.grow, 1))
        : aboutPoint(0, box.y + box.height * at, scaling(1, p.grow))
    return [{ kind: 'layer', matrix: map, opacity: 1, items }]
  }
}

/** A pose in which all there is of a part is to be seen, where it stands. */
function uncut(p: Pose): Pose {
  const segments = p.segments?.map((unit) => ({ ...unit, fade: 1, blur: 0 }))
  return { ...p, fade: 1, reveal: 1, grow: 1, trim: 1, blur: 0, tint: 0, ...(segments ? { segments } : {}) }
}

/** A layer as the bare shapes in it: fills and strokes, without shadows, glows and blur. */
function withoutCasts({ blur: _, ...layer }: LayerItem): LayerItem {
  const items = layer.items.flatMap((item): Item[] => {
    if (item.kind === 'layer') return [withoutCasts(item)]
    if (item.kind === 'picture') return [item]
    const { shadows, castsOnly, ...shape } = item
    return castsOnly ? [] : [shape]
  })
  return { ...layer, items }
}

/** Parts with only some left in them, and the groups that hold those. */
function thinned(parts: readonly Part[], only: ReadonlySet<PartId>): Part[] {
  return parts.flatMap((part): Part[] => {
    if (only.has(part.id)) return [part]
    const inside = part.kind === 'group' ? thinned(part.parts ?? [], only) : []
    return inside.length > 0 ? [{ ...part, parts: inside } as Part] : []
  })
}

function poseKey(p: Pose): string {
  const { reveal, grow, colour, trim } = p.by
  const leaving =
    reveal?.leaving || grow?.leaving || colour?.leaving || trim?.leaving
      ? JSON.stringify([reveal?.from, reveal?.slant, reveal?.soft, grow?.axis, grow?.from, colour?.to, trim?.from])
      : ''
  return `${p.dx},${p.dy},${p.scale},${p.turn},${p.fade},${p.reveal},${p.grow},${p.blur},${p.tint},${p.track},${Object.entries(p.axes)},${p.trim},${p.travel},${p.count},${p.settle < 1 ? p.settle : ''}${p.at ?? ''}${leaving}`
}
