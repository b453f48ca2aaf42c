import { luminanceOf } from '../colour/index.ts'
import type { Box } from '../geometry/index.ts'
import {
  boundsOf,
  common,
  type DrawList,
  grown,
  type Item,
  type PaintResources,
  paint,
  pixelRegion,
  type Surface,
  unite,
} from '../paint/index.ts'
import { only, solid, without } from './layers.ts'

/** A part whose being seen is measured. */
export interface Wanted {
  id: string
  /** Where its letters stand, px of the frame; absent: it has none, or none that stand still. */
  letters?: readonly Box[]
  /** It runs through a window: what of it is out of that, or of the frame, is to come or has been. */
  runs?: true
}

/** How a letter, or a part without letters, is seen. */
export interface SeenInk {
  /** Share of its ink that changes the picture over black, white or mid grey, 0..1; what is out of the frame does not. */
  shows: number
  /** WCAG 2.2 contrast of its ink to what is around it, over the ground on which that is best; 1..21. */
  contrast: number
}

/** How a part is seen. */
export interface SeenPart extends SeenInk {
  /** Its own ink, px of the frame; 0: there is none. */
  ink: number
  /** Share of its own ink that lies within the frame. */
  within: number
  /** Letter by letter, in their order; none: the part has none. */
  letters: readonly SeenInk[]
}

/** What a picture is looked at over. */
const grounds = [0, 128, 255] as const
/** Levels (of 255) from which a difference counts as one. */
const tells = 10
/** Own alpha from which a pixel is ink, and up to which it is none. */
const isInk = 128
const isNone = 16

/**
 * How parts are seen in a picture: of each how much of its own ink changes it, and how that stands out.
 * @param drawn what the painter is given, with its layers said by part
 * @param bare the same with every part whole
 * @param scale pixels looked at per px of the frame
 * @param ground what the picture is looked at over; absent: black, white and mid grey
 */
export function measureSeen(
  drawn: DrawList,
  bare: DrawList,
  wanted: readonly Wanted[],
  resources: PaintResources,
  scale = 1,
  ground: readonly Item[] = [],
): Map<string, SeenPart> {
  const seen = new Map<string, SeenPart>()
  const frame = { x: 0, y: 0, width: drawn.width, height: drawn.height }
  const looked: Looked[] = []
  for (const { id, letters, runs } of wanted) {
    const own = solid(only(bare.items, new Set([id])))
    const bounds = boundsOf(own)
    const inside = bounds && common(bounds, frame)
    if (!bounds || !inside || inside.width <= 0 || inside.height <= 0) {
      seen.set(id, { ink: bounds ? areaOf(bounds) : 0, within: 0, shows: 0, contrast: 1, letters: [] })
      continue
    }
    const reach = unite(inside, boundsOf(only(drawn.items, new Set([id]))))!
    looked.push({
      id,
      own,
      inside,
      reach,
      letters,
      within: runs ? 1 : Math.min(1, areaOf(inside) / Math.max(1e-6, areaOf(bounds))),
    })
  }
  const all = looked.reduce<Box | undefined>((sum, { inside }) => unite(sum, inside), undefined)
  if (!all) return seen
  const margin = 8 / scale
  const region = pixelRegion(
    scaledBox(grown(all, margin), scale),
    Math.ceil(frame.width * scale),
    Math.ceil(frame.height * scale),
  )
  if (!region) return seen
  const eye = new Eye(region, scale, drawn, resources)
  const ids = new Set(looked.map(({ id }) => id))
  // What lies below all of them is painted once.
  const first = drawn.items.findIndex((item) => only([item], ids).length > 0)
  const lower = [...ground, ...drawn.items.slice(0, Math.max(0, first))]
  const below = lower.length > 0 ? eye.paint(lower) : undefined
  const rest = drawn.items.slice(Math.max(0, first))
  const whole = eye.look(rest, below)
  for (const batch of apart(looked)) {
    const left = eye.look(without(rest, new Set(batch.map(({ id }) => id))), below)
    const mask = eye.look(batch.flatMap(({ own }) => own))
    for (const one of batch) seen.set(one.id, seenPart(one, { whole, left, mask, region, scale, frame }))
  }
  if (below) resources.release(below)
  return seen
}

