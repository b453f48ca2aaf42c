/** A sheet as read: named columns, rows of texts. Row n of a person is `rows[n - 1]`. */
export interface Table {
  columns: string[]
  rows: string[][]
}

/** One row as cells by column name. */
export type Cells = Record<string, string>

/** Which column goes to which field: field key to column name; a field without a column stands at its default. */
export type Match = Record<string, string>

export function cellsOf(table: Table, row: number): Cells {
  const cells: Cells = {}
  table.columns.forEach((column, i) => {
    cells[column] = table.rows[row]?.[i] ?? ''
  })
  return cells
}
