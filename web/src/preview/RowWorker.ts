import type { Cells, Finding, Match, RoomUse, TextColumn } from '@hoja/core/data'
import type { Bounds } from '@hoja/core/paint'
import type { Template } from '@hoja/core/template'
import { TicketedWorker } from './TicketedWorker.ts'
import type { Question, Reply } from './worker.ts'

/** Rows checked by one message: small enough that progress moves and an edit is answered soon. */
const batch = 40

/** A worker that checks a sheet's rows and draws their thumbnails, one template and match at a time. */
export class RowWorker extends TicketedWorker<Question, Reply> {
  constructor(template: Template, match: Match) {
    super(new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' }))
    this.tell({ kind: 'open', template, match })
  }

  /** Checks rows batch by batch; `onResults` hears of each. Ends early when `stopped` says so. */
  async check(
    rows: { row: number; cells: Cells }[],
    onResults: (results: { row: number; findings: Finding[] }[]) => void,
    stopped: () => boolean,
  ): Promise<void> {
    for (let at = 0; at < rows.length && !stopped(); at += batch) {
      const reply = await this.ask({ kind: 'check', rows: rows.slice(at, at + batch) } as Question)
      if (reply.kind === 'checked' && !stopped()) onResults(reply.results)
    }
  }

  /** The room that the texts of rows need and have. Rows count from 1. */
  async room(rows: Cells[]): Promise<{ row: number; uses: RoomUse[] }[]> {
    const found: { row: number; uses: RoomUse[] }[] = []
    for (let at = 0; at < rows.length; at += batch) {
      const reply = await this.ask({ kind: 'room', first: at + 1, rows: rows.slice(at, at + batch) } as Question)
      if (reply.kind === 'room') found.push(...reply.results)
    }
    return found
  }

  /** What shows when all rows are seen together. */
  async columns(columns: TextColumn[]): Promise<Finding[]> {
    const reply = await this.ask({ kind: 'columns', columns } as Question)
    return reply.kind === 'columns' ? reply.findings : []
  }

  /** A row at its settled frame, `width` x `height` px, full width of the frame around what it touches. */
  async thumb(
    row: number,
    cells: Cells,
    width: number,
    height: number,
  ): Promise<{ picture: ImageBitmap; crop: Bounds } | undefined> {
    const reply = await this.ask({ kind: 'thumb', row, cells, width, height } as Question)
    return reply.kind === 'thumb' ? reply : undefined
  }
}
