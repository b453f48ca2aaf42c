import { doubtAbout, type Match, matchColumns, type Table } from '../data/index.ts'
import { demand, Refusal } from '../refusal/index.ts'
import type { Template } from '../template/index.ts'
import { csvGrid, tableOf } from './csv.ts'
import { readFeed } from './feedRows.ts'
import { type ArrayFacts, jsonArrays, jsonTable, parseJson } from './jsonRows.ts'
import { type DateSystem, type SheetFacts, Workbook } from './workbook.ts'

/** How a data file is read; what is absent is found out. */
export interface ReadOptions {
  /** Workbooks: the sheet's name. */
  sheet?: string
  /** Workbooks: hidden rows and columns too. */
  hidden?: boolean
  /** Workbooks: cells as displayed, or as the values that are kept. */
  as?: 'displayed' | 'values'
  /** Row of the column names, from 1; 0: there are none. */
  header?: number
  /** Text files; an encoding by its WHATWG label. */
  separator?: string
  encoding?: string
  /** Json: RFC 9535. */
  path?: string
  /** Somebody may be writing it right now. */
  followed?: boolean
}

/** What can be chosen of a data file, and what was. */
export interface DataFileFacts {
  kind: 'text' | 'workbook' | 'json' | 'feed'
  sheets?: SheetFacts[]
  dates?: DateSystem
  arrays?: ArrayFacts[]
  options: ReadOptions
}

/** A data file, opened: what can be chosen, and its rows as chosen. */
export interface OpenedData {
  facts: DataFileFacts
  /** The first rows as they stand in the file, for choosing the row of the column names; empty for json. */
  head: string[][]
  table: Table
}

/** Rows among which the column names are looked for. */
const headRows = 20

/**
 * The row of the column names, from 1: the first that is about as wide as the widest, of words without a number among
 * them.
 * @param isSheet a heading that is merged over all columns, which says the same in each, names none
 */
export function guessHeader(grid: readonly string[][], isSheet = false): number {
  const head = grid.slice(0, headRows)
  const filled = (row: readonly string[]) => row.filter((cell) => cell.trim() !== '')
  const widest = Math.max(0, ...head.map((row) => filled(row).length))
  const at = head.findIndex((row) => {
    const cells = filled(row).map((cell) => cell.trim())
    const isMerged = isSheet && cells.length > 1 && new Set(cells).size === 1
    return !isMerged && cells.length >= Math.max(1, widest * 0.6) && cells.every((cell) => !/^[\d.,:/-]+$/.test(cell))
  })
  return at < 0 ? 1 : at + 1
}

/**
 * Rows under a header row; 0: columns are numbered. Rows without a word are left out. In a worksheet (`loose`) a column may
 * lack its name; in a text file a row that is wider than the names is one with a separator in a text.
 */
function tableFrom(grid: string[][], header: number, name: string, loose = false): Table {
  demand(
    header <= grid.length,
    'data.header',
    `"${name}" has ${grid.length} rows; row ${header} can't hold the column names.`,
  )
  const rows = header === 0 ? grid : grid.slice(header)
  const widest = Math.max(1, ...grid.map((row) => row.length))
  const names =
    header === 0
      ? Array.from({ length: widest }, (_, i) => `column ${i + 1}`)
      : loose
        ? allNames(grid[header - 1]!, rows)
        : grid[header - 1]!
  return tableOf([names, ...rows.filter((row) => row.some((cell) => cell.trim() !== ''))], name)
}

/** Column names as they stand; a column without a name but with words in it gets a number. */
function allNames(header: readonly string[], rows: readonly string[][]): string[] {
  const last = Math.max(
    header.findLastIndex((cell) => cell.trim() !== ''),
    ...rows.map((row) => row.findLastIndex((cell) => cell.trim() !== '')),
  )
  return Array.from({ length: last + 1 }, (_, i) => header[i]?.trim() || `column ${i + 1}`)
}

/**
 * Opens a file of rows by the kind its name tells: csv, tsv, txt, xlsx, ods, json, rss, atom or xml.
 * @throws Refusal in one sentence naming file, sheet and row
 */
export function openDataFile(bytes: Uint8Array, name: string, options: ReadOptions = {}): OpenedData {
  const kind = name.toLowerCase().match(/\.([a-z0-9]+)$/)?.[1]
  switch (kind) {
    case 'csv':
    case 'tsv':
    case 'txt': {
      const { grid, separator, encoding } = csvGrid(bytes, name, options)
      const header = options.header ?? guessHeader(grid)
      return {
        facts: { kind: 'text', options: { ...options, separator, encoding, header } },
        head: grid.slice(0, headRows),
        table: tableFrom(grid, header, name),
      }
    }
    case 'xlsx':
    case 'ods': {
      const book = new Workbook(bytes, name)
      const sheet = book.sheet(options.sheet)
      const grid = book.grid(sheet, options)
      const header = options.header ?? guessHeader(grid, true)
      return {
        facts: { kind: 'workbook', sheets: book.sheets, dates: book.dates, options: { ...options, sheet, header } },
        head: grid.slice(0, headRows),
        table: tableFrom(grid, header, `${name}, sheet ${sheet}`, true),
      }
    }
    case 'json': {
      const value = parseJson(bytes, name)
      const arrays = jsonArrays(value)
      const table = jsonTable(value, name, options.path)
      const path = options.path ?? arrays.find((array) => array.path === "$['rows']")?.path ?? arrays[0]?.path
      return {
        facts: { kind: 'json', arrays, options: { ...options, ...(path === undefined ? {} : { path }) } },
        head: [],
        table,
      }
    }
    case 'rss':
    case 'atom':
    case 'xml':
      return { facts: { kind: 'feed', options }, head: [], table: readFeed(bytes, name) }
    default:
      throw new Refusal(
        'data.kind',
        `"${name}" is of no kind that Hoja reads; use csv, tsv, xlsx, ods, json, rss or atom.`,
        415,
      )
  }
}

/** What a data file holds and what it would fill, before anything of it is kept. */
export interface DataPreview extends DataFileFacts {
  head: string[][]
  columns: string[]
  /** The first rows, as they come in. */
  rows: string[][]
  count: number
  match: Match
  /** A sentence when the rows don't look like the template's. */
  doubt: string | null
}

/** Rows that a preview shows. */
const previewRows = 12

/** Looks at a data file for a template. @throws Refusal */
export function previewOf(bytes: Uint8Array, name: string, options: ReadOptions, template: Template): DataPreview {
  const { facts, head, table } = openDataFile(bytes, name, options)
  const match = matchColumns(template, table.columns, table.rows, table.marks)
  return {
    ...facts,
    head,
    columns: table.columns,
    rows: table.rows.slice(0, previewRows),
    count: table.rows.length,
    match,
    doubt: doubtAbout(template, match, table) ?? null,
  }
}

/** The rows of a data file. @throws Refusal */
export function readDataFile(bytes: Uint8Array, name: string, options: ReadOptions = {}): Table {
  return openDataFile(bytes, name, options).table
}
