/// <reference lib="webworker" />
import {
  KnownNames,
  Looks,
  localMoment,
  type Match,
  type RoomUse,
  type Row,
  type RowFound,
  roomUse,
  SheetChecker,
  type Splice,
  valuesOf,
} from '@hoja/core/data'
import type { Box } from '@hoja/core/geometry'
import { paint } from '@hoja/core/paint'
import { cropSize, cropStart, Scene, touchedBy } from '@hoja/core/scene'
import { firstShape, type ShapeId, type Template } from '@hoja/core/template'
import { loadAssets } from './assets.ts'
import { resources, surfaceOf } from './rasterBackend.ts'
import { timed } from './timed.ts'

/** What rows that stay on a version of their own are filled into. */
export interface OtherVersion {
  id: number
  template: Template
  match: Match
}

export type Question =
  | { kind: 'open'; template: Template; match: Match; versions: OtherVersion[]; known: readonly string[] }
  /** `edits`: how many there were with this one. */
  | { kind: 'splice'; edits: number; splice: Splice }
  /** All rows are there: they can be compared with one another. */
  | { kind: 'loaded' }
  | { kind: 'room'; ticket: number }
  | { kind: 'thumb'; ticket: number; row: Row; shape: ShapeId; width: number; height: number }

export type Reply =
  /** Sent once, when the worker can hear. */
  | { kind: 'ready' }
  | { kind: 'found'; edits: number; results: ({ n: number } & RowFound)[] }
  | { kind: 'room'; ticket: number; results: { row: number; uses: RoomUse[] }[] }
  | { kind: 'thumb'; ticket: number; crop: Box; picture: ImageBitmap }
  | { kind: 'broken'; message: string }

let checker: Promise<SheetChecker> | undefined
let edits = 0
/** Rows that are to be checked. */
let stale = new Set<number>()
/** Rows that are to be looked at, once all are checked. */
let unlooked = new Set<number>()
/** Rows about which others said something since they were told. */
let beside: number[] = []
let isLoaded = false
let isWorking = false

/** ms of checking between two looks at what was asked meanwhile. */
const slice = 12
/** ms of looking after which it is told what was seen by then. */
const telling = 250
/** Rows told in one message: few enough that no frame waits for them. */
const most = 1000

const reply = (message: Reply, transfer: Transferable[] = []) =>
  (self as unknown as DedicatedWorkerGlobalScope).postMessage(message, transfer)

/** The same share of the frame for every row, so that sizes compare, but for rows that need more. */
function contactCrop(frame: { width: number; height: number }, at: Box, aspect: number): Box {
  const { width, height } = cropSize(frame, at, aspect, 0.6)
  const isRight = at.x + at.width / 2 > frame.width / 2 && at.x > frame.width * 0.3
  return {
    x: cropStart(isRight ? frame.width - width : at.x - 40, width, frame.width),
    y: cropStart(at.y + at.height / 2 - height / 2, height, frame.height),
    width,
    height,
  }
}

async function open({ template, match, versions, known }: Extract<Question, { kind: 'open' }>): Promise<SheetChecker> {
  const filled = async (own: { template: Template; match: Match }) => ({
    scene: new Scene(own.template, await loadAssets(own.template)),
    match: own.match,
  })
  const others = await Promise.all(versions.map(async (own) => [own.id, await filled(own)] as const))
  return new SheetChecker(
    await filled({ template, match }),
    new Map(others),
    new KnownNames(known),
    localMoment(new Date()),
    new Looks(resources),
  )
}

