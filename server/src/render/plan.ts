import { cached, LastFew } from '@hoja/core/cache'
import type { Box } from '@hoja/core/geometry'
import type { Timing } from '@hoja/core/motion'
import { withHandles } from '@hoja/core/output'
import type { DrawList } from '@hoja/core/paint'
import { boundsOf, pixelRegion, unite } from '@hoja/core/paint'
import { demand } from '@hoja/core/refusal'
import { ChangingTitle, type Layout, type Posed, type Scene } from '@hoja/core/scene'
import type { PartId, Values } from '@hoja/core/template'
import type { Rate } from '@hoja/core/time'
import type { Movie } from './movie/movie.ts'
import { FramePng } from './pictures/png.ts'
import type { Raster } from './raster.ts'

/** Pictures of a title whose draw lists are kept: all of most titles, and few of a roll that runs for minutes. */
const keep = 600

/** What a title changes to, and from which frame of it on. */
export interface TitleChange {
  at: number
  values: Values
}

/** A title as pictures: each distinct one once, and which of them every frame shows. */
export interface Plan {
  /** How many pictures differ. */
  pictures: number
  /** What a picture shows; of a long title most are worked out when they are drawn. */
  list: (picture: number) => DrawList
  /** By frame: which picture. */
  frames: readonly number[]
  /** Whole pixels that any frame touches; a single one when nothing is ever drawn. */
  region: Box
}

/**
 * Works out a title's frames without drawing them. Frames with equal keys are one picture.
 * @param only the parts that are drawn; absent: all
 * @throws Refusal for a change that would still be under way when the title leaves
 */
export function planTitle(
  scene: Scene,
  layout: Layout,
  timing: Timing,
  handles?: { before: number; after: number },
  only?: ReadonlySet<PartId>,
  change?: TitleChange,
): Plan {
  const posedAt = changing(scene, layout, timing, change)
  const lists = new LastFew<number, DrawList>(keep)
  /** By picture: the first frame that shows it. */
  const firsts: number[] = []
  const frames: number[] = []
  const byKey = new Map<string, number>()
  let touched: Box | undefined
  let before: Posed | undefined
  for (let frame = 0; frame < timing.total; frame++) {
    const posed = posedAt(frame)
    if (posed === before) {
      frames.push(frames[frame - 1]!)
      continue
    }
    before = posed
    // Of some parts alone more frames are the same than their whole titles are.
    const some = only && posed.drawList(only)
    const key = some ? JSON.stringify(some.items, withoutPixels) : posed.key
    let index = byKey.get(key)
    if (index === undefined) {
      const list = some ?? posed.drawList()
      index = firsts.push(frame) - 1
      lists.set(index, list)
      byKey.set(key, index)
      touched = unite(touched, boundsOf(list.items))
    }
    frames.push(index)
  }
  const { width, height } = scene.template.frame
  const region = pixelRegion(touched, width, height) ?? { x: 0, y: 0, width: 1, height: 1 }
  const again = (picture: number) => posedAt(firsts[picture]!).drawList(only)
  const list = (picture: number) => cached(lists, picture, () => again(picture))
  return { pictures: firsts.length, list, frames: withHandles(frames, handles), region }
}

/** The title at each of its frames: as it is, and from a frame on on the way to what it changes to. */
function changing(
  scene: Scene,
  layout: Layout,
  timing: Timing,
  change: TitleChange | undefined,
): (frame: number) => Posed {
  if (!change) return (frame) => scene.posed(layout, timing, frame)
  const before = ChangingTitle.of(scene, () => layout.values)
  const after = before.changed(() => change.values, change.at, timing)
  const leaves = timing.in + timing.hold
  const arrives = Math.ceil(after.arrives)
  demand(
    arrives <= leaves,
    'change.late',
    `The change at frame ${change.at} is under way until frame ${arrives}, and Out begins at ${leaves}; make it earlier, or the title longer.`,
  )
  return (frame) => (frame < after.at ? scene.posed(layout, timing, frame) : after.posed(timing, frame))
}

const withoutPixels = (name: string, value: unknown) => (name === 'rgba' ? undefined : value)

/** Frames from which on a picture is pressed harder: it lies in a movie or a folder as often as it is shown. */
const shownLong = 25

/** A planned title as an encoder takes it: drawn when it is asked for. */
export function movieOf(plan: Plan, raster: Raster, scene: Scene): Movie {
  const { width, height, rate } = scene.template.frame
  const draw = (picture: number) => raster.draw(plan.list(picture), plan.region)
  const shown = new Uint32Array(plan.pictures)
  for (const picture of plan.frames) shown[picture]!++
  let png: FramePng | undefined
  return {
    width,
    height,
    rate,
    region: plan.region,
    pictures: plan.pictures,
    frames: plan.frames,
    draw,
    deep: (picture) => raster.drawDeep(plan.list(picture), plan.region),
    png: (picture) => {
      png ??= new FramePng(width, height, plan.region)
      return png.encode(draw(picture), shown[picture]! < shownLong ? undefined : 6)
    },
  }
}

/**
 * A movie that was drawn twice as often as its frames come, two fields to a frame: of each only every other line is kept
 * (ITU-R BT.709-6, part 1, item 2: the first line of a frame belongs to the top field).
 */
export function woven(movie: Movie, fields: 'top' | 'bottom', rate: Rate): Movie {
  const { region } = movie
  const pairs: [first: number, second: number][] = []
  const byKey = new Map<string, number>()
  const frames: number[] = []
  for (let field = 0; field + 1 < movie.frames.length; field += 2) {
    const pair: [number, number] = [movie.frames[field]!, movie.frames[field + 1]!]
    const key = pair.join()
    let index = byKey.get(key)
    if (index === undefined) {
      index = pairs.push(pair) - 1
      byKey.set(key, index)
    }
    frames.push(index)
  }
  const weave =
    <T extends Uint8ClampedArray | Uint16Array>(draw: (picture: number) => T) =>
    (picture: number): T => {
      const [first, second] = pairs[picture]!
      if (first === second) return draw(first)
      const out = draw(first).slice() as T
      const late = draw(second)
      const line = region.width * 4
      // Lines of the frame, not of the region, have fields.
      for (let y = 0; y < region.height; y++)
        if (((region.y + y) % 2 === 0) !== (fields === 'top'))
          out.set(late.subarray(y * line, (y + 1) * line), y * line)
      return out
    }
  const draw = weave(movie.draw)
  let png: FramePng | undefined
  return {
    ...movie,
    rate,
    pictures: pairs.length,
    frames,
    fields,
    draw,
    deep: weave(movie.deep),
    png: (picture) => {
      png ??= new FramePng(movie.width, movie.height, region)
      return png.encode(draw(picture))
    },
  }
}
