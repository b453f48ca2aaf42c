import type { Field, Template } from '../template/index.ts'
import type { Finding } from './finding.ts'
import { givenText, type Match } from './source.ts'
import type { Row } from './table.ts'

/** A column's texts, one a row, as checks across rows see them. */
export interface TextColumn {
  field: Pick<Field, 'key' | 'name'>
  cells: readonly string[]
}

/** The texts that fill text fields, row by row: what rows are compared by. */
export function textColumns(template: Template, match: Match, rows: readonly Row[]): TextColumn[] {
  return template.fields
    .filter((field) => field.type === 'text' && match[field.key] !== undefined)
    .map(({ key, name }) => ({
      field: { key, name },
      cells: rows.map((row) => givenText(match, key, row).text ?? ''),
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

const counted = <T>(counts: Map<T, number>, key: T, by: 1 | -1) => counts.set(key, (counts.get(key) ?? 0) + by)

/** A map of sets that keeps no empty ones. */
class Groups<T> {
  private readonly sets = new Map<string, Set<T>>()

  of(key: string): ReadonlySet<T> {
    return this.sets.get(key) ?? new Set()
  }
  add(key: string, member: T): void {
    const set = this.sets.get(key)
    if (set) set.add(member)
    else this.sets.set(key, new Set([member]))
  }
  take(key: string, member: T): void {
    const set = this.sets.get(key)
    set?.delete(member)
    if (set?.size === 0) this.sets.delete(key)
  }
}

/** What is left of a text when any one letter is left out, and the text itself: two that share a piece may be slips. */
function piecesOf(text: string): Set<string> {
  const letters = [...text]
  if (letters.length < leastForSlip) return new Set()
  return new Set([text, ...letters.map((_, i) => letters.slice(0, i).join('') + letters.slice(i + 1).join(''))])
}

/** Rows that have the same text as others, or nearly: by looking up, so that an edit costs the same in any sheet. */
class Twins {
  private readonly texts: string[]
  private readonly same = new Groups<number>()
  /** Texts by what is left of them without one letter. */
  private readonly near = new Groups<string>()

  constructor(cells: readonly string[]) {
    this.texts = cells.map(plain)
    this.texts.forEach((text, row) => {
      this.put(row, text)
    })
  }

  private put(row: number, text: string): void {
    if (text === '') return
    if (this.same.of(text).size === 0) for (const piece of piecesOf(text)) this.near.add(piece, text)
    this.same.add(text, row)
  }

  private take(row: number, text: string): void {
    this.same.take(text, row)
    if (this.same.of(text).size === 0) for (const piece of piecesOf(text)) this.near.take(piece, text)
  }

  /** The texts of which this one may be a slip. */
  private slipsOf(text: string): string[] {
    const found = new Set<string>()
    for (const piece of piecesOf(text))
      for (const other of this.near.of(piece))
        if (other !== text && !found.has(other) && digits(other) === digits(text) && isSlip(text, other))
          found.add(other)
    return [...found]
  }

  /** Puts another text into a row; the rows about which something else may be said now. */
  set(row: number, cell: string): number[] {
    const [before, after] = [this.texts[row] ?? '', plain(cell)]
    const touched = (text: string) => [
      ...this.same.of(text),
      ...this.slipsOf(text).flatMap((other) => [...this.same.of(other)]),
    ]
    const rows = touched(before)
    // The same name written otherwise is quoted otherwise where it is named.
    if (before === after) return rows
    this.take(row, before)
    this.texts[row] = after
    this.put(row, after)
    return [...rows, ...touched(after)]
  }

  /** Earlier rows with the same text (the first of them), and with nearly the same. */
  at(row: number): { same?: number; near: number[] } {
    const text = this.texts[row]!
    if (text === '') return { near: [] }
    const first = Math.min(...this.same.of(text))
    if (first < row) return { same: first, near: [] }
    const near = this.slipsOf(text).map((other) => Math.min(...this.same.of(other)))
    return { near: near.filter((other) => other < row).sort((a, b) => a - b) }
  }
}

/** What most rows of a column keep to: their script, and not shouting. */
class Habits {
  private readonly scripts = new Map<string, number>()
  private cased = 0
  private shouting = 0

  constructor(cells: readonly string[]) {
    for (const cell of cells) this.count(cell, 1)
  }

  private count(cell: string, by: 1 | -1): void {
    const script = scriptOf(cell)
    if (script) counted(this.scripts, script, by)
    if (/\p{Lu}|\p{Ll}/u.test(cell)) this.cased += by
    if (isCapitals(cell)) this.shouting += by
  }

  /** The script that the column keeps to. */
  get script(): string | undefined {
    let [all, most, main] = [0, 0, '']
    for (const [script, count] of this.scripts) {
      all += count
      if (count > most) [most, main] = [count, script]
    }
    return all >= leastForHabit && most / all >= habit ? main : undefined
  }

  /** Whether capitals stand out here. */
  get isCalm(): boolean {
    return this.cased >= leastForHabit && this.shouting > 0 && 1 - this.shouting / this.cased >= habit
  }

  /** Puts one text in another's place; true when the column keeps to something else now. */
  set(before: string, after: string): boolean {
    const was = `${this.script} ${this.isCalm}`
    this.count(before, -1)
    this.count(after, 1)
    return was !== `${this.script} ${this.isCalm}`
  }
}

/**
 * What only shows when rows are seen together: the same name twice or nearly so, a text in another script than its
 * column, capitals where the column has none. Built once for a sheet, then told of every edit. Rows count from 1.
 */
export class RowsTogether {
  private readonly columns: { field: TextColumn['field']; cells: string[]; habits: Habits }[]
  /** What names a row is its first text; a role may well be the same twice. */
  private readonly twins: Twins | undefined

  constructor(columns: readonly TextColumn[]) {
    this.columns = columns.map(({ field, cells }) => ({ field, cells: [...cells], habits: new Habits(cells) }))
    this.twins = columns[0] && new Twins(columns[0].cells)
  }

  /** Puts another text into a row; the rows about which something else may be said now. */
  set(row: number, texts: readonly string[]): number[] {
    const touched = new Set([row])
    this.columns.forEach((column, n) => {
      const [before, after] = [column.cells[row - 1] ?? '', texts[n] ?? '']
      if (before === after) return
      if (n === 0) for (const other of this.twins!.set(row - 1, after)) touched.add(other + 1)
      column.cells[row - 1] = after
      if (column.habits.set(before, after)) for (const other of column.cells.keys()) touched.add(other + 1)
    })
    return [...touched]
  }

  /** What is found about a row beside the others. */
  findings(row: number): Finding[] {
    const findings: Finding[] = []
    this.columns.forEach(({ field, cells, habits }, n) => {
      const cell = cells[row - 1]!
      const add = (code: string, message: string) =>
        findings.push({ row, field: field.key, level: 'look', code, message: `${field.name} ${message}` })
      if (n === 0) {
        const { same, near } = this.twins!.at(row - 1)
        if (same !== undefined) add('twice', `is the same as in row ${same + 1}.`)
        for (const other of near) add('slip', `is nearly that of row ${other + 1}, "${cells[other]!.trim()}"; a slip?`)
      }
      const script = scriptOf(cell)
      const main = habits.script
      if (script && main && script !== main) add('script', `is in ${script} letters, the column mostly in ${main}.`)
      if (habits.isCalm && isCapitals(cell)) add('capitals', 'is all in capitals, as hardly any other row is.')
    })
    return findings
  }
}

/** All that shows when rows are seen together, row by row. */
export function checkColumns(columns: readonly TextColumn[]): Finding[] {
  const together = new RowsTogether(columns)
  return (columns[0]?.cells ?? []).flatMap((_, i) => together.findings(i + 1))
}
