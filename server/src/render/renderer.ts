import type { Match, Row } from '@hoja/core/data'
import { drawnRate, type OutputSettings } from '@hoja/core/output'
import { Refusal } from '@hoja/core/refusal'
import type { PartId } from '@hoja/core/template'
import { boundMemory } from '../jobs/memoryBound.ts'
import { diskRefusal } from './disk.ts'
import { releasePixels } from './memory.ts'
import { Raster } from './raster.ts'
import { type Source, sceneOf, storedFile } from './scenes.ts'
import { renderTitle, type TitleResult } from './title.ts'

/** One title for a renderer: all that it needs to find the rest by itself. */
export interface RenderTask {
  source: Source
  match: Match
  row: Row
  /** From 1. */
  n: number
  settings: OutputSettings
  only?: readonly PartId[]
  /** Where finished titles lie. */
  root: string
}

/** What a renderer says: errors cross processes as data. */
export type Said =
  | { kind: 'ready' }
  | { kind: 'picture'; done: number; of: number }
  | { kind: 'result'; result: TitleResult }
  | { kind: 'refusal'; code: string; message: string }
  | { kind: 'defect'; message: string }

/** Many times what the largest title needs that was seen: one that needs more was made to. */
const mostMemory = 6 * 1024 ** 3

const raster = new Raster()

async function render(task: RenderTask): Promise<TitleResult> {
  const { source, ...order } = task
  if (task.settings.review) {
    const { renderReview } = await import('./reviewTitle.ts')
    return renderReview(task, raster, (done, of) => say({ kind: 'picture', done, of }))
  }
  const scene = await sceneOf(source, task.settings)
  const designed = await sceneOf(source)
  const { rate } = scene.template.frame
  const twice = drawnRate(task.settings, rate)
  // A frame of two fields shows two moments.
  const drawn = twice.num === rate.num ? scene : await sceneOf(source, { ...task.settings, rate: twice })
  return renderTitle(
    {
      ...order,
      scene,
      drawn,
      designed: designed.template,
      document: source.document,
      pictures: (source.kind === 'stored' && source.pictures) || [],
      storedFile: (sha256) => storedFile(source, sha256),
      onPicture: (done, of) => say({ kind: 'picture', done, of }),
    },
    raster,
  )
}

function say(said: Said): void {
  process.send?.(said)
}

process.on('message', async (task: RenderTask) => {
  try {
    const result = await render(task)
    await releasePixels()
    say({ kind: 'result', result })
  } catch (error) {
    const refusal = error instanceof Refusal ? error : diskRefusal(error)
    say(
      refusal
        ? { kind: 'refusal', code: refusal.code, message: refusal.message }
        : { kind: 'defect', message: (error as Error).message },
    )
  }
})
// Whoever gave the work is gone, and nobody waits for it.
process.on('disconnect', () => process.exit())
boundMemory(mostMemory)
say({ kind: 'ready' })
