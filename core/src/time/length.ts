import { demand, Refusal } from '../refusal/index.ts'
import { framesOf, type Rate, secondsOf } from './rate.ts'
import { frameOfTimecode, timecodeOf } from './timecode.ts'

/** What a whole number by itself counts. */
export type Counted = 'frames' | 'seconds'

const clock = /^(?:(\d{1,2}):)?(\d{1,3}):(\d{2})(?:[.,](\d{1,6}))?$/
const timecode = /^\d{1,2}:\d{2}:\d{2}[:;.]\d{2}$/

/**
 * Reads a length, or a moment counted from zero, as people write them, in frames: `125` or `125 frames`, `5 s` or `2.5`,
 * a timecode `00:00:05:00` (SMPTE ST 12-1; `;` before the frames where it drops numbers), or a clock's `1:05` and
 * `0:01:05.250`.
 * @param counted what a whole number by itself means
 * @throws Refusal for anything else
 */
export function parseLength(text: string, rate: Rate, counted: Counted = 'frames'): number {
  const written = text.trim().toLowerCase()
  if (timecode.test(written) && !/\.\d\d$/.test(written)) return frameOfTimecode(written, rate)
  const amount = /^(\d{1,9})(?:[.,](\d{1,6}))?\s*(f|fr|frames?|s|secs?|seconds?)?$/.exec(written)
  if (amount) {
    const [, whole, part, unit] = amount
    const isFrames = unit ? unit.startsWith('f') : !part && counted === 'frames'
    demand(!isFrames || !part, 'length', `"${text}" is no whole number of frames; write it as ${whole}.`)
    return isFrames ? Number(whole) : framesOf(Number(`${whole}.${part ?? 0}`), rate)
  }
  const read = clock.exec(written)
  if (!read)
    throw new Refusal(
      'length',
      `"${text}" is not a length; write frames as 125, seconds as 5 s, or a timecode as 00:00:05:00.`,
    )
  const [, hours = '0', minutes, seconds, part = '0'] = read
  demand(Number(seconds) < 60, 'length', `"${text}" does not exist: a minute has seconds 00 to 59.`)
  return framesOf(Number(hours) * 3600 + Number(minutes) * 60 + Number(`${seconds}.${part}`), rate)
}

/** Frames with the seconds that they last, as people read them: `125 frames, 5.00 s`. */
export function lengthWords(frames: number, rate: Rate): string {
  return `${frames} ${frames === 1 ? 'frame' : 'frames'}, ${secondsOf(frames, rate).toFixed(2)} s`
}

/** The ways in which people write a length, or a moment counted from zero. */
export const timeSpellings = ['frames', 'seconds', 'timecode'] as const
export type TimeSpelling = (typeof timeSpellings)[number]

/** Frames as a person writes them; `parseLength` reads the same frames from it. */
export function lengthText(frames: number, rate: Rate, spelling: TimeSpelling): string {
  if (spelling === 'timecode') return timecodeOf(frames, rate)
  return spelling === 'frames' ? String(frames) : `${Number(secondsOf(frames, rate).toFixed(3))} s`
}
