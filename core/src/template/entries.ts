import { cached } from '../cache/index.ts'
import { type TieOrder, tieOrder } from './dependencies.ts'
import { fullStyle, type StyleValues } from './properties.ts'
import type { Field, Part, PartId, Template } from './types.ts'
import { type FieldValue, pageBreak } from './values.ts'
import { runsOf } from './walk.ts'

/** How a part goes through the entries of the lists in its texts. */
export type EntryWay = StyleValues<'group'>['entries']

/** A part that shows the entries of lists one after another, or all of them as they run through it. */
export interface EntryPart {
  /** Part index. */
  index: number
  part: Part
  /** In turn: one entry (or page) after another on the same place; else all in a strip that runs through. */
  way: 'turn' | 'pages' | 'roll' | 'crawl'
  /** Indices of the parts that it holds, itself first. */
  holds: readonly number[]
  /** The lists in its texts, by field id. */
  lists: ReadonlySet<string>
}

const ways: Record<string, EntryPart['way']> = {
  'in turn': 'turn',
  'in pages': 'pages',
  rolling: 'roll',
  crawling: 'crawl',
}

const known = new WeakMap<Template, readonly EntryPart[]>()

/** The parts of a template that go through lists; one inside another goes with the outer one. */
export function entryParts(template: Template): readonly EntryPart[] {
  return cached(known, template, () => {
    const order = tieOrder(template)
    const lists = new Set(template.fields.flatMap(({ id, type }) => (type === 'texts' ? [id] : [])))
    return order.parts.flatMap((part, index): EntryPart[] => {
      const way = wayOf(part)
      if (!way) return []
      for (let up = order.parent[index]!; up >= 0; up = order.parent[up]!) if (wayOf(order.parts[up]!)) return []
      const holds = [index, ...heldBy(order, index)]
      const own = holds.flatMap((i) =>
        runsOf(order.parts[i]!).flatMap(({ field }) => (field && lists.has(field) ? [field] : [])),
      )
      return [{ index, part, way, holds, lists: new Set(own) }]
    })
  })
}

function wayOf(part: Part): EntryPart['way'] | undefined {
  if (part.kind !== 'text' && part.kind !== 'group') return undefined
  return ways[part.style.entries ?? fullStyle(part.kind, {}).entries]
}

function heldBy({ children }: TieOrder, index: number): number[] {
  return children[index]!.flatMap((child) => [child, ...heldBy({ children } as TieOrder, child)])
}

/** Whether a title is as long as what a part goes through takes. */
export function takesItsTime(part: Part): boolean {
  const way = wayOf(part)
  if (!way || (part.kind !== 'text' && part.kind !== 'group')) return false
  const style = fullStyle(part.kind, part.style as never) as StyleValues<'group'>
  return way === 'roll' || way === 'crawl' ? style.runPace === 'at its speed' : style.entryTime !== 'its share of Hold'
}

/** Whether a part is one that goes through lists, or stands in one. */
export function inEntries(template: Template, id: PartId): EntryPart | undefined {
  const index = tieOrder(template).index.get(id)
  return index === undefined ? undefined : entryParts(template).find(({ holds }) => holds.includes(index))
}

/** How many entries a part has to show: as many as the longest of its lists. */
export function entryCount({ lists }: EntryPart, fields: ReadonlyMap<string, FieldValue>): number {
  return Math.max(0, ...[...lists].map((id) => (fields.get(id) as unknown[] | undefined)?.length ?? 0))
}

/** Lists that are gone through entry by entry, so that an empty one among others has its place. */
export function steppedLists(template: Template): ReadonlySet<string> {
  return new Set(entryParts(template).flatMap(({ lists }) => [...lists]))
}

/** A template in which one entry stands where it was drawn of what rolls, crawls or goes by pages: for hands that draw it. */
export function withoutRuns(template: Template): Template {
  const still = (part: Part): Part => {
    const way = wayOf(part)
    const parts = part.parts?.map(still)
    return {
      ...part,
      ...(parts ? { parts } : {}),
      ...(way && way !== 'turn' ? { style: { ...part.style, entries: 'in turn' } } : {}),
    } as Part
  }
  return { ...template, parts: template.parts.map(still) }
}

/** What one entry of a list says; nothing past its end, and nothing for a new page. */
export function entryOf(field: Field, value: FieldValue, at: number): string[] {
  const text = field.type === 'texts' && Array.isArray(value) ? value[at] : undefined
  return text === undefined || text === pageBreak ? [] : [String(text)]
}
