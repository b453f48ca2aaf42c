/// <reference lib="webworker" />
import { checkLayout, type Finding, Looks } from '@hoja/core/data'
import type { Box } from '@hoja/core/geometry'
import { paint } from '@hoja/core/paint'
import { readableCrop, Scene } from '@hoja/core/scene'
import type { Template, Values } from '@hoja/core/template'
import { replaceEqualDeep } from '@tanstack/react-query'
import { assetsKey, loadAssets } from './assets.ts'
import { resources, surfaceOf } from './rasterBackend.ts'
import { timed } from './timed.ts'

/** A filling that is to be drawn. `width`, `height`: of its picture, px. */
export interface AskedProof {
  key: string
  values: Values
  /** Absent: as it stands; of texts in turn the one with most to read. */
  frame?: number | undefined
  width: number
  height: number
}

export interface ProofQuestion {
  ticket: number
  /** The drawing, where it is another than last time. */
  template: Template | undefined
  proofs: readonly AskedProof[]
}

export interface DrawnProof {
  key: string
  picture: ImageData
  findings: Finding[]
  /** What of the frame the picture shows, frame px. */
  crop: Box
}

export interface ProofReply {
  ticket: number
  proofs: DrawnProof[]
}

type Assets = Awaited<ReturnType<typeof loadAssets>>

let known: { of: string; assets: Assets } | undefined
let scene: Scene | undefined
const looks = new Looks(resources)

const reply = (message: object, transfer: Transferable[] = []) =>
  (self as unknown as DedicatedWorkerGlobalScope).postMessage(message, transfer)

/**
 * The files of a drawing are read once; a drawing that carries the same goes on with them. What comes is a copy: what of it
 * is as it was is taken from the drawing before, so that all that is kept by part stays true of it.
 */
async function opened(told: Template): Promise<Scene> {
  const template = replaceEqualDeep(scene?.template, told) as Template
  const of = assetsKey(template)
  if (known?.of !== of) known = { of, assets: await loadAssets(template) }
  return new Scene(template, known.assets)
}

let canvas = new OffscreenCanvas(1, 1)

/** A clean surface. One canvas serves all proofs: to make one takes longer than to draw on it. */
function surface(width: number, height: number) {
  if (canvas.width !== width || canvas.height !== height) canvas = new OffscreenCanvas(width, height)
  const own = surfaceOf(canvas)
  own.context.setTransform(1, 0, 0, 1, 0, 0)
  own.context.clearRect(0, 0, width, height)
  return own
}

function drawn(of: Scene, { key, values, frame, width, height }: AskedProof): DrawnProof {
  return timed('hoja proof', () => {
    const layout = of.layout(values)
    const timing = of.timing(layout)
    const crop = readableCrop(of, values, width / height)
    const own = surface(width, height)
    const list = of.frame(layout, timing, Math.min(frame ?? of.fullest(layout, timing), timing.total - 1))
    const view = { x: crop.x, y: crop.y, scale: width / crop.width, frame: of.template.frame }
    paint(list, own, resources, view)
    const picture = own.context.getImageData(0, 0, width, height) as ImageData
    return { key, picture, findings: checkLayout(of, layout, timing, 1, looks), crop }
  })
}

// One question after another: the drawing of one is that of the next.
let turn: Promise<void> = Promise.resolve()
self.onmessage = ({ data }: MessageEvent<ProofQuestion>) => {
  turn = turn
    .then(async () => {
      if (data.template) scene = await opened(data.template)
      const proofs = data.proofs.map((proof) => drawn(scene!, proof))
      const answer: ProofReply = { ticket: data.ticket, proofs }
      reply(
        answer,
        proofs.map(({ picture }) => picture.data.buffer),
      )
    })
    .catch((error: Error) => reply({ kind: 'broken', message: error.message }))
}
reply({ kind: 'ready' })
