import { type Finding, givenText, type Match, type Row, stateOf } from '@hoja/core/data'
import type { Template } from '@hoja/core/template'

/** One row as the person sees it who must approve its spelling. */
export interface SignOffRow {
  /** From 1. */
  n: number
  state: 'stop' | 'look' | 'fine'
  texts: { name: string; text: string }[]
  findings: string[]
  note: string
  /** PNG of the settled title, cropped to what it touches. */
  picture: Uint8Array
}

/** What such a sheet is called, and its columns. */
export interface SheetWords {
  sheet: string
  columns: { n: string; picture: string; texts: string; checks: string; initials: string }
}

export const signOffWords: SheetWords = {
  sheet: 'Sign-off',
  columns: { n: 'Row', picture: 'Title', texts: 'Texts, letter by letter', checks: 'Checks', initials: 'Initials' },
}

/** The titles of a programme, in order of time. */
export const cueWords: SheetWords = {
  sheet: 'Cue sheet',
  columns: { n: 'Cue', picture: 'Title', texts: 'When, and what it says', checks: 'Checks', initials: 'Seen' },
}

/** What is signed: the rows, and what they were made of. */
export interface SignOffSheet {
  title: string
  /** Template, version, rows, time, in a line. */
  about: string
  rows: SignOffRow[]
  words: SheetWords
}

/** px of a row's picture. */
export const pictureSize = { width: 640, height: 220 }

/** What a person reads of a row: the texts of its fields, as they are given. Fields that stand at their default are left out. */
export function signOffRow(
  template: Template,
  match: Match,
  row: Row,
  n: number,
  findings: readonly Finding[],
  picture: Uint8Array,
): SignOffRow {
  const texts = template.fields.flatMap(({ key, name, type }) => {
    const text = givenText(match, key, row).text?.trim() ?? ''
    return text === '' && type !== 'text' ? [] : [{ name, text }]
  })
  return {
    n,
    state: stateOf(findings),
    texts,
    findings: findings.map(({ message }) => message),
    note: row.note ?? '',
    picture,
  }
}
