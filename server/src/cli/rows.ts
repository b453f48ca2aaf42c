import { existsSync, readFileSync } from 'node:fs'
import { basename } from 'node:path'
import { type Match, matchColumns, type Row, rowsOf } from '@hoja/core/data'
import { readDataFile } from '@hoja/core/formats'
import { demand } from '@hoja/core/refusal'
import type { Template } from '@hoja/core/template'

export interface Rows {
  match: Match
  rows: Row[]
}

/** Reads a data file and matches its columns to a template. Without a file: one row of defaults. */
export function readRows(template: Template, path: string | undefined, sheet?: string): Rows {
  if (path === undefined) return { match: {}, rows: [{ cells: {} }] }
  demand(existsSync(path), 'data.none', `There is no data file at "${path}".`)
  const table = readDataFile(readFileSync(path), basename(path), sheet === undefined ? {} : { sheet })
  const match = matchColumns(template, table.columns, table.rows, table.marks)
  return { match, rows: rowsOf(table) }
}

/** Row `n` (from 1). @throws Refusal when it does not exist. */
export function rowAt({ rows }: Rows, n: number): Row {
  const row = rows[n - 1]
  demand(n >= 1 && row, 'row.range', `Row ${n} does not exist; the data has rows 1 to ${rows.length}.`)
  return row
}
