import { deflateSync } from 'node:zlib'
import { ApngWriter } from '@hoja/core/formats'
import { timingOf } from '@hoja/core/motion'
import type { Scene } from '@hoja/core/scene'
import type { Values } from '@hoja/core/template'
import { planTitle } from './plan.ts'
import type { Raster } from './raster.ts'
import type { View } from './still.ts'

/** Seconds that a preview holds a title at most: it shows how the title comes and goes. */
const holdSeconds = 1.2

/** A title from beginning to end as an animated PNG that runs over and over. */
export function previewLoop(scene: Scene, values: Values, { region, scale, within }: View, raster: Raster): Uint8Array {
  const { frame, spans } = scene.template
  const hold = Math.min(spans.hold.frames, Math.round((holdSeconds * frame.rate.num) / frame.rate.den))
  const plan = planTitle(scene, scene.layout(values), timingOf(scene.template, spans.in + hold + spans.out))
  const size = { width: Math.round(region.width * scale), height: Math.round(region.height * scale), rate: frame.rate }
  const writer = new ApngWriter(size, (raw) => deflateSync(raw, { level: 6 }))
  for (let from = 0; from < plan.frames.length; ) {
    let to = from + 1
    while (to < plan.frames.length && plan.frames[to] === plan.frames[from]) to++
    writer.add(raster.draw(plan.lists[plan.frames[from]!]!, region, scale, within), to - from)
    from = to
  }
  return writer.bytes()
}
