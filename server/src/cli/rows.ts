import { existsSync, readFileSync } from 'node:fs'
import { basename } from 'node:path'
import { KnownNames, type Match, matchColumns, type Row, rowsOf, usedColumns } from '@hoja/core/data'
import { openDataFile, type ReadOptions } from '@hoja/core/formats'
import { type OutputSettings, rowInOrder } from '@hoja/core/output'
import { demand } from '@hoja/core/refusal'
import { readMoment, type Template } from '@hoja/core/template'

export interface Rows {
  match: Match
  rows: Row[]
  /** Fields that found no column, and columns that nothing uses. */
  unmatched: string[]
  unused: string[]
  /** Which rows of the file these are, where that was found out, and what was asked for in vain. */
  notes: string[]
}

/** How a data file is read, from the command line. */
export interface DataOptions {
  /** Worksheet of a workbook. */
  sheet?: string
  /** RFC 9535, in a JSON file. */
  path?: string
  /** A data file that knows how names are spelled. */
  known?: string
  /** Whether all rows are one title; absent: found out. */
  together?: boolean
  apart?: boolean
  /** What *now* is in titles, so that they can be made again; absent: the moment at which they are. */
  now?: string
}

/** @throws Refusal for what is no moment */
export function nowFrom(now: string | undefined): Pick<OutputSettings, 'now'> {
  if (now === undefined) return {}
  const moment = now.trim().replace(' ', 'T')
  demand(readMoment(moment), 'call', `"${now}" is no moment; write it as 2026-11-26T18:30.`)
  return { now: moment }
}

/**
 * Reads a data file and matches its columns to a template. Without a file: one row of defaults.
 * @throws Refusal also for a file of which nothing fills a field
 */
export function readRows(
  template: Template,
  path: string | undefined,
  { sheet, path: at, now, together, apart }: DataOptions = {},
): Rows {
  const among = (match: Match, rows: Row[]) =>
    rows.map((row, i) => rowInOrder(nowFrom(now), template, match, row, [i + 1, rows.length]))
  if (path === undefined) return { match: {}, rows: among({}, [{ cells: {} }]), unmatched: [], unused: [], notes: [] }
  demand(existsSync(path), 'data.none', `There is no data file at "${path}".`)
  const options: ReadOptions = {
    ...(sheet === undefined ? {} : { sheet }),
    ...(at === undefined ? {} : { path: at }),
    ...(together || apart ? { together: together === true } : {}),
  }
  const name = basename(path)
  const { table, facts } = openDataFile(readFileSync(path), name, options, template)
  const match = matchColumns(template, table.columns, table.rows, table.marks)
  const { fields } = template
  demand(
    fields.length === 0 || fields.some(({ key }) => match[key] !== undefined),
    'data.match',
    `"${name}" fills nothing of "${template.name}": it has ${listed(table.columns)}, and the fields are ${listed(fields.map(({ key }) => key))}.`,
  )
  const used = new Set(usedColumns(match))
  return {
    match,
    rows: among(match, rowsOf(table)),
    unmatched: fields.flatMap(({ key }) => (match[key] === undefined ? [key] : [])),
    unused: table.columns.filter((column) => !used.has(column)),
    notes: [
      ...(sheet !== undefined && !facts.sheets
        ? [`"${name}" has no worksheets, so --sheet ${sheet} changes nothing.`]
        : []),
      ...(at !== undefined && facts.kind !== 'json' ? [`"${name}" is no JSON, so --path ${at} changes nothing.`] : []),
      ...(facts.note === undefined ? [] : [facts.note]),
    ],
  }
}

/** How names are spelled, as a data file has them: every text of it. @throws Refusal */
export function knownFrom(path: string | undefined): KnownNames {
  if (path === undefined) return new KnownNames([])
  demand(existsSync(path), 'data.none', `There is no data file at "${path}".`)
  return new KnownNames(openDataFile(readFileSync(path), basename(path)).table.rows.flat())
}

/** Most names that are listed in one sentence. */
const most = 12
const listed = (names: readonly string[]) =>
  `${names.slice(0, most).join(', ')}${names.length > most ? ` and ${names.length - most} more` : ''}`

/** What is said of the columns before anything is done with their rows. */
export function columnNotes({ notes, unmatched, unused }: Rows): string[] {
  return [
    ...notes,
    ...(unmatched.length === 0 ? [] : [`No column for ${listed(unmatched)}.`]),
    ...(unused.length === 0
      ? []
      : [`Nothing uses ${unused.length === 1 ? 'the column' : 'the columns'} ${listed(unused)}.`]),
  ]
}

/** Row `n` (from 1). @throws Refusal when it does not exist. */
export function rowAt({ rows }: Rows, n: number): Row {
  const row = rows[n - 1]
  demand(n >= 1 && row, 'row.range', `Row ${n} does not exist; the data has rows 1 to ${rows.length}.`)
  return row
}
