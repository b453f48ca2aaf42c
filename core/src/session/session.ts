import { History, type Step, type StoredHistory } from './history.ts'

/** How a document is edited: edits are values on a known state, and each says what takes it back. */
export interface DocumentKind<State, Edit> {
  /**
   * Makes an edit.
   * @returns the state after it, the same edit as it can be made again, and the one that takes it back
   * @throws Refusal for what cannot be; nothing has changed then
   */
  apply(state: State, edit: Edit): { state: State; done: Edit; inverse: Edit }
  /** An edit as it is made after `others` were, by somebody else; undefined where that can't be told. */
  over(edit: Edit, others: readonly Edit[]): Edit | undefined
  /** What leads from one state to another. */
  between(from: State, to: State): Edit[]
  /** Whether two states are the same document, told by what is in them. */
  same(one: State, other: State): boolean
  /** The edits that are saved in one go, and what is left of them: together both do the same. */
  portion(edits: readonly Edit[]): { part: readonly Edit[]; left: readonly Edit[] }
}

/** Where a document is kept: every save names the revision that it was made on. */
export interface Remote<State, Edit> {
  load(): Promise<{ state: State; revision: number }>
  /**
   * Saves edits, all or none.
   * @param state after them
   * @returns the revision that it is now
   * @throws SaveFailed
   */
  save(revision: number, edits: readonly Edit[], state: State): Promise<number>
}

/**
 * Why a save came to nothing. `stale`: the document is at another revision; `away`: the server was not reached, so that it
 * may have saved all the same; `refused`: it will not have it.
 */
export class SaveFailed extends Error {
  constructor(
    readonly why: 'stale' | 'away' | 'refused',
    message: string,
  ) {
    super(message)
  }
}

/** A save of which no answer came yet: the server may have it. */
interface Attempt<State, Edit> {
  /** What the server has if it does. */
  state: State
  /** How many of the unsaved edits it was made of, and what of them it left for another one. */
  of: number
  left: readonly Edit[]
}

/** What the session says of the document on the server. */
export type Status<State> =
  | { kind: 'saved' }
  | { kind: 'unsaved' }
  | { kind: 'saving' }
  /** Not reached; tried again by itself. */
  | { kind: 'away'; message: string }
  | { kind: 'refused'; message: string }
  /** Somebody else saved meanwhile; a person chooses. */
  | { kind: 'conflict'; theirs: { state: State; revision: number } }

export interface SessionState<State, Edit> {
  readonly state: State
  readonly revision: number
  readonly status: Status<State>
  /** The edits that led here from the state that was told of before; undefined: it is another document. */
  readonly by: readonly Edit[] | undefined
  /** Names of what can be undone, the last done last; and of what can be redone, the next first. */
  readonly past: readonly string[]
  readonly future: readonly string[]
}

export interface SessionOptions {
  /** ms without an edit before it is saved. */
  pause: number
  /** Calls once after so many ms; gives back what calls it off. */
  later(ms: number, act: () => void): () => void
  /** Undo steps that are kept. */
  depth: number
}

/** ms after which a server that was away is tried again: the first time, and at most. */
const again = { first: 3000, most: 30_000 }

/** A change in the making, as while something is dragged: each value is made on the state that it began with. */
export interface Transaction<Edit> {
  /** @throws Refusal, and what was there stays */
  set(edits: readonly Edit[]): void
  /** One step for undo; nothing, when nothing came of it. */
  end(): void
  cancel(): void
}

/**
 * A document that is being edited: its history, and its saves on known revisions. Knows no framework and shows nothing;
 * whoever shows it subscribes.
 */
export class Session<State, Edit> {
  private readonly listeners = new Set<() => void>()
  private readonly othersListeners = new Set<(before: State, now: State) => void>()
  private readonly history: History<Edit>
  private current: SessionState<State, Edit>
  /** What the server has at `revision`, as far as is known, and the edits that lead from there to what is seen. */
  private stored: State
  private unsaved: Edit[] = []
  /** Since the last answer. */
  private attempts: Attempt<State, Edit>[] = []
  private saving: Promise<void> | undefined
  private callOff: (() => void) | undefined
  private wait = again.first
  private transaction: { base: State; name: string; edits: Step<Edit> } | undefined
  /** Counts what came from the server, so that an answer to something older can be told. */
  private generation = 0

