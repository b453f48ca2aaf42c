import { type Cells, cellsOf, type Match, type Row, type Splice, type Table, usedColumns } from '@hoja/core/data'
import { demandTableRoom, type Link } from '@hoja/core/formats'
import { demand, Refusal } from '@hoja/core/refusal'
import type { MediaFile } from '@hoja/core/template'
import { type Db, nextId, now } from './database.ts'
import { apart, Places } from './places.ts'
import { refreshed } from './refreshed.ts'

export interface SheetRow {
  id: number
  version: number
  name: string
  columns: string[]
  match: Match
  revision: number
  /** The revision at which rows last changed their places. */
  placed: number
  created: string
  changed: string
  /** Rows. */
  count: number
  /** What the rows follow; null: they are the sheet's own. */
  link: Link | null
  /** It knows how names are spelled: what differs from them by a slip is told in every other sheet. */
  known: boolean
  /** The production that it belongs to. */
  production: number | null
}

interface StoredSheet extends Omit<SheetRow, 'columns' | 'match' | 'link' | 'known'> {
  state: string
  columns: string
  match: string
  link: string | null
  known: number
}

/** A picture that came with a sheet, as a template would carry it. */
export type SheetPicture = MediaFile

interface StoredRow {
  cells: string
  beside: string
}

export const unpackRow = ({ cells, beside }: StoredRow): Row => ({
  cells: JSON.parse(cells) as Cells,
  ...JSON.parse(beside),
})

/** A row as it is kept: what data says by itself, so that data can change without touching what a person set. */
export function packRow({ cells, ...beside }: Row): [cells: string, beside: string] {
  return [JSON.stringify(cells), JSON.stringify(beside)]
}

/** A sheet whose rows are coming in. */
export interface Arriving {
  /** More rows, each as JSON of its cells by column. */
  take(rows: readonly string[]): void
  /** All are there. */
  complete(match: Match): SheetRow
  /** No more will come. */
  giveUp(): void
}

/** Rows that go at once when a sheet was removed. */
const clearedAtOnce = 2000

/** Known texts that are looked at; a house has fewer names. */
const mostKnown = 50_000

/** Sheets and their rows. */
export class Sheets {
  constructor(private readonly db: Db) {}

  add(version: number, name: string, table: Table, match: Match, link: Link | null = null): SheetRow {
    return this.db.transaction(() => {
      const arriving = this.arrive(version, name, table.columns, link)
      arriving.take(table.rows.map((_, i) => JSON.stringify(cellsOf(table, i))))
      return arriving.complete(match)
    })()
  }

  /**
   * A sheet whose rows come in pieces: nobody sees it before it is complete. One that never is goes at the next start, if not
   * before.
   */
  arrive(version: number, name: string, columns: readonly string[], link: Link | null = null): Arriving {
    const time = now()
    const id = this.db.transaction(() => {
      const next = nextId(this.db, 'sheet')
      this.db
        .prepare(
          `INSERT INTO sheets (id, version, name, columns, match, revision, created, changed, link, state)
           VALUES (?, ?, ?, ?, '{}', 1, ?, ?, ?, 'arriving')`,
        )
        .run(next, version, name, JSON.stringify(columns), time, time, link && JSON.stringify(link))
      return next
    })()
    const insert = this.db.prepare('INSERT INTO rows (sheet, position, cells) VALUES (?, ?, ?)')
    let count = 0
    return {
      take: (rows) => {
        this.db.transaction(() => {
          for (const cells of rows) insert.run(id, ++count * apart, cells)
        })()
      },
      complete: (match) => {
        this.db
          .prepare("UPDATE sheets SET match = ?, count = ?, state = 'here' WHERE id = ?")
          .run(JSON.stringify(match), count, id)
        return this.get(id)
      },
      giveUp: () => {
        this.db.prepare("UPDATE sheets SET state = 'leaving' WHERE id = ?").run(id)
      },
    }
  }

