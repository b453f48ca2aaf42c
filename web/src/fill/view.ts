import { givenText, type Match, type Row, type RowFound, type Splice, stateOfRow } from '@hoja/core/data'
import { inPlace, sheetDocument } from '@hoja/core/session'
import type { Found } from './sheetSession.ts'

/** Which rows are shown, and in which order. */
export interface View {
  /** A state, or what a person set beside rows. */
  show: 'all' | 'stop' | 'look' | 'flagged' | 'fine' | 'off' | 'noted' | 'changed'
  /** Only rows with a finding of this code; empty: of any. */
  code: string
  /** Only rows with this text in some field. */
  search: string
  /** A field's key, or `state`; empty: as they stand. */
  sort: string
  down: boolean
  /** A field's key; empty: no groups. */
  group: string
  /** The one group shown; undefined: all. */
  only: string | undefined
}

export const wholeView: View = {
  show: 'all',
  code: '',
  search: '',
  sort: '',
  down: false,
  group: '',
  only: undefined,
}

/** Whether what a view shows depends on what was found. */
export const goesByFindings = ({ show, code, sort }: View) =>
  ['stop', 'look', 'flagged', 'fine'].includes(show) || code !== '' || sort === 'state'

/** The text of a row in a field, as it is shown. */
export type TextOf = (row: Row, key: string) => string

const rank = { stop: 0, look: 1, checked: 2, fine: 3 }
const plain = (text: string) => text.normalize('NFKC').toLowerCase()
const collator = new Intl.Collator(undefined, { numeric: true, sensitivity: 'base' })

/** The fields whose text others changed, by the rows as they are now. Rows that kept what they say are not among them. */
export function changedCells(
  others: { before: readonly Row[]; now: readonly Row[] } | undefined,
  match: Match,
  keys: readonly string[],
): ReadonlyMap<Row, ReadonlySet<string>> {
  const changed = new Map<Row, Set<string>>()
  if (!others) return changed
  for (const { at, rows } of sheetDocument.between(others.before, others.now))
    rows.forEach((row, i) => {
      const old = others.before[at - 1 + i]
      const own = keys.filter((key) => !old || givenText(match, key, old).text !== givenText(match, key, row).text)
      if (own.length > 0) changed.set(row, new Set(own))
    })
  return changed
}

/** Whether a row is among those shown. */
function isShown(row: Row, found: RowFound | undefined, view: View, changed: boolean): boolean {
  const state = found && stateOfRow(found)
  switch (view.show) {
    case 'all':
      return true
    case 'off':
      return row.off === true
    case 'noted':
      return !!row.note
    case 'changed':
      return changed
    case 'flagged':
      return (state === 'stop' || state === 'look') && !row.off
    default:
      return state === view.show && !row.off
  }
}

/** Indices of the rows that a view shows, in its order. Rows that compare the same keep the order they stand in. */
export function viewOf(
  rows: readonly Row[],
  findings: Found,
  keys: readonly string[],
  textOf: TextOf,
  view: View,
  changed: ReadonlySet<Row> = new Set(),
): number[] {
  const wanted = plain(view.search)
  const order: number[] = []
  rows.forEach((row, i) => {
    if (!isShown(row, findings[i], view, changed.has(row))) return
    if (view.code && !findings[i]?.findings.some((finding) => finding.code === view.code)) return
    if (wanted && !keys.some((key) => plain(textOf(row, key)).includes(wanted))) return
    if (view.group && view.only !== undefined && textOf(row, view.group) !== view.only) return
    order.push(i)
  })
  const by = (compare: (a: number, b: number) => number, down = false) =>
    order.sort((a, b) => (down ? -compare(a, b) : compare(a, b)) || a - b)
  const texts = (key: string) => {
    const known = new Map(order.map((i) => [i, textOf(rows[i]!, key)]))
    return (a: number, b: number) => collator.compare(known.get(a)!, known.get(b)!)
  }
  if (view.sort === 'state') by((a, b) => stateRank(findings[a]) - stateRank(findings[b]), view.down)
  else if (view.sort) by(texts(view.sort), view.down)
  if (view.group) {
    const place = new Map(order.map((i, at) => [i, at]))
    const compare = texts(view.group)
    order.sort((a, b) => compare(a, b) || place.get(a)! - place.get(b)!)
  }
  return order
}

const stateRank = (found: RowFound | undefined) => (found ? rank[stateOfRow(found)] : 4)

/** The groups that rows make by a field, in their order, with how many rows each has. */
export function groupsOf(rows: readonly Row[], textOf: TextOf, key: string): { value: string; rows: number }[] {
  const counts = new Map<string, number>()
  for (const row of rows) {
    const value = textOf(row, key)
    counts.set(value, (counts.get(value) ?? 0) + 1)
  }
  return [...counts]
    .map(([value, count]) => ({ value, rows: count }))
    .sort((a, b) => collator.compare(a.value, b.value))
}

/** One edit of what a view shows, as the grid tells it: places are those in the view. */
export interface ViewEdit {
  type: 'UPDATE' | 'DELETE' | 'CREATE'
  fromRowIndex: number
  toRowIndex: number
}

/**
 * Edits of a view as edits of all rows, from the last row to the first, so that each finds its place. New rows come in
 * behind the row that they stand behind in the view.
 */
export function editThrough(
  rows: readonly Row[],
  order: readonly number[],
  next: readonly Row[],
  edits: readonly ViewEdit[],
): Splice[] {
  const written = new Map<number, Row>()
  const gone = new Set<number>()
  const behind = new Map<number, Row[]>()
  for (const { type, fromRowIndex: from, toRowIndex: to } of edits) {
    if (type === 'DELETE') for (let i = from; i < to; i++) gone.add(order[i]!)
    else if (type === 'UPDATE') for (let i = from; i < Math.min(to, order.length); i++) written.set(order[i]!, next[i]!)
    else {
      const after = from >= order.length ? rows.length - 1 : from === 0 ? -1 : order[from - 1]!
      behind.set(after, [...(behind.get(after) ?? []), ...next.slice(from, to)])
    }
  }
  for (const i of gone) written.delete(i)
  const come = [...behind].map(([after, put]) => ({
    place: after + 1.5,
    splice: { at: after + 2, remove: 0, rows: put },
  }))
  const go = withoutRows(gone).map((splice) => ({ place: splice.at, splice }))
  const moving = [...come, ...go].sort((one, other) => other.place - one.place).map(({ splice }) => splice)
  return [...inPlace(written), ...moving]
}

/** Rows (by index) taken out, as edits from the last to the first. */
export function withoutRows(gone: ReadonlySet<number>): Splice[] {
  const splices: Splice[] = []
  for (const i of [...gone].sort((one, other) => other - one)) {
    const last = splices.at(-1)
    if (last && last.at === i + 2) {
      last.at--
      last.remove++
    } else splices.push({ at: i + 1, remove: 1, rows: [] })
  }
  return splices
}

/** Indices of rows as people write their numbers: `1-4,9`. */
export function spansOf(order: readonly number[]): string {
  const spans: [number, number][] = []
  for (const i of [...order].sort((a, b) => a - b)) {
    const last = spans[spans.length - 1]
    if (last && last[1] === i) last[1] = i + 1
    else spans.push([i + 1, i + 1])
  }
  return spans.map(([from, to]) => (from === to ? `${from}` : `${from}-${to}`)).join(',')
}
