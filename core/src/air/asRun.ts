import { writeCsv } from '../formats/index.ts'

/** One line of what was on air. */
export interface AsRun {
  /** ISO 8601, UTC. */
  at: string
  layer: string
  what: 'up' | 'changed' | 'out' | 'cut'
  /** What it said, and by which version of which template. */
  words: string
  template: string
  version: number
  /** Who had it done: a person, its time, a source. */
  by: 'hand' | 'time' | 'source'
}

/** The same as a table (RFC 4180). */
export function asRunCsv(lines: readonly AsRun[]): string {
  const columns = ['at', 'layer', 'what', 'words', 'template', 'version', 'by'] as const
  return writeCsv(
    [...columns],
    lines.map((line) => columns.map((column) => String(line[column]))),
  )
}
