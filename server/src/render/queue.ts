import { EventEmitter } from 'node:events'
import { Refusal } from '@hoja/core/refusal'
import type { Store } from '../store/index.ts'
import type { Pool } from './pool.ts'
import { removeUnfinished } from './unit.ts'

/** How often a unit is tried when its worker dies or its encoder fails. */
const attempts = 2

/** What the rest of the server asks of a queue; another one can take this one's place. */
export interface Queue {
  /** Starts on whatever waits. */
  wake(): void
  /** Ends the running units of an output. */
  abort(output: number): void
  onChange(listener: (output: number) => void): () => void
  close(): Promise<void>
}

/** The embedded queue: what waits lies in SQLite, so a crash forgets nothing; as many units run as there are threads. */
export class EmbeddedQueue implements Queue {
  private readonly events = new EventEmitter().setMaxListeners(0)
  private readonly running = new Map<AbortController, number>()
  private closed = false

  constructor(
    private readonly store: Store,
    private readonly pool: Pool,
  ) {
    store.outputs.resume()
    removeUnfinished(store.finished)
  }

  wake(): void {
    while (!this.closed && this.running.size < this.pool.threads) {
      const unit = this.store.outputs.claim()
      if (!unit) return
      const abort = new AbortController()
      this.running.set(abort, unit.output)
      this.changed(unit.output)
      this.work(unit, abort.signal).finally(() => {
        this.running.delete(abort)
        if (this.closed) return
        this.changed(unit.output)
        this.wake()
      })
    }
  }

  abort(output: number): void {
    for (const [controller, own] of this.running) if (own === output) controller.abort()
  }

  onChange(listener: (output: number) => void): () => void {
    this.events.on('change', listener)
    return () => this.events.off('change', listener)
  }

  async close(): Promise<void> {
    this.closed = true
    for (const controller of this.running.keys()) controller.abort()
    await this.pool.close()
  }

  private changed(output: number): void {
    this.events.emit('change', output)
  }

  private async work(unit: NonNullable<ReturnType<Store['outputs']['claim']>>, signal: AbortSignal): Promise<void> {
    const { outputs, templates, files, finished } = this.store
    const started = performance.now()
    try {
      const { settings, version, match, pictures } = outputs.get(unit.output)
      const { document } = templates.version(unit.content.version ?? version)
      const result = await this.pool.run<'render'>(
        {
          kind: 'render',
          source: { kind: 'stored', document, files: files.folder, pictures },
          match,
          row: unit.content,
          n: unit.row,
          settings,
          root: finished,
        },
        signal,
      )
      if (this.closed) return
      if (result.state === 'held')
        outputs.finish(unit.output, unit.row, 'held', { reason: result.findings.map((f) => f.message).join(' ') })
      else
        outputs.finish(unit.output, unit.row, 'done', {
          result: result.finished.key,
          found: result.found,
          milliseconds: Math.round(performance.now() - started),
        })
    } catch (error) {
      // Stopped by hand, or the server is going down: the row keeps the state it was given.
      if (signal.aborted || this.closed) return
      const final = error instanceof Refusal && error.code !== 'ffmpeg.failed'
      if (!final && unit.attempts < attempts) outputs.giveBack(unit.output, unit.row)
      else
        outputs.finish(unit.output, unit.row, 'failed', {
          reason: error instanceof Refusal ? error.message : `Rendering failed: ${(error as Error).message}.`,
        })
    }
  }
}
