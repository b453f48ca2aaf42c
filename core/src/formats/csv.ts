import { analyse } from 'chardet'
import Papa from 'papaparse'
import type { Table } from '../data/index.ts'
import { demand, Refusal } from '../refusal/index.ts'
import { guarded, unguarded } from './formulas.ts'
import { demandCellRoom, demandTableRoom } from './tableRoom.ts'

/** Encodings that a person can choose, by their labels in the WHATWG Encoding standard, as people call them. */
export const encodings: Record<string, string> = {
  'utf-8': 'Unicode (UTF-8)',
  'utf-16le': 'Unicode (UTF-16)',
  'utf-16be': 'Unicode (UTF-16, big end first)',
  'windows-1252': 'Western (Windows-1252)',
  'windows-1250': 'Central European (Windows-1250)',
  'iso-8859-2': 'Central European (ISO 8859-2)',
  'windows-1254': 'Turkish (Windows-1254)',
  'windows-1258': 'Vietnamese (Windows-1258)',
  'windows-1253': 'Greek (Windows-1253)',
  'windows-1251': 'Cyrillic (Windows-1251)',
  'koi8-r': 'Cyrillic (KOI8-R)',
  'windows-1256': 'Arabic (Windows-1256)',
  'windows-1255': 'Hebrew (Windows-1255)',
  macintosh: 'Western (Mac)',
  shift_jis: 'Japanese (Shift_JIS)',
  'euc-jp': 'Japanese (EUC)',
  gb18030: 'Chinese (GB 18030)',
  big5: 'Chinese (Big5)',
  'euc-kr': 'Korean (EUC)',
}

/**
 * How sure a guess from the bytes must be, of 100, to be taken before Windows-1252; less will do when it is far ahead of
 * the next, as it is for other scripts than Latin.
 */
const sure = 40
const ahead = 15

/**
 * The encoding of a text file: by its byte order mark, then UTF-16 by its zero bytes, then UTF-8 where it is that, then
 * what the frequency of its bytes speaks for, and Windows-1252 where that says nothing.
 */
export function encodingOf(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le'
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be'
  const head = bytes.subarray(0, 2000)
  let even = 0
  let odd = 0
  head.forEach((byte, i) => {
    if (byte === 0) i % 2 ? odd++ : even++
  })
  // Text of any script has spaces, digits or line ends, whose high byte is zero.
  if (odd > head.length / 8 && even === 0) return 'utf-16le'
  if (even > head.length / 8 && odd === 0) return 'utf-16be'
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes)
    return 'utf-8'
  } catch {
    const guesses = analyse(bytes.subarray(0, 50_000)).map(({ name, confidence }) => ({
      label: name === 'ISO-8859-1' ? 'windows-1252' : name.toLowerCase(),
      confidence,
    }))
    const [best, next] = guesses.filter(({ label }) => encodings[label])
    const isSure = best && (best.confidence >= sure || best.confidence - (next?.confidence ?? 0) >= ahead)
    return isSure ? best.label : 'windows-1252'
  }
}

