import type { Match, Row } from '@hoja/core/data'
import { Refusal } from '@hoja/core/refusal'
import type { OutputSettings } from '../render/settings.ts'
import { type Db, now } from './database.ts'
import { packRow, type SheetPicture, type SheetRow, unpackRow } from './sheets.ts'

export type UnitState = 'waiting' | 'running' | 'done' | 'held' | 'failed' | 'stopped'

export interface UnitRow {
  output: number
  row: number
  name: string
  state: UnitState
  /** Why it is held, failed or stopped. */
  reason: string
  attempts: number
  /** Key of the finished files. */
  result: string | null
  /** 1 when it had been rendered before and was found again. */
  found: number
  milliseconds: number | null
}

export interface OutputRow {
  id: number
  sheet: number
  /** The version, the match and the pictures of the sheet when it was ordered. */
  version: number
  match: Match
  pictures: SheetPicture[]
  settings: OutputSettings
  state: 'running' | 'done' | 'stopped'
  created: string
  ended: string | null
  counts: Record<UnitState, number>
}

type StoredOutput = Omit<OutputRow, 'settings' | 'match' | 'pictures' | 'counts'> & {
  settings: string
  match: string
  pictures: string
}

const states: UnitState[] = ['waiting', 'running', 'done', 'held', 'failed', 'stopped']
const unitColumns = 'output, row, name, state, reason, attempts, result, found, milliseconds'

/** Render orders and their units. The queue is these tables: what is `waiting` here is what there is to do. */
export class Outputs {
  constructor(private readonly db: Db) {}

  add(
    { id: sheet, version, match }: Pick<SheetRow, 'id' | 'version' | 'match'>,
    settings: OutputSettings,
    units: { n: number; name: string; row: Row }[],
    pictures: SheetPicture[],
  ): OutputRow {
    return this.db.transaction(() => {
      const { lastInsertRowid } = this.db
        .prepare(
          "INSERT INTO outputs (sheet, version, match, pictures, settings, state, created) VALUES (?, ?, ?, ?, ?, 'running', ?)",
        )
        .run(sheet, version, JSON.stringify(match), JSON.stringify(pictures), JSON.stringify(settings), now())
      const id = Number(lastInsertRowid)
      const insert = this.db.prepare(
        "INSERT INTO units (output, row, name, cells, beside, state) VALUES (?, ?, ?, ?, ?, 'waiting')",
      )
      for (const { n, name, row } of units) insert.run(id, n, name, ...packRow(row))
      return this.get(id)
    })()
  }

  list(): OutputRow[] {
    const rows = this.db.prepare('SELECT * FROM outputs ORDER BY id DESC LIMIT 200').all() as StoredOutput[]
    return rows.map((row) => this.unpack(row))
  }

  get(id: number): OutputRow {
    const row = this.db.prepare('SELECT * FROM outputs WHERE id = ?').get(id) as StoredOutput | undefined
    if (!row) throw new Refusal('output.none', `There is no output ${id}.`, 404)
    return this.unpack(row)
  }

  units(id: number): UnitRow[] {
    return this.db.prepare(`SELECT ${unitColumns} FROM units WHERE output = ? ORDER BY row`).all(id) as UnitRow[]
  }

  unit(id: number, row: number): UnitRow {
    const unit = this.db.prepare(`SELECT ${unitColumns} FROM units WHERE output = ? AND row = ?`).get(id, row) as
      | UnitRow
      | undefined
    if (!unit) throw new Refusal('output.row', `Output ${id} has no row ${row}.`, 404)
    return unit
  }

  /** Takes the next waiting unit, marking it as running. */
  claim(): (UnitRow & { content: Row }) | undefined {
    const row = this.db
      .prepare(
        `UPDATE units SET state = 'running', attempts = attempts + 1
         WHERE (output, row) = (SELECT output, row FROM units WHERE state = 'waiting' ORDER BY output, row LIMIT 1)
         RETURNING ${unitColumns}, cells, beside`,
      )
      .get() as (UnitRow & { cells: string; beside: string }) | undefined
    return row && { ...row, content: unpackRow(row) }
  }

  finish(
    id: number,
    row: number,
    state: 'done' | 'held' | 'failed',
    more: { reason?: string; result?: string; found?: boolean; milliseconds?: number },
  ): void {
    this.db
      .prepare(
        "UPDATE units SET state = ?, reason = ?, result = ?, found = ?, milliseconds = ? WHERE output = ? AND row = ? AND state = 'running'",
      )
      .run(state, more.reason ?? '', more.result ?? null, more.found ? 1 : 0, more.milliseconds ?? null, id, row)
    this.close(id)
  }

  /** Puts a running unit back, for another attempt. */
  giveBack(id: number, row: number): void {
    this.db
      .prepare("UPDATE units SET state = 'waiting' WHERE output = ? AND row = ? AND state = 'running'")
      .run(id, row)
  }

  stop(id: number): void {
    this.get(id)
    this.db
      .prepare(
        "UPDATE units SET state = 'stopped', reason = 'Stopped by hand.' WHERE output = ? AND state IN ('waiting', 'running')",
      )
      .run(id)
    this.db.prepare("UPDATE outputs SET state = 'stopped', ended = ? WHERE id = ? AND state = 'running'").run(now(), id)
  }

  /** Lets failed and stopped units (and held ones, whose rows may have been put right) wait again. */
  retry(id: number, rowOf: (n: number) => Row | undefined): void {
    this.get(id)
    this.db.transaction(() => {
      for (const unit of this.units(id)) {
        if (!['failed', 'stopped', 'held'].includes(unit.state)) continue
        const row = rowOf(unit.row)
        if (row)
          this.db
            .prepare(
              "UPDATE units SET state = 'waiting', reason = '', attempts = 0, cells = ?, beside = ? WHERE output = ? AND row = ?",
            )
            .run(...packRow(row), id, unit.row)
      }
      this.db.prepare("UPDATE outputs SET state = 'running', ended = NULL WHERE id = ?").run(id)
    })()
    this.close(id)
  }

  /** After a crash: whatever was running waits again. */
  resume(): void {
    // What was cut off by the end of the server did not fail, so it does not count as an attempt.
    this.db.prepare("UPDATE units SET state = 'waiting', attempts = attempts - 1 WHERE state = 'running'").run()
    for (const output of this.list()) if (output.state === 'running') this.close(output.id)
  }

  private close(id: number): void {
    const open = this.db
      .prepare("SELECT COUNT(*) AS n FROM units WHERE output = ? AND state IN ('waiting', 'running')")
      .get(id) as { n: number }
    if (open.n === 0)
      this.db.prepare("UPDATE outputs SET state = 'done', ended = ? WHERE id = ? AND state = 'running'").run(now(), id)
  }

  private unpack(row: StoredOutput): OutputRow {
    const counts = Object.fromEntries(states.map((state) => [state, 0])) as Record<UnitState, number>
    const found = this.db
      .prepare('SELECT state, COUNT(*) AS n FROM units WHERE output = ? GROUP BY state')
      .all(row.id) as { state: UnitState; n: number }[]
    for (const { state, n } of found) counts[state] = n
    return {
      ...row,
      match: JSON.parse(row.match) as Match,
      pictures: JSON.parse(row.pictures) as SheetPicture[],
      settings: JSON.parse(row.settings) as OutputSettings,
      counts,
    }
  }
}
