import type { Table } from '../data/index.ts'
import { amount, limits, most } from '../limits/index.ts'
import { Refusal } from '../refusal/index.ts'

/** @throws Refusal when a table is larger than Hoja reads; asked before it is made */
export function demandTableRoom(rows: number, columns: number, name: string): void {
  const tooMuch = (value: number, id: 'rows' | 'columns' | 'cells') => {
    if (value <= limits[id].most) return
    throw new Refusal(
      'data.large',
      `"${name}" has ${amount(value, limits[id].unit)}; Hoja reads up to ${most(id)}: send it in parts.`,
      413,
    )
  }
  tooMuch(rows, 'rows')
  tooMuch(columns, 'columns')
  tooMuch(rows * columns, 'cells')
}

/** @throws Refusal for a cell that is longer than any field takes */
export function demandCellRoom(cell: string, row: number, column: string, name: string): void {
  if (cell.length <= limits.cellCharacters.most) return
  throw new Refusal(
    'data.cell',
    `"${name}", row ${row}: "${column}" holds ${amount(cell.length, 'characters')}; Hoja takes up to ${most('cellCharacters')} in a cell.`,
    413,
  )
}

/**
 * Rows by the names of their columns as a table; columns that no row fills are left out, but for some.
 * @throws Refusal when it is larger than Hoja reads
 */
export function filledTable(
  rows: readonly Readonly<Record<string, string | undefined>>[],
  always: readonly string[],
  name: string,
): Table {
  const all = [...new Set([...always, ...rows.flatMap((row) => Object.keys(row))])]
  const columns = all.filter((column) => always.includes(column) || rows.some((row) => row[column]))
  demandTableRoom(rows.length, columns.length, name)
  return {
    columns,
    rows: rows.map((row, i) =>
      columns.map((column) => {
        const text = row[column] ?? ''
        demandCellRoom(text, i + 1, column, name)
        return text
      }),
    ),
  }
}
