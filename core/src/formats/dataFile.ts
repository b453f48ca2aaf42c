import { areTogether, doubtAbout, fieldsIn, joined, type Match, matchColumns, type Table } from '../data/index.ts'
import { demand, Refusal } from '../refusal/index.ts'
import type { Template } from '../template/index.ts'
import { csvGrid, tableOf } from './csv.ts'
import { readCues } from './cues.ts'
import { dataKindOf, unknownKind } from './dataKinds.ts'
import { readEditList } from './editList.ts'
import { readFeed } from './feedRows.ts'
import { type ArrayFacts, firstPath, jsonArrays, jsonTable, parseJson } from './jsonRows.ts'
import { readTimeline } from './timeline.ts'
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
  /** All rows are one title, each an entry of the lists that its template goes through; else each is a title. */
  together?: boolean
  /** Somebody may be writing it right now. */
  followed?: boolean
}

/** What can be chosen of a data file, and what was. */
export interface DataFileFacts {
  kind: 'text' | 'workbook' | 'json' | 'feed' | 'cues' | 'timeline'
  sheets?: SheetFacts[]
  dates?: DateSystem
  arrays?: ArrayFacts[]
  options: ReadOptions
  /** Rows that may be one title together, where the template goes through lists. */
  entries?: number
  /** A sentence when other rows were taken than the first ones, because those match nothing. */
  note?: string
}

/** A data file, opened: what can be chosen, and its rows as chosen. */
export interface OpenedData {
  facts: DataFileFacts
  /** The first rows as they stand in the file, for choosing the row of the column names; empty for json. */
  head: string[][]
  table: Table
}

/** Rows by which it is told whether columns match, and worksheets that are looked at. */
const lookedAt = 50
const mostSheets = 20

/** How many fields of a template a table fills; 0 for what is no table. */
function matchedBy(template: Template, table: () => Table): number {
  try {
    const { columns, rows, marks } = table()
    return fieldsIn(matchColumns(template, columns, rows.slice(0, lookedAt), marks))
  } catch (error) {
    if (error instanceof Refusal) return 0
    throw error
  }
}

/** The first, unless it matches nothing and another does: then the one that matches most. */
function firstThatMatches<T>(all: readonly T[], matched: (one: T) => number): T | undefined {
  const [first] = all
  if (first === undefined || matched(first) > 0) return first
  const counts = all.map(matched)
  const most = Math.max(...counts)
  return most > 0 ? all[counts.indexOf(most)] : first
}

const takenInstead = (first: string, template: Template, taken: string) =>
  `${first} matches nothing of "${template.name}", so the rows are those of ${taken}.`

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

/** The row of the column names: the guess, unless nothing it names is asked for and what another row names is. */
function headerFor(grid: string[][], name: string, isSheet: boolean, template: Template | undefined): number {
  const guess = guessHeader(grid, isSheet)
  if (!template) return guess
  const others = grid.slice(0, headRows).map((_, i) => i + 1)
  const top = grid.slice(0, headRows + lookedAt)
  return firstThatMatches([guess, ...others.filter((row) => row !== guess && row < grid.length)], (header) =>
    matchedBy(template, () => tableFrom(top, header, name, isSheet)),
  )!
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
  const widest = widestOf(grid, (row) => row.length)
  const names =
    header === 0
      ? Array.from({ length: widest }, (_, i) => `column ${i + 1}`)
      : loose
        ? allNames(grid[header - 1]!, rows)
        : grid[header - 1]!
  return tableOf([names, ...rows.filter((row) => row.some((cell) => cell.trim() !== ''))], name)
}

/** The most of what rows say; there may be more of them than a call takes arguments. */
const widestOf = (rows: readonly (readonly string[])[], of: (row: readonly string[]) => number): number =>
  rows.reduce((most, row) => Math.max(most, of(row)), 1)

/** Column names as they stand; a column without a name but with words in it gets a number. */
function allNames(header: readonly string[], rows: readonly string[][]): string[] {
  const last = widestOf([header, ...rows], (row) => row.findLastIndex((cell) => cell.trim() !== '') + 1) - 1
  return Array.from({ length: last + 1 }, (_, i) => header[i]?.trim() || `column ${i + 1}`)
}

/**
 * Opens a file of rows by the kind its name tells (`dataKinds`).
 * @param template what the rows are for: where the first worksheet, row of names or list matches nothing of it and
 * another does, that one is taken
 * @throws Refusal in one sentence naming file, sheet and row
 */
export function openDataFile(
  bytes: Uint8Array,
  name: string,
  options: ReadOptions = {},
  template?: Template,
): OpenedData {
  const opened = openKind(bytes, name, options, template)
  const found = template && areTogether(template, opened.table)
  if (!template || found === undefined) return opened
  const together = options.together ?? found
  return {
    ...opened,
    facts: { ...opened.facts, options: { ...opened.facts.options, together }, entries: opened.table.rows.length },
    table: together ? joined(template, opened.table, name) : opened.table,
  }
}

