import type { ProgrammeSummary } from '@hoja/core/api'
import { localMoment } from '@hoja/core/data'
import { templateFor } from '@hoja/core/output'
import {
  type ClipFinding,
  type ClipId,
  drawnFor,
  lengthOf,
  type Programme,
  type ProgrammeChange,
  titlesOf,
} from '@hoja/core/programme'
import { Refusal } from '@hoja/core/refusal'
import { Scene } from '@hoja/core/scene'
import { type ProgrammeEdit, programmeDocument, Session, type Transaction } from '@hoja/core/session'
import type { Template } from '@hoja/core/template'
import { toast } from 'sonner'
import { createStore, type StoreApi } from 'zustand/vanilla'
import { api } from '../api.ts'
import { loadAssets } from '../preview/assets.ts'
import { Footage } from '../preview/Footage.ts'
import { ProgrammeWorker } from '../preview/ProgrammeWorker.ts'
import { timed } from '../preview/timed.ts'
import { saveFailed } from '../session/draft.ts'
import { keepPastReload, keptSession, sessionOptions } from '../session/keeping.ts'
import { mayHoldUnsaved } from '../ui/unsaved.ts'
import { Playhead } from './playhead.ts'

/** What screens see of a programme. */
export interface ProgrammeView {
  programme: Programme
  past: readonly string[]
  future: readonly string[]
  saved: string
  conflict: boolean
  /** Clips that are chosen, the last one last. */
  chosen: readonly ClipId[]
  findings: ReadonlyMap<ClipId, readonly ClipFinding[]>
  /** Titles that were not looked at yet. */
  unchecked: number
  /** Documents of the versions that are used, by design. */
  templates: ReadonlyMap<string, Template>
  /** Differs when a scene came in. */
  scenes: number
}

/** ms after the last change until it is saved. */
const pause = 500

/** A change in the making: what is refused leaves what stood there, and why is told. */
export interface Making {
  /** @returns why it can't be, in a sentence; nothing: it was made */
  set(change: ProgrammeChange): string | undefined
  end(): void
  cancel(): void
}

/** A programme being edited, with what draws it and what looks at it. */
export class ProgrammeSession {
  readonly store: StoreApi<ProgrammeView>
  readonly playhead: Playhead
  /** What *now* is in its titles, as long as the page is open. */
  readonly now = localMoment(new Date())
  readonly footage = new Footage()
  private readonly session: Session<Programme, ProgrammeEdit>
  private readonly scenes = new Map<string, Scene>()
  private readonly asked = new Set<string>()
  private worker: ProgrammeWorker | undefined

  constructor(
    readonly id: number,
    loaded: { programme: Programme; revision: number } & Pick<ProgrammeSummary, 'production'>,
  ) {
    this.session = new Session<Programme, ProgrammeEdit>(
      programmeDocument,
      {
        load: async () => {
          const fresh = await api.programme({ id }).catch((error) => Promise.reject(saveFailed(error)))
          return { state: fresh.programme, revision: fresh.revision }
        },
        save: async (revision, edits) => {
          const patches = edits.flatMap((edit) => ('patches' in edit ? edit.patches : []))
          const saved = await api
            .changeProgramme({ id, revision, patches })
            .catch((error) => Promise.reject(saveFailed(error)))
          return saved.revision
        },
      },
      { state: loaded.programme, revision: loaded.revision },
      sessionOptions(pause),
      keptSession(`hoja.programme.${id}`),
    )
    const { state, past, future } = this.session.get()
    const { num, den } = state.picture.rate
    this.playhead = new Playhead(num / den)
    this.playhead.length = Math.max(1, lengthOf(state))
    this.store = createStore<ProgrammeView>(() => ({
      programme: state,
      past,
      future,
      saved: '',
      conflict: false,
      chosen: [],
      findings: new Map(),
      unchecked: titlesOf(state).length,
      templates: new Map(),
      scenes: 0,
    }))
  }

