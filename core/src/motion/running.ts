import { nominalRate, type Rate } from '../time/index.ts'
import { readingSpeed } from './turns.ts'

/** Entries in a row, as a roll or a crawl runs them through its window. px along the way they run. */
export interface Strip {
  /** Of the window, and of all entries with what lies between them. */
  window: number
  length: number
  /** Where each entry begins, from the first one's start, and how long it is. */
  entries: readonly { at: number; size: number }[]
  /** Characters that pass. */
  characters: number
}

export interface Pace {
  /** `speed`: so fast, and the title is as long as it takes; `time`: so fast that it ends on time; `endless`. */
  by: 'speed' | 'time' | 'endless'
  /** px a second. */
  speed: number
  steady: boolean
}

const perSecond = ({ num, den }: Rate) => num / den

/** px from where nothing of a strip is in its window yet to where nothing is any more. */
export const distanceOf = ({ window, length }: Strip): number => window + length

/**
 * The px a frame, near some, that never judder: whole ones, or one px in so many frames as go into a second's.
 * @param least the next faster one, so that it ends on time
 */
export function steadyStep(step: number, rate: Rate, least = false): number {
  if (step >= 1) return least ? Math.ceil(step - 1e-9) : Math.round(step)
  const frames = nominalRate(rate)
  const steps = Array.from({ length: frames }, (_, i) => i + 1)
    .filter((n) => frames % n === 0)
    .map((n) => 1 / n)
    .filter((one) => !least || one >= step - 1e-9)
  return steps.reduce((best, one) => (Math.abs(one - step) < Math.abs(best - step) ? one : best), steps[0]!)
}

/** px a frame that a strip goes on. @param hold frames that it has */
export function stepOf(strip: Strip, { by, speed, steady }: Pace, rate: Rate, hold: number): number {
  const wanted = by === 'time' ? distanceOf(strip) / Math.max(1, hold) : Math.abs(speed) / perSecond(rate)
  return steady ? steadyStep(wanted, rate, by === 'time') : wanted
}

/** Frames of Hold that a strip takes; undefined: it takes what there is. */
export function framesOfRun(strip: Strip, pace: Pace, rate: Rate): number | undefined {
  if (pace.by !== 'speed' || pace.speed === 0 || strip.entries.length === 0) return undefined
  return Math.max(1, Math.ceil(distanceOf(strip) / stepOf(strip, pace, rate, 1) - 1e-6))
}

/** Characters a second that pass in a strip, and those that can be read. */
export function passing(strip: Strip, step: number, rate: Rate): { passes: number; most: number } {
  const speed = step * perSecond(rate)
  return { passes: strip.length > 0 ? (strip.characters * speed) / strip.length : 0, most: readingSpeed }
}