function openKind(bytes: Uint8Array, name: string, options: ReadOptions, template: Template | undefined): OpenedData {
  switch (dataKindOf(name)) {
    case 'csv':
    case 'tsv':
    case 'txt': {
      const { grid, separator, encoding } = csvGrid(bytes, name, options)
      const header = options.header ?? headerFor(grid, name, false, template)
      return {
        facts: { kind: 'text', options: { ...options, separator, encoding, header } },
        head: grid.slice(0, headRows),
        table: tableFrom(grid, header, name),
      }
    }
    case 'xlsx':
    case 'ods':
      return openWorkbook(new Workbook(bytes, name), name, options, template)
    case 'json':
      return openJson(parseJson(bytes, name), name, options, template)
    case 'vtt':
    case 'srt': {
      const { table, note } = readCues(bytes, name)
      return { facts: { kind: 'cues', options, ...(note ? { note } : {}) }, head: [], table }
    }
    case 'edl':
      return openParts(readEditList(bytes, name), options, template, name)
    case 'otio':
      return openParts(readTimeline(parseJson(bytes, name), name), options, template, name)
    case 'rss':
    case 'atom':
    case 'xml':
      return { facts: { kind: 'feed', options }, head: [], table: readFeed(bytes, name) }
    default:
      throw unknownKind(name)
  }
}

function openWorkbook(book: Workbook, name: string, options: ReadOptions, template: Template | undefined): OpenedData {
  const matched = new Map<string, number>()
  if (template)
    for (const { name: sheet, hidden, rows } of book.sheets.slice(0, mostSheets)) {
      if (hidden || rows < 2) continue
      const top = book.grid(sheet, options, headRows + lookedAt)
      matched.set(
        sheet,
        matchedBy(template, () => tableFrom(top, headerFor(top, name, true, template), name, true)),
      )
    }
  const first = book.sheet(options.sheet)
  const others = options.sheet === undefined ? [...matched.keys()].filter((sheet) => sheet !== first) : []
  const sheet = firstThatMatches([first, ...others], (one) => matched.get(one) ?? 0)!
  const grid = book.grid(sheet, options)
  const header = options.header ?? headerFor(grid, name, true, template)
  const marks = options.as === 'values' ? { marks: '.' as const } : {}
  return {
    facts: {
      kind: 'workbook',
      sheets: book.sheets.map((one) => (matched.has(one.name) ? { ...one, matched: matched.get(one.name)! } : one)),
      dates: book.dates,
      options: { ...options, sheet, header },
      ...(sheet === first ? {} : { note: takenInstead(`Worksheet "${first}"`, template!, `"${sheet}"`) }),
    },
    head: grid.slice(0, headRows),
    table: { ...tableFrom(grid, header, `${name}, sheet ${sheet}`, true), ...marks },
  }
}

/** A timeline has several tables, as a workbook has worksheets: its clips or events, and its markers. */
function openParts(
  parts: readonly { name: string; table: Table }[],
  options: ReadOptions,
  template: Template | undefined,
  name: string,
): OpenedData {
  const facts = parts.map(
    (part): SheetFacts => ({
      name: part.name,
      rows: part.table.rows.length,
      columns: part.table.columns.length,
      hidden: false,
      ...(template ? { matched: matchedBy(template, () => part.table) } : {}),
    }),
  )
  const asked = parts.find((part) => part.name === options.sheet)
  demand(
    asked || options.sheet === undefined,
    'data.sheet',
    `"${name}" has no ${options.sheet}; it has ${parts.map((part) => part.name).join(' and ')}.`,
  )
  const own = asked ?? firstThatMatches(parts, (part) => facts[parts.indexOf(part)]!.matched ?? 1)!
  return {
    facts: {
      kind: 'timeline',
      sheets: facts,
      options: { ...options, sheet: own.name },
      ...(asked || own === parts[0]
        ? {}
        : { note: takenInstead(`Its part "${parts[0]!.name}"`, template!, `"${own.name}"`) }),
    },
    head: [],
    table: own.table,
  }
}

function openJson(value: unknown, name: string, options: ReadOptions, template: Template | undefined): OpenedData {
  const arrays = jsonArrays(value)
  const first = firstPath(value, arrays)
  const tables = new Map<string, Table>()
  const tableAt = (path: string) => {
    const table = tables.get(path) ?? jsonTable(value, name, path)
    tables.set(path, table)
    return table
  }
  const facts = template
    ? arrays.map((one) => ({ ...one, matched: matchedBy(template, () => tableAt(one.path)) }))
    : arrays
  const matched = (path: string) => facts.find((one) => one.path === path)?.matched ?? 0
  const others = arrays.map(({ path }) => path).filter((path) => path !== first)
  const paths = [...(first === undefined ? [] : [first]), ...others]
  const path = options.path ?? (template ? firstThatMatches(paths, matched) : first)
  return {
    facts: {
      kind: 'json',
      arrays: facts,
      options: { ...options, ...(path === undefined ? {} : { path }) },
      ...(options.path === undefined && path !== first
        ? { note: takenInstead(first === '$' ? 'The document as one row' : `The list ${first}`, template!, path!) }
        : {}),
    },
    head: [],
    table: path === undefined ? jsonTable(value, name) : tableAt(path),
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
  const { facts, head, table } = openDataFile(bytes, name, options, template)
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
export function readDataFile(bytes: Uint8Array, name: string, options: ReadOptions = {}, template?: Template): Table {
  return openDataFile(bytes, name, options, template).table
}
