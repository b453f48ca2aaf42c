import { demand } from '../refusal/index.ts'

/** A frame rate as an exact fraction of frames per second: 30000/1001, never 29.97. */
export interface Rate {
  num: number
  den: number
}

/** The rates the trade uses, by the name people say. */
export const commonRates: { name: string; rate: Rate }[] = [
  { name: '23.976', rate: { num: 24000, den: 1001 } },
  { name: '24', rate: { num: 24, den: 1 } },
  { name: '25', rate: { num: 25, den: 1 } },
  { name: '29.97', rate: { num: 30000, den: 1001 } },
  { name: '30', rate: { num: 30, den: 1 } },
  { name: '50', rate: { num: 50, den: 1 } },
  { name: '59.94', rate: { num: 60000, den: 1001 } },
  { name: '60', rate: { num: 60, den: 1 } },
]

/** Seconds that `frames` last at `rate`. */
export function secondsOf(frames: number, rate: Rate): number {
  return (frames * rate.den) / rate.num
}

/** The nearest whole number of frames in `seconds` at `rate`. */
export function framesOf(seconds: number, rate: Rate): number {
  return Math.round((seconds * rate.num) / rate.den)
}

/** The whole number that timecode counts in a second: 30 for 30000/1001. */
export function nominalRate(rate: Rate): number {
  return Math.round(rate.num / rate.den)
}

/** `25` or `30000/1001`, as ffmpeg and people both read it. */
export function rateText(rate: Rate): string {
  return rate.den === 1 ? String(rate.num) : `${rate.num}/${rate.den}`
}

/** The rates over 1001 as people cut them off: 23.976 is 23.98 too. */
const cutOff = /^(23\.976|23\.98|29\.97|59\.94|47\.952|47\.95|119\.88)0*$/

/** Reads `25`, `30000/1001` or a trade name such as `29.97`. @throws Refusal when it is none of them. */
export function parseRate(text: string): Rate {
  const named = commonRates.find((r) => r.name === text.trim())
  if (named) return named.rate
  if (cutOff.test(text.trim())) return { num: Math.round(Number(text)) * 1000, den: 1001 }
  const match = /^(\d+)(?:\/(\d+))?$/.exec(text.trim())
  const num = Number(match?.[1] ?? 0)
  const den = Number(match?.[2] ?? 1)
  demand(
    num > 0 && den > 0,
    'rate',
    `"${text}" is not a frame rate; give frames per second as 25, 29.97 or 30000/1001.`,
  )
  return { num, den }
}
