import type { Template } from '../template/index.ts'
import type { Counted } from '../time/index.ts'
import { type Conversion, converted, refuseConversion } from './conversions.ts'
import type { Marks } from './numbers.ts'
import { cellOf, type Row } from './table.ts'

/** What a row may say of its title's time, beside its fields. No field's key begins with a colon. */
export const timeSources = [
  { key: ':length', name: 'Length' },
  { key: ':from', name: 'Starts at' },
  { key: ':to', name: 'Ends at' },
] as const
export type TimeKey = (typeof timeSources)[number]['key']

export const isTimeKey = (key: string): key is TimeKey => timeSources.some((one) => one.key === key)

/** How many fields columns fill. When a row starts and ends is of any template, and says nothing about this one. */
export const fieldsIn = (match: Match): number => Object.keys(match).filter((key) => !isTimeKey(key)).length

/** Texts put together for a field: columns joined, or one text for every row; then converted. */
export interface Mix {
  /** Joined in this order; none: `constant` alone. */
  columns: string[]
  /** Between two that are not empty; a space unless given. */
  between?: string
  constant?: string
  /** One after the other. */
  conversions?: Conversion[]
  /** How the columns write numbers. */
  marks?: Marks
  /** Of times: what a whole number by itself counts; absent: frames. */
  counts?: Counted
}

/** What fills a field: a column as it stands, or a mix. */
export type Source = string | Mix

/**
 * What fills each field, by its key, and what says a title's time, by the keys of `timeSources`; a field without a source
 * stands at its default.
 */
export type Match = Record<string, Source>

export const columnsOf = (source: Source | undefined): string[] =>
  source === undefined ? [] : typeof source === 'string' ? [source] : source.columns

/** Every column that a match uses. */
export const usedColumns = (match: Match): string[] => [...new Set(Object.values(match).flatMap(columnsOf))]

/** A source in a few words, as people read it. */
export function sourceWords(source: Source): string {
  if (typeof source === 'string') return source
  if (source.columns.length === 1 && !source.conversions?.length) return source.columns[0]!
  const [piece] = source.conversions ?? []
  if (source.columns.length === 1 && piece?.kind === 'piece' && source.conversions!.length === 1)
    return `${source.columns[0]}, ${pieceWords(piece)}`
  const base = source.columns.length > 0 ? source.columns.join(' + ') : `“${source.constant ?? ''}” in every row`
  return source.conversions?.length ? `${base}, converted` : base
}

const pieceNames = { line: 'line', dash: 'part', comma: 'part' } as const

/** Which piece of a text: line 1, part 2 and what follows. */
function pieceWords({ by, at, rest }: Extract<Conversion, { kind: 'piece' }>): string {
  return `${pieceNames[by]} ${at}${rest ? ' and what follows' : ''}`
}

/** A text as a row gives it to a field, and why it could not be converted, if it could not. */
export interface Given {
  /** undefined: the row says nothing, the field stands at its default. */
  text: string | undefined
  problem?: string
}

/** What a source makes of a row's cells. */
export function fromSource(source: Source | undefined, cells: Row['cells']): Given {
  if (source === undefined) return { text: undefined }
  if (typeof source === 'string') return { text: cellOf(cells, source) }
  const { columns, between = ' ', constant, conversions } = source
  const joined =
    columns.length === 0
      ? constant
      : columns.length === 1
        ? cellOf(cells, columns[0]!)
        : columns
            .map((column) => cellOf(cells, column)?.trim() ?? '')
            .filter((text) => text !== '')
            .join(between)
  return joined === undefined || !conversions?.length ? { text: joined } : converted(joined, conversions)
}

/** The text that a row gives to a field: what was set by hand before what the match gives. */
export function givenText(match: Match, key: string, row: Row): Given {
  const own = row.own?.[key]
  return own === undefined ? fromSource(match[key], row.cells) : { text: own }
}

/** How the column that fills a field writes numbers, where that is said. */
export function marksFor(match: Match, key: string): Marks | undefined {
  const source = match[key]
  return typeof source === 'object' ? source.marks : undefined
}

/** The one column that stands for a field as it is. */
function plainColumn(source: Source | undefined): string | undefined {
  if (typeof source !== 'object') return source
  return source.columns.length === 1 && !source.conversions?.length ? source.columns[0] : undefined
}

/** A row with a text set for a field: in the field's column where one stands for it as it is, else beside the data. */
export function withText(match: Match, key: string, row: Row, text: string, linked = false): Row {
  const column = plainColumn(match[key])
  if (column !== undefined && !linked && row.own?.[key] === undefined)
    return { ...row, cells: { ...row.cells, [column]: text } }
  return { ...row, own: { ...row.own, [key]: text } }
}

/** A row that says again what its data says about a field. */
export function withoutOwn(key: string, row: Row): Row {
  const { [key]: _, ...rest } = row.own ?? {}
  const { own: __, ...bare } = row
  return Object.keys(rest).length > 0 ? { ...bare, own: rest } : bare
}

const isText = (value: unknown) => value === undefined || typeof value === 'string'

/** Why something can't be a match of a template; undefined when it can. What fills anything but a field is refused. */
export function refuseMatch(template: Template, value: unknown): string | undefined {
  if (typeof value !== 'object' || value === null) return 'A match says for each field what fills it.'
  for (const [key, source] of Object.entries(value as Record<string, unknown>)) {
    if (!isTimeKey(key) && !template.fields.some((field) => field.key === key))
      return `"${key}" is not a field of "${template.name}"; only its fields can be filled.`
    if (typeof source === 'string') continue
    const mix = source as Partial<Mix> | null
    const isMix =
      Array.isArray(mix?.columns) &&
      mix.columns.every((column) => typeof column === 'string') &&
      isText(mix.between) &&
      isText(mix.constant) &&
      [undefined, '.', ','].includes(mix.marks) &&
      [undefined, 'frames', 'seconds'].includes(mix.counts) &&
      (mix.conversions === undefined || Array.isArray(mix.conversions))
    if (!isMix) return `What fills "${key}" is neither a column nor columns put together.`
    const refused = mix.conversions?.map(refuseConversion).find(Boolean)
    if (refused) return `What fills "${key}" can't be converted: ${refused}.`
  }
  return undefined
}
