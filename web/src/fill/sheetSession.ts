import type { SheetNews } from '@hoja/core/api'
import type { Match, Row, RowFound, Splice } from '@hoja/core/data'
import { movedBy, Session, sheetDocument } from '@hoja/core/session'
import type { Template } from '@hoja/core/template'
import { toast } from 'sonner'
import { createStore, type StoreApi } from 'zustand/vanilla'
import { type ApiError, api, type SheetDetail, wholeSheet } from '../api.ts'
import { chunk, type FoundRows, SheetWorker } from '../preview/SheetWorker.ts'
import type { OtherVersion } from '../preview/sheetWork.ts'
import { saveFailed } from '../session/draft.ts'
import { keepPastReload, keptSession, sessionOptions } from '../session/keeping.ts'
import { mayHoldUnsaved } from '../ui/unsaved.ts'

/** What was found about the rows, by their index: undefined until a row is checked. */
export type Found = readonly (RowFound | undefined)[]

/** Makes edits of rows as one step, named for undo; steps of the same gesture, one after another, join. */
export type Edit = (splices: readonly Splice[], what: string, gesture?: string) => void

/** Rows up to which the screen is told of every finding as it comes. */
const shortSheet = 2000

/** What rows are checked against. */
export interface Against {
  template: Template
  match: Match
  versions: OtherVersion[]
  /** How names are spelled. */
  known: readonly string[]
}

/** What screens see of a sheet being filled. */
export interface SheetView {
  rows: readonly Row[]
  /** The rows before the last edit; undefined where there was none. */
  before: readonly Row[] | undefined
  /** What others did last, as the followed data does: the rows before it and after. */
  others: { before: readonly Row[]; now: readonly Row[] } | undefined
  findings: Found
  past: readonly string[]
  future: readonly string[]
  saved: string
  /** Somebody else saved the same rows meanwhile. */
  conflict: boolean
  /** What checks and draws the rows; undefined until it is asked for. */
  worker: SheetWorker | undefined
}

/** A sheet being filled: its rows as the engine keeps them, and what a worker finds about them as they change. */
export class SheetSession {
  readonly store: StoreApi<SheetView>
  private readonly session: Session<readonly Row[], Splice>
  private worker: SheetWorker | undefined
  /** Whether the worker has all rows. */
  private loaded = false
  private found: (RowFound | undefined)[] = []
  private sent: Splice[] = []
  private due: ReturnType<typeof setTimeout> | undefined

  constructor(private readonly sheet: SheetDetail) {
    this.session = new Session<readonly Row[], Splice>(
      sheetDocument,
      {
        load: async () => {
          const { rows, revision } = await wholeSheet(sheet.id).catch((error) => Promise.reject(saveFailed(error)))
          return { state: rows, revision }
        },
        save: async (revision, edits) => {
          const saved = await api
            .changeRows({ id: sheet.id, revision, changes: [...edits] })
            .catch((error) => Promise.reject(saveFailed(error)))
          return saved.revision
        },
      },
      { state: sheet.rows, revision: sheet.revision },
      sessionOptions(0),
      keptSession(`hoja.sheet.${sheet.id}`),
    )
    const { state, past, future } = this.session.get()
    this.store = createStore<SheetView>(() => ({
      rows: state,
      before: undefined,
      others: undefined,
      findings: [],
      past,
      future,
      saved: '',
      conflict: false,
      worker: undefined,
    }))
  }

  /** Tells the screens from now on. @returns what ends that; what is not saved yet is saved behind the next screen */
  open(): () => void {
    const retry = () => void this.session.save()
    const ends = [
      this.session.subscribe(() => this.heard()),
      this.session.onOthers((before, now) => this.store.setState({ others: { before, now } })),
      mayHoldUnsaved(() => this.session.save()),
      keepPastReload(`hoja.sheet.${this.sheet.id}`, this.session),
    ]
    // The net is back: what waits for the server is tried at once.
    window.addEventListener('online', retry)
    this.heard()
    return () => {
      for (const end of ends) end()
      window.removeEventListener('online', retry)
      clearTimeout(this.due)
      this.due = undefined
      void this.session.save()
    }
  }

