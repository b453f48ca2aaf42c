import type { Box } from '@hoja/core/geometry'

// Where numbers and dimension lines stand: out of each other's way and the title's. Screen px, the frame's corner at 0, 0.

/** Diameter of a part's number. */
export const diameter = 17
/** From a line to the next beside it. */
const pitch = 16
/** How many lines stand beside each other at most. */
const rows = 9

/** What is not to be covered, and how much it matters. */
export interface Shy {
  box: Box
  /** 1: words and pictures. Less: what lies behind them. */
  weight: number
}

const shared = (a: Box, b: Box): number =>
  Math.max(0, Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x)) *
  Math.max(0, Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y))

const around = (box: Box, by: number): Box => ({
  x: box.x - by,
  y: box.y - by,
  width: box.width + 2 * by,
  height: box.height + 2 * by,
})

/** Something small that is covered is covered too. */
const touched = (area: number) => (area > 0 ? area + 150 : 0)

/** What it costs to stand somewhere: what is covered, and what of it is out of sight; px². */
function costOf(box: Box, taken: readonly Box[], shy: readonly Shy[], bounds: Box): number {
  const unseen = box.width * box.height - shared(box, bounds)
  const over = taken.reduce((sum, other) => sum + touched(shared(around(box, 1), other)), 0)
  return unseen * 40 + over * 20 + shy.reduce((sum, one) => sum + touched(shared(box, one.box)) * one.weight, 0)
}

function cheapest<T>(all: readonly T[], cost: (one: T) => number): T {
  let [best, least] = [all[0] as T, Number.POSITIVE_INFINITY]
  for (const one of all) {
    const own = cost(one)
    if (own < least) [best, least] = [one, own]
  }
  return best
}

/** A distance that is shown beside a part: along x, or along y where it is upright. */
export interface Dimension {
  id: string
  upright: boolean
  from: number
  to: number
  label: string
  /** The side of the part on which it stands if nothing is in its way. */
  side: 'before' | 'after'
  /** Where its value is not as long as it: the end at which the value stands. */
  leading: boolean
}

export interface PlacedDimension extends Dimension {
  /** Where the line stands across: y of one that lies, x of one that is upright. */
  across: number
  /** Its value's box. */
  value: Box
}

/** A value's box: 11 px letters in 16 px of height. */
function valueBox({ upright, from, to, label, leading }: Dimension, across: number, side: 'before' | 'after'): Box {
  const width = Math.ceil(label.length * 6.6) + 8
  const [start, end] = [Math.min(from, to), Math.max(from, to)]
  const middle = (start + end) / 2
  if (upright) return { x: side === 'after' ? across + 6 : across - 6 - width, y: middle - 8, width, height: 16 }
  if (end - start >= width + 6) return { x: middle - width / 2, y: across - 8, width, height: 16 }
  return { x: leading ? start - 6 - width : end + 6, y: across - 8, width, height: 16 }
}

/**
 * Places the dimension lines of a part. Each stands on its own side, as near as it can without covering words, pictures
 * or other values, further out or on the other side where that covers less.
 */
export function placeDimensions(
  dimensions: readonly Dimension[],
  box: Box,
  shy: readonly Shy[],
  bounds: Box,
): PlacedDimension[] {
  const taken: Box[] = []
  return dimensions.map((one) => {
    const [start, size] = one.upright ? [box.x, box.width] : [box.y, box.height]
    const spots = Array.from({ length: rows }, (_, row) => (row + 1) * pitch).flatMap((out) =>
      (['before', 'after'] as const).flatMap((side) =>
        [one.leading, !one.leading].map((leading) => {
          const across = side === 'before' ? start - out : start + size + out
          return { side, out, across, leading, value: valueBox({ ...one, leading }, across, side) }
        }),
      ),
    )
    const chosen = cheapest(spots, (spot) => {
      const line: Box = one.upright
        ? { x: spot.across, y: Math.min(one.from, one.to), width: 1, height: Math.abs(one.to - one.from) }
        : { x: Math.min(one.from, one.to), y: spot.across, width: Math.abs(one.to - one.from), height: 1 }
      return (
        costOf(spot.value, taken, shy, bounds) +
        costOf(line, taken, shy, bounds) +
        spot.out / 2 +
        (spot.side === one.side ? 0 : 12) +
        (spot.leading === one.leading ? 0 : 6)
      )
    })
    taken.push(chosen.value)
    return { ...one, leading: chosen.leading, across: chosen.across, value: chosen.value }
  })
}

