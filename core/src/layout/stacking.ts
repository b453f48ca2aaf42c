import { allParts, type Change, type Part, type PartId, placeOf, type Template } from '../template/index.ts'
import { boxOf, type Rest } from './rest.ts'

/** Where chosen parts go among those beside them, which are painted in order, the first lowest. */
export type Stacking = 'forward' | 'backward' | 'front' | 'back'

/** The lists of parts that some parts stand in, each with the group that it is of. */
function listsOf(template: Template, ids: ReadonlySet<PartId>): { list: readonly Part[]; group: Part | undefined }[] {
  const groups = allParts(template.parts).filter(({ parts }) => parts)
  return [{ list: template.parts, group: undefined }, ...groups.map((group) => ({ list: group.parts!, group }))].filter(
    ({ list }) => list.some(({ id }) => ids.has(id)),
  )
}

/** A list with its chosen parts further on; what is chosen keeps its order. */
function restacked(list: readonly PartId[], chosen: ReadonlySet<PartId>, how: Stacking): PartId[] {
  const [own, others] = [list.filter((id) => chosen.has(id)), list.filter((id) => !chosen.has(id))]
  if (how === 'front') return [...others, ...own]
  if (how === 'back') return [...own, ...others]
  const next = [...list]
  const swap = (i: number, j: number) => {
    const [a, b] = [next[i]!, next[j]!]
    next[i] = b
    next[j] = a
  }
  if (how === 'forward') {
    for (let i = next.length - 2; i >= 0; i--) if (chosen.has(next[i]!) && !chosen.has(next[i + 1]!)) swap(i, i + 1)
  } else for (let i = 1; i < next.length; i++) if (chosen.has(next[i]!) && !chosen.has(next[i - 1]!)) swap(i, i - 1)
  return next
}

/** What brings a list into an order: each part that is not in its place is put there, from the lowest on. */
function orderChanges(list: readonly PartId[], order: readonly PartId[], group: Part | undefined): Change[] {
  const now = [...list]
  return order.flatMap((id, index): Change[] => {
    if (now[index] === id) return []
    now.splice(now.indexOf(id), 1)
    now.splice(index, 0, id)
    return [{ kind: 'reorder', part: id, index, ...(group ? { into: group.id } : {}) }]
  })
}

/** Moves parts among those beside them, each within its group; undefined where all stand there already. */
export function stack(template: Template, ids: readonly PartId[], how: Stacking): Change | undefined {
  const chosen = new Set(ids)
  const changes = listsOf(template, chosen).flatMap(({ list, group }) => {
    const own = list.map(({ id }) => id)
    return orderChanges(own, restacked(own, chosen, how), group)
  })
  return changes.length > 0 ? { kind: 'several', changes } : undefined
}

/** Puts a part just below another one, within its group; undefined: they stand in no list together, or it lies there already. */
export function putBelow(template: Template, id: PartId, other: PartId): Change | undefined {
  const place = placeOf(template.parts as Part[], id)
  const below = place && placeBelow(place.list, [other])
  if (!place || below === undefined || below >= place.index) return undefined
  const group = allParts(template.parts).find(({ parts }) => parts === place.list)
  return { kind: 'reorder', part: id, index: below, ...(group ? { into: group.id } : {}) }
}

/** Share of a text or picture that lies in a part for it to be drawn around it. */
const within = 0.8

/** Texts and pictures that a part is drawn around, wherever they stand among the layers. */
export function drawnAround(
  rest: Rest,
  area: { x: number; y: number; width: number; height: number },
  but?: PartId,
): PartId[] {
  return rest.order.parts.flatMap((part, i) => {
    if (part.id === but || rest.gone[i] || (part.kind !== 'text' && part.kind !== 'picture')) return []
    const box = boxOf(rest, i)
    const [width, height] = [
      Math.min(area.x + area.width, box.x + box.width) - Math.max(area.x, box.x),
      Math.min(area.y + area.height, box.y + box.height) - Math.max(area.y, box.y),
    ]
    const share = (Math.max(0, width) * Math.max(0, height)) / Math.max(1e-6, box.width * box.height)
    return share >= within ? [part.id] : []
  })
}

/** The place in a list just below all of some parts, themselves or what holds them; undefined: none is in it. */
export function placeBelow(list: readonly Part[], ids: readonly PartId[]): number | undefined {
  const wanted = new Set(ids)
  const at = list.findIndex((one) => allParts([one]).some(({ id }) => wanted.has(id)))
  return at < 0 ? undefined : at
}

/**
 * Puts parts behind the texts and pictures that each is drawn around; undefined where none lies over what it is around.
 * @returns the change, and what each part goes behind
 */
export function behindContent(
  template: Template,
  rest: Rest,
  ids: readonly PartId[],
): { change: Change; behind: ReadonlyMap<PartId, PartId[]> } | undefined {
  const changes: Change[] = []
  const behind = new Map<PartId, PartId[]>()
  // The uppermost first: what lay below it goes below it again.
  const fromAbove = [...ids].sort((a, b) => (rest.order.index.get(b) ?? 0) - (rest.order.index.get(a) ?? 0))
  for (const id of fromAbove) {
    const index = rest.order.index.get(id)
    const place = placeOf(template.parts as Part[], id)
    if (index === undefined || !place || place.list[place.index]!.kind === 'text') continue
    const inner = drawnAround(rest, boxOf(rest, index), id)
    const lower = inner.filter((one) => rest.order.index.get(one)! < index)
    const [lowest] = [...lower].sort((a, b) => rest.order.index.get(a)! - rest.order.index.get(b)!)
    const change = lowest === undefined ? undefined : putBelow(template, id, lowest)
    if (!change) continue
    changes.push(change)
    behind.set(id, lower)
  }
  return changes.length > 0 ? { change: { kind: 'several', changes }, behind } : undefined
}