  constructor(
    private readonly kind: DocumentKind<State, Edit>,
    private readonly remote: Remote<State, Edit>,
    loaded: { state: State; revision: number },
    private readonly options: SessionOptions,
    kept?: StoredSession<State, Edit>,
  ) {
    this.stored = loaded.state
    this.history = new History<Edit>(options.depth)
    this.current = { ...loaded, status: { kind: 'saved' }, by: undefined, past: [], future: [] }
    if (kept) this.restore(kept)
  }

  // --- reading

  get(): SessionState<State, Edit> {
    return this.current
  }

  /** Hears of every change. @returns what ends that */
  subscribe(listener: () => void): () => void {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  /** Hears of what was taken in from others, as it was before and is now. @returns what ends that */
  onOthers(listener: (before: State, now: State) => void): () => void {
    this.othersListeners.add(listener)
    return () => this.othersListeners.delete(listener)
  }

  get isSaved(): boolean {
    return this.unsaved.length === 0 && !this.transaction && this.current.status.kind !== 'conflict'
  }

  // --- editing

  /**
   * Makes edits as one step, named for undo. Steps of the same `gesture`, one right after another, join into one.
   * @throws Refusal, and nothing has changed
   */
  edit(edits: readonly Edit[], name: string, gesture?: string): void {
    this.endTransaction()
    const { state, step } = this.made(this.current.state, edits, name)
    if (state === this.current.state) return
    this.history.push({ ...step, ...(gesture === undefined ? {} : { gesture }) })
    this.changed(state, step.edits)
  }

  /** Begins a change of which only what it ends with counts. */
  begin(name: string): Transaction<Edit> {
    this.endTransaction()
    const own = { base: this.current.state, name, edits: { name, edits: [], inverse: [] } as Step<Edit> }
    this.transaction = own
    return {
      set: (edits) => {
        if (this.transaction !== own) return
        const { state, step } = this.made(own.base, edits, name)
        const by = [...own.edits.inverse, ...step.edits]
        own.edits = step
        this.show({ state, by })
      },
      end: () => {
        if (this.transaction === own) this.endTransaction()
      },
      cancel: () => {
        if (this.transaction !== own) return
        this.transaction = undefined
        this.show({ state: own.base, by: own.edits.inverse })
      },
    }
  }

  undo(): void {
    this.endTransaction()
    const step = this.history.undo()
    if (step) this.travel(step.inverse)
  }

  redo(): void {
    this.endTransaction()
    const step = this.history.redo()
    if (step) this.travel(step.edits)
  }

  // --- saving

  /** Saves what is not saved yet. @returns whether all of it is, by now */
  async save(): Promise<boolean> {
    this.endTransaction()
    // What is under way was begun before this was asked for.
    if (this.saving) await this.saving
    await this.saveBehind()
    return this.isSaved
  }

  /** What is done by itself while somebody works: nothing in the making is ended for it. */
  private saveBehind(): Promise<void> {
    this.callOff?.()
    this.saving ??= this.saveAll().finally(() => {
      this.saving = undefined
    })
    return this.saving
  }

  /** Of a conflict: what I see goes over what they saved, or theirs is taken, and undo brings mine back. */
  resolve(keep: 'mine' | 'theirs'): void {
    const { status, state } = this.current
    if (status.kind !== 'conflict') return
    const { theirs } = status
    this.generation++
    this.attempts = []
    this.stored = theirs.state
    const back = this.kind.between(theirs.state, state)
    if (keep === 'mine') {
      this.unsaved = back
      this.show({ revision: theirs.revision, status: { kind: back.length > 0 ? 'unsaved' : 'saved' } })
    } else {
      this.unsaved = []
      this.history.push({ name: 'my own', edits: this.kind.between(state, theirs.state), inverse: back })
      this.show({ state: theirs.state, revision: theirs.revision, status: { kind: 'saved' } })
    }
    this.soon()
  }

  /**
   * Does something to the document on the server that is no edit, on its revision, when all is saved.
   * @returns whether it was done
   */
  async onRevision(work: (revision: number) => Promise<number>): Promise<boolean> {
    if (!(await this.save())) return false
    this.show({ revision: await work(this.current.revision) })
    return true
  }

  // --- what others do

  /**
   * Takes in what became of the document on the server through somebody else. Undo steps over it: it takes back what was
   * done here, and leaves that.
   */
  async receive(news: { from: number; revision: number; edits: readonly Edit[] }): Promise<void> {
    // What is on its way to the server is part of what comes back.
    while (this.saving) await this.saving
    if (news.revision <= this.current.revision || this.current.status.kind === 'conflict') return
    if (news.from !== this.current.revision || !this.rebase(news.edits, news.revision)) await this.reload()
  }

  /** Loads the document anew. What is not saved here is a conflict with what is there. */
  async reload(): Promise<void> {
    const generation = ++this.generation
    const theirs = await this.remote.load()
    if (generation === this.generation) this.meet(theirs)
  }

  // --- past a reload of the page

  /** What a session needs to go on where this one is; undo steps as far as `most` characters go. */
  keep(most: number): StoredSession<State, Edit> {
    this.endTransaction()
    const { revision, state } = this.current
    const history = this.history.keep(most)
    return { revision, history, ...(this.unsaved.length > 0 ? { unsaved: { edits: this.unsaved, state } } : {}) }
  }

  private restore({ revision, unsaved, history }: StoredSession<State, Edit>): void {
    const { state, revision: now } = this.current
    // A save that was under way when the page went may have arrived.
    const hasArrived = unsaved !== undefined && this.kind.same(unsaved.state, state)
    if (revision !== now && !hasArrived) {
      // Of what was kept only what nobody else has is of use: it is mine, and a person chooses.
      if (unsaved) this.show({ state: unsaved.state, status: { kind: 'conflict', theirs: { state, revision: now } } })
      return
    }
    this.history.restore(history)
    if (unsaved && !hasArrived) {
      this.unsaved = [...unsaved.edits]
      this.show({ state: unsaved.state, status: { kind: 'unsaved' } })
      this.soon()
    } else this.show({})
  }

  // --- within

  private made(from: State, edits: readonly Edit[], name: string): { state: State; step: Step<Edit> } {
    let state = from
    const step: Step<Edit> = { name, edits: [], inverse: [] }
    for (const edit of edits) {
      const one = this.kind.apply(state, edit)
      if (one.state === state) continue
      state = one.state
      step.edits.push(one.done)
      step.inverse.unshift(one.inverse)
    }
    return { state, step }
  }

  private endTransaction(): void {
    const own = this.transaction
    this.transaction = undefined
    if (!own || this.current.state === own.base) return
    this.history.push(own.edits)
    // All of it has been told.
    this.changed(this.current.state, own.edits.edits)
  }

  private travel(edits: readonly Edit[]): void {
    const { state, step } = this.made(this.current.state, edits, '')
    this.changed(state, step.edits)
  }

  private changed(state: State, edits: readonly Edit[]): void {
    this.unsaved.push(...edits)
    const { status } = this.current
    this.show({ state, by: edits, status: status.kind === 'conflict' ? status : { kind: 'unsaved' } })
    this.soon()
  }

  private show(more: Partial<SessionState<State, Edit>>): void {
    const by = more.state === undefined || more.state === this.current.state ? [] : more.by
    this.current = { ...this.current, ...more, by, past: this.history.pastNames, future: this.history.futureNames }
    for (const listener of this.listeners) listener()
  }

  private soon(ms = this.options.pause): void {
    this.callOff?.()
    if (this.unsaved.length > 0) this.callOff = this.options.later(ms, () => void this.saveBehind())
  }

  private async saveAll(): Promise<void> {
    while (this.unsaved.length > 0 && this.current.status.kind !== 'conflict') {
      const generation = this.generation
      const { part, left } = this.kind.portion(this.unsaved)
      const state = left.length === 0 ? (this.transaction?.base ?? this.current.state) : this.after(this.stored, part)
      const attempt = { state, of: this.unsaved.length, left }
      this.attempts.push(attempt)
      this.show({ status: { kind: 'saving' } })
      try {
        const revision = await this.remote.save(this.current.revision, part, state)
        // What came from the server meanwhile says more than this answer does.
        if (generation !== this.generation) return this.soon()
        // A save stands on the revision before its own, unless the server put somebody's edits below it.
        if (revision === this.current.revision + 1) this.arrived(revision, attempt)
        else {
          const theirs = await this.remote.load()
          if (generation !== this.generation) return this.soon()
          this.arrived(this.current.revision, attempt)
          if (!this.rebase(this.kind.between(attempt.state, theirs.state), theirs.revision)) this.meet(theirs)
        }
        this.wait = again.first
      } catch (error) {
        if (!(error instanceof SaveFailed)) throw error
        if (!(await this.failed(error))) return
      }
    }
  }

  private after(state: State, edits: readonly Edit[]): State {
    return edits.reduce((now, edit) => this.kind.apply(now, edit).state, state)
  }

  /** A save is on the server. */
  private arrived(revision: number, { state, of, left }: Attempt<State, Edit>): void {
    this.unsaved = [...left, ...this.unsaved.slice(of)]
    this.stored = state
    this.attempts = []
    this.show({ revision, status: { kind: this.unsaved.length > 0 ? 'unsaved' : 'saved' } })
  }

  /** @returns whether to go on saving */
  private async failed({ why, message }: SaveFailed): Promise<boolean> {
    if (why === 'refused') {
      this.attempts.pop()
      this.show({ status: { kind: 'refused', message } })
      return false
    }
    if (why === 'away') {
      this.show({ status: { kind: 'away', message } })
      this.soon(this.wait)
      this.wait = Math.min(again.most, this.wait * 2)
      return false
    }
    try {
      const { revision } = this.current
      await this.reload()
      if (this.current.revision !== revision) return true
      if (this.current.status.kind === 'saving') this.show({ status: { kind: 'unsaved' } })
      this.soon(this.wait)
      return false
    } catch (error) {
      this.show({ status: { kind: 'away', message: error instanceof Error ? error.message : message } })
      this.soon(this.wait)
      return false
    }
  }

  /** What the server has met with what is here: an answer that was lost, nothing of our own, or a conflict. */
  private meet(theirs: { state: State; revision: number }): void {
    if (theirs.revision === this.current.revision) return
    const arrived = this.attempts.find(({ state }) => this.kind.same(theirs.state, state))
    if (arrived) {
      this.arrived(theirs.revision, arrived)
      return
    }
    this.endTransaction()
    if (this.unsaved.length > 0 && !this.kind.same(theirs.state, this.current.state)) {
      this.show({ status: { kind: 'conflict', theirs } })
      return
    }
    // Undo would bring back what was there before they came.
    if (this.unsaved.length === 0) this.history.clear()
    this.attempts = []
    this.unsaved = []
    this.stored = theirs.state
    const before = this.current.state
    this.show({ ...theirs, status: { kind: 'saved' } })
    this.tellOthers(before)
  }

  private tellOthers(before: State): void {
    if (before !== this.current.state) for (const listener of this.othersListeners) listener(before, this.current.state)
  }

  /** Puts others' edits below our own; false where that can't be told. */
  private rebase(others: readonly Edit[], revision: number): boolean {
    this.endTransaction()
    const over = (edit: Edit) => this.kind.over(edit, others)
    const own = this.unsaved.map(over)
    if (own.some((edit) => edit === undefined)) return false
    const stored = this.after(this.stored, others)
    const state = this.after(stored, own as Edit[])
    this.generation++
    this.attempts = []
    this.stored = stored
    this.unsaved = own as Edit[]
    this.history.rebase(over)
    const by = own.length > 0 ? undefined : others
    const before = this.current.state
    this.show({ state, revision, by, status: { kind: own.length > 0 ? 'unsaved' : 'saved' } })
    this.tellOthers(before)
    this.soon()
    return true
  }
}

/** A session as it is kept past a reload of the page. */
export interface StoredSession<State, Edit> {
  revision: number
  history: StoredHistory<Edit>
  unsaved?: { edits: readonly Edit[]; state: State }
}