  /** @returns what ends it; what is not saved yet is saved behind the next screen */
  open(): () => void {
    const worker = new ProgrammeWorker(({ findings, left }) =>
      this.store.setState({ findings: new Map(findings), unchecked: left }),
    )
    worker.onBroken = (message) => toast.error(message)
    this.worker = worker
    const retry = () => void this.session.save()
    const ends = [
      this.session.subscribe(() => this.heard()),
      mayHoldUnsaved(() => this.session.save()),
      keepPastReload(`hoja.programme.${this.id}`, this.session),
    ]
    window.addEventListener('online', retry)
    let isOpen = true
    void api
      .knownNames()
      .then(({ texts }) => texts)
      .catch(() => [])
      .then((known) => {
        if (!isOpen) return
        // Whatever was changed while the names were on their way is in what is told now.
        worker.tell({ kind: 'open', programme: this.session.get().state, known, now: this.now })
        this.isTold = true
      })
    this.asked.clear()
    this.demandScenes()
    this.heard()
    return () => {
      isOpen = false
      this.isTold = false
      for (const end of ends) end()
      window.removeEventListener('online', retry)
      worker.close()
      this.footage.close()
      this.worker = undefined
      this.playhead.setSpeed(0)
      void this.session.save()
    }
  }

  private isTold = false

  get programme(): Programme {
    return this.session.get().state
  }

  get revision(): number {
    return this.session.get().revision
  }

  /** Whether all is saved by now. */
  readonly save = () => this.session.save()
  readonly undo = () => this.session.undo()
  readonly redo = () => this.session.redo()
  readonly resolve = (keep: 'mine' | 'theirs') => this.session.resolve(keep)

  /** Makes a change, named for undo; what is refused is said, and nothing changes. @returns whether it was made */
  change(change: ProgrammeChange, what: string, gesture?: string): boolean {
    try {
      timed('hoja programme edit', () => this.session.edit([{ change }], what, gesture))
      return true
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      toast.error(error.message)
      return false
    }
  }

  /** The same of a change that tells which clips it made: they are chosen then. */
  place(change: (programme: Programme) => { programme: Programme; ids: ClipId[] }, what: string): boolean {
    let ids: ClipId[] = []
    const isMade = this.change((programme) => {
      const made = change(programme)
      ids = made.ids
      return made.programme
    }, what)
    if (isMade) this.choose(ids)
    return isMade
  }

  begin(what: string): Making {
    const transaction: Transaction<ProgrammeEdit> = this.session.begin(what)
    return {
      set: (change) => {
        try {
          timed('hoja programme edit', () => transaction.set([{ change }]))
          return undefined
        } catch (error) {
          if (!(error instanceof Refusal)) throw error
          return error.message
        }
      },
      end: () => transaction.end(),
      cancel: () => transaction.cancel(),
    }
  }

  choose(ids: readonly ClipId[]): void {
    this.store.setState({ chosen: ids })
  }

  /** The scene of a design in a shape; undefined while it is on its way. */
  readonly sceneOf = (design: string, shape: string | undefined): Scene | undefined =>
    this.scenes.get(`${design} ${shape ?? ''}`)

  /** Fetches what draws the titles that there are. */
  private demandScenes(): void {
    const { programme } = this
    for (const { clip } of titlesOf(programme)) {
      const key = `${clip.design} ${clip.shape ?? ''}`
      if (this.asked.has(key)) continue
      this.asked.add(key)
      void this.loadScene(key, clip.design, clip.shape).catch((error: Error) => {
        this.asked.delete(key)
        toast.error(error.message)
      })
    }
  }

  private async loadScene(key: string, design: string, shape: string | undefined): Promise<void> {
    const { templates } = this.store.getState()
    const designed = templates.get(design) ?? (await api.version({ id: Number(design) })).content
    const template = templateFor(drawnFor(this.programme, shape), designed)
    this.scenes.set(key, new Scene(template, await loadAssets(template)))
    this.store.setState(({ templates: known, scenes }) => ({
      templates: new Map([...known, [design, designed]]),
      scenes: scenes + 1,
    }))
    this.worker?.tell({ kind: 'designs', designs: [{ design, shape, template }] })
  }

  private heard(): void {
    const { state, by, status, past, future } = this.session.get()
    const was = this.store.getState().programme
    if (state !== was) {
      if (this.isTold)
        for (const edit of by ?? programmeDocument.between(was, state))
          if ('patches' in edit) this.worker?.tell({ kind: 'change', patches: edit.patches })
      this.playhead.length = Math.max(1, lengthOf(state))
      this.demandScenes()
    }
    const saved =
      status.kind === 'saved'
        ? 'saved'
        : status.kind === 'away' || status.kind === 'refused'
          ? `not saved: ${status.message}`
          : status.kind === 'conflict'
            ? 'not saved: changed elsewhere'
            : 'saving …'
    const chosen = this.store.getState().chosen.filter((id) => Object.hasOwn(state.clips, id))
    this.store.setState((old) => ({
      programme: state,
      past,
      future,
      saved,
      conflict: status.kind === 'conflict',
      chosen: chosen.length === old.chosen.length ? old.chosen : chosen,
    }))
  }
}
