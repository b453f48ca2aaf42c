import { cellsByKey, type Match, type Row, rowTimes } from '../data/index.ts'
import type { Template } from '../template/index.ts'
import { endOf, leastOf } from './clips.ts'
import type { ClipId, Design, Programme } from './description.ts'
import { type NewTitle, withTitles } from './edits.ts'

/** Titles made of a list. */
export interface FromList {
  programme: Programme
  ids: ClipId[]
  /** Rows (from 1) that make no title, each with the reason in a sentence. */
  left: { row: number; why: string }[]
  /** Titles that are longer than their rows say, because In and Out stay whole. */
  lengthened: ClipId[]
  /** Titles that went to another track, because something was in the way. */
  aside: ClipId[]
}

/** What a list fills, and how it counts. */
export interface ListWay {
  /** Its key among the designs of a programme. */
  key: string
  design: Design
  template: Template
  match: Match
  shape?: string | undefined
  track: string
  /** Frame of the list's time that the programme's first frame is. */
  origin: number
  /** The sheet that the rows are of, so that titles know where their words come from. */
  sheet?: number | undefined
}

/**
 * Where a list's time begins: lists of an edit count from its timecode, others from nought.
 * @returns the frame of the list that the programme's first frame is
 */
export function guessOrigin(programme: Programme, match: Match, rows: readonly Row[]): number {
  const { start, picture } = programme
  const froms = rows.flatMap((row) => rowTimes(match, row, picture.rate).from ?? [])
  return start.at > 0 && froms.length > 0 && froms.every((from) => from >= start.at) ? start.at : 0
}

/** Makes a title of every row that says when it starts. Rows that are switched off make none. */
export function withList(programme: Programme, rows: readonly Row[], way: ListWay): FromList {
  const { key, design, template, match, shape, track, origin, sheet } = way
  const { rate } = programme.picture
  const left: FromList['left'] = []
  const titles: (NewTitle & { isLengthened: boolean })[] = []
  rows.forEach((row, i) => {
    const n = i + 1
    if (row.off) return
    const { from, frames, problem } = rowTimes(match, row, rate)
    const at = from === undefined ? undefined : from - origin
    if (problem || at === undefined || at < 0) {
      const why = problem ?? (at === undefined ? 'It does not say when it starts.' : 'It starts before the programme.')
      left.push({ row: n, why })
      return
    }
    const cells = cellsByKey(template, match, row)
    const wanted = row.frames ?? frames ?? design.frames
    titles.push({
      at,
      frames: wanted,
      design: key,
      shape,
      words: { cells, ...(sheet === undefined ? {} : { row: { sheet, n } }) },
      isLengthened: wanted < leastOf(design),
    })
  })
  const { programme: next, ids } = withTitles(programme, titles, { track, designs: { [key]: design } })
  return {
    programme: titles.length > 0 ? next : programme,
    ids,
    left,
    lengthened: ids.filter((_, i) => titles[i]!.isLengthened),
    aside: ids.filter((id) => next.clips[id]!.track !== track),
  }
}

/** Where a list's clips begin and end, as cuts of the footage. */
export function withCuts(programme: Programme, rows: readonly Row[], match: Match, origin: number): Programme {
  const cuts = new Set(programme.cuts)
  for (const row of rows) {
    const { from, frames } = rowTimes(match, row, programme.picture.rate)
    if (from === undefined) continue
    for (const cut of [from - origin, ...(frames === undefined ? [] : [endOf({ at: from - origin, frames })])])
      if (cut >= 0) cuts.add(cut)
  }
  return { ...programme, cuts: [...cuts].sort((a, b) => a - b) }
}
