import { availableParallelism } from 'node:os'
import { Refusal } from '@hoja/core/refusal'
import { Processes } from '../jobs/processes.ts'
import { builtScript } from '../serverFolder.ts'
import type { RenderTask, Said } from './renderer.ts'
import type { TitleResult } from './title.ts'

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

/** A renderer that says nothing for so long stands still: the slowest picture that was seen took a hundredth of it. */
const patience = 120_000

/** The renderers, one title at a time each. */
export class Crew {
  private readonly processes: Processes<RenderTask, Said>
  readonly size: number
  private readonly patience: number

  constructor(options: { file?: string | undefined; size?: number | undefined; patience?: number | undefined } = {}) {
    this.size = options.size ?? Math.max(2, availableParallelism())
    this.patience = options.patience ?? patience
    this.processes = new Processes({
      file: options.file ?? builtScript('renderer'),
      // A title's garbage is collected when it ends (`memory.ts`): room for more only makes every renderer larger.
      execArgv: ['--max-semi-space-size=4'],
      // Pixels and packets are freed by other threads than asked for them: fewer pools give more of it back (glibc).
      env: { MALLOC_ARENA_MAX: '2' },
    })
  }

  /** Ids of the processes, for whoever looks after them. */
  get pids(): number[] {
    return this.processes.pids
  }

  /**
   * Renders one title.
   * @throws Refusal as the renderer threw it; `renderer.gone` when it died, `renderer.still` when it stood still
   */
  run(task: RenderTask, { signal, onPicture }: Running = {}): Promise<TitleResult> {
    return this.processes.run<TitleResult>(task, {
      signal,
      patience: this.patience,
      gone: () => new Refusal('renderer.gone', 'The renderer was ended from outside.'),
      late: (milliseconds) =>
        new Refusal(
          'renderer.still',
          `The renderer stood still for ${Math.round(milliseconds / 1000)} s and was ended.`,
        ),
      hear: (said, { done, fail }) => {
        if (said.kind === 'picture') onPicture?.(said.done, said.of)
        if (said.kind === 'result') done(said.result)
        if (said.kind === 'refusal') fail(new Refusal(said.code, said.message))
        if (said.kind === 'defect') fail(new Error(said.message))
      },
    })
  }

  /** Starts a renderer that will be wanted, while there is something else to do. */
  warm(): void {
    if (this.processes.count < this.size) this.processes.warm()
  }

  close(): Promise<void> {
    return this.processes.close()
  }
}
