import { deflateSync } from 'node:zlib'
import { ApngWriter } from '@hoja/core/formats'
import type { Scene } from '@hoja/core/scene'
import type { Values } from '@hoja/core/template'
import { planTitle } from './plan.ts'
import type { Raster } from './raster.ts'
import type { View } from './still.ts'

/** Seconds that a preview holds a title at most: it shows how the title comes and goes. */
const holdSeconds = 1.2
/** Of what runs, or comes in turn, more has to be seen. */
const runSeconds = 5

/** A title from beginning to end as an animated PNG that runs over and over. */
export function previewLoop(scene: Scene, values: Values, { region, scale, within }: View, raster: Raster): Uint8Array {
  const { frame, spans } = scene.template
  const layout = scene.layout(values)
  const entries = scene.entries(layout)
  const changes = entries.runs || entries.turns > 1
  const most = Math.round(((changes ? runSeconds : holdSeconds) * frame.rate.num) / frame.rate.den)
  const hold = Math.max(Math.min(scene.timing(layout).hold, most), entries.least)
  const plan = planTitle(scene, layout, scene.timing(layout, spans.in + hold + spans.out))
  const size = { width: Math.round(region.width * scale), height: Math.round(region.height * scale), rate: frame.rate }
  const writer = new ApngWriter(size, (raw) => deflateSync(raw, { level: 6 }))
  for (let from = 0; from < plan.frames.length; ) {
    let to = from + 1
    while (to < plan.frames.length && plan.frames[to] === plan.frames[from]) to++
    writer.add(raster.draw(plan.list(plan.frames[from]!), region, scale, within), to - from)
    from = to
  }
  return writer.bytes()
}
