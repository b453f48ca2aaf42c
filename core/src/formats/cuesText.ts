import type { Rate } from '../time/index.ts'
import { secondsOf } from '../time/index.ts'

/** Words that stand from a frame on, so many frames. */
export interface Cue {
  at: number
  frames: number
  /** Lines. */
  text: string
}

function clock(frame: number, rate: Rate, comma: boolean): string {
  const all = Math.round(secondsOf(frame, rate) * 1000)
  const pad = (value: number, digits = 2) => String(value).padStart(digits, '0')
  const [hours, minutes] = [Math.floor(all / 3_600_000), Math.floor(all / 60_000) % 60]
  return `${pad(hours)}:${pad(minutes)}:${pad(Math.floor(all / 1000) % 60)}${comma ? ',' : '.'}${pad(all % 1000, 3)}`
}

const times = ({ at, frames }: Cue, rate: Rate, comma: boolean) =>
  `${clock(at, rate, comma)} --> ${clock(at + frames, rate, comma)}`

/** An empty line would end a cue, and an arrow begin one. */
const payload = (text: string) =>
  text
    .split(/\r\n|\r|\n/)
    .filter((line) => line.trim() !== '')
    .map((line) => line.replaceAll('-->', '→'))
    .join('\n')

const escaped = (text: string) => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;')

/** Cues as SubRip has them: numbered, a comma before the milliseconds. */
export const subRip = (cues: readonly Cue[], rate: Rate): string =>
  cues.map((cue, i) => `${i + 1}\n${times(cue, rate, true)}\n${payload(cue.text)}\n`).join('\n')

/** Cues as WebVTT (W3C) has them. */
export const webVtt = (cues: readonly Cue[], rate: Rate): string =>
  `WEBVTT\n\n${cues.map((cue) => `${times(cue, rate, false)}\n${payload(escaped(cue.text))}\n`).join('\n')}`
