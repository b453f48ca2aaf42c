import { type Range, read, SSF, utils, type WorkBook, type WorkSheet } from '@e965/xlsx'
import { strFromU8, strToU8, zipSync } from 'fflate'
import { limits, most } from '../limits/index.ts'
import { demand, Refusal } from '../refusal/index.ts'
import { type HiddenLines, odsHidden } from './odsHidden.ts'
import { joined } from './png.ts'
import { demandTableRoom } from './tableRoom.ts'
import { unzipped } from './unzip.ts'

/** The two ways in which workbooks count days (ECMA-376 part 1, 18.17.4.1): 1 is 1 January 1900, or 0 is 1 January 1904. */
export type DateSystem = 1900 | 1904

/** A worksheet as a person chooses it. */
export interface SheetFacts {
  name: string
  rows: number
  columns: number
  /** Put out of sight in the workbook. */
  hidden: boolean
  /** Fields of the template that its columns match, where one was asked about. */
  matched?: number
}

export interface GridOptions {
  /** Take hidden rows and columns too. */
  hidden?: boolean
  /** Cells as the workbook displays them, or as the values that it keeps. */
  as?: 'displayed' | 'values'
}

const two = (n: number) => String(n).padStart(2, '0')

/**
 * A serial date as ISO 8601, with its time when it has one. In the 1900 system day 60 is 29 February 1900, a day that
 * never was: it is kept for the sake of older programs (ECMA-376 part 1, 18.17.4.1), and so is the number of every day
 * after it.
 */
export function serialDate(serial: number, system: DateSystem): string {
  // Whole seconds; half a second of rounding must not show as 59.
  const seconds = Math.round((serial - Math.floor(serial)) * 86400)
  let days = Math.floor(serial) + (seconds === 86400 ? 1 : 0)
  const within = seconds === 86400 ? 0 : seconds
  const time = within === 0 ? '' : `T${two(Math.floor(within / 3600))}:${two(Math.floor(within / 60) % 60)}`
  const rest = within % 60 === 0 ? time : `${time}:${two(within % 60)}`
  if (system === 1900 && days === 60) return `1900-02-29${rest}`
  if (system === 1900 && days > 60) days--
  const start = system === 1900 ? Date.UTC(1899, 11, 31) : Date.UTC(1904, 0, 1)
  return `${new Date(start + days * 86_400_000).toISOString().slice(0, 10)}${rest}`
}

/** Date formats that every program shows in its own country's way: what they mean is said in ISO 8601. */
const localDates = new Set(['m/d/yy', 'm/d/yy h:mm', 'm/d/yyyy', 'm/d/yyyy h:mm'])

/** A workbook (xlsx or ods), read once and asked for its sheets. */
export class Workbook {
  readonly sheets: SheetFacts[]
  readonly dates: DateSystem
  private readonly book: WorkBook
  /** Of OpenDocument files, where the package does not tell. */
  private readonly hidden: HiddenLines[]

  /** @throws Refusal for bytes that are no workbook, or a damaged one */
  constructor(
    bytes: Uint8Array,
    private readonly name: string,
  ) {
    demand(
      bytes[0] === 0x50 && bytes[1] === 0x4b,
      'workbook',
      `"${name}" is not a workbook; save it again as xlsx or ods.`,
    )
    const broken = () =>
      new Refusal('workbook', `"${name}" is a damaged workbook; open it where it was made and save it again.`)
    const files = unzipped(bytes, {
      bytes: limits.workbookBytes.most,
      files: limits.workbookFiles.most,
      tooMuch: () =>
        new Refusal(
          'workbook.large',
          `"${name}" unpacks to more than ${most('workbookBytes')}; send it in parts.`,
          413,
        ),
      broken,
      wanted: (path) => /\.(xml|rels)$|^mimetype$/i.test(path),
    })
    const content = files.get('content.xml')
    this.hidden = content ? odsHidden(strFromU8(content), name) : []
    const { error } = console
    try {
      // The package tells the console of every number format that it does not know.
      console.error = () => {}
      // What was counted while it unfolded is handed on as it is: the package would trust the sizes that it is told.
      const plain = zipSync(Object.fromEntries([...files].map(([path, own]) => [path, withinColumns(path, own)])), {
        level: 0,
      })
      this.book = read(plain, { type: 'array', cellStyles: true, cellNF: true })
    } catch {
      throw broken()
    } finally {
      console.error = error
    }
    this.dates = this.book.Workbook?.WBProps?.date1904 ? 1904 : 1900
    this.sheets = this.book.SheetNames.map((sheet, i) => {
      const range = cellsRange(this.book.Sheets[sheet])
      return {
        name: sheet,
        rows: range ? range.e.r - range.s.r + 1 : 0,
        columns: range ? range.e.c - range.s.c + 1 : 0,
        hidden: (this.book.Workbook?.Sheets?.[i]?.Hidden ?? 0) !== 0,
      }
    })
  }

