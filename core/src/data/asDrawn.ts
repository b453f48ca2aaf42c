import { cached, LastFew } from '../cache/index.ts'
import type { Box } from '../geometry/index.ts'
import { alike } from '../layout/index.ts'
import type { Layout, Scene } from '../scene/index.ts'
import type { Axis, Edge, Part, Template, Values } from '../template/index.ts'
import { type DrawnPart, drawnOverlap, drawnParts, overlapOf, touching } from './drawnBoxes.ts'
import type { Finding } from './finding.ts'

/**
 * The relations of a drawing, as the designer drew it, and what of them a filling breaks. The drawing itself says what is
 * meant: which parts stand apart, which one inside another, which in line, which evenly spaced.
 */
interface Relations {
  /** Pairs that lie over each other as drawn: `lower * 65536 + upper`. */
  meet: ReadonlySet<number>
  /** By part: the surfaces that it stands inside of, the tightest first. */
  inside: ReadonlyMap<number, readonly number[]>
  /** Parts that were drawn, by index. */
  drawn: ReadonlySet<number>
  /** Surfaces on which texts and pictures stand, with these. */
  holds: ReadonlyMap<number, readonly number[]>
  lines: readonly Line[]
  rows: readonly Evenly[]
}

interface Line {
  a: number
  b: number
  axis: 0 | 1
  edge: Edge
}
interface Evenly {
  parts: readonly [number, number, number]
  axis: 0 | 1
}

const pairOf = (a: number, b: number) => (a < b ? a * 65536 + b : b * 65536 + a)

/** How far (px) a box leads out of another, on the side where it leads furthest. */
function leadsOut(inner: Box, outer: Box): number {
  return Math.max(
    outer.x - inner.x,
    inner.x + inner.width - outer.x - outer.width,
    outer.y - inner.y,
    inner.y + inner.height - outer.y - outer.height,
  )
}

/** The side on which a box leads out of another furthest, in words. */
function sideWords(inner: Box, outer: Box, by: number): string {
  if (by === inner.x + inner.width - outer.x - outer.width) return 'on the right'
  if (by === outer.x - inner.x) return 'on the left'
  return by === outer.y - inner.y ? 'at the top' : 'at the bottom'
}

const areaOf = (box: Box) => box.width * box.height
/** A group is only drawn by itself where something runs through it. */
const isContent = ({ kind }: Part) => kind === 'text' || kind === 'picture' || kind === 'group'

/** The edges of an axis that stay where they are whatever the part's size: what can stand in line on purpose. */
function heldEdges(axis: Axis): Edge[] {
  if (axis.ties.length === 2 || (axis.size.kind === 'fixed' && axis.ties.length < 2)) return ['start', 'middle', 'end']
  return axis.ties.length === 1 ? [axis.ties[0]!.edge] : ['start']
}

/** Where an edge of a part rests along an axis; texts by the box they show, which is steady from name to name. */
function edgeAt({ rest }: Layout, i: number, axis: 0 | 1, edge: Edge): number {
  return rest.start[axis][i]! + rest.size[axis][i]! * (edge === 'start' ? 0 : edge === 'end' ? 1 : 0.5)
}

const read = new WeakMap<Scene, LastFew<string, Relations>>()
/** Combinations of options whose drawing is kept read. */
const keep = 64

const nothing: Values = {}

/** The choices of a filling alone: each of them is a drawing of its own. */
function choicesOf(template: Template, values: Values): Values {
  if (!template.fields.some(({ type }) => type === 'choice')) return nothing
  return Object.fromEntries(
    template.fields.flatMap(({ type, key }) =>
      type === 'choice' && values[key] !== undefined ? [[key, values[key]!]] : [],
    ),
  )
}

/** The filling that the designer drew, with the choices of a row: each of them is a drawing of its own. */
export const asDrawnOf = (scene: Scene, values: Values): Layout => scene.layout(choicesOf(scene.template, values))

