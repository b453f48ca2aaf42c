import type { Box } from '@hoja/core/geometry'

// Where numbers and dimension lines stand: out of each other's way and the title's. Screen px, the frame's corner at 0, 0.

/** Diameter of a part's number. */
export const diameter = 17
/** From a line to the next beside it. */
const pitch = 16
/** How many lines stand beside each other at most. */
const rows = 24

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

/** px of a cell of the ground. */
const cell = 48

/** Boxes that are not to be covered, found by where they lie: there may be hundreds. */
class Ground {
  private readonly cells = new Map<number, number[]>()
  private readonly boxes: Shy[] = []
  /** By box: the last question that met it, as it may lie in several cells. */
  private readonly met: number[] = []
  private asked = 0

  constructor(private readonly bounds: Box) {}

  add(one: Shy): void {
    const { box } = one
    for (let row = cellAt(box.y); row <= cellAt(box.y + box.height); row++)
      for (let column = cellAt(box.x); column <= cellAt(box.x + box.width); column++) {
        const at = row * 4096 + column
        const there = this.cells.get(at)
        if (there) there.push(this.boxes.length)
        else this.cells.set(at, [this.boxes.length])
      }
    this.boxes.push(one)
    this.met.push(0)
  }

  /**
   * What it costs to stand somewhere: what is covered, and what of it is out of sight; px².
   * @param least what something costs that is covered but a little
   */
  cost(box: Box, least = 150): number {
    let sum = (box.width * box.height - shared(box, this.bounds)) * 40
    this.asked++
    const [bottom, right] = [cellAt(box.y + box.height), cellAt(box.x + box.width)]
    for (let row = cellAt(box.y); row <= bottom; row++)
      for (let column = cellAt(box.x); column <= right; column++) {
        const there = this.cells.get(row * 4096 + column)
        if (!there) continue
        for (const i of there) {
          if (this.met[i] === this.asked) continue
          this.met[i] = this.asked
          const { box: other, weight } = this.boxes[i]!
          const covered = shared(box, other)
          if (covered > 0) sum += (covered + least) * weight
        }
      }
    return sum
  }
}

const cellAt = (at: number) => Math.floor(at / cell)

/** How much a label matters that stands already. */
const label = 20

/** What a place costs by itself, the cheaper the more it is wanted. */
interface Spot {
  own: number
}

/** The cheapest of places that come in the order of what they cost by themselves. */
function cheapest<T extends Spot>(all: Iterable<T>, cost: (one: T) => number): T {
  let best: T | undefined
  let least = Number.POSITIVE_INFINITY
  for (const one of all) {
    if (one.own >= least) break
    const sum = one.own + cost(one)
    if (sum < least) [best, least] = [one, sum]
  }
  return best!
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
  const ground = new Ground(bounds)
  for (const one of shy) ground.add(one)
  return dimensions.map((one) => {
    const [start, size] = one.upright ? [box.x, box.width] : [box.y, box.height]
    const spots = Array.from({ length: rows }, (_, row) => (row + 1) * pitch)
      .flatMap((out) =>
        (['before', 'after'] as const).flatMap((side) =>
          [one.leading, !one.leading].map((leading) => {
            const across = side === 'before' ? start - out : start + size + out
            const own = out / 2 + (side === one.side ? 0 : 12) + (leading === one.leading ? 0 : 6)
            return { own, across, leading, value: valueBox({ ...one, leading }, across, side) }
          }),
        ),
      )
      .sort((a, b) => a.own - b.own)
    const chosen = cheapest(spots, (spot) => {
      const line: Box = one.upright
        ? { x: spot.across, y: Math.min(one.from, one.to), width: 1, height: Math.abs(one.to - one.from) }
        : { x: Math.min(one.from, one.to), y: spot.across, width: Math.abs(one.to - one.from), height: 1 }
      return ground.cost(spot.value) + ground.cost(line, 0)
    })
    ground.add({ box: around(chosen.value, 1), weight: label })
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

/** The outlines of boxes that meet each other, one way or another. */
function heapsOf(all: readonly Box[]): Box[] {
  let heaps: Box[] = []
  for (const box of all) {
    let own = box
    // What it meets joins it, and then what that meets.
    for (let before = -1; before !== heaps.length; ) {
      before = heaps.length
      const reach = around(own, 1)
      const joined = heaps.filter((heap) => shared(reach, heap) > 0)
      heaps = heaps.filter((heap) => !joined.includes(heap))
      for (const heap of joined) {
        const [x, y] = [Math.min(own.x, heap.x), Math.min(own.y, heap.y)]
        own = {
          x,
          y,
          width: Math.max(own.x + own.width, heap.x + heap.width) - x,
          height: Math.max(own.y + own.height, heap.y + heap.height) - y,
        }
      }
    }
    heaps.push(own)
  }
  return heaps
}

const beside = ([x, y]: [number, number], i: number): NumberSpot => ({ x, y, own: i * 0.4, lead: undefined })

interface NumberSpot extends Spot {
  x: number
  y: number
  lead: PlacedNumber['lead']
}

/** With more parts than these, numbers stand at the nearest of few places: nobody reads so many at once. */
const many = 60

/** The places for a part's number: beside it, then apart from all that lies there together, as far as they are asked for. */
function* spotsOf(box: Box, atEnd: boolean, heaps: () => readonly Box[]): Generator<NumberSpot> {
  yield* spotsAround(box, atEnd).map(beside)
  const heap = heaps().find((one) => shared(around(box, 1), one) > 0) ?? box
  yield* Array.from({ length: 72 }, (_, i): NumberSpot => {
    const x = box.x + (i % 12) * (diameter + 2)
    const out = 8 + Math.floor(i / 24) * (diameter + 3)
    const y = i % 24 < 12 ? heap.y - diameter - out : heap.y + heap.height + out
    const lead = {
      x: Math.min(box.x + box.width, Math.max(box.x, x + diameter / 2)),
      y: y > box.y ? box.y + box.height : box.y,
    }
    return { x, y, own: 40 + Math.hypot(lead.x - x, box.y - y) * 0.4, lead }
  }).sort((a, b) => a.own - b.own)
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
  const ground = new Ground(bounds)
  for (const one of shy) ground.add(one)
  for (const box of values) ground.add({ box: around(box, 1), weight: label })
  let known: Box[] | undefined
  const heaps = () => {
    known ??= heapsOf(parts.map((part) => part.box))
    return known
  }
  const size = { width: diameter, height: diameter }
  const isMany = parts.length > many
  return parts.map(({ id, box, atEnd }) => {
    const spots = isMany ? spotsAround(box, atEnd).slice(0, 4).map(beside) : spotsOf(box, atEnd, heaps)
    const spot = cheapest(spots, (one) => ground.cost({ ...one, ...size }))
    ground.add({ box: around({ x: spot.x, y: spot.y, ...size }, 1), weight: label })
    return { id, x: spot.x, y: spot.y, lead: spot.lead }
  })
}
