import type { Match, RoomUse, Row, RowFound, Splice } from '@hoja/core/data'
import type { Box } from '@hoja/core/geometry'
import type { ShapeId, Template } from '@hoja/core/template'
import type { OtherVersion, Question, Reply } from './sheetWork.ts'
import { TicketedWorker } from './TicketedWorker.ts'

/** What was found about some rows (from 1), as they were numbered after so many edits. */
export interface FoundRows {
  edits: number
  results: ({ n: number } & RowFound)[]
}

/** Rows that cross to the worker in one message: few enough that no frame waits for them. */
export const chunk = 1000

/** A worker that holds a sheet's rows, checks them, and draws their thumbnails; one template and match at a time. */
export class SheetWorker extends TicketedWorker<Question, Reply> {
  private edits = 0

  constructor(
    template: Template,
    match: Match,
    versions: OtherVersion[],
    known: readonly string[],
    private readonly onFound: (found: FoundRows) => void,
  ) {
    super(new Worker(new URL('./sheetWork.ts', import.meta.url), { type: 'module' }))
    this.tell({ kind: 'open', template, match, versions, known })
  }

  protected override said(reply: Reply): void {
    if (reply.kind === 'found') this.onFound(reply)
  }

  /** Gives the worker its rows, bit by bit, so that the screen stays free. */
  async load(rows: readonly Row[], stopped: () => boolean): Promise<void> {
    for (let at = 0; at < rows.length && !stopped(); at += chunk) {
      this.change({ at: at + 1, remove: 0, rows: rows.slice(at, at + chunk) })
      await new Promise((done) => setTimeout(done))
    }
    if (!stopped()) this.tell({ kind: 'loaded' })
  }

  /** Tells of an edit; @returns how many edits there were with it. */
  change(splice: Splice): number {
    this.edits++
    this.tell({ kind: 'splice', edits: this.edits, splice })
    return this.edits
  }

  /** The room that the texts of all rows need and have. */
  async room(): Promise<{ row: number; uses: RoomUse[] }[]> {
    const reply = await this.ask({ kind: 'room' } as Question)
    return reply.kind === 'room' ? reply.results : []
  }

  /** A row in a shape at its settled frame, `width` x `height` px, the share of the frame around what it touches. */
  async thumb(
    row: Row,
    shape: ShapeId,
    width: number,
    height: number,
  ): Promise<{ picture: ImageBitmap; crop: Box } | undefined> {
    const reply = await this.ask({ kind: 'thumb', row, shape, width, height } as Question)
    return reply.kind === 'thumb' ? reply : undefined
  }
}
