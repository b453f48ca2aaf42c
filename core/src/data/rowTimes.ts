import { Refusal } from '../refusal/index.ts'
import { type Counted, parseLength, type Rate } from '../time/index.ts'
import { givenText, type Match, type TimeKey, timeSources } from './source.ts'
import type { Row } from './table.ts'

/** When a row's title begins and how long it is, in frames at a rate. */
export interface RowTimes {
  /** Of its timeline, from 0: where its file lies in an edit. */
  from?: number
  /** Whether that is told in timecode that drops numbers (SMPTE ST 12-1). */
  drop?: boolean
  /** Absent: the row says nothing, or nothing that can be. */
  frames?: number
  /** Why what it says can't be, in a sentence. */
  problem?: string
}

/** How whole numbers of a column of times are meant; absent: frames. */
export function countedBy(match: Match, key: TimeKey): Counted {
  const source = match[key]
  return (typeof source === 'object' && source.counts) || 'frames'
}

/**
 * What a row's data says of its time: a length, or where it starts and ends. The end is the first frame that is not of the
 * title any more, as edit lists count (common practice; CMX 3600).
 * @param rate frames a second, in which timecodes count and the result is given
 */
export function rowTimes(match: Match, row: Row, rate: Rate): RowTimes {
  const problems: string[] = []
  const read = (key: TimeKey, name: string): number | undefined => {
    const { text, problem } = givenText(match, key, row)
    if (problem) problems.push(`${name}: ${problem}`)
    if (problem || !text?.trim()) return undefined
    try {
      return parseLength(text, rate, countedBy(match, key))
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      problems.push(`${name}: ${error.message}`)
      return undefined
    }
  }
  const [length, from, to] = timeSources.map(({ key, name }) => read(key, name)) as (number | undefined)[]
  const between = from !== undefined && to !== undefined ? to - from : undefined
  if (between !== undefined && between <= 0) problems.push('It ends before it starts; give it a later end.')
  if (length === 0) problems.push("Length: a title of no frames can't be; give it some.")
  if (length !== undefined && between !== undefined && between > 0 && length !== between)
    problems.push(
      `Its length of ${length} frames is not the ${between} from its start to its end; put one of them right.`,
    )
  const frames = length ?? between
  return {
    ...(from === undefined ? {} : { from }),
    ...(from !== undefined && /:\d\d;\d\d$/.test(givenText(match, ':from', row).text?.trim() ?? '')
      ? { drop: true }
      : {}),
    ...(frames !== undefined && frames > 0 ? { frames } : {}),
    ...(problems.length > 0 ? { problem: problems.join(' ') } : {}),
  }
}

/** Frames of a row's title, at a rate: those set for it by hand (which count at the template's), or those of its data. */
export function framesOfRow(match: Match, row: Row, designed: Rate, rate: Rate = designed): number | undefined {
  if (row.frames === undefined) return rowTimes(match, row, rate).frames
  return Math.max(1, Math.round((row.frames * rate.num * designed.den) / (rate.den * designed.num)))
}

/** Words that head a column of times: English, German, French, Spanish. */
const heads: Record<TimeKey, RegExp> = {
  ':length': /^(title )?(duration|length|dur|dauer|länge|laenge|durée|duree|longueur|duración|duracion)\b/,
  ':from':
    /^((tc|time ?code) )?(in|in point|start|starts?( at)?|begin(s|ning)?|from|start ?time|anfang|beginn|début|debut|inicio)( (tc|time ?code))?$/,
  ':to':
    /^((tc|time ?code) )?(out|out point|end|ends?( at)?|to|until|end ?time|ende|schluss|fin|final)( (tc|time ?code))?$/,
}

/**
 * Which columns are a row's times, by their names and by what stands in them: every cell that is filled must be one.
 * @param least frames that In and Out need: whole numbers that are all smaller are seconds
 */
export function guessTimes(
  columns: readonly string[],
  rows: readonly (readonly string[])[],
  rate: Rate,
  least: number,
): Match {
  const match: Match = {}
  for (const { key } of timeSources) {
    const column = columns.find((name) => heads[key].test(plainHead(name)) && !Object.values(match).includes(name))
    if (column === undefined) continue
    const at = columns.indexOf(column)
    const cells = rows.map((row) => row[at]?.trim() ?? '').filter((cell) => cell !== '')
    if (cells.length === 0 || !cells.every((cell) => isTime(cell, rate))) continue
    const whole = cells.every((cell) => /^\d+$/.test(cell))
    const said = /\b(s|secs?|seconds|sekunden|secondes|segundos)\b/.test(plainHead(column))
    const small = key === ':length' && cells.every((cell) => Number(cell) < least)
    match[key] = whole && (said || small) ? { columns: [column], counts: 'seconds' } : column
  }
  // A start or an end alone says nothing of a length.
  if (match[':to'] !== undefined && match[':from'] === undefined) delete match[':to']
  return match
}

const plainHead = (name: string) =>
  name
    .normalize('NFC')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()

function isTime(cell: string, rate: Rate): boolean {
  try {
    parseLength(cell, rate)
    return true
  } catch {
    return false
  }
}
