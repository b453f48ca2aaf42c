import { Widths } from './fit.ts'
import type { Font } from './font.ts'
import { type Shaped, type StyledRun, shapeRuns } from './itemize.ts'

/** A text shaped but not yet fitted: what does not depend on its room. */
export interface Shape {
  runs: StyledRun[]
  shaped: Shaped
  widths: Widths
  fallbacks: readonly Font[]
  /** Given, not found from the text. */
  direction?: 'ltr' | 'rtl' | undefined
  /** Where its fonts' width axis has narrowed it. */
  narrowed?: Narrowed | undefined
}

/** To which share of its own width each run's glyphs are scaled, and those that other fonts lend. */
interface Narrowed {
  runs: readonly number[]
  others: number
}

export function shapeText(
  runs: StyledRun[],
  fallbacks: readonly Font[],
  direction?: 'ltr' | 'rtl',
  narrowed?: Narrowed,
): Shape {
  const shaped = shapeRuns(runs, fallbacks, direction)
  if (narrowed)
    for (const item of shaped.items)
      item.across = item.font === item.run.font ? narrowed.runs[runs.indexOf(item.run)]! : narrowed.others
  return { runs, shaped, widths: new Widths(shaped), fallbacks, direction, narrowed }
}
