import { EventEmitter } from 'node:events'
import { rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { formatIds, outputFormats, timeLeft } from '@hoja/core/output'
import { Refusal } from '@hoja/core/refusal'
import type { Store } from '../store/index.ts'
import type { ClaimedTitle, OutputRow, TitleRow } from '../store/outputs.ts'
import { type Crew, isWorthAnotherTry } from './crew.ts'
import { diskRefusal } from './disk.ts'
import { hasFfmpeg } from './ffmpeg.ts'
import { removeUnfinished } from './finished.ts'

/** What stands in the way of more than one title, and goes away by itself or by somebody's doing. */
const standing = ['disk.full', 'disk.refused', 'ffmpeg.none']

/** Room that there must be before rendering goes on. */
const roomBytes = 16 * 1024 * 1024

/** How far an output is, beside what its table says. */
export interface Progress {
  /** By row: the share of it that is done, 0..1. */
  rows: Record<number, number>
  /** Seconds until it ends; null while there is nothing to go by. */
  left: number | null
  /** Rows of other outputs that come before its own. */
  before: number
  /** What stands in the way, in a sentence; null: nothing. */
  hindrance: string | null
}

/** What the rest of the server asks of a queue; another one can take this one's place. */
export interface Queue {
  /** Starts on whatever waits. */
  wake(): void
  /** Ends the running titles of an output. */
  abort(output: number): void
  progress(output: OutputRow, titles: readonly TitleRow[]): Progress
  onChange(listener: (output: number) => void): () => void
  /** Something happened to an output beside its rows. */
  tell(output: number): void
  close(): Promise<void>
}

interface Running {
  title: ClaimedTitle
  abort: AbortController
  done: number
}

/** The embedded queue: what waits lies in SQLite, so a crash forgets nothing; as many titles are rendered as there are renderers. */
export class EmbeddedQueue implements Queue {
  private readonly events = new EventEmitter().setMaxListeners(0)
  private readonly running = new Set<Running>()
  /** By the code of its refusal. */
  private readonly hindrances = new Map<string, Refusal>()
  /** What happened and could not be written down yet. */
  private owed: (() => void)[] = []
  private closed = false
  private readonly timer: NodeJS.Timeout

  /** @param every milliseconds after which it is looked whether what stands in the way has gone */
  constructor(
    private readonly store: Store,
    private readonly crew: Crew,
    every = 3000,
  ) {
    store.outputs.resume()
    removeUnfinished(store.finished)
    this.timer = setInterval(() => this.lookAgain(), every)
    this.timer.unref()
  }

  wake(): void {
    while (!this.closed && this.running.size < this.crew.size) {
      const title = this.claim()
      if (!title) return
      const running: Running = { title, abort: new AbortController(), done: 0 }
      this.running.add(running)
      this.changed(title.output)
      this.work(running).finally(() => {
        this.running.delete(running)
        if (this.closed) return
        this.changed(title.output)
        this.wake()
        if (this.running.size === 0) this.tidy()
      })
    }
  }

  abort(output: number): void {
    for (const { title, abort } of this.running) if (title.output === output) abort.abort()
  }

  progress(output: OutputRow, titles: readonly TitleRow[]): Progress {
    const own = [...this.running].filter(({ title }) => title.output === output.id)
    const took = titles
      .filter((title) => title.state === 'done' && !title.found && title.milliseconds !== null)
      .sort((a, b) => ((a.ended ?? '') < (b.ended ?? '') ? -1 : 1))
      .map(({ milliseconds }) => ({ milliseconds: milliseconds! }))
    const isRunning = output.state === 'running'
    const before = isRunning ? this.store.outputs.waitingBefore(output.id) : 0
    const shares = own.map(({ done }) => done)
    const left = isRunning ? timeLeft(took, before + output.counts.waiting, shares, this.crew.size) : undefined
    return {
      rows: Object.fromEntries(own.map(({ title, done }) => [title.row, done])),
      left: left === undefined ? null : left / 1000,
      before,
      hindrance: (isRunning && this.hindrance(output)?.message) || null,
    }
  }

  onChange(listener: (output: number) => void): () => void {
    this.events.on('change', listener)
    return () => this.events.off('change', listener)
  }

  async close(): Promise<void> {
    this.closed = true
    clearInterval(this.timer)
    for (const { abort } of this.running) abort.abort()
    await this.crew.close()
  }

  tell(output: number): void {
    this.changed(output)
  }

  private changed(output: number): void {
    this.events.emit('change', output)
  }

  private hindrance({ settings }: Pick<OutputRow, 'settings'>): Refusal | undefined {
    const { encoder } = outputFormats[settings.format]
    return [...this.hindrances.values()].find(({ code }) => code !== 'ffmpeg.none' || encoder)
  }

  private claim(): ClaimedTitle | undefined {
    const formats = formatIds.filter((format) => !this.hindrance({ settings: { format } }))
    if (formats.length === 0) return undefined
    try {
      return this.store.outputs.claim(formats)
    } catch (error) {
      this.stumbled(error)
      return undefined
    }
  }

  private async work(running: Running): Promise<void> {
    const { title, abort } = running
    const { outputs, templates, files, finished } = this.store
    const started = performance.now()
    try {
      const { settings, version, match, pictures } = outputs.get(title.output)
      const { document } = templates.version(title.content.version ?? version)
      const result = await this.crew.run(
        {
          source: { kind: 'stored', document, files: files.folder, pictures },
          match,
          row: title.content,
          n: title.row,
          settings,
          root: finished,
          ...(title.only ? { only: title.only } : {}),
        },
        {
          signal: abort.signal,
          onPicture: (done, of) => {
            running.done = done / of
            this.changed(title.output)
          },
        },
      )
      const milliseconds = Math.round(performance.now() - started)
      if (this.closed) return
      this.writeDown(() => {
        if (result.state === 'held') {
          const reason = result.findings.map((f) => f.message).join(' ')
          outputs.finish(title.output, title.row, 'held', { reason })
          outputs.log(title.output, `Held by its checks: ${reason}`, title.row)
        } else {
          const { key } = result.finished
          outputs.finish(title.output, title.row, 'done', { result: key, found: result.found, milliseconds })
        }
      })
    } catch (error) {
      // Stopped by hand, or the server is going down: the row keeps the state it was given.
      if (!abort.signal.aborted && !this.closed) this.failed(title, error)
    }
  }

  private failed(title: ClaimedTitle, error: unknown): void {
    const { outputs } = this.store
    const refusal = error instanceof Refusal ? error : diskRefusal(error)
    if (refusal && standing.includes(refusal.code)) {
      this.writeDown(() => outputs.giveBack(title.output, title.row, refusal.message, false))
      this.hinder(refusal)
      return
    }
    const reason = refusal?.message ?? `Rendering failed: ${(error as Error).message}.`
    const again = isWorthAnotherTry(refusal ?? error, title.attempts)
    this.writeDown(() => {
      if (again) outputs.giveBack(title.output, title.row, `${reason} Trying again.`, true)
      else {
        const times = title.attempts > 1 ? ` (${title.attempts} times)` : ''
        outputs.finish(title.output, title.row, 'failed', { reason: `${reason}${times}` })
      }
      outputs.log(title.output, `${reason}${again ? ' Trying again.' : ''}`, title.row)
    })
  }

  /** Writes down what happened, at once or when there is room for it again. */
  private writeDown(booking: () => void): void {
    try {
      this.store.db.transaction(booking)()
    } catch (error) {
      this.owed.push(booking)
      this.stumbled(error)
    }
  }

  /** The database itself could not be written. */
  private stumbled(error: unknown): void {
    const refusal = diskRefusal(error)
    if (!refusal) throw error
    this.hinder(refusal)
  }

  private hinder(refusal: Refusal): void {
    if (this.hindrances.has(refusal.code)) return
    this.hindrances.set(refusal.code, refusal)
    this.tellAll(refusal.message)
  }

  /** Whether what stood in the way has gone; then what is owed is written down, and rendering goes on. */
  private lookAgain(): void {
    if (this.hindrances.size === 0 || this.closed) return
    const before = this.hindrances.size
    if (hasFfmpeg()) this.hindrances.delete('ffmpeg.none')
    if (this.canWrite()) for (const code of ['disk.full', 'disk.refused']) this.hindrances.delete(code)
    if (this.hindrances.size === before) return
    const owed = this.owed
    this.owed = []
    for (const booking of owed) this.writeDown(booking)
    if (this.hindrances.size === 0) this.tellAll('Goes on.')
    // What the rest of them does not stand in the way of goes on, too.
    this.wake()
  }

  private canWrite(): boolean {
    const file = join(this.store.folder, 'room.part')
    try {
      writeFileSync(file, new Uint8Array(roomBytes), { flush: true })
      return true
    } catch {
      return false
    } finally {
      try {
        rmSync(file, { force: true })
      } catch {
        // Where nothing may be written, nothing was.
      }
    }
  }

  /** Clears away what renderers left that were killed, or could not clear away themselves; nobody is at work. */
  private tidy(): void {
    try {
      removeUnfinished(this.store.finished)
    } catch (error) {
      if (!diskRefusal(error)) throw error
    }
  }

  /** A line in the log of every output that is under way. */
  private tellAll(text: string): void {
    try {
      for (const output of this.store.outputs.open()) {
        this.changed(output)
        this.store.outputs.log(output, text)
      }
    } catch (error) {
      if (!diskRefusal(error)) throw error
    }
  }
}
