import { demand } from '../refusal/index.ts'
import { nominalRate, type Rate, rateText } from './rate.ts'

/**
 * Timecode after SMPTE ST 12-1. Drop-frame skips numbers, never frames: at 29.97 the numbers 00 and 01 (at 59.94: 00 to
 * 03) are left out at the start of every minute but each tenth.
 */
export function canDropFrames(rate: Rate): boolean {
  return rate.den === 1001 && nominalRate(rate) % 30 === 0
}

function dropped(rate: Rate): number {
  return (nominalRate(rate) / 30) * 2
}

/** Frames in `hours` of timecode: 107,892 an hour at 29.97 drop-frame. */
export function framesInHours(hours: number, rate: Rate, drop: boolean): number {
  return hours * (nominalRate(rate) * 3600 - (drop ? dropped(rate) * 54 : 0))
}

/** Frame number (from 0) as `HH:MM:SS:FF`, or `HH:MM:SS;FF` for drop-frame; wraps at 24 hours. */
export function timecodeOf(frame: number, rate: Rate, drop = false): string {
  demand(
    !drop || canDropFrames(rate),
    'timecode.drop',
    `Drop-frame timecode exists for 29.97 and 59.94 only, not for ${rate.num}/${rate.den}; count without it.`,
  )
  const nominal = nominalRate(rate)
  const day = framesInHours(24, rate, drop)
  let number = ((frame % day) + day) % day
  if (drop) {
    const skip = dropped(rate)
    const minute = nominal * 60 - skip
    const ten = minute * 10 + skip
    const tens = Math.floor(number / ten)
    const rest = number % ten
    const minutes = rest < nominal * 60 ? 0 : 1 + Math.floor((rest - nominal * 60) / minute)
    number += skip * (tens * 9 + minutes)
  }
  const two = (n: number) => String(n).padStart(2, '0')
  const seconds = Math.floor(number / nominal)
  const clock = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60, seconds % 60].map(two).join(':')
  return `${clock}${drop ? ';' : ':'}${two(number % nominal)}`
}

/** Whether a timecode is written as drop-frame: `;` or `.` before the frames. */
export const isDropFrame = (text: string): boolean => /[;.]\d{2}$/.test(text.trim())

/** The frame number of a timecode; `;` or `.` before the frames means drop-frame. @throws Refusal for text that is none. */
export function frameOfTimecode(text: string, rate: Rate): number {
  const match = /^(\d{1,2}):(\d{2}):(\d{2})([:;.])(\d{2})$/.exec(text.trim())
  demand(match, 'timecode', `"${text}" is not a timecode; write it as HH:MM:SS:FF.`)
  const [hours, minutes, seconds, frames] = [match[1], match[2], match[3], match[5]].map(Number) as [
    number,
    number,
    number,
    number,
  ]
  const nominal = nominalRate(rate)
  const drop = match[4] !== ':'
  demand(
    !drop || canDropFrames(rate),
    'timecode.drop',
    `"${text}" is drop-frame timecode, which belongs to 29.97 and 59.94 frames a second, not to ${rateText(rate)}; write it as ${text.trim().replace(/[;.](?=\d+$)/, ':')}.`,
  )
  demand(
    hours < 24 && minutes < 60 && seconds < 60 && frames < nominal,
    'timecode',
    `"${text}" does not exist at ${nominal} frames a second.`,
  )
  const count = ((hours * 60 + minutes) * 60 + seconds) * nominal + frames
  if (!drop) return count
  demand(
    !(seconds === 0 && minutes % 10 !== 0 && frames < dropped(rate)),
    'timecode.drop',
    `"${text}" is a number that drop-frame timecode leaves out.`,
  )
  const total = hours * 60 + minutes
  return count - dropped(rate) * (total - Math.floor(total / 10))
}
