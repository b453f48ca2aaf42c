import type { Timing } from '@hoja/core/motion'
import type { DrawList } from '@hoja/core/paint'
import { type Bounds, boundsOf, pixelRegion, unite } from '@hoja/core/paint'
import type { Posed, Scene, Settled } from '@hoja/core/scene'
import { FramePng } from './png.ts'
import type { Raster } from './raster.ts'

/** A title as pictures: each distinct one once, and which of them every frame shows. */
export interface Plan {
  lists: DrawList[]
  /** By frame: index into `lists`. */
  frames: number[]
  /** Whole pixels that any frame touches; a single one when nothing is ever drawn. */
  region: Bounds
}

/** Works out a title's frames without drawing them. Frames with equal keys are one picture. */
export function planTitle(scene: Scene, settled: Settled, timing: Timing): Plan {
  const lists: DrawList[] = []
  const frames: number[] = []
  const byKey = new Map<string, number>()
  let touched: Bounds | undefined
  let before: Posed | undefined
  for (let frame = 0; frame < timing.total; frame++) {
    const posed = scene.posed(settled, timing, frame)
    if (posed === before) {
      frames.push(frames[frame - 1]!)
      continue
    }
    before = posed
    const { key } = posed
    let index = byKey.get(key)
    if (index === undefined) {
      const list = posed.drawList()
      index = lists.push(list) - 1
      byKey.set(key, index)
      touched = unite(touched, boundsOf(list.items))
    }
    frames.push(index)
  }
  const { width, height } = scene.template.frame
  return { lists, frames, region: pixelRegion(touched, width, height) ?? { x: 0, y: 0, width: 1, height: 1 } }
}

/** The distinct pictures of a title as full-size PNG, in order, one at a time. */
export function* pngPictures(plan: Plan, raster: Raster, size: { width: number; height: number }): Generator<Buffer> {
  const png = new FramePng(size.width, size.height, plan.region)
  for (const list of plan.lists) yield png.encode(raster.draw(list, plan.region))
}

/** Every frame of a title as full-size straight RGBA. A frame equal to the one before it is not drawn again. */
export function* rawFrames(plan: Plan, raster: Raster, size: { width: number; height: number }): Generator<Uint8Array> {
  const drawn = plan.lists.map((list) => raster.draw(list, plan.region).slice())
  const { region } = plan
  let last = -1
  let full: Buffer = Buffer.alloc(0)
  for (const index of plan.frames) {
    if (index !== last) {
      // A fresh buffer: the one before may still be on its way to the encoder.
      full = Buffer.alloc(size.width * size.height * 4)
      const own = region.width * 4
      for (let y = 0; y < region.height; y++)
        full.set(drawn[index]!.subarray(y * own, (y + 1) * own), ((region.y + y) * size.width + region.x) * 4)
      last = index
    }
    yield full
  }
}
