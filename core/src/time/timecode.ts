import Timecode from 'smpte-timecode'
import { demand, Refusal } from '../refusal/index.ts'
import { nominalRate, type Rate, rateText } from './rate.ts'

/**
 * Timecode after SMPTE ST 12-1. Drop-frame skips numbers, never frames: at 29.97 the numbers 00 and 01 (at 59.94: 00 to
 * 03) are left out at the start of every minute but each tenth.
 */
export function canDropFrames(rate: Rate): boolean {
  return rate.den === 1001 && [30, 60].includes(nominalRate(rate))
}

/** What timecode counts by: whole frames, whatever a second really holds, but where it drops numbers. */
const counted = (rate: Rate, drop: boolean): [num: number, den: number] =>
  drop ? [rate.num, rate.den] : [nominalRate(rate), 1]

/** Frames in a day of timecode. */
function framesInDay(rate: Rate, drop: boolean): number {
  const last = { hours: 23, minutes: 59, seconds: 59, frames: nominalRate(rate) - 1 }
  return new Timecode(last, counted(rate, drop), drop).frameCount + 1
}

/** Frame number (from 0) as `HH:MM:SS:FF`, or `HH:MM:SS;FF` for drop-frame; wraps at 24 hours. */
export function timecodeOf(frame: number, rate: Rate, drop = false): string {
  demand(
    !drop || canDropFrames(rate),
    'timecode.drop',
    `Drop-frame timecode exists for 29.97 and 59.94 only, not for ${rate.num}/${rate.den}; count without it.`,
  )
  const day = framesInDay(rate, drop)
  return new Timecode(((frame % day) + day) % day, counted(rate, drop), drop).toString()
}

/** Whether a timecode is written as drop-frame: `;` or `.` before the frames. */
export const isDropFrame = (text: string): boolean => /[;.]\d{2}$/.test(text.trim())

/** The frame number of a timecode; `;` or `.` before the frames means drop-frame. @throws Refusal for text that is none. */
export function frameOfTimecode(text: string, rate: Rate): number {
  const match = /^(\d{1,2}):(\d{2}):(\d{2})([:;.])(\d{2})$/.exec(text.trim())
  demand(match, 'timecode', `"${text}" is not a timecode; write it as HH:MM:SS:FF.`)
  const [hours, minutes, seconds, frames] = [match[1], match[2], match[3], match[5]].map(Number)
  const drop = match[4] !== ':'
  demand(
    !drop || canDropFrames(rate),
    'timecode.drop',
    `"${text}" is drop-frame timecode, which belongs to 29.97 and 59.94 frames a second, not to ${rateText(rate)}; write it as ${text.trim().replace(/[;.](?=\d+$)/, ':')}.`,
  )
  const count = (isDropped: boolean): number | undefined => {
    try {
      return new Timecode({ hours, minutes, seconds, frames }, counted(rate, isDropped), isDropped).frameCount
    } catch {
      return undefined
    }
  }
  const frame = count(drop)
  if (frame !== undefined) return frame
  if (count(false) === undefined)
    throw new Refusal('timecode', `"${text}" does not exist at ${nominalRate(rate)} frames a second.`)
  throw new Refusal('timecode.drop', `"${text}" is a number that drop-frame timecode leaves out.`)
}
