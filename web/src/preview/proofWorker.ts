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

/** Proofs that were looked at, after their pictures and what their boxes say were told. */
export interface LookedProofs {
  kind: 'looked'
  /** How many drawings came until the one that they are of. */
  drawing: number
  proofs: { key: string; findings: Finding[] }[]
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
    return { key, picture, findings: checkLayout(of, layout, timing), crop }
  })
}

/** Proofs that nobody has looked at yet, by their keys, and of which drawing. */
let unlooked = new Map<string, Values>()
let drawing = 0
let isLooking = false
/** When the last question came. */
let askedAt = 0

/** ms of looking after which it is told what was found by then: the page draws what is said together at once. */
const telling = 250

/** Looks at what was drawn, proof by proof, so that a drag that goes on is drawn before: it waits for no look. */
function lookOn(): void {
  if (isLooking) return
  isLooking = true
  let looked: LookedProofs['proofs'] = []
  let [of, since] = [drawing, performance.now()]
  const tell = () => {
    if (looked.length > 0) reply({ kind: 'looked', drawing: of, proofs: looked } satisfies LookedProofs)
    looked = []
    since = performance.now()
  }
  const step = () => {
    const rested = performance.now() - askedAt
    if (rested < restful) return void setTimeout(step, restful - rested)
    if (of !== drawing) looked = []
    of = drawing
    const [next] = unlooked
    if (!next || !scene) {
      tell()
      isLooking = false
      return
    }
    const [key, values] = next
    unlooked.delete(key)
    const layout = scene.layout(values)
    const findings = timed('hoja look', () => checkLayout(scene!, layout, scene!.timing(layout), 1, looks))
    looked.push({ key, findings })
    if (performance.now() - since > telling) tell()
    setTimeout(step)
  }
  setTimeout(step)
}

/** ms without another drawing after which it is looked at: longer than from step to step of a drag, on slow machines too. */
const restful = 250

// One question after another: the drawing of one is that of the next.
let turn: Promise<void> = Promise.resolve()
self.onmessage = ({ data }: MessageEvent<ProofQuestion>) => {
  askedAt = performance.now()
  turn = turn
    .then(async () => {
      if (data.template) {
        scene = await opened(data.template)
        drawing++
        unlooked = new Map()
      }
      for (const { key, values } of data.proofs) unlooked.set(key, values)
      const proofs = data.proofs.map((proof) => drawn(scene!, proof))
      const answer: ProofReply = { ticket: data.ticket, proofs }
      reply(
        answer,
        proofs.map(({ picture }) => picture.data.buffer),
      )
      lookOn()
    })
    .catch((error: Error) => reply({ kind: 'broken', message: error.message }))
}
reply({ kind: 'ready' })
