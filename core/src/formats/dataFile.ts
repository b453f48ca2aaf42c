import { read, utils } from '@e965/xlsx'
import type { Table } from '../data/index.ts'
import { demand, Refusal } from '../refusal/index.ts'
import { decodeText, readCsv, tableOf } from './csv.ts'

/**
 * Reads a sheet of rows by the kind its name tells: csv, tsv, txt, xlsx, ods or json.
 * @param sheet name of the worksheet, for workbooks; the first one otherwise
 * @throws Refusal in one sentence naming file, sheet and row
 */
export function readDataFile(bytes: Uint8Array, name: string, sheet?: string): Table {
  const kind = name.toLowerCase().match(/\.([a-z0-9]+)$/)?.[1]
  switch (kind) {
    case 'csv':
    case 'tsv':
    case 'txt':
      return readCsv(bytes, name)
    case 'xlsx':
    case 'ods':
      return readWorkbook(bytes, name, sheet)
    case 'json':
      return readJson(bytes, name)
    default:
      throw new Refusal('data.kind', `"${name}" is of no kind that Hoja reads; use csv, tsv, xlsx, ods or json.`, 415)
  }
}

function readWorkbook(bytes: Uint8Array, name: string, sheet?: string): Table {
  demand(
    bytes[0] === 0x50 && bytes[1] === 0x4b,
    'workbook',
    `"${name}" is not a workbook; save it again as xlsx or ods.`,
  )
  let book: ReturnType<typeof read>
  try {
    book = read(bytes, { type: 'array' })
  } catch {
    throw new Refusal('workbook', `"${name}" is a damaged workbook; open it where it was made and save it again.`)
  }
  const chosen = sheet ?? book.SheetNames[0]
  const found = chosen === undefined ? undefined : book.Sheets[chosen]
  demand(found, 'workbook.sheet', `"${name}" has no sheet "${sheet}"; it has ${book.SheetNames.join(', ')}.`)
  const rows = utils.sheet_to_json<string[]>(found, { header: 1, raw: false, defval: '', blankrows: false })
  return tableOf(
    rows.map((row) => row.map(String)),
    `${name}, sheet ${chosen}`,
  )
}

function readJson(bytes: Uint8Array, name: string): Table {
  demand(bytes.length > 0, 'json.empty', `"${name}" is empty; it should hold a list of rows.`)
  let value: unknown
  try {
    value = JSON.parse(decodeText(bytes).replace(/^\ufeff/, ''))
  } catch (error) {
    throw new Refusal('json.syntax', `"${name}" is not JSON: ${(error as Error).message}.`)
  }
  const isRows = (v: unknown): v is Record<string, unknown>[] =>
    Array.isArray(v) && v.length > 0 && v.every((row) => typeof row === 'object' && row !== null && !Array.isArray(row))
  const record =
    typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Record<string, unknown>) : {}
  const rows = [value, record.rows, ...Object.values(record)].find(isRows)
  demand(rows, 'json.rows', `"${name}" holds no list of rows; write it as [{"name": "…"}, …].`)
  const columns = [...new Set(rows.flatMap((row) => Object.keys(row)))]
  const text = (v: unknown) =>
    v === null || v === undefined ? '' : typeof v === 'object' ? JSON.stringify(v) : String(v)
  return { columns, rows: rows.map((row) => columns.map((column) => text(row[column]))) }
}