function relationsOf(scene: Scene, values: Values): Relations {
  const known = cached(read, scene, () => new LastFew<string, Relations>(keep))
  const choices = choicesOf(scene.template, values)
  const key = choices === nothing ? '' : JSON.stringify(choices)
  return cached(known, key, () => readRelations(scene, scene.layout(choices)))
}

function readRelations(scene: Scene, layout: Layout): Relations {
  const parts = drawnParts(scene, layout)
  const meet = new Set<number>()
  const inside = new Map<number, number[]>()
  parts.forEach((upper, n) => {
    const around: DrawnPart[] = []
    for (const lower of parts.slice(0, n)) {
      if (drawnOverlap(lower, upper) <= touching) continue
      meet.add(pairOf(lower.index, upper.index))
      const isSurface = lower.part.kind !== 'text' && lower.part.kind !== 'curve'
      if (isSurface && leadsOut(upper.box(), lower.box()) <= alike) around.push(lower)
    }
    around.sort((a, b) => areaOf(a.box()) - areaOf(b.box()))
    if (around.length > 0)
      inside.set(
        upper.index,
        around.map(({ index }) => index),
      )
  })
  const holds = new Map<number, number[]>()
  for (const { part, index } of parts)
    if (isContent(part))
      for (const surface of inside.get(index) ?? []) holds.set(surface, [...(holds.get(surface) ?? []), index])
  return {
    meet,
    inside,
    holds,
    drawn: new Set(parts.map(({ index }) => index)),
    lines: readLines(layout, parts, inside),
    rows: readRows(layout, parts, meet),
  }
}

/** Pairs of neighbours of which an edge that holds stands in line with the other's. */
function readLines(layout: Layout, parts: readonly DrawnPart[], inside: Relations['inside']): Line[] {
  const lines: Line[] = []
  for (const [n, one] of parts.entries())
    for (const other of parts.slice(n + 1)) {
      const [a, b] = [one.index, other.index]
      // What stands inside another is told by that.
      if (inside.get(b)?.includes(a)) continue
      for (const axis of [0, 1] as const) {
        const across = (axis === 0 ? 1 : 0) as 0 | 1
        if (gapBetween(layout, a, b, across) > reachOf(layout, a, b, across)) continue
        const name = axis === 0 ? 'x' : 'y'
        const edge = heldEdges(one.part[name]).find(
          (own) =>
            heldEdges(other.part[name]).includes(own) &&
            Math.abs(edgeAt(layout, a, axis, own) - edgeAt(layout, b, axis, own)) <= alike,
        )
        if (edge) lines.push({ a, b, axis, edge })
      }
    }
  return lines
}

/** px between two parts along an axis; less than 0 where they overlap. */
function gapBetween(layout: Layout, a: number, b: number, axis: 0 | 1): number {
  const [startA, startB] = [edgeAt(layout, a, axis, 'start'), edgeAt(layout, b, axis, 'start')]
  return startA < startB ? startB - edgeAt(layout, a, axis, 'end') : startA - edgeAt(layout, b, axis, 'end')
}

/** px over which two parts are neighbours: the size of the larger. */
const reachOf = ({ rest }: Layout, a: number, b: number, axis: 0 | 1) =>
  Math.max(rest.size[axis][a]!, rest.size[axis][b]!)

/** Three parts of one kind that stand side by side, as far from the first to the second as from that to the third. */
function readRows(layout: Layout, parts: readonly DrawnPart[], meet: Relations['meet']): Evenly[] {
  const rows: Evenly[] = []
  for (const axis of [0, 1] as const) {
    const across = (axis === 0 ? 1 : 0) as 0 | 1
    const next = (i: DrawnPart) =>
      parts
        .filter(
          (other) =>
            other.part.kind === i.part.kind &&
            other !== i &&
            !meet.has(pairOf(i.index, other.index)) &&
            gapBetween(layout, i.index, other.index, across) < 0 &&
            edgeAt(layout, other.index, axis, 'start') >= edgeAt(layout, i.index, axis, 'end') - touching,
        )
        .sort((a, b) => edgeAt(layout, a.index, axis, 'start') - edgeAt(layout, b.index, axis, 'start'))[0]
    for (const a of parts) {
      const b = next(a)
      const c = b && next(b)
      if (!c) continue
      const [one, two] = [gapBetween(layout, a.index, b.index, axis), gapBetween(layout, b.index, c.index, axis)]
      if (one > touching && Math.abs(one - two) <= alike) rows.push({ parts: [a.index, b.index, c.index], axis })
    }
  }
  return rows
}

