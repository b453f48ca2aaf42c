import type { Marks } from './numbers.ts'

/** A sheet as read: named columns, rows of texts. Row n of a person is `rows[n - 1]`. */
export interface Table {
  columns: string[]
  rows: string[][]
  /** How its numbers are written, where its format itself says so. */
  marks?: Marks
}

/** One row's texts by column name. */
export type Cells = Record<string, string>

/** What a title is made among: some fields say it where data says nothing. */
export interface About {
  /** The moment of rendering, or one that was stated so that it can be repeated: local, as ISO 8601 has it. */
  now: string
  /** From 1. */
  row: number
  rows: number
  /** How long an order makes the title; absent: as the row says, or as designed. */
  seconds?: number
}

/** A row of a sheet: what the data says, and what a person set beside it. Nothing but `cells` comes from data. */
export interface Row {
  cells: Cells
  /** Texts by field key that stand in place of what the match gives: typed by hand where no single column takes them. */
  own?: Cells
  note?: string
  /** Switched off: kept and checked, never rendered. */
  off?: boolean
  /** Frames of this title alone. */
  frames?: number
  /** The id of the published version that this row stays on. */
  version?: number
  /** What its title is made among, where it is made; never stored with a sheet. */
  about?: About
}

/** The text of a row's cell; undefined for a column that it does not have. */
export const cellOf = (cells: Cells, column: string): string | undefined =>
  Object.hasOwn(cells, column) ? cells[column] : undefined

/** One row's cells by column; a column may be called `__proto__`, which an assignment would take for something else. */
export const cellsOf = (table: Table, row: number): Cells =>
  Object.fromEntries(table.columns.map((column, i) => [column, table.rows[row]?.[i] ?? '']))

/** A table's rows, with nothing beside them. */
export const rowsOf = (table: Table): Row[] => table.rows.map((_, i) => ({ cells: cellsOf(table, i) }))