  list(template?: string): (SheetRow & { template: string; templateName: string; number: number })[] {
    const rows = this.db
      .prepare(
        `SELECT s.*, v.template, v.number, t.name AS templateName
         FROM sheets s JOIN versions v ON v.id = s.version JOIN templates t ON t.id = v.template
         WHERE s.state = 'here' AND (? IS NULL OR v.template = ?) ORDER BY s.changed DESC`,
      )
      .all(template ?? null, template ?? null) as (StoredSheet & {
      template: string
      templateName: string
      number: number
    })[]
    return rows.map((row) => ({ ...row, ...unpack(row) }))
  }

  get(id: number): SheetRow {
    const row = this.db.prepare("SELECT * FROM sheets WHERE id = ? AND state = 'here'").get(id) as
      | StoredSheet
      | undefined
    if (!row) throw new Refusal('sheet.none', `There is no sheet ${id}.`, 404)
    return unpack(row)
  }

  /** Rows in their order, from 1; all unless told. */
  rows(id: number, from = 1, count = -1): Row[] {
    const rows = this.db
      .prepare('SELECT cells, beside FROM rows WHERE sheet = ? ORDER BY position LIMIT ? OFFSET ?')
      .all(id, count, from - 1) as StoredRow[]
    return rows.map(unpackRow)
  }

  remove(id: number): void {
    this.get(id)
    this.db.transaction(() => {
      this.db.prepare('DELETE FROM outputs WHERE sheet = ?').run(id)
      this.db.prepare("UPDATE sheets SET state = 'leaving', link = NULL WHERE id = ?").run(id)
    })()
  }

  /** Takes away some of what nobody sees any more, a little at a time. @returns whether there may be more */
  clear(): boolean {
    const id = this.db.prepare("SELECT id FROM sheets WHERE state = 'leaving'").pluck().get() as number | undefined
    if (id === undefined) return false
    const { changes } = this.db
      .prepare('DELETE FROM rows WHERE sheet = ? AND position IN (SELECT position FROM rows WHERE sheet = ? LIMIT ?)')
      .run(id, id, clearedAtOnce)
    if (changes < clearedAtOnce) this.db.prepare('DELETE FROM sheets WHERE id = ?').run(id)
    return true
  }

  /** What was arriving when the server ended will not come any more. */
  giveUpArriving(): void {
    this.db.prepare("UPDATE sheets SET state = 'leaving' WHERE state = 'arriving'").run()
  }

  /** Puts a sheet into a production, or takes it out of any. @throws Refusal, 404 */
  putInto(id: number, production: number | null): SheetRow {
    this.get(id)
    if (production !== null && !this.db.prepare('SELECT 1 FROM productions WHERE id = ?').get(production))
      throw new Refusal('production.none', `There is no production ${production} any more.`, 404)
    this.db.prepare('UPDATE sheets SET production = ? WHERE id = ?').run(production, id)
    return this.get(id)
  }

  /** Differs whenever the known names may. */
  knownMark(): string {
    return this.db
      .prepare(
        "SELECT COALESCE(GROUP_CONCAT(id || ' ' || revision), '') FROM sheets WHERE known = 1 AND state = 'here'",
      )
      .pluck()
      .get() as string
  }

  /** Names a sheet as one that knows how names are spelled, or no longer. */
  setKnown(id: number, known: boolean): SheetRow {
    this.get(id)
    this.db.prepare('UPDATE sheets SET known = ? WHERE id = ?').run(known ? 1 : 0, id)
    return this.get(id)
  }

  /** Every text of the sheets that know how names are spelled, each once; what was set by hand instead of the column's. */
  knownTexts(): string[] {
    const rows = this.db
      .prepare(
        `SELECT text FROM (
           SELECT cell.value AS text FROM sheets s JOIN rows r ON r.sheet = s.id, json_each(r.cells) cell
           WHERE s.known = 1 AND s.state = 'here' AND NOT EXISTS (
             SELECT 1 FROM json_each(r.beside, '$.own') own JOIN json_each(s.match) source ON source.key = own.key
             WHERE source.value = cell.key
           )
           UNION
           SELECT own.value FROM sheets s JOIN rows r ON r.sheet = s.id, json_each(r.beside, '$.own') own
           WHERE s.known = 1 AND s.state = 'here'
         ) WHERE text <> '' LIMIT ?`,
      )
      .all(mostKnown) as { text: string }[]
    return rows.map(({ text }) => text)
  }