function take(own: SheetChecker, splice: Splice): void {
  const by = splice.rows.length - splice.remove
  const end = splice.at + splice.remove
  // Rows that wait move with those before them.
  if (by !== 0) {
    const moved = (rows: Set<number>) =>
      new Set([...rows].flatMap((n) => (n < splice.at ? [n] : n >= end ? [n + by] : [])))
    stale = moved(stale)
    unlooked = moved(unlooked)
    // They are all compared anew.
    beside = []
  }
  const touched = timed('hoja edit', () => own.splice(splice))
  // An edit of a few rows is what somebody waits for.
  if (isLoaded && touched.length <= 40) timed('hoja recheck', () => tell(own, touched))
  else for (const n of touched) stale.add(n)
}

function tell(own: SheetChecker, rows: readonly number[]): void {
  if (rows.length === 0) return
  const results = rows.map((n) => ({ n, ...own.found(n) }))
  for (const { n, isLooked } of results) if (!isLooked) unlooked.add(n)
  reply({ kind: 'found', edits, results })
}

/**
 * Checks what waits, slice by slice, so that edits and thumbnails come between; then the rows beside one another; then it
 * looks at the picture of each.
 */
function work(own: SheetChecker): void {
  if (isWorking) return
  isWorking = true
  const looked: number[] = []
  let toldAt = performance.now()
  const step = () => {
    const until = performance.now() + slice
    const results: number[] = []
    timed('hoja checks', () => {
      for (const n of stale) {
        stale.delete(n)
        if (n > own.count) continue
        own.check(n)
        results.push(n)
        if (performance.now() > until) break
      }
    })
    tell(own, results)
    if (stale.size > 0) return void setTimeout(step)
    if (isLoaded) beside = beside.concat(timed('hoja comparison', () => own.compare()))
    tell(own, beside.splice(0, most))
    if (beside.length > 0) return void setTimeout(step)
    timed('hoja looks', () => {
      const end = performance.now() + slice
      for (const n of unlooked) {
        unlooked.delete(n)
        if (n > own.count) continue
        own.look(n)
        looked.push(n)
        if (performance.now() > end) break
      }
    })
    // Told together, so that lists and counts are not made anew for every row.
    if (unlooked.size > 0 && performance.now() - toldAt < telling) return void setTimeout(step)
    tell(
      own,
      looked.splice(0).filter((n) => n <= own.count),
    )
    toldAt = performance.now()
    if (unlooked.size > 0) return void setTimeout(step)
    isWorking = false
  }
  setTimeout(step)
}

async function answer(question: Question): Promise<void> {
  if (question.kind === 'open') {
    checker = open(question)
    return
  }
  const own = await checker!
  switch (question.kind) {
    case 'splice':
      edits = question.edits
      take(own, question.splice)
      return work(own)
    case 'loaded':
      isLoaded = true
      return work(own)
    case 'room': {
      const results = Array.from({ length: own.count }, (_, i) => {
        const row = own.row(i + 1)!
        const { scene, match } = own.filled(row)
        return { row: i + 1, uses: roomUse(scene.layout(valuesOf(scene.template, match, row).values)) }
      })
      return reply({ kind: 'room', ticket: question.ticket, results })
    }
    case 'thumb': {
      const { scene: every, match } = own.filled(question.row)
      // A row may stay on a version that has no such shape.
      const scene = every.others.find(({ shape }) => shape.id === question.shape)?.scene ?? every.inShape(firstShape)
      const { values } = valuesOf(scene.template, match, question.row)
      const { frame } = scene.template
      const crop = contactCrop(frame, touchedBy(scene, values), question.width / question.height)
      const canvas = new OffscreenCanvas(question.width, question.height)
      paint(scene.restFrame(scene.layout(values)), surfaceOf(canvas), resources, {
        x: crop.x,
        y: crop.y,
        scale: question.width / crop.width,
        frame,
      })
      const picture = canvas.transferToImageBitmap()
      return reply({ kind: 'thumb', ticket: question.ticket, crop, picture }, [picture])
    }
  }
}

self.onmessage = (event: MessageEvent<Question>) => {
  answer(event.data).catch((error: Error) => reply({ kind: 'broken', message: error.message }))
}
reply({ kind: 'ready' })
