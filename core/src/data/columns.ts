import type { Field, Template } from '../template/index.ts'
import type { Finding } from './checks.ts'
import type { Match } from './table.ts'

/** A column's texts, one a row, as checks across rows see them. */
export interface TextColumn {
  field: Pick<Field, 'key' | 'name'>
  cells: readonly string[]
}

/** The columns that fill text fields: what rows are compared by. */
export function textColumns(
  template: Template,
  match: Match,
  cell: (row: number, column: string) => string,
  rows: number,
): TextColumn[] {
  return template.fields
    .filter((field) => field.type === 'text' && match[field.key] !== undefined)
    .map(({ key, name }) => ({
      field: { key, name },
      cells: Array.from({ length: rows }, (_, row) => cell(row, match[key]!)),
    }))
}

/**
 * A text as it is compared: NFC and NFD are one (Unicode, UAX #15), and so are upper and lower case, and any run of spaces.
 */
const plain = (text: string) => text.normalize('NFC').trim().replace(/\s+/g, ' ').toLocaleLowerCase()

/** Letters from which a slip of one is told from another name. */
const leastForSlip = 5

/** Whether two texts differ by one letter: added, left out, another one, or two that changed places. */
export function isSlip(a: string, b: string): boolean {
  const [s, t] = [[...a], [...b]]
  if (Math.abs(s.length - t.length) > 1 || a === b) return false
  let head = 0
  while (head < s.length && head < t.length && s[head] === t[head]) head++
  let tail = 0
  while (tail < s.length - head && tail < t.length - head && s[s.length - 1 - tail] === t[t.length - 1 - tail]) tail++
  const [x, y] = [s.slice(head, s.length - tail), t.slice(head, t.length - tail)]
  if (x.length <= 1 && y.length <= 1) return true
  return x.length === 2 && y.length === 2 && x[0] === y[1] && x[1] === y[0]
}

/** Digits count: "Ferry 1" and "Ferry 2" are no slip of one another. */
const digits = (text: string) => text.replace(/\D+/g, ' ').trim()

/** Rows with the same text, or nearly the same: linear in the rows, by what is left when one letter is left out. */
function twins(column: TextColumn): { row: number; other: number; same: boolean }[] {
  const found: { row: number; other: number; same: boolean }[] = []
  const first = new Map<string, number>()
  const texts = column.cells.map(plain)
  texts.forEach((text, row) => {
    if (text === '') return
    const other = first.get(text)
    if (other === undefined) first.set(text, row)
    else found.push({ row, other, same: true })
  })
  const near = new Map<string, number[]>()
  for (const [text, row] of first) {
    const letters = [...text]
    if (letters.length < leastForSlip) continue
    const left = new Set([text, ...letters.map((_, i) => letters.slice(0, i).join('') + letters.slice(i + 1).join(''))])
    const seen = new Set<number>()
    for (const piece of left) {
      const others = near.get(piece)
      for (const other of others ?? [])
        if (!seen.has(other) && isSlip(text, texts[other]!) && digits(text) === digits(texts[other]!)) {
          seen.add(other)
          found.push({ row: Math.max(row, other), other: Math.min(row, other), same: false })
        }
      if (others) others.push(row)
      else near.set(piece, [row])
    }
  }
  return found
}

const scripts = [
  'Latin',
  'Cyrillic',
  'Greek',
  'Arabic',
  'Hebrew',
  'Devanagari',
  'Thai',
  'Han',
  'Hiragana',
  'Katakana',
  'Hangul',
]
const scriptPatterns = scripts.map((name) => ({ name, pattern: new RegExp(`\\p{Script=${name}}`, 'gu') }))
/** Writing systems that mix scripts count as one. */
const together: Record<string, string> = { Hiragana: 'Japanese', Katakana: 'Japanese', Han: 'Chinese or Japanese' }

/** The script that most letters of a text are of; undefined without letters. */
export function scriptOf(text: string): string | undefined {
  let best: { name: string; count: number } | undefined
  for (const { name, pattern } of scriptPatterns) {
    const count = text.match(pattern)?.length ?? 0
    if (count > 0 && (!best || count > best.count)) best = { name, count }
  }
  return best && (together[best.name] ?? best.name)
}

/** Letters that have a case, all of them capitals. */
function isCapitals(text: string): boolean {
  const cased = text.match(/\p{Lu}|\p{Ll}/gu) ?? []
  return cased.length >= 3 && !/\p{Ll}/u.test(text)
}

/** A habit is what at least this share of a column keeps to. */
const habit = 0.8
/** Rows from which a column can be said to have a habit. */
const leastForHabit = 5

/**
 * What only shows when rows are seen together: the same name twice or nearly so, a text in another script than its
 * column, capitals where the column has none. Rows count from 1.
 */
export function checkColumns(columns: readonly TextColumn[]): Finding[] {
  const findings: Finding[] = []
  columns.forEach((column, n) => {
    const { key, name } = column.field
    const add = (row: number, code: string, message: string) =>
      findings.push({ row: row + 1, field: key, level: 'look', code, message: `${name} ${message}` })
    // What names a row is its first text; a role may well be the same twice.
    if (n === 0)
      for (const { row, other, same } of twins(column))
        add(
          row,
          same ? 'twice' : 'slip',
          same
            ? `is the same as in row ${other + 1}.`
            : `is nearly that of row ${other + 1}, "${column.cells[other]!.trim()}"; a slip?`,
        )
    const filled = column.cells.map((cell) => cell.trim())
    const written = filled.map(scriptOf)
    const known = written.filter((script) => script !== undefined)
    if (known.length < leastForHabit) return
    const counts = new Map<string, number>()
    for (const script of known) counts.set(script, (counts.get(script) ?? 0) + 1)
    const [main, most] = [...counts].reduce((a, b) => (b[1] > a[1] ? b : a))
    if (most / known.length >= habit)
      written.forEach((script, row) => {
        if (script !== undefined && script !== main)
          add(row, 'script', `is in ${script} letters, the column mostly in ${main}.`)
      })
    const capitals = filled.map(isCapitals)
    const cased = filled.filter((cell) => /\p{Lu}|\p{Ll}/u.test(cell)).length
    const shouting = capitals.filter(Boolean).length
    if (cased >= leastForHabit && shouting > 0 && 1 - shouting / cased >= habit)
      capitals.forEach((isShouting, row) => {
        if (isShouting) add(row, 'capitals', 'is all in capitals, as hardly any other row is.')
      })
  })
  return findings.sort((a, b) => a.row - b.row)
}
