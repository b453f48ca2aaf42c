import { type Bytes, bytesOf, hexOf } from '../colour/index.ts'
import type { Brush, Item } from '../paint/index.ts'

/** A colour a share of the way to another, byte by byte in sRGB; opacity goes along. */
export function mixed(from: string, to: string, share: number): string {
  const [start, end] = [bytesOf(from), bytesOf(to)]
  const [r, g, b, a] = start.map((byte, i) => byte + (end[i]! - byte) * share) as Bytes
  return hexOf(r, g, b, from.length === 9 || to.length === 9 ? a : undefined)
}

function mixedBrush(brush: Brush, to: string, share: number): Brush {
  if (typeof brush === 'string') return mixed(brush, to, share)
  return { ...brush, stops: brush.stops.map(([at, colour]): [number, string] => [at, mixed(colour, to, share)]) }
}

/** Items with the colours of their paths turned a share of the way to another; pictures keep theirs. */
export function tinted(items: readonly Item[], to: string, share: number): Item[] {
  return items.map((item): Item => {
    if (item.kind === 'layer') return { ...item, items: tinted(item.items, to, share) }
    if (item.kind === 'picture') return item
    return {
      ...item,
      ...(item.fill ? { fill: mixedBrush(item.fill, to, share) } : {}),
      ...(item.stroke ? { stroke: { ...item.stroke, brush: mixedBrush(item.stroke.brush, to, share) } } : {}),
    }
  })
}
