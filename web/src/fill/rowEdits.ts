import { givenText, type Match, type Row, stateOf, withText } from '@hoja/core/data'
import type { Found } from './useSheet.ts'

/** Cells of a view that are marked together: places in the view, the last ones among them. */
export interface Marked {
  from: number
  to: number
  keys: string[]
}

/** The marked rows with the first one's texts in all of them. */
export function filledDown(
  rows: readonly Row[],
  order: readonly number[],
  { from, to, keys }: Marked,
  match: Match,
  linked: boolean,
): Row[] {
  const first = rows[order[from]!]
  if (!first) return [...rows]
  const below = new Set(order.slice(from + 1, to))
  return rows.map((row, i) =>
    below.has(i)
      ? keys.reduce((own, key) => withText(match, key, own, givenText(match, key, first).text ?? '', linked), row)
      : row,
  )
}

/** How many of the rows shown have a safe fix. */
export function fixable(order: readonly number[], findings: Found): number {
  return order.reduce((sum, i) => {
    const own = findings[i]
    return sum + (own && own.length > 0 && own.some(({ fix, field }) => fix !== undefined && field) ? 1 : 0)
  }, 0)
}

/** Every safe fix of the rows shown, carried out. */
export function tidied(
  rows: readonly Row[],
  order: readonly number[],
  findings: Found,
  match: Match,
  linked: boolean,
): Row[] {
  const shown = new Set(order)
  return rows.map((row, i) => {
    if (!shown.has(i)) return row
    const fixes = (findings[i] ?? []).filter((finding) => finding.fix !== undefined && finding.field)
    return fixes.reduce((own, { field, fix }) => withText(match, field!, own, fix!, linked), row)
  })
}

/** How many rows are in which state; those switched off count for themselves. */
export function countStates(rows: readonly Row[], findings: Found) {
  const sum = { stop: 0, look: 0, fine: 0, off: 0, unknown: 0 }
  rows.forEach((row, i) => {
    const found = findings[i]
    if (row.off) sum.off++
    else if (found) sum[stateOf(found)]++
    else sum.unknown++
  })
  return sum
}
