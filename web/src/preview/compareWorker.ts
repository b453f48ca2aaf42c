import type { Box } from '@hoja/core/geometry'
/// <reference lib="webworker" />
import { boundsOf, type DrawList, paint, pixelRegion, unite } from '@hoja/core/paint'
import { cropSize, cropStart, Scene } from '@hoja/core/scene'
import type { Template, Values } from '@hoja/core/template'
import { loadAssets } from './assets.ts'
import { resources, surfaceOf } from './rasterBackend.ts'

export type Question =
  | { kind: 'open'; before: Template; after: Template }
  /** One filling drawn by both; `width`: of the pictures, px. */
  | { kind: 'compare'; ticket: number; before: Values; after: Values; width: number }

export interface Compared {
  ticket: number
  before: ImageBitmap
  after: ImageBitmap
  /** What changed, on the drawing after. */
  marked: ImageBitmap
  /** Pixels of the settled frame that differ, of the frame's own. */
  pixels: number
  /** Frames of the title that differ, and how many it has. */
  frames: number
  total: number
}

let scenes: Promise<[Scene, Scene]> | undefined

const reply = (message: object, transfer: Transferable[] = []) =>
  (self as unknown as DedicatedWorkerGlobalScope).postMessage(message, transfer)

/** A region of a frame as pixels. */
function drawn(list: DrawList, region: Box, scale: number): { canvas: OffscreenCanvas; data: Uint8ClampedArray } {
  const canvas = new OffscreenCanvas(
    Math.max(1, Math.round(region.width * scale)),
    Math.max(1, Math.round(region.height * scale)),
  )
  const surface = surfaceOf(canvas)
  paint(list, surface, resources, { x: region.x, y: region.y, scale, frame: list })
  return { canvas, data: surface.context.getImageData(0, 0, canvas.width, canvas.height).data }
}

const touched = (list: DrawList) => pixelRegion(boundsOf(list.items), list.width, list.height)
const written = (list: DrawList) => JSON.stringify(list, (key, value) => (key === 'pixels' ? value.id : value))

/** How many frames of a title differ, drawn by one and by the other; a hold that stands still is looked at once. */
function differingFrames(
  [one, other]: [Scene, Scene],
  before: Values,
  after: Values,
): { frames: number; total: number } {
  const [a, b] = [one.layout(before), other.layout(after)]
  const [ta, tb] = [one.timing(a), other.timing(b)]
  const total = Math.max(ta.total, tb.total)
  let frames = total - Math.min(ta.total, tb.total)
  let last: { a: unknown; b: unknown; differs: boolean } | undefined
  for (let frame = 0; frame < Math.min(ta.total, tb.total); frame++) {
    const [pa, pb] = [one.posed(a, ta, frame), other.posed(b, tb, frame)]
    if (last?.a !== pa || last.b !== pb)
      last = { a: pa, b: pb, differs: written(pa.drawList()) !== written(pb.drawList()) }
    if (last.differs) frames++
  }
  return { frames, total }
}

async function compare({ ticket, before, after, width }: Extract<Question, { kind: 'compare' }>): Promise<void> {
  const both = await scenes!
  const [a, b] = [both[0].restFrame(both[0].layout(before)), both[1].restFrame(both[1].layout(after))]
  const frame = { width: Math.max(a.width, b.width), height: Math.max(a.height, b.height) }
  const region = unite(touched(a), touched(b)) ?? { x: 0, y: 0, ...frame }
  const aspect = 16 / 6
  // The same crop for both, as wide as the pictures are to be, with air around what is touched.
  const { width: w, height: h } = cropSize(frame, region, aspect, 0.4)
  const crop = {
    x: cropStart(region.x + region.width / 2 - w / 2, w, frame.width),
    y: cropStart(region.y + region.height / 2 - h / 2, h, frame.height),
    width: w,
    height: h,
  }
  const [fullA, fullB] = [drawn(a, crop, 1), drawn(b, crop, 1)]
  const scale = width / w
  const [smallA, smallB] = [drawn(a, crop, scale), drawn(b, crop, scale)]
  const { width: cols, height: rows } = smallB.canvas
  const changed = new Uint8Array(cols * rows)
  let pixels = 0
  const across = fullB.canvas.width
  const [words, other] = [new Uint32Array(fullA.data.buffer), new Uint32Array(fullB.data.buffer)]
  for (let i = 0; i < words.length; i++)
    if (words[i] !== other[i]) {
      pixels++
      const [x, y] = [i % across, Math.floor(i / across)]
      changed[Math.min(rows - 1, Math.floor(y * scale)) * cols + Math.min(cols - 1, Math.floor(x * scale))] = 1
    }
  const marked = new OffscreenCanvas(cols, rows)
  const context = marked.getContext('2d', { willReadFrequently: true })!
  context.globalAlpha = 0.3
  context.drawImage(smallB.canvas, 0, 0)
  const picture = context.getImageData(0, 0, cols, rows)
  // Madder, as every measure that is drawn on a frame.
  for (let i = 0; i < changed.length; i++) if (changed[i]) picture.data.set([180, 71, 46, 255], i * 4)
  context.putImageData(picture, 0, 0)
  const bitmaps = [smallA.canvas, smallB.canvas, marked].map((canvas) => canvas.transferToImageBitmap()) as [
    ImageBitmap,
    ImageBitmap,
    ImageBitmap,
  ]
  const result: Compared = {
    ticket,
    before: bitmaps[0],
    after: bitmaps[1],
    marked: bitmaps[2],
    pixels,
    ...differingFrames(both, before, after),
  }
  reply(result, bitmaps)
}

self.onmessage = ({ data }: MessageEvent<Question>) => {
  if (data.kind === 'open')
    scenes = Promise.all(
      [data.before, data.after].map(async (template) => new Scene(template, await loadAssets(template))),
    ) as Promise<[Scene, Scene]>
  else compare(data).catch((error: Error) => reply({ kind: 'broken', message: error.message }))
}
reply({ kind: 'ready' })
