import { type ChildProcess, fork } from 'node:child_process'

/** How the processes of a pool are started. */
export interface ProcessOptions {
  file: string
  args?: readonly string[]
  execArgv?: readonly string[]
  env?: NodeJS.ProcessEnv
  /** `advanced` carries bytes and maps. */
  serialization?: 'json' | 'advanced'
  /** ms after which one that nobody needs is ended; absent: never. */
  idle?: number
}

/** How a process ended that was at work. */
export interface Ending {
  code: number | null
  signal: NodeJS.Signals | null
}

/** What is done with what a process says, and what it means when it ends in the middle. */
export interface Work<Said, Result> {
  hear: (said: Said, settle: Settle<Result>) => void
  /** It ended before it had settled. */
  gone: (ending: Ending) => Error
  /** ms without a word, after which it is ended. */
  patience?: number | undefined
  /** ms in all, after which it is ended. */
  deadline?: number | undefined
  late: (milliseconds: number) => Error
  signal?: AbortSignal | undefined
}

export interface Settle<Result> {
  done: (result: Result) => void
  fail: (error: Error) => void
  /** Says something back to it. */
  reply: (message: unknown) => void
  /** It is not given more work after this. */
  retire: () => void
}

interface Member<Said> {
  child: ChildProcess
  hear?: (said: Said) => void
  lost?: (ending: Ending) => void
  timer?: NodeJS.Timeout
}

/**
 * Processes that do one piece of work at a time each. One that dies, is killed, stands still or takes too long costs the
 * piece it was at and nothing else; another takes its place. How many there are is up to who gives the work.
 */
export class Processes<Ask, Said> {
  private readonly idle: Member<Said>[] = []
  private readonly all = new Set<Member<Said>>()
  private closed = false

  constructor(private readonly options: ProcessOptions) {}

  get count(): number {
    return this.all.size
  }

  /** Ids of the processes, for whoever looks after them. */
  get pids(): number[] {
    return [...this.all].flatMap(({ child }) => child.pid ?? [])
  }

  /** Gives a piece of work to a process. @throws what `work` says of its end, or `stopped` */
  async run<Result>(ask: Ask, work: Work<Said, Result>): Promise<Result> {
    const member = this.idle.pop() ?? this.start()
    clearTimeout(member.timer)
    const timers: (NodeJS.Timeout | undefined)[] = []
    let stop: (() => void) | undefined
    let retired = false
    try {
      return await new Promise<Result>((done, fail) => {
        const endAfter = (milliseconds: number) =>
          setTimeout(() => {
            fail(work.late(milliseconds))
            this.end(member)
          }, milliseconds)
        const watch = () => {
          clearTimeout(timers[0])
          if (work.patience !== undefined) timers[0] = endAfter(work.patience)
        }
        stop = () => {
          fail(new Error('stopped'))
          this.end(member)
        }
        const settle: Settle<Result> = {
          done,
          fail,
          reply: (message) => {
            if (member.child.connected) member.child.send(message as object, () => {})
          },
          retire: () => {
            retired = true
          },
        }
        member.lost = (ending) => fail(work.gone(ending))
        member.hear = (said) => {
          watch()
          work.hear(said, settle)
        }
        if (work.signal?.aborted) return stop()
        work.signal?.addEventListener('abort', stop)
        watch()
        if (work.deadline !== undefined) timers[1] = endAfter(work.deadline)
        member.child.send(ask as object, (error) => {
          // Its end may be heard of much later: until then it would be taken for an idle one.
          if (error) this.lost(member, { code: null, signal: null })
        })
      })
    } finally {
      for (const timer of timers) clearTimeout(timer)
      if (stop) work.signal?.removeEventListener('abort', stop)
      delete member.hear
      delete member.lost
      if (retired) this.end(member)
      else if (this.all.has(member)) this.rest(member)
    }
  }

  /** Starts one that will be wanted, while there is something else to do. */
  warm(): void {
    this.rest(this.start())
  }

  async close(): Promise<void> {
    this.closed = true
    const ends = [...this.all].map(({ child }) => new Promise((done) => child.once('exit', done)))
    for (const member of [...this.all]) this.end(member)
    await Promise.all(ends)
  }

  private rest(member: Member<Said>): void {
    this.idle.push(member)
    const { idle } = this.options
    if (idle === undefined) return
    member.timer = setTimeout(() => this.end(member), idle)
    member.timer.unref()
  }

  private start(): Member<Said> {
    const { file, args = [], execArgv = [], env = {}, serialization = 'json' } = this.options
    // A group of its own: an encoder that it started ends with it.
    const child = fork(file, [...args], {
      detached: true,
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      serialization,
      execArgv: [...process.execArgv, ...execArgv],
      env: { ...env, ...process.env },
    })
    const member: Member<Said> = { child }
    this.all.add(member)
    child.on('message', (said: Said) => member.hear?.(said))
    child.on('error', () => this.lost(member, { code: null, signal: null }))
    child.on('exit', (code, signal) => this.lost(member, { code, signal }))
    return member
  }

  private lost(member: Member<Said>, ending: Ending): void {
    if (!this.all.has(member)) return
    this.forget(member)
    killGroup(member.child)
    if (!this.closed) member.lost?.(ending)
  }

  private end(member: Member<Said>): void {
    this.forget(member)
    killGroup(member.child)
  }

  private forget(member: Member<Said>): void {
    clearTimeout(member.timer)
    this.all.delete(member)
    const at = this.idle.indexOf(member)
    if (at >= 0) this.idle.splice(at, 1)
  }
}

function killGroup({ pid }: ChildProcess): void {
  try {
    if (pid) process.kill(-pid, 'SIGKILL')
  } catch {
    // It is gone already.
  }
}
