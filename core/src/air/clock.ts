import type { Field } from '../template/index.ts'
import type { ClockBinding } from './description.ts'

const pad = (value: number) => String(value).padStart(2, '0')

/** A moment (ms of the epoch) as the clock on the wall has it, ISO 8601. @param offset minutes that it is ahead of UTC */
export function wallClock(ms: number, offset: number): string {
  return new Date(ms + offset * 60_000).toISOString().slice(0, 19)
}

/** A local moment, or a time of the day of another one, in ms of the epoch; undefined for what is neither. */
export function readMoment(text: string, now: number, offset: number): number | undefined {
  const time = /^(\d{1,2}):(\d\d)(?::(\d\d))?$/.exec(text.trim())
  const day = wallClock(now, offset).slice(0, 10)
  const whole = time ? `${day}T${pad(Number(time[1]))}:${time[2]}:${time[3] ?? '00'}` : text.trim().replace(' ', 'T')
  const match = /^(\d{4}-\d\d-\d\dT\d\d:\d\d)(:\d\d)?$/.exec(whole)
  const ms = match ? Date.parse(`${match[1]}${match[2] ?? ':00'}Z`) : Number.NaN
  return Number.isNaN(ms) ? undefined : ms - offset * 60_000
}

/** Where a clock stands. */
interface ClockNow {
  /** ms of the epoch. */
  now: number
  /** Minutes that the wall is ahead of UTC. */
  offset: number
  /** ms of the epoch at which the title came. */
  taken: number
}

/**
 * Seconds that a clock counts at a moment: since one it goes up from the full second, until one down so that it says 0 when
 * the moment is there. Never less than 0.
 */
export function secondsCounted({ shows, moment }: ClockBinding, { now, offset, taken }: ClockNow): number {
  const from = shows === 'since take' ? taken : readMoment(moment ?? '', now, offset)
  if (from === undefined) return 0
  return Math.max(0, shows === 'until' ? Math.ceil((from - now) / 1000) : Math.floor((now - from) / 1000))
}

/** What a clock says in a field: as its type has it. */
export function clockText(clock: ClockBinding, type: Field['type'], at: ClockNow): string {
  if (clock.shows === 'time') {
    const wall = wallClock(at.now, at.offset)
    return type === 'moment' ? wall : wall.slice(11)
  }
  const seconds = secondsCounted(clock, at)
  if (type === 'number') return String(seconds)
  const [hours, minutes, rest] = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60, seconds % 60]
  // A length is a moment of a day that begins with it, so that the field's own pattern writes it.
  if (type === 'moment') return `2000-01-01T${pad(hours % 24)}:${pad(minutes)}:${pad(rest)}`
  return hours > 0 ? `${hours}:${pad(minutes)}:${pad(rest)}` : `${minutes}:${pad(rest)}`
}