interface Looked {
  id: string
  own: Item[]
  inside: Box
  /** What it may change, px of the frame. */
  reach: Box
  letters: readonly Box[] | undefined
  within: number
}

const areaOf = ({ width, height }: Box) => width * height
const scaledBox = ({ x, y, width, height }: Box, by: number): Box => ({
  x: x * by,
  y: y * by,
  width: width * by,
  height: height * by,
})

/** Parts that change nothing of one another are looked at in one go. */
function apart(looked: readonly Looked[]): Looked[][] {
  const batches: Looked[][] = []
  const meet = (a: Box, b: Box) => {
    const both = common(grown(a, 8), grown(b, 8))
    return both.width > 0 && both.height > 0
  }
  for (const one of looked) {
    const free = batches.find((batch) => batch.every((other) => !meet(other.reach, one.reach)))
    if (free) free.push(one)
    else batches.push([one])
  }
  return batches
}

/** A region of the frame, looked at pixel by pixel. */
class Eye {
  constructor(
    private readonly region: Box,
    private readonly scale: number,
    private readonly frame: Pick<DrawList, 'width' | 'height'>,
    private readonly resources: PaintResources,
  ) {}

  /** @param below what is there already; given back to the resources by whoever asked for it */
  paint(items: Item[], below?: Surface): Surface {
    const { x, y, width, height } = this.region
    const surface = this.resources.scratch(width, height)
    const { context } = surface
    if (below) context.drawImage(below.canvas as never, 0, 0, below.width, below.height)
    const { scale } = this
    paint({ ...this.frame, items }, surface, this.resources, { x: x / scale, y: y / scale, scale })
    return surface
  }

  look(items: Item[], below?: Surface): Uint8ClampedArray {
    const surface = this.paint(items, below)
    const { data } = surface.context.getImageData(0, 0, this.region.width, this.region.height)
    this.resources.release(surface)
    return data
  }
}

interface Pictures {
  /** The picture, the picture without the part, and the part's own ink; RGBA. */
  whole: Uint8ClampedArray
  left: Uint8ClampedArray
  mask: Uint8ClampedArray
  region: Box
  scale: number
  frame: Box
}

/** Whether more than half of a box lies out of the frame. */
function isOut(box: Box, frame: Box): boolean {
  const there = common(box, frame)
  return Math.max(0, there.width) * Math.max(0, there.height) < areaOf(box) / 2
}

/** Pixels that a letter takes at least for one to say that nothing of it was found. */
const leastArea = 4

function seenPart({ inside, letters, within }: Looked, pictures: Pictures): SeenPart {
  const { region, scale, frame } = pictures
  const pixels = ({ x, y, width, height }: Box, margin: number) => {
    const [left, top] = [x * scale - region.x, y * scale - region.y]
    return {
      x0: Math.max(0, Math.floor(left) - margin),
      y0: Math.max(0, Math.floor(top) - margin),
      x1: Math.min(region.width, Math.ceil(left + width * scale) + margin),
      y1: Math.min(region.height, Math.ceil(top + height * scale) + margin),
      margin,
    }
  }
  const marginOf = ({ height }: Box) => Math.max(2, Math.round(height * scale * around))
  if (!letters || letters.length === 0) {
    const { ink, shows, contrast } = inkIn(pictures, pixels(inside, 2))
    return { ink: ink / scale ** 2, within, shows: shows * within, contrast, letters: [] }
  }
  let [ink, showing] = [0, 0]
  const own = letters.flatMap((letter): SeenInk[] => {
    const found = inkIn(pictures, pixels(letter, marginOf(letter)))
    ink += found.ink
    showing += found.ink * found.shows
    if (found.ink > 0 && !isOut(letter, frame)) return [{ shows: found.shows, contrast: found.contrast }]
    return areaOf(letter) * scale ** 2 > leastArea ? [{ shows: 0, contrast: 1 }] : []
  })
  const part = { ink: ink / scale ** 2, within, shows: ink > 0 ? showing / ink : 0, contrast: 1, letters: own }
  return { ...part, contrast: ofWeakest(part, 'contrast') }
}

/** How far around a letter is looked at for what it stands out from, as a share of its height. */
const around = 0.12

