import { Refusal } from '@hoja/core/refusal'
import { builtScript } from '../serverFolder.ts'
import { budgets, type Lane, lanes, mostWaiting } from './budgets.ts'
import { Processes } from './processes.ts'
import type { Results, Said, Task } from './tasks.ts'

/** Whoever asked for it has gone: nobody hears this. */
export class Unwanted extends Error {}

export interface JobOptions {
  /** Ends it, or takes it out of the queue: its client has gone. */
  signal?: AbortSignal | undefined
  /** Hears pieces of the result; the next one is made when this one was taken. */
  onPiece?: (rows: string[]) => void | Promise<void>
}

/** ms after which a process that nobody needs is ended. */
const idle = 60_000

/** How the budgets are spent, when not as usual: for tests. */
export type JobSettings = Partial<Record<Lane, { size?: number; memory?: number; seconds?: number }>>

interface OwnLane {
  processes: Processes<Task, Said>
  size: number
  running: number
  waiting: (() => void)[]
}

/**
 * All work on what somebody brought, and all heavy work: in processes that can be ended, with a deadline and a memory bound
 * each (`budgets.ts`). What is ended is one sentence for whoever asked, and nothing to anybody else.
 */
export class Jobs {
  private readonly lanes: Record<Lane, OwnLane>

  /** @param log hears what is a defect of ours, though whoever asked is told of their file */
  constructor(
    private readonly settings: JobSettings = {},
    private readonly log: (error: Error) => void = () => {},
  ) {
    const lane = (name: Lane): OwnLane => {
      const { size, memory } = { ...lanes[name], ...settings[name] }
      return {
        size,
        running: 0,
        waiting: [],
        processes: new Processes({
          file: builtScript('job'),
          args: [String(memory)],
          execArgv: [`--max-old-space-size=${Math.round((memory / 1024 / 1024) * 0.75)}`],
          env: { MALLOC_ARENA_MAX: '2' },
          serialization: 'advanced',
          idle,
        }),
      }
    }
    const names = Object.keys(lanes) as Lane[]
    this.lanes = Object.fromEntries(names.map((name) => [name, lane(name)])) as Record<Lane, OwnLane>
  }

  /** Ids of the processes, for whoever looks after them. */
  get pids(): number[] {
    return Object.values(this.lanes).flatMap(({ processes }) => processes.pids)
  }

  /** @throws Refusal as the job threw it, or when it had to be ended; Unwanted when its client has gone */
  async run<K extends Task['kind']>(
    task: Extract<Task, { kind: K }>,
    { signal, onPiece }: JobOptions = {},
  ): Promise<Results[K]> {
    const { lane: name, about, seconds } = budgets[task.kind]
    const lane = this.lanes[name]
    await this.turn(lane, signal)
    const what = 'file' in task ? `"${task.file.name}"` : about
    const limit = this.settings[name]?.seconds ?? seconds
    try {
      return await lane.processes.run<Results[K]>(task, {
        signal,
        deadline: limit * 1000,
        late: () =>
          new Refusal('job.late', `${what} took longer than ${limit} s and was given up; make it smaller or simpler.`),
        gone: ({ signal: by }) => ended(what, by),
        hear: (said, { done, fail, reply, retire }) => {
          if ('tired' in said && said.tired) retire()
          if (said.kind === 'result') done(said.value as Results[K])
          if (said.kind === 'refusal') fail(new Refusal(said.code, said.message, said.status as Refusal['status']))
          if (said.kind === 'defect') {
            retire()
            const defect = new Error(said.message)
            this.log(defect)
            // Whatever a hostile file made of its reader: it is the file that can't be read.
            fail(name === 'draw' ? defect : ended(what, null))
          }
          if (said.kind === 'piece')
            new Promise<void>((taken) => taken(onPiece?.(said.rows))).then(
              // On another turn of the event loop: what waits for an answer meanwhile gets it.
              () => setImmediate(() => reply('next')),
              (error: Error) => {
                retire()
                fail(error)
              },
            )
        },
      })
    } catch (error) {
      throw signal?.aborted ? new Unwanted() : error
    } finally {
      // Whoever waits takes the place over: nobody who comes meanwhile does.
      const next = lane.waiting.shift()
      if (next) next()
      else lane.running--
    }
  }

  async close(): Promise<void> {
    await Promise.all(Object.values(this.lanes).map(({ processes }) => processes.close()))
  }

  /** Waits until one of the lane's processes is free. */
  private async turn(lane: OwnLane, signal: AbortSignal | undefined): Promise<void> {
    if (signal?.aborted) throw new Unwanted()
    if (lane.running >= lane.size) {
      if (lane.waiting.length >= mostWaiting)
        throw new Refusal('job.busy', `Hoja is busy with ${mostWaiting} other files; try again in a minute.`, 503)
      await new Promise<void>((go, leave) => {
        const gone = () => {
          lane.waiting.splice(lane.waiting.indexOf(start), 1)
          leave(new Unwanted())
        }
        const start = () => {
          signal?.removeEventListener('abort', gone)
          go()
        }
        lane.waiting.push(start)
        signal?.addEventListener('abort', gone, { once: true })
      })
    } else lane.running++
  }
}

/** A process that was killed, or gave up, took more than its memory: nobody else ends it. */
function ended(what: string, by: NodeJS.Signals | null): Refusal {
  return by === 'SIGKILL' || by === 'SIGABRT' || by === 'SIGTRAP'
    ? new Refusal('job.memory', `${what} needs more memory than Hoja gives to one file; make it smaller.`, 413)
    : new Refusal('job.broken', `${what} could not be read: whatever read it broke down; save it again, or in parts.`)
}
