import { existsSync, readFileSync } from 'node:fs'
import { basename } from 'node:path'
import { type Cells, cellsOf, type Match, matchColumns } from '@hoja/core/data'
import { readDataFile } from '@hoja/core/formats'
import { demand } from '@hoja/core/refusal'
import type { Template } from '@hoja/core/template'

export interface Rows {
  match: Match
  cells: Cells[]
}

/** Reads a data file and matches its columns to a template. Without a file: one row of defaults. */
export function readRows(template: Template, path: string | undefined, sheet?: string): Rows {
  if (path === undefined) return { match: {}, cells: [{}] }
  demand(existsSync(path), 'data.none', `There is no data file at "${path}".`)
  const table = readDataFile(readFileSync(path), basename(path), sheet === undefined ? {} : { sheet })
  const match = matchColumns(template, table.columns, table.rows)
  return { match, cells: table.rows.map((_, row) => cellsOf(table, row)) }
}

/** The cells of row `row` (from 1). @throws Refusal when it does not exist. */
export function cellsAt(rows: Rows, row: number): Cells {
  const cells = rows.cells[row - 1]
  demand(row >= 1 && cells, 'row.range', `Row ${row} does not exist; the data has rows 1 to ${rows.cells.length}.`)
  return cells
}