  /** The sheet asked for, or the first one that is in sight. @throws Refusal for one that is not there */
  sheet(name?: string): string {
    const chosen = name ?? (this.sheets.find((sheet) => !sheet.hidden && sheet.rows > 0) ?? this.sheets[0])?.name
    const found = chosen !== undefined && this.book.Sheets[chosen]
    demand(found, 'workbook.sheet', `"${this.name}" has no sheet "${name}"; it has ${this.book.SheetNames.join(', ')}.`)
    return chosen
  }

  /**
   * A sheet's cells as texts. Formulas are their values; a merged cell says in each of its rows and columns what it says.
   * @param most rows that are read
   */
  grid(sheetName: string, options: GridOptions = {}, most = Number.POSITIVE_INFINITY): string[][] {
    const sheet = this.book.Sheets[sheetName]!
    const range = cellsRange(sheet)
    if (!range) return []
    const { s, e } = range
    demandTableRoom(e.r - s.r, e.c - s.c + 1, `${this.name}, sheet ${sheetName}`)
    const out = this.hidden[this.book.SheetNames.indexOf(sheetName)]
    const shown = (list: ({ hidden?: boolean } | undefined)[] | undefined, own: Set<number> | undefined, at: number) =>
      options.hidden || (!list?.[at]?.hidden && !own?.has(at))
    const merged = mergedCells(sheet, range)
    const rows: string[][] = []
    for (let r = s.r; r <= e.r && rows.length < most; r++) {
      if (!shown(sheet['!rows'], out?.rows, r)) continue
      const row: string[] = []
      for (let c = s.c; c <= e.c; c++) {
        if (!shown(sheet['!cols'], out?.columns, c)) continue
        const address = utils.encode_cell({ r, c })
        row.push(this.text(sheet, merged.get(address) ?? address, options.as ?? 'displayed'))
      }
      rows.push(row)
    }
    return rows
  }

  private text(sheet: WorkSheet, address: string, as: 'displayed' | 'values'): string {
    const cell = sheet[address] as { t: string; v?: unknown; w?: string; z?: string | number } | undefined
    if (!cell || cell.v === undefined || cell.v === null) return ''
    const format = typeof cell.z === 'string' ? cell.z : ''
    const isDate = cell.t === 'd' || (cell.t === 'n' && format !== '' && SSF.is_date(format))
    if (cell.t === 'd') return (cell.v as Date).toISOString().replace(/(T00:00)?:00\.000Z$/, '')
    if (isDate && (as === 'values' || localDates.has(format))) return serialDate(cell.v as number, this.dates)
    if (cell.t === 'b') return cell.v ? 'TRUE' : 'FALSE'
    if (cell.t === 'e') return cell.w ?? '#VALUE!'
    return as === 'displayed' && cell.w !== undefined ? cell.w : String(cell.v)
  }
}

/** Bytes of a worksheet in which its columns are described: before its rows (ECMA-376 part 1, 18.3.1.99). */
const headBytes = 1 << 18

/** A worksheet whose columns end where columns do: what is said of a thousand million of them is unfolded one by one. */
function withinColumns(path: string, bytes: Uint8Array): Uint8Array {
  if (!path.startsWith('xl/worksheets/')) return bytes
  const head = strFromU8(bytes.subarray(0, headBytes), true)
  const clipped = head.replace(/(<col\b[^<>]*?\bmax=")\d{6,}"/g, '$116384"')
  return clipped === head ? bytes : joined([strToU8(clipped, true), bytes.subarray(headBytes)])
}

/** Merged cells of one worksheet that are told apart. */
const mostMerged = 1_000_000

/** By address: the cell that speaks for it. */
function mergedCells(sheet: WorkSheet, within: Range): Map<string, string> {
  const map = new Map<string, string>()
  let cells = 0
  for (const { s, e } of sheet['!merges'] ?? []) {
    const speaks = utils.encode_cell(s)
    for (let r = s.r; r <= Math.min(e.r, within.e.r); r++)
      for (let c = s.c; c <= Math.min(e.c, within.e.c); c++) {
        // Merged cells may lie over one another only in a file that somebody made so.
        if (++cells > mostMerged) return map
        map.set(utils.encode_cell({ r, c }), speaks)
      }
  }
  return map
}

/** From where a worksheet says that it begins to the last cell that it has: what it says of its end is not trusted. */
function cellsRange(sheet: WorkSheet | undefined): Range | undefined {
  if (!sheet?.['!ref']) return undefined
  const { s, e } = utils.decode_range(sheet['!ref'])
  const end = { r: -1, c: -1 }
  let first = e.r
  for (const address in sheet) {
    if (address[0] === '!') continue
    const { r, c } = utils.decode_cell(address)
    first = Math.min(first, r)
    end.r = Math.max(end.r, r)
    end.c = Math.max(end.c, c)
  }
  if (end.r < 0) return undefined
  // Rows before the first cell are kept as far as a person would scroll past them.
  return { s: { r: Math.max(s.r, first - 1000), c: s.c }, e: { r: Math.min(e.r, end.r), c: Math.min(e.c, end.c) } }
}
