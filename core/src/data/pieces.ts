import { type Divider, piecesBy } from './conversions.ts'
import { type Source, sourceWords } from './source.ts'

/** Rows by which it is told how a column's texts are put together. */
const lookedAt = 50
/** Share of the filled cells that have to be put together in one way for it to be the column's. */
const most = 0.6
/** Pieces of a cell that are offered one by one. */
const mostPieces = 4

const dividers: readonly Divider[] = ['line', 'dash', 'comma']

/** How the texts of a column are put together, and how many pieces most have; undefined: they are not. */
export function piecesIn(cells: readonly string[]): { by: Divider; count: number } | undefined {
  const filled = cells.slice(0, lookedAt).filter((cell) => cell.trim() !== '')
  if (filled.length === 0) return undefined
  for (const by of dividers) {
    const counts = filled.map((cell) => piecesBy(cell, by).length)
    const several = counts.filter((count) => count > 1)
    if (several.length < most * filled.length) continue
    // As many as most have: one with a comma more has it within its last piece.
    const common = [...several].sort((a, b) => a - b)[(several.length - 1) >> 1]!
    return { by, count: Math.min(mostPieces, common) }
  }
  return undefined
}

/** A piece of a column's texts, from 1; the last of them with what follows. */
export const pieceOf = (column: string, by: Divider, at: number, isLast: boolean): Source => ({
  columns: [column],
  conversions: [{ kind: 'piece', by, at, ...(isLast ? { rest: true } : {}) }],
})

/** All that one column can give to a field: itself, and its pieces where its texts are put together of some. */
export function offeredSources({
  columns,
  rows,
}: {
  columns: readonly string[]
  rows: readonly (readonly string[])[]
}): { source: Source; words: string }[] {
  return columns.flatMap((column, c) => {
    const found = piecesIn(rows.map((row) => row[c] ?? ''))
    const pieces = found
      ? Array.from({ length: found.count }, (_, i) => pieceOf(column, found.by, i + 1, i + 1 === found.count))
      : []
    return [column, ...pieces].map((source) => ({ source, words: sourceWords(source) }))
  })
}
