import type { Box } from '../geometry/index.ts'
import { boundsOf, type Item, identity, type LayerItem, lengthFactor, type Matrix, multiply } from '../paint/index.ts'

/** Items without the layers that draw some parts; what those cut as mattes stays cut. */
export function without(items: readonly Item[], parts: ReadonlySet<string>): Item[] {
  return items.flatMap((item): Item[] => {
    if (item.kind !== 'layer') return [item]
    if (item.of !== undefined && parts.has(item.of)) return []
    return [{ ...item, items: without(item.items, parts) }]
  })
}

/** Of all items the layers that draw some parts, each where it stands. */
export function only(items: readonly Item[], parts: ReadonlySet<string>): Item[] {
  return items.flatMap((item): Item[] => {
    if (item.kind !== 'layer') return []
    if (item.of !== undefined && parts.has(item.of)) return [item]
    const inside = only(item.items, parts)
    return inside.length > 0 ? [{ ...item, items: inside }] : []
  })
}

/** What is drawn of a part, its shadows and its blur included; px of the frame. */
export const boundsOfPart = (items: readonly Item[], part: string): Box | undefined =>
  boundsOf(only(items, new Set([part])))

/** The layer that draws a part, with everything around it from the outermost in; the first, where several do. */
export function wayTo(items: readonly Item[], part: string): LayerItem[] | undefined {
  for (const item of items) {
    if (item.kind !== 'layer') continue
    if (item.of === part) return [item]
    const inside = wayTo(item.items, part)
    if (inside) return [item, ...inside]
  }
  return undefined
}

/** Standard deviation (px of the frame) of all the blur that lies on a part. */
export function blurOf(items: readonly Item[], part: string): number {
  let outer: Matrix = identity
  let sum = 0
  for (const layer of wayTo(items, part) ?? []) {
    sum += ((layer.blur ?? 0) * lengthFactor(outer)) ** 2
    outer = multiply(outer, layer.matrix)
  }
  return Math.sqrt(sum)
}

const solidBrush = '#000000'

/** Items as the whole of their ink, whatever its colour: of letters that are filled, without their outline. */
export function solid(items: readonly Item[]): Item[] {
  return items.map((item): Item => {
    if (item.kind === 'layer') return { ...item, opacity: 1, items: solid(item.items) }
    if (item.kind === 'picture') return item
    const { stroke, shadows: _, ...path } = item
    const isClear = typeof item.fill === 'string' && item.fill.length === 9 && item.fill.endsWith('00')
    if (item.fill && !(isClear && stroke)) return { ...path, fill: solidBrush }
    const { fill: __, ...line } = path
    return stroke ? { ...line, stroke: { ...stroke, brush: solidBrush } } : line
  })
}
