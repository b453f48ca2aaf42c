import { type Item, type PaintResources, type PathItem, paint, pixelRegion, translation } from '../paint/index.ts'
import { outlineOf } from '../scene/index.ts'
import { type Block, inkOf, type PlacedGlyph } from '../text/index.ts'

/** How much of a text's ink lies over other ink of its own, beyond what its font alone would do; shares of its ink. */
export interface Overlaps {
  /** Letters of a line over one another. */
  letters: number
  /** Lines over one another. */
  lines: number
}

const none: Overlaps = { letters: 0, lines: 0 }
/** Level that one layer of ink adds, and from which two are told. */
const once = 64
const twice = 96
/** px per em at which a text is looked at. */
const looked = 48

/**
 * Whether a text's letters and lines stand apart as they are set: its own ink, painted letter by letter, against the same
 * with its tracking taken back; its lines, painted one by one.
 * @param tracking thousandths of an em that movement adds to its own
 */
export function overlapsOf(block: Block, tracking: number, resources: PaintResources): Overlaps {
  const own = block.tracking + tracking
  const meet = linesMeet(block)
  if (own >= 0 && !meet) return none
  const scale = looked / Math.max(1, block.size)
  const lines = linesOf(block)
  const em = block.size / 1000
  let [letters, tight] = [0, 0]
  let ink = 0
  for (const line of lines) {
    const clusters = own < 0 ? clustersOf(line) : [line]
    // Most letters stand clear of their neighbours by their boxes alone.
    if (!meet && !clusters.some((glyphs, n) => n > 0 && boxesMeet(clusters[n - 1]!, glyphs))) continue
    const set = overlapped(
      clusters.map((glyphs) => letterItem(glyphs, 0)),
      scale,
      resources,
    )
    ink += set.ink
    if (own >= 0) continue
    const free = overlapped(
      clusters.map((glyphs, n) => letterItem(glyphs, -n * own * em)),
      scale,
      resources,
    )
    tight += Math.max(0, set.over - free.over)
  }
  if (own < 0) letters = tight / Math.max(1, ink)
  const over = meet
    ? overlapped(
        lines.map((line) => letterItem(line, 0)),
        scale,
        resources,
      ).over
    : 0
  return { letters, lines: over / Math.max(1, ink) }
}

const linesOf = ({ glyphs }: Block): PlacedGlyph[][] =>
  [...new Set(glyphs.map(({ line }) => line))].map((line) => glyphs.filter((glyph) => glyph.line === line))

/** Whether a text's letters or lines can lie over one another: its letters are set closer, or the ink of a line reaches into another. */
export const canMeet = (block: Block, tracking = 0): boolean => block.tracking + tracking < 0 || linesMeet(block)

function linesMeet(block: Block): boolean {
  if (block.lineCount < 2) return false
  const spans = linesOf(block).map((line) => {
    const { y, height } = inkOf(line)
    return [y, y + height] as const
  })
  return spans.some(([top, bottom], n) => spans.some(([other, end], m) => m > n && top < end && other < bottom))
}

/** Whether the boxes of two letters' ink lie over each other. */
function boxesMeet(left: readonly PlacedGlyph[], right: readonly PlacedGlyph[]): boolean {
  const [a, b] = [inkOf(left), inkOf(right)]
  return b.x < a.x + a.width && a.width > 0 && b.width > 0
}

/** What was shaped as one, from left to right. */
function clustersOf(line: readonly PlacedGlyph[]): PlacedGlyph[][] {
  const byStart = new Map<number, PlacedGlyph[]>()
  for (const glyph of line) byStart.set(glyph.start, [...(byStart.get(glyph.start) ?? []), glyph])
  return [...byStart.values()].sort((a, b) => a[0]!.x - b[0]!.x)
}

const fill = `#${once.toString(16).repeat(3)}`

function letterItem(glyphs: PlacedGlyph[], by: number): Item {
  const { d, bounds } = outlineOf(glyphs)
  const path: PathItem = { kind: 'path', d, bounds, fill }
  return { kind: 'layer', matrix: translation(by, 0), opacity: 1, items: d ? [path] : [] }
}

/** Pixels of ink, and of those that more than one item covers. */
function overlapped(items: Item[], scale: number, resources: PaintResources): { ink: number; over: number } {
  const boxes = items.flatMap((item) =>
    item.kind === 'layer'
      ? item.items.flatMap((path) =>
          path.kind === 'path' ? [{ ...path.bounds, x: path.bounds.x + item.matrix[4] }] : [],
        )
      : [],
  )
  if (boxes.length === 0) return { ink: 0, over: 0 }
  const x = Math.min(...boxes.map((box) => box.x))
  const y = Math.min(...boxes.map((box) => box.y))
  const right = Math.max(...boxes.map((box) => box.x + box.width))
  const bottom = Math.max(...boxes.map((box) => box.y + box.height))
  const [width, height] = [Math.ceil((right - x) * scale) + 2, Math.ceil((bottom - y) * scale) + 2]
  if (!pixelRegion({ x: 0, y: 0, width, height }, width, height)) return { ink: 0, over: 0 }
  const surface = resources.scratch(width, height)
  surface.context.globalCompositeOperation = 'lighter'
  paint({ width, height, items }, surface, resources, { x: x - 1 / scale, y: y - 1 / scale, scale })
  surface.context.globalCompositeOperation = 'source-over'
  const { data } = surface.context.getImageData(0, 0, width, height)
  resources.release(surface)
  let [ink, over] = [0, 0]
  for (let i = 0; i < data.length; i += 4) {
    if (data[i + 3]! >= 128) ink++
    if ((data[i]! * data[i + 3]!) / 255 >= twice) over++
  }
  return { ink, over }
}
