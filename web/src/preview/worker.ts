/// <reference lib="webworker" />
import { type Cells, checkRow, type Finding, type Match } from '@hoja/core/data'
import { type Bounds, boundsOf, paint, pixelRegion } from '@hoja/core/paint'
import { Scene } from '@hoja/core/scene'
import type { Template } from '@hoja/core/template'
import { loadAssets } from './assets.ts'
import { studio, surfaceOf } from './workshop.ts'

export type Question =
  | { kind: 'open'; template: Template; match: Match }
  | { kind: 'check'; ticket: number; rows: { row: number; cells: Cells }[] }
  | { kind: 'thumb'; ticket: number; row: number; cells: Cells; width: number; height: number }

export type Reply =
  | { kind: 'checked'; ticket: number; results: { row: number; findings: Finding[] }[] }
  | { kind: 'thumb'; ticket: number; row: number; crop: Bounds; picture: ImageBitmap }
  | { kind: 'broken'; message: string }

let scene: Promise<Scene> | undefined
let match: Match = {}

const reply = (message: Reply, transfer: Transferable[] = []) =>
  (self as unknown as DedicatedWorkerGlobalScope).postMessage(message, transfer)

function touchedBy(own: Scene, settled: ReturnType<Scene['settle']>): Bounds | undefined {
  const { width, height } = own.template.frame
  return pixelRegion(boundsOf(own.settledFrame(settled).items), width, height)
}

async function answer(question: Question): Promise<void> {
  if (question.kind === 'open') {
    match = question.match
    const { template } = question
    scene = loadAssets(template).then((assets) => new Scene(template, assets))
    return
  }
  const own = await scene!
  if (question.kind === 'check') {
    const results = question.rows.map(({ row, cells }) => {
      const { findings } = checkRow(own, match, cells, row)
      return { row, findings }
    })
    reply({ kind: 'checked', ticket: question.ticket, results })
    return
  }
  const { settled } = checkRow(own, match, question.cells, question.row)
  const { width, height } = own.template.frame
  const touched = touchedBy(own, settled) ?? { x: 0, y: 0, width, height }
  const crop = {
    x: 0,
    y: Math.max(
      0,
      Math.min(
        height - (width * question.height) / question.width,
        touched.y + touched.height / 2 - (width * question.height) / question.width / 2,
      ),
    ),
    width,
    height: (width * question.height) / question.width,
  }
  const canvas = new OffscreenCanvas(question.width, question.height)
  paint(own.settledFrame(settled), surfaceOf(canvas), studio, {
    x: crop.x,
    y: crop.y,
    scale: question.width / crop.width,
  })
  const picture = canvas.transferToImageBitmap()
  reply({ kind: 'thumb', ticket: question.ticket, row: question.row, crop, picture }, [picture])
}

self.onmessage = (event: MessageEvent<Question>) => {
  answer(event.data).catch((error: Error) => reply({ kind: 'broken', message: error.message }))
}