const px = (value: number) => `${Math.ceil(value)} px`
const edgeNames = [
  { start: 'on the left', middle: 'in the middle', end: 'on the right' },
  { start: 'at the top', middle: 'in the middle', end: 'at the bottom' },
]

/** What of the drawing's own relations no longer holds in a filling. */
export function checkAsDrawn(scene: Scene, layout: Layout, row: number): Finding[] {
  const relations = relationsOf(scene, layout.values)
  const parts = drawnParts(scene, layout)
  const byIndex: (DrawnPart | undefined)[] = new Array(layout.rest.order.parts.length)
  for (const one of parts) byIndex[one.index] = one
  const findings: Finding[] = []
  const add = (code: string, part: Part, message: string) =>
    findings.push({ row, part: part.id, level: 'look', code, message })
  checkInside(relations, parts, byIndex, add)
  checkApart(relations, parts, add)
  checkBare(relations, byIndex, layout, add)
  checkGrounds(relations, byIndex, layout, add)
  for (const { a, b, axis, edge } of relations.lines) {
    const [one, other] = [byIndex[a], byIndex[b]]
    if (!one || !other) continue
    const by = Math.abs(edgeAt(layout, a, axis, edge) - edgeAt(layout, b, axis, edge))
    if (by > touching)
      add(
        'line',
        other.part,
        `${other.part.name} no longer stands in line with ${one.part.name} ${edgeNames[axis]![edge]}, ${px(by)} off.`,
      )
  }
  for (const { parts: three, axis } of relations.rows) {
    const [a, b, c] = three.map((i) => byIndex[i])
    if (!a || !b || !c) continue
    const [one, two] = [gapBetween(layout, a.index, b.index, axis), gapBetween(layout, b.index, c.index, axis)]
    if (Math.abs(one - two) > touching)
      add(
        'spacing',
        b.part,
        `${a.part.name}, ${b.part.name} and ${c.part.name} are no longer evenly spaced: ${px(one)} and ${px(two)} apart.`,
      )
  }
  return findings
}

type Add = (code: string, part: Part, message: string) => void

/** A part that leaves the surface it was drawn inside of: the tightest one alone is told. */
function checkInside(
  { inside }: Relations,
  parts: readonly DrawnPart[],
  byIndex: readonly (DrawnPart | undefined)[],
  add: Add,
): void {
  for (const one of parts)
    for (const i of inside.get(one.index) ?? []) {
      const surface = byIndex[i]
      if (!surface || leadsOut(one.outer, surface.outer) <= touching) continue
      const by = leadsOut(one.box(), surface.box())
      if (by <= touching) continue
      const where = sideWords(one.box(), surface.box(), by)
      add('leaves', one.part, `${one.part.name} leaves ${surface.part.name}, ${px(by)} ${where}.`)
      break
    }
}

