import type { Match, Row } from '@hoja/core/data'
import type { OutputSettings } from '@hoja/core/output'
import { demand, Refusal } from '@hoja/core/refusal'
import type { PartId } from '@hoja/core/template'
import { type Db, nextId, now } from './database.ts'
import { packRow, type SheetPicture, unpackRow } from './sheets.ts'

export type TitleState = 'waiting' | 'running' | 'done' | 'held' | 'failed' | 'stopped'

export interface TitleRow {
  output: number
  /** Of the sheet; of parts by themselves, which clip. From 1. */
  row: number
  name: string
  state: TitleState
  /** Why it is held, failed or stopped, or why it is tried again. */
  reason: string
  attempts: number
  /** Key of the finished files. */
  result: string | null
  /** 1 when it had been rendered before and was found again. */
  found: number
  milliseconds: number | null
  ended: string | null
}

/** What an output was rendered with. */
export interface Used {
  hoja?: string
  ffmpeg?: string
}

export interface OutputRow {
  id: number
  /** Null: a programme's titles, or the version's parts by themselves. */
  sheet: number | null
  /** The programme whose titles it is of. */
  programme: number | null
  /** The version, the match and the pictures of the sheet when it was ordered. */
  version: number
  match: Match
  pictures: SheetPicture[]
  settings: OutputSettings
  used: Used
  state: 'running' | 'paused' | 'done' | 'stopped'
  /** Higher is earlier. */
  priority: number
  created: string
  ended: string | null
  /** Of one that keeps a folder: the sheet's revision that it was ordered from. */
  revision: number | null
  counts: Record<TitleState, number>
}

/** What a person orders. */
export interface Order extends Pick<OutputRow, 'sheet' | 'version' | 'match' | 'pictures' | 'settings' | 'used'> {
  programme?: number | null
  /** `held`: why a row must not go out, beside what it says by itself. */
  titles: { n: number; name: string; row: Row; only?: readonly PartId[]; held?: string }[]
}

/** A title with all that it is rendered from. */
export type ClaimedTitle = TitleRow & { content: Row; only?: PartId[] }

export interface LogLine {
  time: string
  row: number | null
  text: string
}

type StoredOutput = Omit<OutputRow, 'settings' | 'match' | 'pictures' | 'used' | 'counts'> & {
  settings: string
  match: string
  pictures: string
  used: string
}

const states: TitleState[] = ['waiting', 'running', 'done', 'held', 'failed', 'stopped']
const titleColumns = 'output, row, name, state, reason, attempts, result, found, milliseconds, ended'

/** Render orders and their titles. The queue is these tables: what is `waiting` here is what there is to do. */
export class Outputs {
  constructor(private readonly db: Db) {}

  /** @param revision of its sheet, for one that keeps a folder */
  add(
    { sheet, programme = null, version, match, pictures, settings, used, titles }: Order,
    revision?: number,
  ): OutputRow {
    return this.db.transaction(() => {
      const id = nextId(this.db, 'output')
      this.db
        .prepare(
          `INSERT INTO outputs (id, sheet, programme, version, match, pictures, settings, used, state, priority, created, revision)
           VALUES (?, ?, ?, ?, ?, ?, ?, ?, 'running', 0, ?, ?)`,
        )
        .run(
          id,
          sheet,
          programme,
          version,
          ...[match, pictures, settings, used].map((value) => JSON.stringify(value)),
          now(),
          revision ?? null,
        )
      this.addTitles(id, titles)
      this.log(id, `${titles.length} ${titles.length === 1 ? 'title' : 'titles'} ordered.`)
      return this.get(id)
    })()
  }

  /** The same output of a sheet as it is now: what has not changed is found again. */
  renew(id: number, { version, match, pictures, used, titles }: Order, revision: number): void {
    this.db.transaction(() => {
      this.db.prepare('DELETE FROM titles WHERE output = ?').run(id)
      this.db
        .prepare(
          `UPDATE outputs SET version = ?, match = ?, pictures = ?, used = ?, revision = ?, state = 'running', ended = NULL
           WHERE id = ?`,
        )
        .run(version, ...[match, pictures, used].map((value) => JSON.stringify(value)), revision, id)
      this.log(id, `The sheet has changed: ${titles.length} ${titles.length === 1 ? 'title' : 'titles'}.`)
      this.addTitles(id, titles)
    })()
    this.close(id)
  }

