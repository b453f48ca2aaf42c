import type { Cells } from '@hoja/core/data'
import type { RowChange } from '../ui/api.ts'

/** Cells of two states as the edits that lead from one to the other. */
export function changesBetween(before: Cells[], after: Cells[]): RowChange[] {
  // Rows that were put in or taken out show as a common beginning and end with something between.
  let start = 0
  while (start < before.length && start < after.length && before[start] === after[start]) start++
  let end = 0
  while (
    end < before.length - start &&
    end < after.length - start &&
    before[before.length - 1 - end] === after[after.length - 1 - end]
  )
    end++
  const [old, fresh] = [before.slice(start, before.length - end), after.slice(start, after.length - end)]
  const changes: RowChange[] = []
  const shared = Math.min(old.length, fresh.length)
  for (let i = 0; i < shared; i++)
    for (const column of new Set([...Object.keys(old[i]!), ...Object.keys(fresh[i]!)])) {
      const value = fresh[i]![column] ?? ''
      if ((old[i]![column] ?? '') !== value) changes.push({ kind: 'cell', row: start + i + 1, column, value })
    }
  if (old.length > shared) changes.push({ kind: 'remove', from: start + shared + 1, count: old.length - shared })
  if (fresh.length > shared) changes.push({ kind: 'insert', at: start + shared + 1, rows: fresh.slice(shared) })
  return changes
}
