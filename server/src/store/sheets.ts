import type { Cells, Match, Table } from '@hoja/core/data'
import { demand, Refusal } from '@hoja/core/refusal'
import { type Db, now } from './database.ts'

export interface SheetRow {
  id: number
  version: number
  name: string
  columns: string[]
  match: Match
  revision: number
  created: string
  changed: string
  rows: number
}

interface StoredSheet extends Omit<SheetRow, 'columns' | 'match'> {
  columns: string
  match: string
}

/** One edit of a sheet's rows; rows count from 1. */
export type RowChange =
  | { kind: 'cell'; row: number; column: string; value: string }
  | { kind: 'insert'; at: number; rows: Cells[] }
  | { kind: 'remove'; from: number; count: number }

/** Sheets and their rows. */
export class Sheets {
  constructor(private readonly db: Db) {}

  add(version: number, name: string, table: Table, match: Match): SheetRow {
    const time = now()
    return this.db.transaction(() => {
      const { lastInsertRowid } = this.db
        .prepare(
          'INSERT INTO sheets (version, name, columns, match, revision, created, changed) VALUES (?, ?, ?, ?, 1, ?, ?)',
        )
        .run(version, name, JSON.stringify(table.columns), JSON.stringify(match), time, time)
      const id = Number(lastInsertRowid)
      const insert = this.db.prepare('INSERT INTO rows (sheet, position, cells) VALUES (?, ?, ?)')
      table.rows.forEach((row, i) => {
        insert.run(
          id,
          i + 1,
          JSON.stringify(Object.fromEntries(table.columns.map((column, c) => [column, row[c] ?? '']))),
        )
      })
      return this.get(id)
    })()
  }

  list(template?: string): (SheetRow & { template: string; templateName: string; number: number })[] {
    const rows = this.db
      .prepare(
        `SELECT s.*, v.template, v.number, t.name AS templateName, (SELECT COUNT(*) FROM rows r WHERE r.sheet = s.id) AS rows
         FROM sheets s JOIN versions v ON v.id = s.version JOIN templates t ON t.id = v.template
         WHERE ? IS NULL OR v.template = ? ORDER BY s.changed DESC`,
      )
      .all(template ?? null, template ?? null) as (StoredSheet & {
      template: string
      templateName: string
      number: number
    })[]
    return rows.map((row) => ({ ...row, ...unpack(row) }))
  }

  get(id: number): SheetRow {
    const row = this.db
      .prepare('SELECT s.*, (SELECT COUNT(*) FROM rows r WHERE r.sheet = s.id) AS rows FROM sheets s WHERE id = ?')
      .get(id) as StoredSheet | undefined
    if (!row) throw new Refusal('sheet.none', `There is no sheet ${id}.`, 404)
    return unpack(row)
  }

  rows(id: number): Cells[] {
    const rows = this.db.prepare('SELECT cells FROM rows WHERE sheet = ? ORDER BY position').all(id) as {
      cells: string
    }[]
    return rows.map((row) => JSON.parse(row.cells) as Cells)
  }

  remove(id: number): void {
    this.get(id)
    this.db.prepare('DELETE FROM sheets WHERE id = ?').run(id)
  }

  setMatch(id: number, match: Match): SheetRow {
    return this.db.transaction(() => this.putMatch(this.get(id), match))()
  }

  /** Puts a sheet on another version of its template, with the match that goes with it. @throws Refusal, 409 if stale */
  move(id: number, revision: number, version: number, match: Match): SheetRow {
    return this.db.transaction(() => this.putMatch(this.at(id, revision), match, version))()
  }

  /** Sets what fills what, as a person wants it, and keeps it for the template's next sheet with these columns. */
  private putMatch({ id, columns, ...sheet }: SheetRow, match: Match, version = sheet.version): SheetRow {
    for (const column of Object.values(match))
      demand(columns.includes(column), 'sheet.column', `The sheet has no column "${column}".`)
    this.db
      .prepare('UPDATE sheets SET version = ?, match = ?, revision = revision + 1, changed = ? WHERE id = ?')
      .run(version, JSON.stringify(match), now(), id)
    this.db
      .prepare(
        `INSERT INTO matches SELECT template, ?, id, ? FROM versions WHERE id = ?
         ON CONFLICT DO UPDATE SET version = excluded.version, match = excluded.match`,
      )
      .run(JSON.stringify(columns), JSON.stringify(match), version)
    return this.get(id)
  }

