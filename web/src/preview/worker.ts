/// <reference lib="webworker" />
import {
  type Cells,
  checkColumns,
  checkRow,
  type Finding,
  type Match,
  type RoomUse,
  roomUse,
  type TextColumn,
  valuesOf,
} from '@hoja/core/data'
import { type Bounds, boundsOf, paint, pixelRegion } from '@hoja/core/paint'
import { Scene } from '@hoja/core/scene'
import type { Template } from '@hoja/core/template'
import { loadAssets } from './assets.ts'
import { studio, surfaceOf } from './workshop.ts'

export type Question =
  | { kind: 'open'; template: Template; match: Match }
  | { kind: 'check'; ticket: number; rows: { row: number; cells: Cells }[] }
  | { kind: 'columns'; ticket: number; columns: TextColumn[] }
  | { kind: 'room'; ticket: number; first: number; rows: Cells[] }
  | { kind: 'thumb'; ticket: number; row: number; cells: Cells; width: number; height: number }

export type Reply =
  /** Sent once, when the worker can hear. */
  | { kind: 'ready' }
  | { kind: 'checked'; ticket: number; results: { row: number; findings: Finding[] }[] }
  | { kind: 'columns'; ticket: number; findings: Finding[] }
  | { kind: 'room'; ticket: number; results: { row: number; uses: RoomUse[] }[] }
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

/** The same share of the frame for every row, so that sizes compare, but for rows that need more. */
function contactCrop(frame: { width: number; height: number }, touched: Bounds | undefined, aspect: number): Bounds {
  const at = touched ?? { x: 0, y: 0, width: frame.width, height: frame.height }
  const width = Math.min(frame.width, Math.max(frame.width * 0.6, at.x + at.width + 40 - Math.max(0, at.x - 40)))
  const height = Math.min(frame.height, width / aspect)
  const x =
    at.x + at.width / 2 > frame.width / 2 && at.x > frame.width * 0.3
      ? frame.width - width
      : Math.max(0, Math.min(frame.width - width, at.x - 40))
  return { x, y: Math.max(0, Math.min(frame.height - height, at.y + at.height / 2 - height / 2)), width, height }
}

async function answer(question: Question): Promise<void> {
  if (question.kind === 'open') {
    match = question.match
    const { template } = question
    scene = loadAssets(template).then((assets) => new Scene(template, assets))
    return
  }
  if (question.kind === 'columns') {
    reply({ kind: 'columns', ticket: question.ticket, findings: checkColumns(question.columns) })
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
  if (question.kind === 'room') {
    const results = question.rows.map((cells, i) => ({
      row: question.first + i,
      uses: roomUse(own.settle(valuesOf(own.template, match, cells).values)),
    }))
    reply({ kind: 'room', ticket: question.ticket, results })
    return
  }
  const { settled } = checkRow(own, match, question.cells, question.row)
  const crop = contactCrop(own.template.frame, touchedBy(own, settled), question.width / question.height)
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
reply({ kind: 'ready' })
