import type { Field, Template } from '../template/index.ts'
import type { Finding } from './finding.ts'
import { givenText, type Match } from './source.ts'
import type { Row } from './table.ts'
import { weighed } from './weighed.ts'

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
const plain = (text: string) => text.normalize('NFC').trim().replace(/\s+/g, ' ').toLowerCase()

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

/**
 * Names that are told to be nearly another, and texts looked at for them: where a hundred rows differ by one letter each,
 * nobody reads that every one is nearly ninety-nine others.
 */
const mostSlips = 3
const mostLookedAt = 200

/** Digits count: "Ferry 1" and "Ferry 2" are no slip of one another. */
const digits = (text: string) => (/\d/.test(text) ? text.replace(/\D+/g, ' ').trim() : '')

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

/** Members by key. Most keys have one member, which is kept without a set. */
class Groups<K, T extends string | number> {
  private readonly members = new Map<K, T | Set<T>>()

  has(key: K): boolean {
    return this.members.has(key)
  }
  of(key: K): Iterable<T> {
    const found = this.members.get(key)
    return found === undefined ? [] : found instanceof Set ? found : [found]
  }
  add(key: K, member: T): void {
    const found = this.members.get(key)
    if (found === undefined) this.members.set(key, member)
    else if (found instanceof Set) found.add(member)
    else if (found !== member) this.members.set(key, new Set([found, member]))
  }
  take(key: K, member: T): void {
    const found = this.members.get(key)
    if (found === member) this.members.delete(key)
    else if (found instanceof Set) {
      found.delete(member)
      if (found.size === 1) this.members.set(key, [...found][0]!)
    }
  }
}

/** Two multipliers of a rolling hash; together they make numbers that two texts hardly share by chance. */
const [primeA, primeB] = [0x01000193, 0x5bd1e995]

/**
 * A number for a text and for what is left of it when any one letter is left out: two texts that share one may be slips
 * of each other. Numbers, because a sheet has a dozen of them for every row.
 */
function piecesOf(text: string): number[] {
  const n = text.length
  if (n < leastForSlip) return []
  // Of the text from each place on, and the multipliers' powers.
  const [tailA, tailB, powerA, powerB] = Array.from({ length: 4 }, () => new Int32Array(n + 1))
  powerA![0] = powerB![0] = 1
  for (let i = 0; i < n; i++) {
    powerA![i + 1] = Math.imul(powerA![i]!, primeA)
    powerB![i + 1] = Math.imul(powerB![i]!, primeB)
  }
  for (let i = n - 1; i >= 0; i--) {
    const code = text.charCodeAt(i) + 1
    tailA![i] = Math.imul(code, powerA![n - 1 - i]!) + tailA![i + 1]!
    tailB![i] = Math.imul(code, powerB![n - 1 - i]!) + tailB![i + 1]!
  }
  // 53 bits, as a number holds them.
  const joined = (a: number, b: number) => (a >>> 0) * 2 ** 21 + (b >>> 11)
  const pieces = [joined(tailA![0]!, tailB![0]!)]
  let [headA, headB] = [0, 0]
  for (let i = 0; i < n; i++) {
    const rest = n - 1 - i
    const code = text.charCodeAt(i) + 1
    // A letter that stands twice leaves the same either way.
    if (text.charCodeAt(i - 1) !== code - 1)
      pieces.push(
        joined(
          (Math.imul(headA, powerA![rest]!) + tailA![i + 1]!) | 0,
          (Math.imul(headB, powerB![rest]!) + tailB![i + 1]!) | 0,
        ),
      )
    headA = (Math.imul(headA, primeA) + code) | 0
    headB = (Math.imul(headB, primeB) + code) | 0
  }
  return pieces
}

/** Rows that have the same text as others, or nearly: by looking up, so that an edit costs the same in any sheet. */
class Twins {
  private readonly texts: string[]
  private readonly same = new Groups<string, number>()
  /** Texts by what is left of them without one letter. */
  private readonly near = new Groups<number, string>()

  constructor(cells: readonly string[]) {
    this.texts = cells.map(plain)
    this.texts.forEach((text, row) => {
      this.put(row, text)
    })
  }

  private put(row: number, text: string): void {
    if (text === '') return
    if (!this.same.has(text)) for (const piece of piecesOf(text)) this.near.add(piece, text)
    this.same.add(text, row)
  }

  private take(row: number, text: string): void {
    this.same.take(text, row)
    if (!this.same.has(text)) for (const piece of piecesOf(text)) this.near.take(piece, text)
  }

  /** The texts of which this one may be a slip: the first few of them. */
  private slipsOf(text: string): string[] {
    const found = new Set<string>()
    let looked = 0
    for (const piece of piecesOf(text))
      for (const other of this.near.of(piece)) {
        if (found.size >= mostSlips || looked++ > mostLookedAt) return [...found]
        if (other !== text && !found.has(other) && digits(other) === digits(text) && isSlip(text, other))
          found.add(other)
      }
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

/** By row (from 1): what only shows beside the other rows and must not go out, as the template's designer weighs it. */
export function stopsBeside(template: Template, match: Match, rows: readonly Row[]): Map<number, Finding[]> {
  // Unless a designer says so, nothing of it is a stop.
  if (!besideKinds.some((code) => template.levels?.[code] === 'stop')) return new Map()
  const together = new RowsTogether(textColumns(template, match, rows))
  return new Map(
    rows.flatMap((_, i): [number, Finding[]][] => {
      const stops = weighed(template, together.findings(i + 1)).filter(({ level }) => level === 'stop')
      return stops.length > 0 ? [[i + 1, stops]] : []
    }),
  )
}

/** What `RowsTogether` finds. */
const besideKinds = ['twice', 'slip', 'script', 'capitals', 'known']
