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

/** What is signed: the rows, and what they were made of. */
export interface SignOffSheet {
  title: string
  /** Template, version, rows, time, in a line. */
  about: string
  rows: SignOffRow[]
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
