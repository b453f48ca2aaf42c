import { demand } from '@hoja/core/refusal'
import { Crew } from '../render/crew.ts'

/** Renderers side by side, each a process with its own memory. */
const mostWorkers = 64

/**
 * The renderers of a command. One starts at once, while the rest of the command is read: that takes as long as to start.
 * @throws Refusal for a number of them that can't be
 */
export function startedCrew({ workers }: { workers?: number }): Crew {
  demand(
    workers === undefined || (workers >= 1 && workers <= mostWorkers),
    'call',
    `${workers} workers can't render; there are 1 to ${mostWorkers}.`,
  )
  const crew = new Crew({ size: workers })
  crew.warm()
  return crew
}
