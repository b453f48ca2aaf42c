import { Refusal } from '../refusal/index.ts'

/** Reads `1-50,60`. @throws Refusal naming what is no row. */
export function parseRows(text: string, count: number): number[] {
  const rows = new Set<number>()
  for (const piece of text.split(',')) {
    const match = /^\s*(\d+)(?:\s*-\s*(\d+))?\s*$/.exec(piece)
    if (!match) throw new Refusal('rows', `"${text}" names no rows; write them as 1-50 or 3,7,9.`)
    const from = Number(match[1])
    const to = Number(match[2] ?? from)
    if (to < from) throw new Refusal('rows', `"${piece.trim()}" runs backwards; write it as ${to}-${from}.`)
    if (from < 1 || to > count)
      throw new Refusal('rows', `Row ${to > count ? to : from} does not exist; the sheet has rows 1 to ${count}.`)
    for (let row = from; row <= to; row++) rows.add(row)
  }
  return [...rows].sort((a, b) => a - b)
}