/** A part that wants its number shown. */
export interface Numbered {
  id: string
  box: Box
  /** Its number would rather stand at its end: words are read from their beginning. */
  atEnd: boolean
}

export interface PlacedNumber {
  id: string
  /** Upper left corner. */
  x: number
  y: number
  /** Where its part is, when it stands apart from it. */
  lead: { x: number; y: number } | undefined
}

/** The places around a box, and over it, in the order in which they are wanted. */
function spotsAround({ x, y, width, height }: Box, atEnd: boolean): [x: number, y: number][] {
  const d = diameter
  const [right, bottom] = [x + width, y + height]
  const steps = (from: number, to: number) =>
    Array.from({ length: Math.min(12, Math.max(1, Math.floor((to - from) / (d + 2)))) }, (_, i) => from + i * (d + 2))
  const above = steps(x, right).map((at): [number, number] => [at, y - d - 2])
  const after: [number, number][] = [
    [right + 3, y + (height - d) / 2],
    [right + 3, y],
    [right + 3, bottom - d],
  ]
  const rest: [number, number][] = [
    [x - d - 3, y + (height - d) / 2],
    [x - d - 3, y],
    [x - d - 3, bottom - d],
    ...steps(x, right).map((at): [number, number] => [at, bottom + 2]),
    [x - d / 2, y - d / 2],
    [right - d / 2, y - d / 2],
    [x + 2, y + 2],
    [right - d - 2, y + 2],
    [right - d - 2, bottom - d - 2],
  ]
  return atEnd ? [...after, ...above, ...rest] : [...above, ...after, ...rest]
}

/** The outline of all boxes that meet one, and what meets those. */
function heapOf(box: Box, all: readonly Box[]): Box {
  let heap = box
  for (let grown = true; grown; ) {
    grown = false
    for (const other of all) {
      const x = Math.min(heap.x, other.x)
      const y = Math.min(heap.y, other.y)
      const width = Math.max(heap.x + heap.width, other.x + other.width) - x
      const height = Math.max(heap.y + heap.height, other.y + other.height) - y
      if (shared(around(heap, 1), other) > 0 && width * height > heap.width * heap.height + 0.01) {
        heap = { x, y, width, height }
        grown = true
      }
    }
  }
  return heap
}

/**
 * Places the parts' numbers: beside their parts, or, where that would cover words, pictures or another number, in a row
 * over all that lies there together, with a thin line to their part.
 */
export function placeNumbers(
  parts: readonly Numbered[],
  shy: readonly Shy[],
  values: readonly Box[],
  bounds: Box,
): PlacedNumber[] {
  const taken = [...values]
  const boxes = parts.map((part) => part.box)
  const size = { width: diameter, height: diameter }
  return parts.map(({ id, box, atEnd }) => {
    const heap = heapOf(box, boxes)
    const apart = Array.from({ length: 24 }, (_, i): [number, number] => [
      box.x + (i % 12) * (diameter + 2),
      i < 12 ? heap.y - diameter - 8 : heap.y + heap.height + 8,
    ])
    const spots = [
      ...spotsAround(box, atEnd).map(([x, y], i) => ({ x, y, own: i * 0.4, lead: undefined })),
      ...apart.map(([x, y]) => {
        const lead = { x: Math.min(box.x + box.width, Math.max(box.x, x + diameter / 2)), y: box.y }
        const far = Math.hypot(lead.x - x, lead.y - y)
        return { x, y, own: 40 + far * 0.4, lead: { ...lead, y: y > box.y ? box.y + box.height : box.y } }
      }),
    ]
    const spot = cheapest(spots, (one) => one.own + costOf({ ...one, ...size }, taken, shy, bounds))
    taken.push({ x: spot.x, y: spot.y, ...size })
    return { id, x: spot.x, y: spot.y, lead: spot.lead }
  })
}