/** Two parts that lie over each other and were drawn apart. */
function checkApart({ meet, drawn, inside }: Relations, parts: readonly DrawnPart[], add: Add): void {
  const found: { lower: DrawnPart; upper: DrawnPart; by: number }[] = []
  for (let n = 1; n < parts.length; n++)
    for (let m = 0; m < n; m++) {
      const [lower, upper] = [parts[m]!, parts[n]!]
      // Most lie nowhere near each other.
      if (overlapOf(lower.outer, upper.outer) <= touching) continue
      const areContent = isContent(lower.part) && isContent(upper.part)
      // Of what was not drawn nobody knows where it was meant; two texts are never meant to meet.
      if (!areContent && !(drawn.has(lower.index) && drawn.has(upper.index))) continue
      if (meet.has(pairOf(lower.index, upper.index))) continue
      const by = drawnOverlap(lower, upper)
      if (by > touching) found.push({ lower, upper, by })
    }
  if (found.length === 0) return
  const overlaps = new Set(found.map(({ lower, upper }) => pairOf(lower.index, upper.index)))
  for (const { lower, upper, by } of found) {
    if (isContent(lower.part) && isContent(upper.part)) {
      add('collide', upper.part, `${upper.part.name} runs into ${lower.part.name}, as it does not as designed.`)
      continue
    }
    // What lies over a text's plate lies over all of it; it is told once.
    const around = (one: DrawnPart, other: DrawnPart) =>
      (inside.get(one.index) ?? []).some((i) => i !== other.index && overlaps.has(pairOf(i, other.index)))
    if (around(lower, upper) || around(upper, lower)) continue
    add('over', upper.part, `${upper.part.name} lies over ${lower.part.name}, by ${px(by)}.`)
  }
}

/** Opacity of a surface below which hardly anything of it is seen. */
const hardly = 0.1

/** How opaque a part is, the groups that hold it included. */
function opacityOf({ rest, content }: Layout, index: number): number {
  let opacity = 1
  for (let i = index; i >= 0; i = rest.order.parent[i]!) opacity *= content.styles[i]!.opacity
  return opacity
}

/** A text without the surface that it was drawn on, or on one of which hardly anything is left. */
function checkGrounds(
  { inside }: Relations,
  byIndex: readonly (DrawnPart | undefined)[],
  layout: Layout,
  add: Add,
): void {
  for (const [index, surfaces] of inside) {
    const own = byIndex[index]
    if (own?.part.kind !== 'text' || surfaces.length === 0) continue
    const stands = surfaces.some((i) => byIndex[i] !== undefined && opacityOf(layout, i) >= hardly)
    if (stands) continue
    const [first] = surfaces
    const { name } = layout.rest.order.parts[first!]!
    const left = byIndex[first!] && Math.round(opacityOf(layout, first!) * 100)
    const gone = left ? `of which ${left} % is left` : 'which is not there'
    add('ground', own.part, `${own.part.name} was drawn on ${name}, ${gone}.`)
  }
}

/** Texts that stand in one place as they are drawn. */
export function overlapsAsDrawn(scene: Scene, layout: Layout, row: number): Finding[] {
  const texts = drawnParts(scene, layout).filter(({ part }) => part.kind === 'text')
  return texts.flatMap((upper, n) =>
    texts.slice(0, n).flatMap((lower): Finding[] => {
      const by = drawnOverlap(lower, upper)
      if (by <= touching) return []
      const { name } = upper.part
      const message = `${name} and ${lower.part.name} stand in one place as they are drawn, over one another by ${px(by)}.`
      return [{ row, part: upper.part.id, level: 'look', code: 'double', message }]
    }),
  )
}

/** A surface of which everything that was read or seen on it is gone. */
function checkBare({ holds }: Relations, byIndex: readonly (DrawnPart | undefined)[], layout: Layout, add: Add): void {
  const bare: [number, readonly number[]][] = []
  for (const [i, held] of holds) if (byIndex[i] && held.every((one) => layout.rest.gone[one])) bare.push([i, held])
  if (bare.length === 0) return
  const isBare = new Set(bare.map(([i]) => i))
  for (const [i, held] of bare) {
    const { part } = byIndex[i]!
    // Of plates that lie one in the other the innermost is told.
    const hasInner = bare.some(([j, own]) => j !== i && isBare.has(j) && own.length === held.length && j > i)
    if (!hasInner) add('bare', part, `${part.name} stands empty.`)
  }
}
