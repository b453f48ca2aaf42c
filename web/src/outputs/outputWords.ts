import type { Output } from '@hoja/core/api'
import { outputFormats } from '@hoja/core/output'

/** How many of its titles have come to an end, of how many. */
export function endedOf({ counts }: Pick<Output, 'counts'>): { ended: number; total: number } {
  const total = Object.values(counts).reduce((a, b) => a + b, 0)
  return { ended: total - counts.waiting - counts.running, total }
}

/** How far an output is, in a few words. */
export function outputSummary(output: Output): string {
  const { ended, total } = endedOf(output)
  if (output.state === 'running') return `${ended} of ${total}`
  if (output.state === 'paused') return `${ended} of ${total}, paused`
  const words = output.state === 'stopped' ? ', stopped' : ' done'
  return `${output.counts.done} of ${total}${words}`
}

export const outputName = ({ sheetName, settings, shapeName }: Output) =>
  `${sheetName ?? 'Parts by themselves'} as ${outputFormats[settings.format].name}${shapeName ? `, ${shapeName}` : ''}`

/**
 * Outputs in the order in which they are rendered: what is under way by its turn, then what has ended, the last first.
 */
export const inOrder = (outputs: readonly Output[]): Output[] => {
  const isOpen = ({ state }: Output) => state === 'running' || state === 'paused'
  return [...outputs].sort((a, b) => {
    if (isOpen(a) !== isOpen(b)) return isOpen(a) ? -1 : 1
    return isOpen(a) ? b.priority - a.priority || a.id - b.id : b.id - a.id
  })
}