  /** @param revision that it was set on; absent: whatever it is. @throws Refusal, 409 if stale */
  setMatch(id: number, match: Match, revision?: number): SheetRow {
    return this.db.transaction(() =>
      this.putMatch(revision === undefined ? this.get(id) : this.at(id, revision), match),
    )()
  }

  /** Puts a sheet on another version of its template, with the match that goes with it. @throws Refusal, 409 if stale */
  move(id: number, revision: number, version: number, match: Match): SheetRow {
    return this.db.transaction(() => this.putMatch(this.at(id, revision), match, version))()
  }

  /** Sets what fills what, as a person wants it, and keeps it for the template's next sheet with these columns. */
  private putMatch({ id, columns, ...sheet }: SheetRow, match: Match, version = sheet.version): SheetRow {
    for (const column of usedColumns(match))
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
    if (sheet.revision !== revision) throw stale(sheet.name)
    return sheet
  }

  /**
   * Applies edits in order, all or none. The rows of a linked sheet stay where they are and keep what the data says: an
   * edit sets what stands beside.
   * @throws Refusal for a row that is not there, 409 for a stale revision
   */
  change(id: number, revision: number, changes: Splice[]): SheetRow {
    return this.db.transaction(() => {
      const sheet = this.get(id)
      if (sheet.link ? revision < sheet.placed : revision !== sheet.revision) throw stale(sheet.name)
      const columns = new Set(sheet.columns)
      const places = new Places(this.db, id, changes.length)
      let { count } = sheet
      let moved = false
      for (const { at, remove, rows } of changes) {
        demand(
          at >= 1 && remove >= 0 && at + remove <= count + 1,
          'sheet.row',
          `There is no row ${at + Math.max(0, remove - 1)}; the sheet has ${count}.`,
        )
        demand(
          !sheet.link || remove === rows.length,
          'sheet.linked',
          `The rows of "${sheet.name}" come from a link; stop following it to add or remove rows.`,
        )
        if (sheet.link) this.putBeside(places, at, rows)
        else this.splice(places, at, remove, rows)
        for (const { cells } of rows) for (const column of Object.keys(cells)) columns.add(column)
        count += rows.length - remove
        moved ||= rows.length !== remove
      }
      demandTableRoom(count, columns.size, sheet.name)
      this.bump(sheet, sheet.link ? sheet.columns : [...columns], moved, count)
      return this.get(id)
    })()
  }

  private bump({ id, revision }: SheetRow, columns: readonly string[], moved: boolean, count: number): void {
    this.db
      .prepare(
        `UPDATE sheets SET columns = ?, count = ?, revision = revision + 1,
           placed = CASE ? WHEN 1 THEN ? ELSE placed END, changed = ? WHERE id = ?`,
      )
      .run(JSON.stringify(columns), count, moved ? 1 : 0, revision + 1, now(), id)
  }

  private putBeside(places: Places, at: number, rows: readonly Row[]): void {
    const update = this.db.prepare('UPDATE rows SET beside = ? WHERE sheet = ? AND position = ?')
    const positions = places.of(at, rows.length)
    rows.forEach((row, i) => {
      update.run(packRow(row)[1], places.sheet, positions[i])
    })
  }

