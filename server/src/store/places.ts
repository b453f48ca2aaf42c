import type { Db } from './database.ts'

/** How far rows stand from one another at first: between two of them another finds room thirty times over. */
export const apart = 2 ** 30

/** Changes of one edit up to which the rows that it is about are looked up one by one. */
const few = 8

/** Rows on either side that make room when there is none between two. */
const neighbours = 2000

/** Positions beyond this are brought back: further on, whole numbers are no longer told apart. */
const furthest = 2 ** 52

/** Room on either side of a row that is worth the work of making it. */
const enough = 1024

/** Where the rows of a sheet stand, by their numbers from 1, for as long as one edit takes. */
export class Places {
  /** All of them, when the edit is about many. */
  private readonly all: number[] | undefined

  constructor(
    private readonly db: Db,
    readonly sheet: number,
    changes: number,
  ) {
    if (changes > few) this.all = this.read(1, -1)
  }

  private read(from: number, count: number): number[] {
    return this.db
      .prepare('SELECT position FROM rows WHERE sheet = ? ORDER BY position LIMIT ? OFFSET ?')
      .pluck()
      .all(this.sheet, count, from - 1) as number[]
  }

  /** Of so many rows from a number on; fewer, where there are no more. */
  of(from: number, count: number): number[] {
    if (count === 0) return []
    return this.all ? this.all.slice(from - 1, from - 1 + count) : this.read(from, count)
  }

  /** Rows that were taken out. */
  drop(from: number, count: number): void {
    this.all?.splice(from - 1, count)
  }

  /** Rows that were put in. */
  add(from: number, positions: readonly number[]): void {
    if (!this.all || positions.length === 0) return
    const behind = this.all.splice(from - 1)
    for (const position of positions) this.all.push(position)
    for (const position of behind) this.all.push(position)
  }

  /** Places for so many rows before the one of a number; the rows around make room where there is none. */
  room(at: number, count: number): number[] {
    const free = this.between(at, count)
    if (free) return free
    this.spread(at, count)
    return this.between(at, count)!
  }

  private between(at: number, count: number): number[] | undefined {
    const [before] = at > 1 ? this.of(at - 1, 1) : []
    const [after] = this.of(at, 1)
    const from = before ?? (after === undefined ? 0 : after - apart * (count + 1))
    const step = after === undefined || before === undefined ? apart : Math.floor((after - before) / (count + 1))
    if (step < 1 || Math.max(Math.abs(from), Math.abs(from + step * count)) > furthest) return undefined
    return Array.from({ length: count }, (_, i) => from + step * (i + 1))
  }

  /** Sets the rows around a place apart again, and as far as it takes for so many more among them. */
  private spread(at: number, count: number): void {
    const [lowest = 0] = this.of(1, 1)
    const ends = [lowest, (this.last() ?? 0) + apart * count, lowest - apart * count]
    // Everything at once, where a place would lie too far out.
    for (let reach = ends.some((end) => Math.abs(end) > furthest) ? 1e9 : neighbours; ; reach *= 8) {
      const first = Math.max(1, at - reach)
      const own = this.of(first, at - first + reach)
      const [before] = first > 1 ? this.of(first - 1, 1) : []
      const [after] = this.of(first + own.length, 1)
      const from = before ?? (after === undefined ? 0 : after - apart * (own.length + count + 1))
      const step = after === undefined ? apart : Math.floor((after - from) / (own.length + count + 1))
      if (step < enough) continue
      // What stands behind the place leaves the room before it.
      const spread = own.map((_, i) => from + step * (i + 1 + (first + i >= at ? count : 0)))
      this.move(own, spread)
      for (const [i, position] of this.all ? spread.entries() : []) this.all![first - 1 + i] = position
      return
    }
  }

  private last(): number | undefined {
    return this.db.prepare('SELECT MAX(position) FROM rows WHERE sheet = ?').pluck().get(this.sheet) as
      | number
      | undefined
  }

  private move(from: readonly number[], to: readonly number[]): void {
    if (from.length === 0) return
    const rows = this.db
      .prepare('SELECT cells, beside FROM rows WHERE sheet = ? AND position BETWEEN ? AND ? ORDER BY position')
      .all(this.sheet, from[0], from.at(-1)) as { cells: string; beside: string }[]
    this.db
      .prepare('DELETE FROM rows WHERE sheet = ? AND position BETWEEN ? AND ?')
      .run(this.sheet, from[0], from.at(-1))
    const insert = this.db.prepare('INSERT INTO rows (sheet, position, cells, beside) VALUES (?, ?, ?, ?)')
    rows.forEach(({ cells, beside }, i) => {
      insert.run(this.sheet, to[i], cells, beside)
    })
  }
}
