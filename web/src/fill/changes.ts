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

/** Edits in parts of so many rows at most, one after another: together they do the same. */
export function inParts(changes: readonly Splice[], most: number): Splice[][] {
  const parts: Splice[][] = []
  let room = 0
  for (const { at, remove, rows } of changes) {
    let [put, taken] = [0, 0]
    do {
      if (room === 0) {
        parts.push([])
        room = most
      }
      const some = rows.slice(put, put + room)
      const isLast = put + some.length === rows.length
      const gone = isLast ? remove - taken : Math.min(some.length, remove - taken)
      parts.at(-1)!.push({ at: at + put, remove: gone, rows: some })
      put += some.length
      taken += gone
      // An edit that puts nothing in takes room as well: there may be many.
      room -= Math.max(1, some.length)
    } while (put < rows.length)
  }
  return parts
}
