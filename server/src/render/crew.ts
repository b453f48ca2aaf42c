import { type ChildProcess, fork } from 'node:child_process'
import { availableParallelism } from 'node:os'
import { Refusal } from '@hoja/core/refusal'
import { builtScript } from '../serverFolder.ts'
import type { RenderTask, Said } from './renderer.ts'
import type { UnitResult } from './unit.ts'

export interface Running {
  /** Ends it, and the renderer with it. */
  signal?: AbortSignal
  /** Hears how many pictures of how many are done. */
  onPicture?: (done: number, of: number) => void
}

/** How often a title is tried when its renderer dies or its encoder fails. */
const attempts = 3

/** Whether a title that failed may come out the next time; anything else would only fail again. */
export function isWorthAnotherTry(error: unknown, attempt: number): boolean {
  const passing =
    !(error instanceof Refusal) || ['renderer.gone', 'renderer.still', 'ffmpeg.failed'].includes(error.code)
  return passing && attempt < attempts
}

interface Renderer {
  child: ChildProcess
  job?: { hear: (said: Said) => void; fail: (error: Error) => void }
}

/** A renderer that says nothing for so long stands still: the slowest picture that was seen took a hundredth of it. */
const patience = 120_000

/** A title's garbage is collected when it ends (`memory.ts`): room for more of it only makes every renderer larger. */
const frugal = ['--max-semi-space-size=4']

/**
 * The renderers: processes of their own, one title at a time each. One that dies, is killed, or stands still costs the
 * title it was at and nothing else; another takes its place.
 */
export class Crew {
  private readonly idle: Renderer[] = []
  private readonly all = new Set<Renderer>()
  private closed = false
  readonly size: number
  private readonly file: string
  private readonly patience: number

  constructor(options: { file?: string | undefined; size?: number | undefined; patience?: number | undefined } = {}) {
    this.file = options.file ?? builtScript('renderer')
    this.size = options.size ?? Math.max(2, availableParallelism())
    this.patience = options.patience ?? patience
  }

  /** Ids of the processes, for whoever looks after them. */
  get pids(): number[] {
    return [...this.all].flatMap(({ child }) => child.pid ?? [])
  }

  /**
   * Renders one title.
   * @throws Refusal as the renderer threw it; `renderer.gone` when it died, `renderer.still` when it stood still
   */
  async run(task: RenderTask, { signal, onPicture }: Running = {}): Promise<UnitResult> {
    const renderer = this.idle.pop() ?? this.start()
    let timer: NodeJS.Timeout | undefined
    let stop: (() => void) | undefined
    try {
      return await new Promise<UnitResult>((done, fail) => {
        const watch = () => {
          clearTimeout(timer)
          timer = setTimeout(() => {
            const seconds = Math.round(this.patience / 1000)
            fail(new Refusal('renderer.still', `The renderer stood still for ${seconds} s and was ended.`))
            this.end(renderer)
          }, this.patience)
        }
        stop = () => {
          fail(new Error('stopped'))
          this.end(renderer)
        }
        renderer.job = {
          fail,
          hear: (said) => {
            watch()
            if (said.kind === 'picture') onPicture?.(said.done, said.of)
            if (said.kind === 'result') done(said.result)
            if (said.kind === 'refusal') fail(new Refusal(said.code, said.message))
            if (said.kind === 'defect') fail(new Error(said.message))
          },
        }
        if (signal?.aborted) return stop()
        signal?.addEventListener('abort', stop)
        watch()
        renderer.child.send(task, (error) => {
          // Its end may be heard of much later: until then it would be taken for an idle one.
          if (error) this.lost(renderer)
        })
      })
    } finally {
      clearTimeout(timer)
      if (stop) signal?.removeEventListener('abort', stop)
      delete renderer.job
      if (this.all.has(renderer)) this.idle.push(renderer)
    }
  }

  /** Starts a renderer that will be wanted, while there is something else to do. */
  warm(): void {
    if (this.all.size < this.size) this.idle.push(this.start())
  }

  async close(): Promise<void> {
    this.closed = true
    const ends = [...this.all].map(({ child }) => new Promise((done) => child.once('exit', done)))
    for (const renderer of [...this.all]) this.end(renderer)
    await Promise.all(ends)
  }

  private start(): Renderer {
    // A group of its own: an encoder that it started ends with it.
    const child = fork(this.file, {
      detached: true,
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      execArgv: [...process.execArgv, ...frugal],
      // Pixels and packets are freed by other threads than asked for them: fewer pools give more of it back (glibc).
      env: { MALLOC_ARENA_MAX: '2', ...process.env },
    })
    const renderer: Renderer = { child }
    this.all.add(renderer)
    child.on('message', (said: Said) => renderer.job?.hear(said))
    child.on('error', () => this.lost(renderer))
    child.on('exit', () => this.lost(renderer))
    return renderer
  }

  private lost(renderer: Renderer): void {
    if (!this.all.has(renderer)) return
    this.forget(renderer)
    killGroup(renderer.child)
    if (!this.closed) renderer.job?.fail(gone())
  }

  private end(renderer: Renderer): void {
    this.forget(renderer)
    killGroup(renderer.child)
  }

  private forget(renderer: Renderer): void {
    this.all.delete(renderer)
    const at = this.idle.indexOf(renderer)
    if (at >= 0) this.idle.splice(at, 1)
  }
}

const gone = () => new Refusal('renderer.gone', 'The renderer was ended from outside.')

function killGroup({ pid }: ChildProcess): void {
  try {
    if (pid) process.kill(-pid, 'SIGKILL')
  } catch {
    // It is gone already.
  }
}
