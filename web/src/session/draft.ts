import type { TemplateDetail, Version } from '@hoja/core/api'
import { Refusal } from '@hoja/core/refusal'
import { type DraftEdit, draftDocument, SaveFailed, Session, type Status, type Transaction } from '@hoja/core/session'
import { type Change, firstShape, inShape, type ShapeId, shapeOf, type Template } from '@hoja/core/template'
import { toast } from 'sonner'
import { create } from 'zustand'
import { ApiError, api } from '../api.ts'
import { mayHoldUnsaved } from '../ui/unsaved.ts'
import { clock } from '../ui/words.ts'
import { keepPastReload, keptSession, sessionOptions } from './keeping.ts'

/** Another tab or person saved this draft meanwhile. */
export interface Conflict {
  revision: number
  template: Template
}

export interface DraftSession {
  id: string | undefined
  /** As the shape of the frame has it that is looked at: a template of that one shape. */
  template: Template | undefined
  /** The document itself, with all of its shapes. */
  whole: Template | undefined
  /** The shape that is looked at, and in which changes are made. */
  shape: ShapeId
  versions: Version[]
  ahead: boolean
  revision: number
  /** Names of what can be undone, the last done last; and redone, the next first. */
  past: readonly string[]
  future: readonly string[]
  /** What autosave says of itself. */
  saved: string
  dirty: boolean
  conflict: Conflict | undefined
  /** The change that was refused last, until another is made. */
  refused: Refusal | undefined
  /** Why the draft that was asked for could not be opened. */
  trouble: ApiError | undefined
  open(id: string): Promise<void>
  /** Makes a change, named for undo. Changes with the same `gesture` join into one step. */
  change(change: Change, what: string, gesture?: string): boolean
  /** Makes a change that a command works out from the template; what it refuses is said, and nothing changes. */
  attempt(make: (template: Template) => Change, what: string, gesture?: string): boolean
  /** The same of the whole document, whichever of its shapes is looked at. */
  attemptWhole(make: (whole: Template) => Change, what: string): boolean
  /** Begins a change in the making, as while something is dragged: every `set` starts from where it began. */
  begin(what: string): Making | undefined
  /** Looks at another shape of the frame. */
  setShape(shape: ShapeId): void
  undo(): void
  redo(): void
  saveNow(): Promise<boolean>
  resolve(keep: 'mine' | 'theirs'): void
  publish(note: string): Promise<Version | undefined>
}

/** A change in the making. What is refused leaves what stood there, and is said when it ends. */
export interface Making {
  /** Makes it anew, from the drawing that it began with; undefined: nothing of it. */
  set(make: (from: Template) => Change | undefined): void
  end(): void
  cancel(): void
}

/** ms after the last change until a draft is saved. */
const pause = 500

/** What is shown where no draft is open. */
const closed = {
  template: undefined,
  whole: undefined,
  shape: firstShape,
  versions: [],
  ahead: false,
  revision: 0,
  past: [],
  future: [],
  saved: '',
  dirty: false,
  conflict: undefined,
  refused: undefined,
  trouble: undefined,
}

function savedWords(status: Status<Template>, changed: string): string {
  switch (status.kind) {
    case 'saved':
      return `saved ${clock(changed)}`
    case 'conflict':
      return 'not saved: changed elsewhere'
    case 'away':
    case 'refused':
      return `not saved: ${status.message}`
    default:
      return 'saving …'
  }
}

/** A document in one of its shapes; in the first where that one is gone. */
function shown(whole: Template, asked: ShapeId): Pick<DraftSession, 'whole' | 'shape' | 'template'> {
  const shape = whole.shapes?.some(({ id }) => id === asked) ? asked : firstShape
  return { whole, shape, template: shapeOf(whole, shape) }
}

/** A failure of the server as the engine knows failures. */
export function saveFailed(error: unknown): SaveFailed {
  const { status, message } = error as ApiError
  return new SaveFailed(
    status === 409 ? 'stale' : error instanceof ApiError && status > 0 ? 'refused' : 'away',
    message,
  )
}

interface Open {
  id: string
  session: Session<Template, DraftEdit>
  end(): void
}
let opened: Open | undefined

