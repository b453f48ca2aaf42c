import type { Brush, Item } from '../paint/index.ts'

const channel = (colour: string, at: number) => Number.parseInt(colour.slice(at, at + 2) || 'ff', 16)

/** A colour a share of the way to another, byte by byte in sRGB; opacity goes along. */
export function mixed(from: string, to: string, share: number): string {
  let result = '#'
  for (const at of from.length === 9 || to.length === 9 ? [1, 3, 5, 7] : [1, 3, 5]) {
    const value = Math.round(channel(from, at) + (channel(to, at) - channel(from, at)) * share)
    result += value.toString(16).padStart(2, '0')
  }
  return result
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
