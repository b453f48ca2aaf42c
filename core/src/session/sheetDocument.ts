import type { Row, Splice } from '../data/index.ts'
import type { DocumentKind } from './session.ts'

/** Carries out edits of rows, one after another. */
export function withSplices(rows: readonly Row[], splices: readonly Splice[]): Row[] {
  const next = [...rows]
  for (const { at, remove, rows: put } of splices) next.splice(at - 1, remove, ...put)
  return next
}

const isInPlace = ({ remove, rows }: Splice) => remove === rows.length

/** Rows in their places, as an edit that others' edits in place lie under: what a person set over the data's own cells. */
function overInPlace({ at, rows, remove }: Splice, others: readonly Splice[]): Splice {
  const next = [...rows]
  for (const other of others)
    other.rows.forEach((row, i) => {
      const place = other.at + i - at
      if (place >= 0 && place < next.length) next[place] = { ...next[place]!, cells: row.cells }
    })
  return { at, remove, rows: next }
}

/** Whether two rows hold the same. */
const isSame = (one: Row, other: Row): boolean => one === other || JSON.stringify(one) === JSON.stringify(other)

/** Rows that are sent to the server at once. */
const sentAtOnce = 2000

/** The rows of a sheet as they are edited: by splices. */
export const sheetDocument: DocumentKind<readonly Row[], Splice> = {
  apply(rows, splice) {
    const start = splice.at - 1
    const inverse = { at: splice.at, remove: splice.rows.length, rows: rows.slice(start, start + splice.remove) }
    const isNothing = isInPlace(splice) && splice.rows.every((row, i) => row === rows[start + i])
    return { state: isNothing ? rows : withSplices(rows, [splice]), done: splice, inverse }
  },
  over: (splice, others) => (isInPlace(splice) && others.every(isInPlace) ? overInPlace(splice, others) : undefined),
  between: splicesBetween,
  portion: (splices) => firstPart(splices, sentAtOnce),
  same: (one, other) => one === other || (one.length === other.length && one.every((row, i) => isSame(row, other[i]!))),
}

/** One state of rows as another: what lies between their common beginning and their common end. */
function splicesBetween(from: readonly Row[], to: readonly Row[]): Splice[] {
  let start = 0
  while (start < from.length && start < to.length && isSame(from[start]!, to[start]!)) start++
  let end = 0
  while (
    end < from.length - start &&
    end < to.length - start &&
    isSame(from[from.length - 1 - end]!, to[to.length - 1 - end]!)
  )
    end++
  const rows = to.slice(start, to.length - end)
  const remove = from.length - start - end
  return remove === 0 && rows.length === 0 ? [] : [{ at: start + 1, remove, rows }]
}

/** Rows in place of others, as edits: neighbours go together. @param changed by index, from 0 */
export function inPlace(changed: ReadonlyMap<number, Row>): Splice[] {
  const splices: Splice[] = []
  for (const [i, row] of [...changed].sort(([a], [b]) => a - b)) {
    const last = splices.at(-1)
    if (last && last.at + last.remove === i + 1) {
      last.remove++
      last.rows.push(row)
    } else splices.push({ at: i + 1, remove: 1, rows: [row] })
  }
  return splices
}

/** Where a row (from 1) is after an edit; undefined: it was taken out or replaced. */
export function movedBy({ at, remove, rows }: Splice, n: number): number | undefined {
  if (n < at) return n
  return n >= at + remove ? n + rows.length - remove : undefined
}

/**
 * The first of some edits that put in so many rows at most, or the beginning of the first one.
 * @returns them, and what is left of the edits: together both do the same
 */
export function firstPart(splices: readonly Splice[], most: number): { part: Splice[]; left: Splice[] } {
  const part: Splice[] = []
  let room = most
  for (let i = 0; i < splices.length; i++) {
    const { at, remove, rows } = splices[i]!
    if (rows.length <= room) {
      part.push(splices[i]!)
      // An edit that puts nothing in takes room as well: there may be many.
      room -= Math.max(1, rows.length)
      if (room <= 0) return { part, left: splices.slice(i + 1) }
      continue
    }
    if (part.length > 0) return { part, left: splices.slice(i) }
    // Rows that go and rows that come go together as far as they do.
    const gone = Math.min(room, remove)
    const rest = { at: at + room, remove: remove - gone, rows: rows.slice(room) }
    return { part: [{ at, remove: gone, rows: rows.slice(0, room) }], left: [rest, ...splices.slice(i + 1)] }
  }
  return { part, left: [] }
}
