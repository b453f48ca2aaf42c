import { doubtAbout, fieldsIn, likeness, type Match, matchColumns, type Table } from '../data/index.ts'
import { demand } from '../refusal/index.ts'
import type { Template } from '../template/index.ts'
import { openDataFile, type ReadOptions } from './dataFile.ts'

/** Some rows of a data file that go to one template: a worksheet's, or those whose column says so. */
export interface BookPart {
  sheet?: string
  /** The column that names a template for its row, and the name. */
  column?: string
  value?: string
}

/** A part of a data file with the template that it looks like. */
export interface BookOffer extends BookPart {
  rows: number
  columns: string[]
  /** The version of the template; null: it looks like none. */
  version: number | null
  matched: number
  doubt: string | null
}

/** A template that rows may go to, as it was published. */
export interface Candidate {
  version: number
  template: Template
}

const plain = (text: string) => text.normalize('NFKC').trim().toLowerCase()

/** Likeness under which a worksheet is taken for none of the templates. */
const leastLike = 0.34

function offer(part: BookPart, table: Table, candidates: readonly Candidate[]): BookOffer {
  const ranked = candidates
    .map((candidate) => ({ candidate, like: likeness(candidate.template, table) }))
    .sort((a, b) => b.like - a.like)
  const best = ranked[0] && ranked[0].like >= leastLike ? ranked[0].candidate : undefined
  return offered(part, table, best)
}

function offered(part: BookPart, table: Table, candidate: Candidate | undefined): BookOffer {
  const match: Match = candidate ? matchColumns(candidate.template, table.columns, table.rows, table.marks) : {}
  return {
    ...part,
    rows: table.rows.length,
    columns: table.columns,
    version: candidate?.version ?? null,
    matched: fieldsIn(match),
    doubt: (candidate && doubtAbout(candidate.template, match, table)) ?? null,
  }
}

/** The first column in which every word is the name of a template. */
function namingColumn({ columns, rows }: Table, candidates: readonly Candidate[]): string | undefined {
  const names = new Set(candidates.flatMap(({ template }) => [plain(template.name), plain(template.id)]))
  return columns.find((_, c) => {
    const words = rows.map((row) => plain(row[c] ?? '')).filter((word) => word !== '')
    return words.length > 1 && words.every((word) => names.has(word))
  })
}

/** Rows of a table whose column says a value; of an empty value, those that say nothing. */
function rowsSaying(table: Table, column: string, value: string): Table {
  const c = table.columns.indexOf(column)
  return { columns: table.columns, rows: table.rows.filter((row) => plain(row[c] ?? '') === plain(value)) }
}

/** What templates a file's rows look like: worksheet by worksheet, and by a column where one names them. @throws Refusal */
export function bookOffers(
  bytes: Uint8Array,
  name: string,
  candidates: readonly Candidate[],
): { sheets: BookOffer[]; column: string | null; byColumn: BookOffer[] } {
  const first = openDataFile(bytes, name)
  const sheets = first.facts.sheets?.filter((sheet) => !sheet.hidden && sheet.rows > 1) ?? []
  // What has no worksheets is one part.
  const bySheet = !first.facts.sheets
    ? [offer({}, first.table, candidates)]
    : sheets.flatMap(({ name: sheet }) => {
        try {
          return offer({ sheet }, openDataFile(bytes, name, { sheet }).table, candidates)
        } catch {
          // A worksheet of notes or sums holds no rows for anybody.
          return []
        }
      })
  const column = namingColumn(first.table, candidates)
  const values =
    column === undefined ? [] : first.table.rows.map((row) => row[first.table.columns.indexOf(column)] ?? '')
  const seen = new Map(values.map((value) => [plain(value), value]))
  const byColumn = [...seen].map(([word, value]) => {
    const named = candidates.find(({ template }) => plain(template.name) === word || plain(template.id) === word)
    return offered({ column: column!, value }, rowsSaying(first.table, column!, value), named)
  })
  return { sheets: bySheet, column: column ?? null, byColumn }
}

/** The rows of one part. @throws Refusal */
export function readPart(bytes: Uint8Array, name: string, part: BookPart, options: ReadOptions = {}): Table {
  const { sheet, column, value } = part
  const { table } = openDataFile(bytes, name, { ...options, ...(sheet === undefined ? {} : { sheet }) })
  if (column === undefined) return table
  demand(table.columns.includes(column), 'book.column', `"${name}" has no column "${column}".`)
  return rowsSaying(table, column, value ?? '')
}
