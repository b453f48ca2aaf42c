import { read, SSF, utils, type WorkBook, type WorkSheet } from '@e965/xlsx'
import { demand, Refusal } from '../refusal/index.ts'
import { type HiddenLines, odsHidden } from './odsHidden.ts'

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
    const { error } = console
    try {
      // The package tells the console of every number format that it does not know.
      console.error = () => {}
      this.book = read(bytes, { type: 'array', cellStyles: true, cellNF: true })
      this.hidden = odsHidden(bytes)
    } catch {
      throw new Refusal('workbook', `"${name}" is a damaged workbook; open it where it was made and save it again.`)
    } finally {
      console.error = error
    }
    this.dates = this.book.Workbook?.WBProps?.date1904 ? 1904 : 1900
    this.sheets = this.book.SheetNames.map((sheet, i) => {
      const range = this.book.Sheets[sheet]?.['!ref']
      const { s, e } = utils.decode_range(range ?? 'A1')
      return {
        name: sheet,
        rows: range ? e.r - s.r + 1 : 0,
        columns: range ? e.c - s.c + 1 : 0,
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
    const { s, e } = utils.decode_range(sheet['!ref'] ?? 'A1')
    const out = this.hidden[this.book.SheetNames.indexOf(sheetName)]
    const shown = (list: ({ hidden?: boolean } | undefined)[] | undefined, own: Set<number> | undefined, at: number) =>
      options.hidden || (!list?.[at]?.hidden && !own?.has(at))
    const merged = mergedCells(sheet)
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

/** By address: the cell that speaks for it. */
function mergedCells(sheet: WorkSheet): Map<string, string> {
  const map = new Map<string, string>()
  for (const { s, e } of sheet['!merges'] ?? [])
    for (let r = s.r; r <= e.r; r++)
      for (let c = s.c; c <= e.c; c++) map.set(utils.encode_cell({ r, c }), utils.encode_cell(s))
  return map
}
