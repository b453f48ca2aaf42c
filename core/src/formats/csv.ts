import Papa from 'papaparse'
import type { Table } from '../data/index.ts'
import { demand } from '../refusal/index.ts'

/** Bytes of a text file as text: byte order marks, then UTF-16 by its zero bytes, then UTF-8, and what is neither as Windows-1252. */
export function decodeText(bytes: Uint8Array): string {
  const decode = (encoding: string, fatal = false) => new TextDecoder(encoding, { fatal }).decode(bytes)
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return decode('utf-16le')
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return decode('utf-16be')
  const head = bytes.subarray(0, 2000)
  let even = 0
  let odd = 0
  head.forEach((byte, i) => {
    if (byte === 0) i % 2 ? odd++ : even++
  })
  // Text of any script has spaces, digits or line ends, whose high byte is zero.
  if (odd > head.length / 8 && even === 0) return decode('utf-16le')
  if (even > head.length / 8 && odd === 0) return decode('utf-16be')
  try {
    return decode('utf-8', true)
  } catch {
    return decodeWindows1252(bytes)
  }
}

/** WHATWG Encoding's index of windows-1252 for the bytes 80 to 9F; the others are Latin-1. Node's own decoder leaves these out. */
const upper = '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ'

function decodeWindows1252(bytes: Uint8Array): string {
  return new TextDecoder('latin1').decode(bytes).replace(/[\u0080-\u009f]/g, (c) => upper[c.charCodeAt(0) - 0x80]!)
}

const delimiters = [',', ';', '\t']

/** The separator that splits the header into most cells. */
function delimiterOf(text: string): string {
  const counts = delimiters.map(
    (delimiter) => Papa.parse<string[]>(text.slice(0, 20000), { delimiter, preview: 1 }).data[0]?.length ?? 0,
  )
  return delimiters[counts.indexOf(Math.max(...counts))]!
}

/**
 * Reads comma-, semicolon- or tab-separated values after RFC 4180: quotes over several lines, any line end. Lines that
 * start with `#` before the header are notes (W3C CSV on the Web's comment prefix).
 * @throws Refusal in one sentence for a file that is empty, binary, a header alone, or whose columns are not clear.
 */
export function readCsv(bytes: Uint8Array, name: string): Table {
  return tableOf(csvGrid(bytes, name).grid, name)
}

/**
 * A text file's cells, and what parts them: found out unless it is given.
 * @throws Refusal for a file that is empty, binary, or opens a quotation mark without end
 */
export function csvGrid(bytes: Uint8Array, name: string, given?: string): { grid: string[][]; separator: string } {
  demand(bytes.length > 0, 'csv.empty', `"${name}" is empty; export it again with a header row and at least one row.`)
  const text = decodeText(bytes)
  const strange = text.slice(0, 4000).match(/[\u0000-\u0008\u000e-\u001f]/g)?.length ?? 0
  demand(strange === 0, 'csv.binary', `"${name}" is not a text file; export the sheet as CSV and choose that file.`)
  let body = text.replace(/^\ufeff/, '')
  while (body.startsWith('#')) body = body.slice(body.search(/\r\n|\n|\r|$/)).replace(/^(\r\n|\n|\r)/, '')
  const separator = given ?? delimiterOf(body)
  const parsed = Papa.parse<string[]>(body, { delimiter: separator, skipEmptyLines: 'greedy' })
  const quote = parsed.errors.find((error) => error.type === 'Quotes')
  demand(
    !quote,
    'csv.quotes',
    `"${name}", row ${(quote?.row ?? 0) || 1}: a quotation mark is opened and not closed; close it or double it.`,
  )
  return { grid: parsed.data, separator }
}

/** Makes a table of raw rows, the first being the header. @throws Refusal when it is none. */
export function tableOf(raw: readonly string[][], name: string): Table {
  demand(raw.length > 0, 'csv.empty', `"${name}" is empty; export it again with a header row and at least one row.`)
  const header = raw[0]!.map((cell) => cell.trim())
  while (header.length > 0 && header[header.length - 1] === '') header.pop()
  demand(header.length > 0, 'csv.header', `"${name}" has no column names in its first row; add them.`)
  const columns = header.map((column, i) => column || `column ${i + 1}`)
  const twice = columns.find((column, i) => columns.indexOf(column) !== i)
  demand(twice === undefined, 'csv.twice', `"${name}" has two columns called "${twice}"; rename one.`)
  const rows = raw.slice(1).map((cells, i) => {
    demand(
      cells.slice(columns.length).every((cell) => cell.trim() === ''),
      'csv.wide',
      `"${name}", row ${i + 1} has ${cells.length} cells and the header ${columns.length}; put a text with a separator in it into quotation marks.`,
    )
    return columns.map((_, c) => cells[c] ?? '')
  })
  demand(rows.length > 0, 'csv.rows', `"${name}" has column names and no rows; add at least one row.`)
  return { columns, rows }
}

/** Writes RFC 4180 CSV with CR LF line ends. */
export function writeCsv(columns: readonly string[], rows: readonly (readonly string[])[]): string {
  return `${Papa.unparse({ fields: [...columns], data: rows.map((row) => [...row]) }, { newline: '\r\n' })}\r\n`
}
