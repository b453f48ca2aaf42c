import { givenText, type Match, type Row, type Splice, stateOfRow, withText } from '@hoja/core/data'
import { inPlace } from '@hoja/core/session'
import type { Found } from './sheetSession.ts'

/** Cells of a view that are marked together: places in the view, the last ones among them. */
export interface Marked {
  from: number
  to: number
  keys: string[]
}

/** The edits that write a change of some rows, by index; rows that it leaves alone are left out. */
export function each(rows: readonly Row[], indices: Iterable<number>, change: (row: Row, i: number) => Row): Splice[] {
  const written = new Map<number, Row>()
  for (const i of indices) {
    const next = change(rows[i]!, i)
    if (next !== rows[i]) written.set(i, next)
  }
  return inPlace(written)
}

/** The marked rows with the first one's texts in all of them. */
export function filledDown(
  rows: readonly Row[],
  order: readonly number[],
  { from, to, keys }: Marked,
  match: Match,
  linked: boolean,
): Splice[] {
  const first = rows[order[from]!]
  if (!first) return []
  return each(rows, order.slice(from + 1, to), (row) =>
    keys.reduce((own, key) => withText(match, key, own, givenText(match, key, first).text ?? '', linked), row),
  )
}

/** How many of the rows shown have a safe fix. */
export function fixable(order: readonly number[], findings: Found): number {
  return order.reduce((sum, i) => {
    const own = findings[i]?.findings
    return sum + (own?.some(({ fix, field }) => fix !== undefined && field) ? 1 : 0)
  }, 0)
}

/** Every safe fix of the rows shown, carried out. */
export function tidied(
  rows: readonly Row[],
  order: readonly number[],
  findings: Found,
  match: Match,
  linked: boolean,
): Splice[] {
  return each(rows, order, (row, i) => {
    const fixes = (findings[i]?.findings ?? []).filter((finding) => finding.fix !== undefined && finding.field)
    return fixes.reduce((own, { field, fix }) => withText(match, field!, own, fix!, linked), row)
  })
}

/** How many rows are in which state; those switched off count for themselves. */
export function countStates(rows: readonly Row[], findings: Found) {
  const sum = { stop: 0, look: 0, fine: 0, checked: 0, off: 0, unknown: 0, unlooked: 0 }
  rows.forEach((row, i) => {
    const found = findings[i]
    if (row.off) sum.off++
    else if (found) {
      sum[stateOfRow(found)]++
      if (!found.isLooked) sum.unlooked++
    } else sum.unknown++
  })
  return sum
}
