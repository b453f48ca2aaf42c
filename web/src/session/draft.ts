import { Refusal } from '@hoja/core/refusal'
import { type Change, edit, type Template } from '@hoja/core/template'
import { toast } from 'sonner'
import { create } from 'zustand'
import { type ApiError, api, clock, type TemplateDetail, type Version } from '../ui/api.ts'
import { mayHoldUnsaved } from '../ui/unsaved.ts'

/** Another tab or person saved this draft meanwhile. */
export interface Conflict {
  revision: number
  template: Template
}

export interface DraftSession {
  id: string | undefined
  template: Template | undefined
  versions: Version[]
  ahead: boolean
  revision: number
  past: { template: Template; what: string }[]
  future: { template: Template; what: string }[]
  /** What autosave says of itself. */
  saved: string
  dirty: boolean
  conflict: Conflict | undefined
  /** The change that was refused last, until another is made. */
  refused: Refusal | undefined
  /** Why the draft that was asked for could not be opened. */
  trouble: ApiError | undefined
  open(id: string): Promise<void>
  /** Makes a change, named for undo. Changes with the same `drag` name join into one step. */
  change(change: Change, what: string, drag?: string): boolean
  /** Makes a change that a command works out from the template; what it refuses is said, and nothing changes. */
  attempt(make: (template: Template) => Change, what: string, drag?: string): boolean
  undo(): void
  redo(): void
  saveNow(): Promise<boolean>
  resolve(keep: 'mine' | 'theirs'): void
  publish(note: string): Promise<Version | undefined>
}

let timer: ReturnType<typeof setTimeout> | undefined
let saving: Promise<boolean> = Promise.resolve(true)
let openDrag: string | undefined

/** The draft being worked on: its history, and autosave on a known revision. Draft and Hand-off share it. */
export const useDraft = create<DraftSession>((set, get) => {
  const later = () => {
    clearTimeout(timer)
    timer = setTimeout(() => void get().saveNow(), 500)
  }
  const put = (template: Template, more: Partial<DraftSession>) => {
    set({ template, dirty: true, saved: 'saving …', ...more })
    later()
  }
  const accept = (detail: TemplateDetail) =>
    set({
      id: detail.id,
      template: detail.template,
      versions: detail.versions,
      ahead: detail.ahead,
      revision: detail.revision,
      past: [],
      future: [],
      saved: `saved ${clock(detail.changed)}`,
      dirty: false,
      conflict: undefined,
    })

  const save = async (): Promise<boolean> => {
    const { id, template, revision, dirty, conflict } = get()
    if (!id || !template || !dirty || conflict) return !dirty
    try {
      const result = await api.save(id, revision, template)
      if (get().id !== id) return true
      const still = get().template === template
      set({
        revision: result.revision,
        ahead: result.ahead,
        dirty: !still,
        ...(still ? { saved: `saved ${clock(result.changed)}` } : {}),
      })
      if (!still) later()
      return true
    } catch (error) {
      const api = error as ApiError
      if (api.status === 409) set({ conflict: api.body.current as Conflict, saved: 'not saved: changed elsewhere' })
      else {
        set({ saved: `not saved: ${api.message}` })
        if (api.status === 0) timer = setTimeout(() => void get().saveNow(), 3000)
      }
      return false
    }
  }

  return {
    id: undefined,
    template: undefined,
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
    async open(id) {
      if (get().id === id && get().dirty) return
      if (get().id !== id) set({ id, template: undefined, past: [], future: [], dirty: false, conflict: undefined })
      set({ trouble: undefined })
      let detail: TemplateDetail
      try {
        detail = await api.template(id)
      } catch (error) {
        // Asked for another one meanwhile, what became of this one is of no matter.
        if (get().id === id) set({ trouble: error as ApiError })
        return
      }
      if (get().id === id && !get().dirty) {
        const same = get().template && get().revision === detail.revision
        if (same) set({ versions: detail.versions, ahead: detail.ahead })
        else accept(detail)
      }
    },
    change(change, what, drag) {
      const { template, past } = get()
      if (!template) return false
      try {
        const next = edit(template, change)
        const joins = drag !== undefined && drag === openDrag && past.length > 0
        openDrag = drag
        put(next, { past: joins ? past : [...past, { template, what }], future: [], refused: undefined })
        return true
      } catch (error) {
        if (!(error instanceof Refusal)) throw error
        toast.error(error.message)
        set({ refused: error })
        return false
      }
    },
    attempt(make, what, drag) {
      const { template } = get()
      if (!template) return false
      try {
        return get().change(make(template), what, drag)
      } catch (error) {
        if (!(error instanceof Refusal)) throw error
        toast.error(error.message)
        return false
      }
    },
    undo() {
      const { template, past, future } = get()
      const last = past[past.length - 1]
      openDrag = undefined
      if (template && last)
        put(last.template, { past: past.slice(0, -1), future: [{ template, what: last.what }, ...future] })
    },
    redo() {
      const { template, past, future } = get()
      const next = future[0]
      openDrag = undefined
      if (template && next)
        put(next.template, { past: [...past, { template, what: next.what }], future: future.slice(1) })
    },
    saveNow() {
      clearTimeout(timer)
      // One save at a time: each needs the revision that the one before it got.
      saving = saving.then(save, save)
      return saving
    },
    resolve(keep) {
      const { conflict, template } = get()
      if (!conflict || !template) return
      if (keep === 'mine') put(template, { revision: conflict.revision, conflict: undefined })
      else
        put(conflict.template, {
          revision: conflict.revision,
          conflict: undefined,
          past: [...get().past, { template, what: 'my own draft' }],
        })
    },
    async publish(note) {
      if (!(await get().saveNow())) return undefined
      const { id, revision } = get()
      if (!id) return undefined
      const version = await api.publish(id, note, revision)
      // What is published already stays the version that it is.
      const others = get().versions.filter((one) => one.id !== version.id)
      set({ versions: [version, ...others], ahead: false })
      return version
    },
  }
})

mayHoldUnsaved(() => useDraft.getState().saveNow())