  /** Notes that a revision of its sheet was looked at. */
  kept(id: number, revision: number): void {
    this.db.prepare('UPDATE outputs SET revision = ? WHERE id = ?').run(revision, id)
  }

  /** Outputs of a programme's titles, the last one first. */
  ofProgramme(programme: number): OutputRow[] {
    const rows = this.db
      .prepare('SELECT * FROM outputs WHERE programme = ? ORDER BY id DESC')
      .all(programme) as StoredOutput[]
    return rows.map((row) => this.unpack(row))
  }

  /** Outputs that keep a folder current. */
  keeping(): OutputRow[] {
    const rows = this.db
      .prepare(
        "SELECT * FROM outputs WHERE json_extract(settings, '$.keep') IS NOT NULL AND state IN ('running', 'paused', 'done')",
      )
      .all() as StoredOutput[]
    return rows.map((row) => this.unpack(row))
  }

  private addTitles(id: number, titles: Order['titles']): void {
    const insert = this.db.prepare(
      "INSERT INTO titles (output, row, name, cells, beside, only, state) VALUES (?, ?, ?, ?, ?, ?, 'waiting')",
    )
    for (const { n, name, row, only } of titles)
      insert.run(id, n, name, ...packRow(row), only ? JSON.stringify(only) : null)
    for (const { n, held } of titles) if (held) this.hold(id, n, held)
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

  /** What the outputs of a sheet hold by now in a format: by name, the key of the latest files called so. */
  latestResults(sheet: number, format: string): Map<string, string> {
    const rows = this.db
      .prepare(
        `SELECT u.name, u.result FROM titles u JOIN outputs o ON o.id = u.output
         WHERE o.sheet = ? AND json_extract(o.settings, '$.format') = ? AND u.state = 'done' ORDER BY o.id`,
      )
      .all(sheet, format) as { name: string; result: string }[]
    return new Map(rows.map(({ name, result }) => [name, result]))
  }

  titles(id: number): TitleRow[] {
    return this.db.prepare(`SELECT ${titleColumns} FROM titles WHERE output = ? ORDER BY row`).all(id) as TitleRow[]
  }

  /** The rows of an output as they were ordered. */
  contents(id: number): { n: number; name: string; row: Row; state: TitleState; result: string | null }[] {
    const rows = this.db
      .prepare('SELECT row, name, cells, beside, state, result FROM titles WHERE output = ? ORDER BY row')
      .all(id) as {
      row: number
      name: string
      cells: string
      beside: string
      state: TitleState
      result: string | null
    }[]
    return rows.map(({ row, name, state, result, ...content }) => ({
      n: row,
      name,
      row: unpackRow(content),
      state,
      result,
    }))
  }

  title(id: number, row: number): TitleRow {
    const title = this.db.prepare(`SELECT ${titleColumns} FROM titles WHERE output = ? AND row = ?`).get(id, row) as
      | TitleRow
      | undefined
    if (!title) throw new Refusal('output.row', `Output ${id} has no row ${row}.`, 404)
    return title
  }

  /** The parts that each title of an output draws, by its number. */
  partsOf(id: number): Map<number, PartId[]> {
    const rows = this.db
      .prepare('SELECT row, only FROM titles WHERE output = ? AND only IS NOT NULL ORDER BY row')
      .all(id) as { row: number; only: string }[]
    return new Map(rows.map(({ row, only }) => [row, JSON.parse(only) as PartId[]]))
  }

  /** Takes the next waiting title of an output in one of some formats, marking it as running. */
  claim(formats: readonly string[]): ClaimedTitle | undefined {
    const row = this.db
      .prepare(
        `UPDATE titles SET state = 'running', attempts = attempts + 1
         WHERE (output, row) = (
           SELECT u.output, u.row FROM titles u JOIN outputs o ON o.id = u.output
           WHERE u.state = 'waiting' AND o.state = 'running'
             AND json_extract(o.settings, '$.format') IN (SELECT value FROM json_each(?))
           ORDER BY o.priority DESC, u.output, u.row LIMIT 1)
         RETURNING ${titleColumns}, cells, beside, only`,
      )
      .get(JSON.stringify(formats)) as (TitleRow & { cells: string; beside: string; only: string | null }) | undefined
    if (!row) return undefined
    const { only, ...title } = row
    return { ...title, content: unpackRow(row), ...(only === null ? {} : { only: JSON.parse(only) as PartId[] }) }
  }

  /** Titles that wait in outputs that come before this one. */
  waitingBefore(id: number): number {
    const { n } = this.db
      .prepare(
        `SELECT COUNT(*) AS n FROM titles u JOIN outputs o ON o.id = u.output, outputs own
         WHERE own.id = ? AND u.state = 'waiting' AND o.state = 'running'
           AND (o.priority > own.priority OR (o.priority = own.priority AND o.id < own.id))`,
      )
      .get(id) as { n: number }
    return n
  }

  /** Keeps a waiting row from being rendered, with the reason why. */
  private hold(id: number, row: number, reason: string): void {
    this.db
      .prepare(
        "UPDATE titles SET state = 'held', reason = ?, ended = ? WHERE output = ? AND row = ? AND state = 'waiting'",
      )
      .run(reason, now(), id, row)
    this.log(id, `Held by its checks: ${reason}`, row)
    this.close(id)
  }

  finish(
    id: number,
    row: number,
    state: 'done' | 'held' | 'failed',
    more: { reason?: string; result?: string; found?: boolean; milliseconds?: number },
  ): void {
    this.db.transaction(() => {
      this.db
        .prepare(
          `UPDATE titles SET state = ?, reason = ?, result = ?, found = ?, milliseconds = ?, ended = ?
           WHERE output = ? AND row = ? AND state = 'running'`,
        )
        .run(
          state,
          more.reason ?? '',
          more.result ?? null,
          more.found ? 1 : 0,
          more.milliseconds ?? null,
          now(),
          id,
          row,
        )
      this.close(id)
    })()
  }

  /** Puts a running title back, for another attempt. What it could do nothing for is no attempt of its own. */
  giveBack(id: number, row: number, reason: string, counts: boolean): void {
    this.db
      .prepare(
        `UPDATE titles SET state = 'waiting', reason = ?, attempts = attempts - ?
         WHERE output = ? AND row = ? AND state = 'running'`,
      )
      .run(reason, counts ? 0 : 1, id, row)
  }

  stop(id: number): void {
    this.get(id)
    this.db.transaction(() => {
      this.db
        .prepare(
          "UPDATE titles SET state = 'stopped', reason = 'Stopped by hand.' WHERE output = ? AND state IN ('waiting', 'running')",
        )
        .run(id)
      const { changes } = this.db
        .prepare(
          // One that keeps a folder is never at its end by itself.
          `UPDATE outputs SET state = 'stopped', ended = ? WHERE id = ?
             AND (state IN ('running', 'paused') OR (state = 'done' AND json_extract(settings, '$.keep') IS NOT NULL))`,
        )
        .run(now(), id)
      if (changes > 0) this.log(id, 'Stopped by hand.')
    })()
  }

  /** Rows that are being rendered are finished; no others begin until it goes on. */
  pause(id: number): void {
    demand(this.get(id).state === 'running', 'output.ended', 'Only an output that is running can pause.')
    this.db.prepare("UPDATE outputs SET state = 'paused' WHERE id = ?").run(id)
    this.log(id, 'Paused by hand.')
  }

  goOn(id: number): void {
    demand(this.get(id).state === 'paused', 'output.running', 'Only an output that is paused can go on.')
    this.db.prepare("UPDATE outputs SET state = 'running' WHERE id = ?").run(id)
    this.log(id, 'Goes on.')
    this.close(id)
  }

  setPriority(id: number, priority: number): void {
    this.get(id)
    this.db.prepare('UPDATE outputs SET priority = ? WHERE id = ?').run(priority, id)
  }

  remove(id: number): void {
    const { state } = this.get(id)
    demand(state === 'done' || state === 'stopped', 'output.running', 'Stop the output before it is removed.')
    this.db.prepare('DELETE FROM outputs WHERE id = ?').run(id)
  }

  /**
   * Lets failed and stopped titles (and held ones, whose rows may have been put right) wait again.
   * @param heldBy why a row must not go out, beside what it says by itself; empty: it may
   * @param only one of them; absent: all
   */
  retry(id: number, rowOf: (n: number) => Row | undefined, heldBy: (n: number) => string, only?: number): void {
    this.get(id)
    this.db.transaction(() => {
      let again = 0
      for (const title of this.titles(id)) {
        if (!['failed', 'stopped', 'held'].includes(title.state) || (only !== undefined && title.row !== only)) continue
        const row = rowOf(title.row)
        if (!row) continue
        again++
        this.db
          .prepare(
            "UPDATE titles SET state = 'waiting', reason = '', attempts = 0, cells = ?, beside = ? WHERE output = ? AND row = ?",
          )
          .run(...packRow(row), id, title.row)
        const reason = heldBy(title.row)
        if (reason) this.hold(id, title.row, reason)
      }
      this.db.prepare("UPDATE outputs SET state = 'running', ended = NULL WHERE id = ?").run(id)
      this.log(id, `${again} ${again === 1 ? 'row' : 'rows'} tried again.`, only ?? null)
    })()
    this.close(id)
  }

  /** After a crash: whatever was running waits again. */
  resume(): void {
    this.db.transaction(() => {
      const cut = this.db
        .prepare("SELECT output, COUNT(*) AS n FROM titles WHERE state = 'running' GROUP BY output")
        .all() as { output: number; n: number }[]
      for (const { output, n } of cut)
        this.log(output, `Hoja had ended and is back; ${n} ${n === 1 ? 'row starts' : 'rows start'} over.`)
      // What was cut off by the end of the server did not fail, so it does not count as an attempt.
      this.db.prepare("UPDATE titles SET state = 'waiting', attempts = attempts - 1 WHERE state = 'running'").run()
    })()
    for (const output of this.list()) if (output.state === 'running') this.close(output.id)
  }

  log(id: number, text: string, row: number | null = null): void {
    this.db.prepare('INSERT INTO output_log (output, time, row, text) VALUES (?, ?, ?, ?)').run(id, now(), row, text)
  }

  /** The last lines of an output's log, the latest first. */
  lines(id: number, count = 200): LogLine[] {
    return this.db
      .prepare('SELECT time, row, text FROM output_log WHERE output = ? ORDER BY id DESC LIMIT ?')
      .all(id, count) as LogLine[]
  }

  /** Outputs that are not at their end. */
  open(): number[] {
    const rows = this.db.prepare("SELECT id FROM outputs WHERE state = 'running'").all() as { id: number }[]
    return rows.map(({ id }) => id)
  }

  private close(id: number): void {
    const { open } = this.db
      .prepare("SELECT COUNT(*) AS open FROM titles WHERE output = ? AND state IN ('waiting', 'running')")
      .get(id) as { open: number }
    if (open > 0) return
    const { changes } = this.db
      .prepare("UPDATE outputs SET state = 'done', ended = ? WHERE id = ? AND state IN ('running', 'paused')")
      .run(now(), id)
    if (changes === 0) return
    const { done, held, failed } = this.counts(id)
    const words = [`${done} done`, ...(held ? [`${held} held`] : []), ...(failed ? [`${failed} failed`] : [])]
    this.log(id, `Finished: ${words.join(', ')}.`)
  }

  private counts(id: number): Record<TitleState, number> {
    const counts = Object.fromEntries(states.map((state) => [state, 0])) as Record<TitleState, number>
    const found = this.db
      .prepare('SELECT state, COUNT(*) AS n FROM titles WHERE output = ? GROUP BY state')
      .all(id) as {
      state: TitleState
      n: number
    }[]
    for (const { state, n } of found) counts[state] = n
    return counts
  }

  private unpack(row: StoredOutput): OutputRow {
    return {
      ...row,
      match: JSON.parse(row.match) as Match,
      pictures: JSON.parse(row.pictures) as SheetPicture[],
      settings: JSON.parse(row.settings) as OutputSettings,
      used: JSON.parse(row.used) as Used,
      counts: this.counts(row.id),
    }
  }
}
