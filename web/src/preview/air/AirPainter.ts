import { AirTitles, type Channel, type Stage } from '@hoja/core/air'
import type { Box } from '@hoja/core/geometry'
import { boundsOf, type DrawList, paint, pixelRegion, unite } from '@hoja/core/paint'
import { resources, surfaceOf } from '../rasterBackend.ts'
import type { AirScenes } from './AirScenes.ts'

/**
 * What a page shows of a channel: the picture over nothing, the picture over black, how much of it is seen, as white; or what
 * the next title will look like.
 */
export type AirPart = 'picture' | 'fill' | 'key' | 'next'

/** A title as it stands on the canvas. */
interface Painted {
  key: string
  region: Box | undefined
  list: DrawList
}

const isApart = (a: Box, b: Box) =>
  a.x >= b.x + b.width || b.x >= a.x + a.width || a.y >= b.y + b.height || b.y >= a.y + a.height

/** Regions none of which lies over another. */
function merged(regions: readonly Box[]): Box[] {
  const all: Box[] = []
  for (let next of regions) {
    for (let i = 0; i < all.length; )
      if (isApart(all[i]!, next)) i++
      else {
        next = unite(next, all.splice(i, 1)[0])!
        i = 0
      }
    all.push(next)
  }
  return all
}

/**
 * Draws what a stage shows with the scene and the painter of everything else, and of each frame no more than the regions in
 * which something is another.
 */
export class AirPainter {
  private readonly titles: AirTitles
  private painted = new Map<number, Painted>()

  constructor(
    private readonly canvas: HTMLCanvasElement,
    scenes: AirScenes,
    private readonly part: AirPart = 'picture',
    /** One layer alone; absent: all. */
    private readonly layer?: string,
  ) {
    this.titles = new AirTitles(scenes)
  }

  /** @returns px that were drawn anew; 0: nothing is another than before */
  draw(channel: Channel, stage: Stage, frame: number): number {
    const { canvas, painted } = this
    const scale = canvas.width / channel.width
    const all =
      this.part === 'next' ? this.titles.next(channel, stage, frame) : this.titles.shown(channel, stage, frame)
    const shown = all.filter(({ layer }) => this.layer === undefined || layer === this.layer)
    const next = new Map<number, Painted>()
    const touched: Box[] = []
    for (const { n, key, list } of shown) {
      const before = painted.get(n)
      if (before?.key === key) {
        next.set(n, before)
        continue
      }
      const bounds = boundsOf(list.items)
      const scaled = bounds && {
        x: bounds.x * scale,
        y: bounds.y * scale,
        width: bounds.width * scale,
        height: bounds.height * scale,
      }
      const region = pixelRegion(scaled, canvas.width, canvas.height)
      next.set(n, { key, region, list })
      for (const one of [region, before?.region]) if (one) touched.push(one)
    }
    for (const [n, { region }] of painted) if (region && !next.has(n)) touched.push(region)
    this.painted = next
    let drawn = 0
    for (const region of merged(touched)) {
      this.paintRegion(region, [...next.values()], scale)
      drawn += region.width * region.height
    }
    return drawn
  }

  /** Everything is drawn anew the next time: the canvas has another size. */
  forget(): void {
    this.painted = new Map()
  }

  private paintRegion(region: Box, titles: readonly Painted[], scale: number): void {
    const { context } = surfaceOf(this.canvas)
    const { x, y, width, height } = region
    const own = resources.scratch(width, height)
    for (const { region: where, list } of titles)
      if (where && !isApart(where, region)) paint(list, own, resources, { x: x / scale, y: y / scale, scale })
    if (this.part === 'key') {
      own.context.setTransform(1, 0, 0, 1, 0, 0)
      own.context.globalCompositeOperation = 'source-in'
      own.context.fillStyle = '#ffffff'
      own.context.fillRect(0, 0, own.width, own.height)
      own.context.globalCompositeOperation = 'source-over'
    }
    context.setTransform(1, 0, 0, 1, 0, 0)
    context.clearRect(x, y, width, height)
    const drawing = context as unknown as CanvasRenderingContext2D
    drawing.drawImage(own.canvas as OffscreenCanvas, 0, 0, width, height, x, y, width, height)
    resources.release(own)
  }
}
