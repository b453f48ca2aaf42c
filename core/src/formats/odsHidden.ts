import { limits } from '../limits/index.ts'
import { demandTableRoom } from './tableRoom.ts'

/** Rows and columns (from 0) of a table that are out of sight. */
export interface HiddenLines {
  rows: Set<number>
  columns: Set<number>
}

/** Rows of an empty rest are written as one that is repeated a million times. */
const mostRepeated = 100_000

const repeatedIn = (attributes: string) =>
  Number(attributes.match(/table:number-(?:rows|columns)-repeated="(\d+)"/)?.[1] ?? 1)

/** The tags of a table that say where it ends, repeats itself, or is out of sight, one after another. */
const tags = /<(\/?)(table:table|table:table-row|table:table-column|table:table-cell|text:p)(\s[^<>]*|\/?)>/g

/**
 * What OpenDocument spreadsheets put out of sight: rows and columns whose `table:visibility` is `collapse` or `filter`
 * (OpenDocument 1.3 part 3, 19.749), table by table in their order.
 * @param content the text of `content.xml`
 * @throws Refusal for a table whose repeated rows or columns (19.675, 19.677) unfold to more than Hoja reads
 */
export function odsHidden(content: string, name: string): HiddenLines[] {
  const tables: HiddenLines[] = []
  let [row, column, cell, repeats, hasWords] = [0, 0, 0, 1, false]
  for (const [, closes, tag, attributes] of content.matchAll(tags)) {
    const table = tables[tables.length - 1]
    if (tag === 'table:table' && !closes) {
      tables.push({ rows: new Set(), columns: new Set() })
      row = 0
      column = 0
    } else if (tag === 'table:table-column' && !closes) {
      const repeated = repeatedIn(attributes!)
      if (isHidden(attributes!)) add(table?.columns, column, repeated)
      column += repeated
    } else if (tag === 'table:table-row' && closes) row += repeats
    else if (tag === 'table:table-row') {
      repeats = repeatedIn(attributes!)
      ;[cell, hasWords] = [0, false]
      if (isHidden(attributes!)) add(table?.rows, row, repeats)
      if (attributes!.endsWith('/')) row += repeats
    } else if (tag === 'table:table-cell' && !closes) {
      cell += repeatedIn(attributes!)
      hasWords = attributes!.includes('office:value')
      if (hasWords) demandTableRoom(row + repeats, cell, name)
    } else if (tag === 'text:p' && !closes && !hasWords) {
      hasWords = true
      demandTableRoom(row + repeats, cell, name)
    }
  }
  return tables
}

const isHidden = (attributes: string) => /table:visibility="(collapse|filter)"/.test(attributes)

function add(lines: Set<number> | undefined, from: number, count: number): void {
  for (let i = 0; i < Math.min(count, mostRepeated) && (lines?.size ?? 0) <= limits.rows.most; i++) lines?.add(from + i)
}
