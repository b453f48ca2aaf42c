import { strFromU8, unzipSync } from 'fflate'

/** Rows and columns (from 0) of a table that are out of sight. */
export interface HiddenLines {
  rows: Set<number>
  columns: Set<number>
}

/** Rows of an empty rest are written as one that is repeated a million times. */
const mostRepeated = 100_000

/**
 * What OpenDocument spreadsheets put out of sight: rows and columns whose `table:visibility` is `collapse` or `filter`
 * (OpenDocument 1.3 part 3, 19.749), table by table in their order.
 */
export function odsHidden(bytes: Uint8Array): HiddenLines[] {
  const content = unzipSync(bytes, { filter: ({ name }) => name === 'content.xml' })['content.xml']
  const tables: HiddenLines[] = []
  if (!content) return tables
  let [row, column] = [0, 0]
  for (const [, tag, attributes] of strFromU8(content).matchAll(
    /<table:(table|table-row|table-column)(\s[^>]*|\/?)>/g,
  )) {
    if (tag === 'table') {
      tables.push({ rows: new Set(), columns: new Set() })
      row = 0
      column = 0
      continue
    }
    const repeated = Number(attributes!.match(/table:number-(?:rows|columns)-repeated="(\d+)"/)?.[1] ?? 1)
    const isHidden = /table:visibility="(collapse|filter)"/.test(attributes!)
    const table = tables[tables.length - 1]
    const at = tag === 'table-row' ? row : column
    const hidden = tag === 'table-row' ? table?.rows : table?.columns
    if (isHidden) for (let i = 0; i < Math.min(repeated, mostRepeated); i++) hidden?.add(at + i)
    if (tag === 'table-row') row += repeated
    else column += repeated
  }
  return tables
}
