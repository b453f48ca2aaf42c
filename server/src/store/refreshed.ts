import { cellOf, cellsOf, type Row, type Splice, type Table } from '@hoja/core/data'

const beside = ({ cells: _, ...rest }: Row) => rest

/**
 * What leads from a sheet's rows to those of a table. What a person set beside a row goes with the row whose name, in
 * column `first`, is the same; where a name is new, with the row in the same place if that row's name is gone.
 */
export function refreshed(
  before: readonly Row[],
  table: Table,
  first: string | undefined,
): { changes: Splice[]; moved: boolean } {
  const nameOf = (cells: Row['cells']) => (first === undefined ? '' : (cellOf(cells, first) ?? ''))
  const places = new Map<string, number[]>()
  before.forEach((row, i) => {
    const name = nameOf(row.cells)
    places.set(name, [...(places.get(name) ?? []), i])
  })
  const after = table.rows.map((_, i) => cellsOf(table, i))
  const from: (number | undefined)[] = after.map((cells, i) => {
    const known = places.get(nameOf(cells))
    // The same place first, where a name is there twice.
    const at = known?.includes(i) ? i : known?.[0]
    if (at !== undefined) known!.splice(known!.indexOf(at), 1)
    return at
  })
  const taken = new Set(from)
  const rows = after.map((cells, i): Row => {
    const own = from[i] ?? (i < before.length && !taken.has(i) ? i : undefined)
    return { cells, ...(own === undefined ? {} : beside(before[own]!)) }
  })
  const changes: Splice[] = []
  const shared = Math.min(before.length, rows.length)
  for (let i = 0; i < shared; i++) {
    if (JSON.stringify(before[i]) === JSON.stringify(rows[i])) continue
    const last = changes[changes.length - 1]
    if (last && last.at + last.remove === i + 1) {
      last.remove++
      last.rows.push(rows[i]!)
    } else changes.push({ at: i + 1, remove: 1, rows: [rows[i]!] })
  }
  if (before.length !== rows.length)
    changes.push({ at: shared + 1, remove: before.length - shared, rows: rows.slice(shared) })
  const moved = before.length !== rows.length || from.some((own, i) => own !== undefined && own !== i)
  return { changes, moved }
}
