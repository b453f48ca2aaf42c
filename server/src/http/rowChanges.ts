import type { Cells, Row, Splice } from '@hoja/core/data'
import { limits } from '@hoja/core/limits'
import { Refusal } from '@hoja/core/refusal'

/** Most edits, and most rows, of one request: what is more comes in parts, or as a file, with room for others between. */
const { most } = limits.editRows

const wrong = (where: string, what: string) =>
  new Refusal('request', `The request is not right: ${where} ${what}.`, 400)

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

function whole(value: unknown, least: number, greatest: number, where: string): number {
  if (!Number.isInteger(value) || (value as number) < least || (value as number) > greatest)
    throw wrong(where, `must be a whole number from ${least} to ${greatest}`)
  return value as number
}

function texts(value: unknown, where: string): Cells {
  if (!isObject(value)) throw wrong(where, 'must be an object of texts')
  for (const [key, text] of Object.entries(value))
    if (typeof text !== 'string' || text.length > limits.cellCharacters.most)
      throw wrong(`${where}.${key.slice(0, 60)}`, `must be a text of at most ${limits.cellCharacters.most} characters`)
  return value as Cells
}

function rowOf(value: unknown, where: string): Row {
  if (!isObject(value)) throw wrong(where, 'must be a row')
  const { cells, own, note, off, frames, version } = value
  const row: Row = { cells: texts(cells, `${where}.cells`) }
  if (own !== undefined) row.own = texts(own, `${where}.own`)
  if (note !== undefined) {
    if (typeof note !== 'string' || note.length > 2000) throw wrong(`${where}.note`, 'must be a text of at most 2000')
    row.note = note
  }
  if (off !== undefined) {
    if (off !== true) throw wrong(`${where}.off`, 'is true, or left out')
    row.off = true
  }
  if (frames !== undefined) row.frames = whole(frames, 1, limits.titleFrames.most, `${where}.frames`)
  if (version !== undefined) row.version = whole(version, 1, Number.MAX_SAFE_INTEGER, `${where}.version`)
  return row
}

/**
 * Edits of a sheet's rows as they come over the network, on a known revision. Each row is looked at once: there may be many.
 * @throws Refusal
 */
export function readRowChanges(value: unknown): { revision: number; changes: Splice[] } {
  if (!isObject(value)) throw wrong('it', 'must hold a revision and changes')
  const { revision, changes } = value
  if (!Array.isArray(changes) || changes.length < 1 || changes.length > most)
    throw wrong('changes', `must be a list of 1 to ${most}`)
  let rows = 0
  return {
    revision: whole(revision, 0, Number.MAX_SAFE_INTEGER, 'revision'),
    changes: changes.map((one: unknown, i) => {
      const where = `changes[${i}]`
      if (!isObject(one) || !Array.isArray(one.rows)) throw wrong(where, 'must hold at, remove and rows')
      rows += one.rows.length
      if (rows > most) throw wrong('changes', `may hold ${most} rows together; send them in parts`)
      return {
        at: whole(one.at, Number.MIN_SAFE_INTEGER, Number.MAX_SAFE_INTEGER, `${where}.at`),
        remove: whole(one.remove, 0, Number.MAX_SAFE_INTEGER, `${where}.remove`),
        rows: one.rows.map((row, n) => rowOf(row, `${where}.rows[${n}]`)),
      }
    }),
  }
}

/** A table as it is pasted. @throws Refusal */
export function readPasted(value: unknown): string[][] | undefined {
  if (value === undefined) return undefined
  if (!Array.isArray(value) || value.length > most) throw wrong('table', `must be a list of at most ${most} rows`)
  for (const [i, row] of value.entries()) {
    const isRow =
      Array.isArray(row) && row.every((c) => typeof c === 'string' && c.length <= limits.cellCharacters.most)
    if (!isRow) throw wrong(`table[${i}]`, 'must be a list of texts')
  }
  return value as string[][]
}