/** Bytes of a text file as text. @param encoding found out unless it is given */
export function decodeText(bytes: Uint8Array, encoding = encodingOf(bytes)): string {
  return encoding === 'windows-1252' ? decodeWindows1252(bytes) : new TextDecoder(encoding).decode(bytes)
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

/** Line and column, both from 1, of a place in a text. */
export function placeIn(text: string, offset: number): { line: number; column: number } {
  const before = text.slice(0, offset)
  return {
    line: before.split(/\r\n|\n|\r/).length,
    column: offset - Math.max(...['\n', '\r'].map((end) => before.lastIndexOf(end))),
  }
}

/**
 * A text file's cells, and what parts them: found out unless it is given.
 * @param followed a last row that is cut off is refused: whoever writes the file is not done
 * @throws Refusal for a file that is empty, binary, or opens a quotation mark without end
 */
export function csvGrid(
  bytes: Uint8Array,
  name: string,
  given: { separator?: string; encoding?: string; followed?: boolean } = {},
): { grid: string[][]; separator: string; encoding: string } {
  demand(bytes.length > 0, 'csv.empty', `"${name}" is empty; export it again with a header row and at least one row.`)
  const encoding = given.encoding ?? encodingOf(bytes)
  const text = decodeText(bytes, encoding)
  const strange = text.slice(0, 4000).match(/[\u0000-\u0008\u000e-\u001f]/g)?.length ?? 0
  demand(strange === 0, 'csv.binary', `"${name}" is not a text file; export the sheet as CSV and choose that file.`)
  const whole = text.replace(/^\ufeff/, '')
  const body = whole.slice(whole.match(/^(#[^\r\n]*(\r\n|\n|\r|$))*/)![0].length)
  const separator = given.separator ?? delimiterOf(body)
  const parsed = Papa.parse<string[]>(body, { delimiter: separator, skipEmptyLines: 'greedy' })
  const quote = parsed.errors.find((error) => error.type === 'Quotes')
  if (quote) {
    const { line, column } = placeIn(whole, whole.length - body.length + (quote.index ?? 1) - 1)
    throw new Refusal(
      'csv.quotes',
      `"${name}", row ${quote.row || 1} (line ${line}, column ${column}): a quotation mark is opened and not closed; close it or double it.`,
    )
  }
  const grid = parsed.data
  let widest = 0
  for (const row of grid) {
    widest = Math.max(widest, row.length)
    for (let c = 0; c < row.length; c++) row[c] = unguarded(row[c]!)
  }
  demandTableRoom(grid.length - 1, widest, name)
  const last = grid[grid.length - 1]
  if (given.followed && last && last.length < grid[0]!.length && !/[\r\n]$/.test(body)) {
    const { line, column } = placeIn(whole, whole.length)
    throw new Refusal('csv.cut', `"${name}" ends in the middle of a row, at line ${line}, column ${column}.`)
  }
  return { grid, separator, encoding }
}

/** Makes a table of raw rows, the first being the header. @throws Refusal when it is none. */
export function tableOf(raw: readonly string[][], name: string): Table {
  demand(raw.length > 0, 'csv.empty', `"${name}" is empty; export it again with a header row and at least one row.`)
  const header = raw[0]!.map((cell) => cell.trim())
  while (header.length > 0 && header[header.length - 1] === '') header.pop()
  demand(header.length > 0, 'csv.header', `"${name}" has no column names in its first row; add them.`)
  const columns = header.map((column, i) => column || `column ${i + 1}`)
  demandTableRoom(raw.length - 1, columns.length, name)
  const seen = new Set<string>()
  const twice = columns.find((column) => seen.size === seen.add(column).size)
  demand(twice === undefined, 'csv.twice', `"${name}" has two columns called "${twice}"; rename one.`)
  const rows = raw.slice(1).map((cells, i) => {
    demand(
      cells.slice(columns.length).every((cell) => cell.trim() === ''),
      'csv.wide',
      `"${name}", row ${i + 1} has ${cells.length} cells and the header ${columns.length}; put a text with a separator in it into quotation marks.`,
    )
    return columns.map((column, c) => {
      const cell = cells[c] ?? ''
      demandCellRoom(cell, i + 1, column, name)
      return cell
    })
  })
  demand(rows.length > 0, 'csv.rows', `"${name}" has column names and no rows; add at least one row.`)
  return { columns, rows }
}

/**
 * Lines of RFC 4180 CSV with CR LF line ends.
 * @param asIs whether cells that begin like a formula are written so; else they are guarded, and read back as they were
 */
export function csvLines(rows: readonly (readonly string[])[], asIs = false): string {
  if (rows.length === 0) return ''
  const cells = rows.map((row) => (asIs ? [...row] : row.map(guarded)))
  return `${Papa.unparse(cells, { newline: '\r\n' })}\r\n`
}

/** The same, with the names of the columns above them. */
export const writeCsv = (columns: readonly string[], rows: readonly (readonly string[])[], asIs = false): string =>
  csvLines([columns, ...rows], asIs)

/** Cells as a spreadsheet puts them on the clipboard: parted by tabs, with quotation marks round what has lines in it. */
export function pastedGrid(text: string): string[][] {
  const delimiter = text.includes('\t') ? '\t' : delimiterOf(text)
  return Papa.parse<string[]>(text, { delimiter, skipEmptyLines: 'greedy' }).data
}