  /** How a person last matched a sheet with these columns, and to which version of the template, if anyone did. */
  rememberedMatch(template: string, columns: readonly string[]): { version: number; match: Match } | undefined {
    const row = this.db
      .prepare('SELECT version, match FROM matches WHERE template = ? AND columns = ?')
      .get(template, JSON.stringify(columns)) as { version: number; match: string } | undefined
    return row && { version: row.version, match: JSON.parse(row.match) as Match }
  }

  /** A sheet that nobody changed since `revision`. @throws Refusal, 409 */
  private at(id: number, revision: number): SheetRow {
    const sheet = this.get(id)
    if (sheet.revision !== revision)
      throw new Refusal('sheet.stale', `"${sheet.name}" was changed elsewhere meanwhile; it has been read again.`, 409)
    return sheet
  }

  /** Applies edits in order, all or none. @throws Refusal for a row that is not there, 409 for a stale revision. */
  change(id: number, revision: number, changes: RowChange[]): SheetRow {
    return this.db.transaction(() => {
      const sheet = this.at(id, revision)
      const columns = new Set(sheet.columns)
      for (const change of changes) this.apply(id, change, columns)
      this.db
        .prepare('UPDATE sheets SET columns = ?, revision = revision + 1, changed = ? WHERE id = ?')
        .run(JSON.stringify([...columns]), now(), id)
      return this.get(id)
    })()
  }

  private apply(id: number, change: RowChange, columns: Set<string>): void {
    const count = (this.db.prepare('SELECT COUNT(*) AS n FROM rows WHERE sheet = ?').get(id) as { n: number }).n
    const inside = (row: number) =>
      demand(row >= 1 && row <= count, 'sheet.row', `There is no row ${row}; the sheet has ${count}.`)
    if (change.kind === 'cell') {
      inside(change.row)
      const stored = this.db.prepare('SELECT cells FROM rows WHERE sheet = ? AND position = ?').get(id, change.row) as {
        cells: string
      }
      const cells = { ...(JSON.parse(stored.cells) as Cells), [change.column]: change.value }
      columns.add(change.column)
      this.db
        .prepare('UPDATE rows SET cells = ? WHERE sheet = ? AND position = ?')
        .run(JSON.stringify(cells), id, change.row)
    } else if (change.kind === 'insert') {
      demand(
        change.at >= 1 && change.at <= count + 1,
        'sheet.row',
        `Rows cannot be put at ${change.at}; the sheet has ${count}.`,
      )
      this.shift(id, change.at, change.rows.length)
      const insert = this.db.prepare('INSERT INTO rows (sheet, position, cells) VALUES (?, ?, ?)')
      change.rows.forEach((cells, i) => {
        for (const column of Object.keys(cells)) columns.add(column)
        insert.run(id, change.at + i, JSON.stringify(cells))
      })
    } else {
      inside(change.from)
      this.db
        .prepare('DELETE FROM rows WHERE sheet = ? AND position >= ? AND position < ?')
        .run(id, change.from, change.from + change.count)
      this.shift(id, change.from + change.count, -change.count)
    }
  }

  /** Moves rows from a position on. By way of negative numbers, so that no two meet on the way. */
  private shift(id: number, from: number, by: number): void {
    this.db.prepare('UPDATE rows SET position = -(position + ?) WHERE sheet = ? AND position >= ?').run(by, id, from)
    this.db.prepare('UPDATE rows SET position = -position WHERE sheet = ? AND position < 0').run(id)
  }
}

function unpack(row: StoredSheet): SheetRow {
  return { ...row, columns: JSON.parse(row.columns) as string[], match: JSON.parse(row.match) as Match }
}