  /** The revision that the server has, when all is saved. */
  get revision(): number {
    return this.session.get().revision
  }

  readonly edit: Edit = (splices, what, gesture) => {
    const before = this.session.get().state
    this.session.edit(splices, what, gesture)
    if (this.session.get().state !== before) this.store.setState({ before })
  }
  readonly undo = () => this.session.undo()
  readonly redo = () => this.session.redo()
  readonly resolve = (keep: 'mine' | 'theirs') => this.session.resolve(keep)

  /** Takes in what the followed data says now. */
  receive({ from, revision, changes }: NonNullable<SheetNews['change']>): Promise<void> {
    return this.session.receive({ from, revision, edits: changes }).catch((error: Error) => {
      toast.error(error.message)
    })
  }

  /**
   * Says anew what fills what, on the revision that the rows are at. Where data is followed it may change just then: word of
   * it is taken in first.
   * @throws ApiError
   */
  async setMatch(match: Match): Promise<void> {
    for (let tries = 1; ; tries++)
      try {
        const isDone = await this.session.onRevision(
          async (revision) => (await api.setMatch({ id: this.sheet.id, revision, match })).revision,
        )
        if (!isDone) throw new Error(`The rows come first, and they are ${this.store.getState().saved}.`)
        return
      } catch (failure) {
        if ((failure as ApiError).status !== 409 || tries === 6) throw failure
        await this.session.reload()
      }
  }

  /** Checks the rows against something else. @returns what ends that */
  checkAgainst({ template, match, versions, known }: Against): () => void {
    let stopped = false
    const worker = new SheetWorker(template, match, versions, known, (found) => {
      if (!stopped) this.foundSome(found)
    })
    worker.onBroken = (message) => toast.error(message)
    this.worker = worker
    this.loaded = false
    this.found = []
    this.store.setState({ worker })
    this.publish()
    const first = this.session.get().state
    // The worker is given its rows in chunks, each an edit that it counts; they move no row.
    this.sent = []
    for (let at = 0; at < first.length; at += chunk) this.sent.push({ at: at + 1, remove: 0, rows: [] })
    void worker
      .load(first, () => stopped)
      .then(() => {
        if (stopped) return
        this.loaded = true
        for (const splice of sheetDocument.between(first, this.session.get().state)) this.tell(splice)
      })
    return () => {
      stopped = true
      worker.close()
      if (this.worker === worker) this.worker = undefined
    }
  }

  /** The session has another state to show. */
  private heard(): void {
    const { state, by, status, past, future } = this.session.get()
    const was = this.store.getState().rows
    if (state !== was && this.worker && this.loaded)
      for (const splice of by ?? sheetDocument.between(was, state)) this.tell(splice)
    const saved =
      status.kind === 'saved'
        ? past.length + future.length > 0
          ? 'saved'
          : ''
        : status.kind === 'away' || status.kind === 'refused'
          ? `not saved: ${status.message}`
          : status.kind === 'conflict'
            ? 'not saved: changed elsewhere'
            : 'saving …'
    this.store.setState({ rows: state, past, future, saved, conflict: status.kind === 'conflict' })
    if (state !== was) this.publish()
  }

  private tell(splice: Splice): void {
    this.worker!.change(splice)
    this.sent.push(splice)
    // What was found about an edited row stands until the worker has looked at it again.
    if (splice.remove !== splice.rows.length)
      this.found.splice(splice.at - 1, splice.remove, ...splice.rows.map(() => undefined))
  }

  private foundSome({ edits, results }: FoundRows): void {
    // Edits that the worker had not heard of when it said this.
    const since = this.sent.slice(edits)
    for (const { n, findings, isLooked } of results) {
      const at = since.reduce<number | undefined>((place, one) => place && movedBy(one, place), n)
      if (at !== undefined) this.found[at - 1] = { findings, isLooked }
    }
    this.publish()
  }

  /** Findings come in by the dozen. The screen hears of an edit's at once, of a whole sheet's now and then. */
  private publish(): void {
    this.due ??= setTimeout(
      () => {
        this.due = undefined
        this.store.setState({ findings: [...this.found] })
      },
      this.found.length > shortSheet ? 250 : 16,
    )
  }
}