/** The draft being worked on, as screens see it; the engine behind it is `Session`. Draft and Hand-off share it. */
export const useDraft = create<DraftSession>((set, get) => {
  let changed = ''

  /** A draft that is open, and what it tells the screens. */
  const follow = (detail: TemplateDetail): Open => {
    const { id } = detail
    const took = (one: { changed: string; ahead: boolean; versions?: Version[] }) => {
      if (opened?.id !== id) return
      changed = one.changed
      set({ ahead: one.ahead, ...(one.versions ? { versions: one.versions } : {}) })
    }
    const session = new Session<Template, DraftEdit>(
      draftDocument,
      {
        async load() {
          const fresh = await api.template({ id }).catch((error) => Promise.reject(saveFailed(error)))
          took(fresh)
          return { state: fresh.template, revision: fresh.revision }
        },
        async save(revision, _edits, template) {
          const saved = await api.save({ id, revision, template }).catch((error) => Promise.reject(saveFailed(error)))
          took(saved)
          return saved.revision
        },
      },
      { state: detail.template, revision: detail.revision },
      sessionOptions(pause),
      keptSession(`hoja.draft.${id}`),
    )
    const show = () => {
      const { state, revision, status, past, future } = session.get()
      set({
        ...shown(state, get().shape),
        revision,
        past,
        future,
        dirty: !session.isSaved,
        saved: savedWords(status, changed),
        conflict:
          status.kind === 'conflict' ? { revision: status.theirs.revision, template: status.theirs.state } : undefined,
      })
    }
    const unsubscribe = session.subscribe(show)
    const unkeep = keepPastReload(`hoja.draft.${id}`, session)
    opened = {
      id,
      session,
      end: () => {
        unsubscribe()
        unkeep()
        // What is not saved yet is saved behind the next screen.
        void session.save()
      },
    }
    changed = detail.changed
    set({ ...closed, id, versions: detail.versions, ahead: detail.ahead })
    show()
    return opened
  }

  /** Whether what was tried was done; what is refused is said. */
  const tried = (act: () => void): boolean => {
    try {
      act()
      set({ refused: undefined })
      return true
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      toast.error(error.message)
      set({ refused: error })
      return false
    }
  }

  /** A change as it is made in the shape that is looked at. @throws Refusal */
  const made = ({ session }: Open, change: Change): DraftEdit => ({
    change: inShape(session.get().state, get().shape, change),
  })

  return {
    ...closed,
    id: undefined,
    async open(id) {
      if (opened && opened.id !== id) {
        opened.end()
        opened = undefined
      }
      if (get().id !== id) set({ ...closed, id })
      set({ trouble: undefined })
      try {
        if (opened) {
          await opened.session.reload()
          return
        }
        const detail = await api.template({ id })
        // Asked for another one meanwhile, what became of this one is of no matter.
        if (get().id === id && !opened) follow(detail)
      } catch (error) {
        if (get().id === id && !opened) set({ trouble: error as ApiError })
      }
    },
    change(change, what, gesture) {
      const own = opened
      return own !== undefined && tried(() => own.session.edit([made(own, change)], what, gesture))
    },
    attempt(make, what, gesture) {
      const own = opened
      return own !== undefined && tried(() => own.session.edit([made(own, make(get().template!))], what, gesture))
    },
    attemptWhole(make, what) {
      const own = opened
      return own !== undefined && tried(() => own.session.edit([{ change: make(get().whole!) }], what))
    },
    begin(what) {
      if (!opened) return undefined
      const { session } = opened
      const { whole, shape, template: from } = get()
      const own: Transaction<DraftEdit> = session.begin(what)
      let refused: Refusal | undefined
      return {
        set: (make) => {
          try {
            const change = make(from!)
            own.set(change ? [{ change: inShape(whole!, shape, change) }] : [])
            refused = undefined
          } catch (error) {
            if (!(error instanceof Refusal)) throw error
            refused = error
          }
        },
        end: () => {
          own.end()
          if (refused) toast.error(refused.message)
          set({ refused })
        },
        cancel: own.cancel,
      }
    },
    setShape(shape) {
      const { whole } = get()
      if (whole) set(shown(whole, shape))
    },
    undo: () => opened?.session.undo(),
    redo: () => opened?.session.redo(),
    saveNow: async () => opened?.session.save() ?? true,
    resolve: (keep) => opened?.session.resolve(keep),
    async publish(note) {
      const own = opened
      if (!own || !(await own.session.save())) return undefined
      const version = await api.publish({ id: own.id, note, revision: own.session.get().revision })
      // What is published already stays the version that it is.
      const others = get().versions.filter((one) => one.id !== version.id)
      set({ versions: [version, ...others], ahead: false })
      return version
    },
  }
})

mayHoldUnsaved(() => useDraft.getState().saveNow())
// The net is back: what waits for the server is tried at once.
globalThis.addEventListener?.('online', () => void useDraft.getState().saveNow())
