import type { Row, Splice } from '@hoja/core/data'

/** Two states of a sheet's rows as the edits that lead from one to the other. Rows are told apart by identity. */
export function changesBetween(before: readonly Row[], after: readonly Row[]): Splice[] {
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
  const changes: Splice[] = []
  const shared = Math.min(before.length, after.length) - start - end
  for (let i = start; i < start + shared; i++) {
    if (before[i] === after[i]) continue
    const last = changes[changes.length - 1]
    if (last && last.at + last.remove === i + 1) {
      last.remove++
      last.rows.push(after[i]!)
    } else changes.push({ at: i + 1, remove: 1, rows: [after[i]!] })
  }
  if (before.length !== after.length)
    changes.push({
      at: start + shared + 1,
      remove: before.length - start - shared - end,
      rows: after.slice(start + shared, after.length - end),
    })
  return changes
}

/** Carries out edits. */
export function withChanges(rows: readonly Row[], changes: readonly Splice[]): Row[] {
  const next = [...rows]
  for (const { at, remove, rows: put } of changes) next.splice(at - 1, remove, ...put)
  return next
}

/** Where a row (from 1) is after an edit; undefined: it was taken out or replaced. */
export function movedBy({ at, remove, rows }: Splice, n: number): number | undefined {
  if (n < at) return n
  return n >= at + remove ? n + rows.length - remove : undefined
}
