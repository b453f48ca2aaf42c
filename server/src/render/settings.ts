import { Refusal } from '@hoja/core/refusal'
import { array, number, object, string } from 'yup'

export const formats = ['png', 'webm', 'mov', 'mkv', 'mp4'] as const
export type Format = (typeof formats)[number]

/** What each format is for, in a plain line. */
export const formatNotes: Record<Format, string> = {
  png: 'PNG sequence with straight alpha: opens everywhere, one folder a title.',
  webm: 'WebM (VP9) with straight alpha: small, for web players and streaming programs.',
  mov: 'QuickTime movie (ProRes 4444) with straight alpha: for editing programs.',
  mkv: 'Matroska (FFV1), lossless, with straight alpha: for archives.',
  mp4: 'MP4 (H.264) without alpha, over black: for looking only.',
}

/** How an output is rendered. With the version and a row's values, all that a title's files depend on. */
export interface OutputSettings {
  format: Format
  /** Frames of every title; absent: as designed. */
  frames?: number
  /** File names: `{row:000}_{name}`. */
  pattern: string
  /** Rows, from 1; absent: all. */
  rows?: number[]
}

export const defaultPattern = '{row:000}_{name}'

export const settingsSchema = object({
  format: string()
    .oneOf([...formats])
    .required(),
  frames: number().integer().min(1).max(1_000_000),
  pattern: string().max(200).default(defaultPattern),
  rows: array(number().integer().min(1).required()).max(100_000),
})

/** Reads `1-50,60`. @throws Refusal naming what is no row. */
export function parseRows(text: string, count: number): number[] {
  const rows = new Set<number>()
  for (const piece of text.split(',')) {
    const match = /^\s*(\d+)(?:\s*-\s*(\d+))?\s*$/.exec(piece)
    if (!match) throw new Refusal('rows', `"${text}" names no rows; write them as 1-50 or 3,7,9.`)
    const from = Number(match[1])
    const to = Number(match[2] ?? from)
    if (from < 1 || to < from || to > count)
      throw new Refusal('rows', `Row ${to > count ? to : from} does not exist; the sheet has rows 1 to ${count}.`)
    for (let row = from; row <= to; row++) rows.add(row)
  }
  return [...rows].sort((a, b) => a - b)
}
