import type { Cells, Finding, Match } from '@hoja/core/data'
import type { Bounds } from '@hoja/core/paint'
import type { Template } from '@hoja/core/template'
import type { Question, Reply } from './worker.ts'

/** Rows checked by one message: small enough that progress moves and an edit is answered soon. */
const batch = 40

/** A worker that checks a sheet's rows and draws their thumbnails, one template and match at a time. */
export class RowWorker {
  private readonly worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' })
  private readonly waiting = new Map<number, (reply: Reply) => void>()
  private ticket = 0
  /** The shaper starts up before the worker listens, and what is said until then is lost: it is kept here. */
  private early: Question[] | undefined = []
  onBroken: (message: string) => void = () => {}

  constructor(template: Template, match: Match) {
    this.worker.onmessage = (event: MessageEvent<Reply>) => {
      const reply = event.data
      if (reply.kind === 'ready') {
        const early = this.early ?? []
        this.early = undefined
        for (const question of early) this.post(question)
      } else if (reply.kind === 'broken') this.onBroken(reply.message)
      else {
        this.waiting.get(reply.ticket)?.(reply)
        this.waiting.delete(reply.ticket)
      }
    }
    this.post({ kind: 'open', template, match })
  }

  private post(question: Question): void {
    if (this.early) this.early.push(question)
    else this.worker.postMessage(question)
  }

  private ask(make: (ticket: number) => Question): Promise<Reply> {
    const ticket = ++this.ticket
    return new Promise((resolve) => {
      this.waiting.set(ticket, resolve)
      this.post(make(ticket))
    })
  }

  /** Checks rows batch by batch; `onResults` hears of each. Ends early when `stopped` says so. */
  async check(
    rows: { row: number; cells: Cells }[],
    onResults: (results: { row: number; findings: Finding[] }[]) => void,
    stopped: () => boolean,
  ): Promise<void> {
    for (let at = 0; at < rows.length && !stopped(); at += batch) {
      const reply = await this.ask((ticket) => ({ kind: 'check', ticket, rows: rows.slice(at, at + batch) }))
      if (reply.kind === 'checked' && !stopped()) onResults(reply.results)
    }
  }

  /** A row at its settled frame, `width` x `height` px, full width of the frame around what it touches. */
  async thumb(
    row: number,
    cells: Cells,
    width: number,
    height: number,
  ): Promise<{ picture: ImageBitmap; crop: Bounds } | undefined> {
    const reply = await this.ask((ticket) => ({ kind: 'thumb', ticket, row, cells, width, height }))
    return reply.kind === 'thumb' ? reply : undefined
  }

  close(): void {
    this.worker.terminate()
  }
}