interface Area {
  x0: number
  y0: number
  x1: number
  y1: number
  /** Pixels on every side in which there is none of what is measured. */
  margin: number
}

const sumInk = new Float64Array(4)
const sumNone = new Float64Array(4)

/** How the ink in an area shows and stands out. */
function inkIn({ whole, left, mask, region }: Pictures, { x0, y0, x1, y1, margin }: Area): SeenInk & { ink: number } {
  let [ink, shows, cores, none, cover] = [0, 0, 0, 0, 0]
  sumInk.fill(0)
  sumNone.fill(0)
  let most = 0
  for (let y = y0 + margin; y < y1 - margin; y++)
    for (let x = x0 + margin; x < x1 - margin; x++) most = Math.max(most, mask[(y * region.width + x) * 4 + 3]!)
  // Of thin letters no pixel is all ink: those that are most are taken, and what is behind them is taken out.
  const core = Math.max(24, Math.min(230, most * 0.9))
  const inked = Math.max(24, Math.min(isInk, most * 0.6))
  for (let y = y0; y < y1; y++)
    for (let x = x0; x < x1; x++) {
      const i = (y * region.width + x) * 4
      const alpha = mask[i + 3]!
      if (alpha < isNone) {
        none++
        for (let c = 0; c < 4; c++) sumNone[c]! += c === 3 ? whole[i + 3]! : whole[i + c]! * whole[i + 3]!
        continue
      }
      const isInside = x >= x0 + margin && x < x1 - margin && y >= y0 + margin && y < y1 - margin
      if (!isInside || alpha < inked) continue
      ink++
      if (differs(whole, left, i)) shows++
      if (alpha < core) continue
      cores++
      cover += alpha
      for (let c = 0; c < 4; c++) sumInk[c]! += c === 3 ? whole[i + 3]! : whole[i + c]! * whole[i + 3]!
    }
  if (ink === 0) return { ink, shows: 0, contrast: 1 }
  const contrast = cores === 0 || none === 0 ? 21 : bestContrast(sumInk, cores, sumNone, none, cover / cores / 255)
  return { ink, shows: shows / ink, contrast }
}

/** Whether two pictures differ at a pixel, over some ground. */
function differs(a: Uint8ClampedArray, b: Uint8ClampedArray, i: number): boolean {
  if (a[i + 3] === 255 && b[i + 3] === 255)
    return (
      Math.abs(a[i]! - b[i]!) >= tells ||
      Math.abs(a[i + 1]! - b[i + 1]!) >= tells ||
      Math.abs(a[i + 2]! - b[i + 2]!) >= tells
    )
  const [alphaA, alphaB] = [a[i + 3]! / 255, b[i + 3]! / 255]
  for (const ground of grounds)
    for (let c = 0; c < 3; c++) {
      const one = a[i + c]! * alphaA + ground * (1 - alphaA)
      const other = b[i + c]! * alphaB + ground * (1 - alphaB)
      if (Math.abs(one - other) >= tells) return true
    }
  return false
}

/** @param cover how much of the ink's pixels is ink, 0..1 */
function bestContrast(ink: Float64Array, inks: number, none: Float64Array, nones: number, cover: number): number {
  let best = 1
  for (const ground of grounds) {
    const over = (sum: Float64Array, count: number) =>
      [0, 1, 2].map((c) => sum[c]! / count / 255 + ground * (1 - sum[3]! / count / 255))
    const behind = over(none, nones)
    const front = over(ink, inks).map((value, c) =>
      Math.min(255, Math.max(0, (value - behind[c]! * (1 - cover)) / cover)),
    )
    const [a, b] = [luminanceOf(front), luminanceOf(behind)]
    best = Math.max(best, (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05))
  }
  return best
}

/** The share of a part's letters by which it is judged: the weakest. */
const weakest = 0.1

/** A measure of a part's weakest letters: that of the best of its weakest tenth, of one at least. */
export function ofWeakest(part: SeenPart, measure: 'shows' | 'contrast'): number {
  if (part.letters.length === 0) return part[measure]
  const sorted = part.letters.map((letter) => letter[measure]).sort((a, b) => a - b)
  return sorted[Math.max(0, Math.ceil(sorted.length * weakest) - 1)]!
}