  private splice(places: Places, at: number, remove: number, rows: readonly Row[]): void {
    const { sheet } = places
    const kept = Math.min(remove, rows.length)
    const positions = places.of(at, remove)
    const update = this.db.prepare('UPDATE rows SET cells = ?, beside = ? WHERE sheet = ? AND position = ?')
    rows.slice(0, kept).forEach((row, i) => {
      update.run(...packRow(row), sheet, positions[i])
    })
    if (remove > kept)
      this.db
        .prepare('DELETE FROM rows WHERE sheet = ? AND position BETWEEN ? AND ?')
        .run(sheet, positions[kept], positions[remove - 1])
    const inserted = rows.slice(kept)
    places.drop(at + kept, remove - kept)
    const free = inserted.length > 0 ? places.room(at + kept, inserted.length) : []
    const insert = this.db.prepare('INSERT INTO rows (cells, beside, sheet, position) VALUES (?, ?, ?, ?)')
    inserted.forEach((row, i) => {
      insert.run(...packRow(row), sheet, free[i])
    })
    places.add(at + kept, free)
  }

  /** Sheets that follow a file or a feed. */
  linked(): SheetRow[] {
    const rows = this.db
      .prepare("SELECT * FROM sheets WHERE link IS NOT NULL AND state = 'here'")
      .all() as StoredSheet[]
    return rows.map(unpack)
  }

  /** What a sheet's rows follow from now on; null: nothing, they stay as they are, with what was set by hand in them. */
  setLink(id: number, link: Link | null): SheetRow {
    const sheet = this.get(id)
    this.db.prepare('UPDATE sheets SET link = ? WHERE id = ?').run(link && JSON.stringify(link), id)
    return { ...sheet, link }
  }

  /**
   * Takes in what the followed data says now. What a person set beside a row stays with the row of the same name, else
   * of the same place.
   * @returns what changed, or undefined when nothing did
   */
  refresh(id: number, table: Table): { sheet: SheetRow; changes: Splice[] } | undefined {
    return this.db.transaction(() => {
      const sheet = this.get(id)
      const before = this.rows(id)
      const first = sheet.columns.find((column) => usedColumns(sheet.match)[0] === column) ?? sheet.columns[0]
      const { changes, moved } = refreshed(before, table, first)
      const sameColumns = JSON.stringify(sheet.columns) === JSON.stringify(table.columns)
      if (changes.length === 0 && sameColumns) return undefined
      const places = new Places(this.db, id, changes.length)
      for (const { at, remove, rows } of changes) this.splice(places, at, remove, rows)
      this.bump(sheet, table.columns, moved, table.rows.length)
      return { sheet: this.get(id), changes }
    })()
  }

  /** Pictures that came with a sheet, as a template carries its own. */
  pictures(id: number): SheetPicture[] {
    const rows = this.db
      .prepare(
        `SELECT p.name, p.sha256, a.info FROM sheet_pictures p JOIN assets a ON a.sha256 = p.sha256
         WHERE p.sheet = ? ORDER BY p.name`,
      )
      .all(id) as { name: string; sha256: string; info: string }[]
    return rows.map(({ name, sha256, info }) => {
      const { width, height, movie } = JSON.parse(info) as SheetPicture
      return { id: sha256, name, file: `media/${name}`, sha256, width, height, ...(movie ? { movie } : {}) }
    })
  }

  /** Adds pictures to a sheet; one of the same name takes the other's place. */
  addPictures(id: number, pictures: readonly { name: string; sha256: string }[]): void {
    this.get(id)
    const insert = this.db.prepare(
      'INSERT INTO sheet_pictures VALUES (?, ?, ?) ON CONFLICT DO UPDATE SET sha256 = excluded.sha256',
    )
    this.db.transaction(() => {
      for (const { name, sha256 } of pictures) insert.run(id, name, sha256)
    })()
  }

  removePicture(id: number, name: string): void {
    this.db.prepare('DELETE FROM sheet_pictures WHERE sheet = ? AND name = ?').run(id, name)
  }
}

const stale = (name: string) =>
  new Refusal('sheet.stale', `"${name}" was changed elsewhere meanwhile; it has been read again.`, 409)

function unpack({ state: _, ...row }: StoredSheet): SheetRow {
  return {
    ...row,
    columns: JSON.parse(row.columns) as string[],
    match: JSON.parse(row.match) as Match,
    link: row.link === null ? null : (JSON.parse(row.link) as Link),
    known: row.known === 1,
  }
}
