import type { Field, Template } from '../template/index.ts'
import type { Finding } from './finding.ts'
import { Groups, plain, Slips } from './slips.ts'
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
const latin = /^[\u0000-\u024f]*$/
/** Writing systems that mix scripts count as one. */
const together: Record<string, string> = { Hiragana: 'Japanese', Katakana: 'Japanese', Han: 'Chinese or Japanese' }

/** The script that most letters of a text are of; undefined without letters. */
export function scriptOf(text: string): string | undefined {
  // Most texts are of Latin letters alone.
  if (latin.test(text)) return /[a-z\u00aa\u00b5\u00ba\u00c0-\u024f]/i.test(text) ? 'Latin' : undefined
  let best: { name: string; count: number } | undefined
  for (const { name, pattern } of scriptPatterns) {
    const count = text.match(pattern)?.length ?? 0
    if (count > 0 && (!best || count > best.count)) best = { name, count }
  }
  return best && (together[best.name] ?? best.name)
}

/** Letters that have a case, all of them capitals. */
function isCapitals(text: string): boolean {
  if (/\p{Ll}/u.test(text)) return false
  return (text.match(/\p{Lu}/gu) ?? []).length >= 3
}

/** A habit is what at least this share of a column keeps to. */
const habit = 0.8
/** Rows from which a column can be said to have a habit. */
const leastForHabit = 5

const counted = <T>(counts: Map<T, number>, key: T, by: 1 | -1) => counts.set(key, (counts.get(key) ?? 0) + by)

/** Rows that have the same text as others, or nearly: by looking up, so that an edit costs the same in any sheet. */
class Twins {
  private readonly texts: string[]
  private readonly same = new Groups<string, number>()
  private readonly slips = new Slips()

  constructor(cells: readonly string[]) {
    this.texts = cells.map(plain)
    this.texts.forEach((text, row) => {
      this.put(row, text)
    })
  }

  private put(row: number, text: string): void {
    if (text === '') return
    if (!this.same.has(text)) this.slips.add(text)
    this.same.add(text, row)
  }

  private take(row: number, text: string): void {
    this.same.take(text, row)
    if (!this.same.has(text)) this.slips.take(text)
  }

  /** Puts another text into a row; the rows about which something else may be said now. */
  set(row: number, cell: string): number[] {
    const [before, after] = [this.texts[row] ?? '', plain(cell)]
    const touched = (text: string) => [
      ...this.same.of(text),
      ...this.slips.of(text).flatMap((other) => [...this.same.of(other)]),
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
    const near = this.slips.of(text).map((other) => Math.min(...this.same.of(other)))
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

/** Checks of a row that look at more than the row: at the others, at how names are known to be spelled. */
const besideKinds = ['twice', 'slip', 'script', 'capitals', 'known']

/** Whether a template's designer lets any of them stop a row. */
export const stopsBeside = (template: Template): boolean =>
  besideKinds.some((code) => template.levels?.[code] === 'stop')

/** The stops among findings that a row by itself does not show. */
export const besideStops = (findings: readonly Finding[]): Finding[] =>
  findings.filter(({ code, level }) => level === 'stop' && besideKinds.includes(code))
