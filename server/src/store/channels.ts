import { type AsRun, type Channel, carriedOut, type Numbered } from '@hoja/core/air'
import { Refusal } from '@hoja/core/refusal'
import { type Db, now } from './database.ts'

export interface ChannelRow {
  name: string
  title: string
  production: number | null
  created: string
}

/** A line of the log, and which title it is about: the command that took it, and its id on the running list. */
export interface LoggedAir extends AsRun {
  n: number
  item: string
}

/** Commands that are kept: a page that was away for so many is told them one by one, else the whole state. */
const keptCommands = 400
/** Commands after which the state is written anew, so that not all of them have to be carried out again. */
const stateEvery = 100

/** Channels as they stand, whatever happens to the server: each command is kept before anybody hears of it. */
export class Channels {
  constructor(private readonly db: Db) {}

  list(): ChannelRow[] {
    return this.db.prepare('SELECT name, title, production, created FROM channels ORDER BY title').all() as ChannelRow[]
  }

  /** @throws Refusal, 404 */
  get(name: string): ChannelRow {
    const row = this.db.prepare('SELECT name, title, production, created FROM channels WHERE name = ?').get(name)
    if (!row) throw new Refusal('air.none', `There is no channel "${name}".`, 404)
    return row as ChannelRow
  }

  /** @throws Refusal when the name is taken */
  add(row: Omit<ChannelRow, 'created'>, channel: Channel): ChannelRow {
    const { name, title, production } = row
    if (this.db.prepare('SELECT 1 FROM channels WHERE name = ?').get(name))
      throw new Refusal('air.taken', `There is a channel "${name}" already; give this one another name.`, 409)
    this.db
      .prepare('INSERT INTO channels VALUES (?, ?, ?, ?, ?)')
      .run(name, title, production, JSON.stringify(channel), now())
    return this.get(name)
  }

  remove(name: string): void {
    this.get(name)
    this.db.prepare('DELETE FROM channels WHERE name = ?').run(name)
  }

  /** A channel as it stood when the last command was kept. */
  channel(name: string): Channel {
    const state = this.db.prepare('SELECT state FROM channels WHERE name = ?').pluck().get(name) as string
    const channel = JSON.parse(state) as Channel
    return this.since(name, channel.n).reduce(carriedOut, channel)
  }

  /** The commands behind one, in their order. */
  since(name: string, n: number): Numbered[] {
    const rows = this.db
      .prepare('SELECT n, frame, command FROM channel_commands WHERE channel = ? AND n > ? ORDER BY n')
      .all(name, n) as { n: number; frame: number; command: string }[]
    return rows.map(({ command, ...row }) => ({ ...row, command: JSON.parse(command) }))
  }

  /** Keeps a command, the channel after it, and what it put on air. */
  keep(name: string, { n, frame, command }: Numbered, after: Channel, lines: readonly LoggedAir[]): void {
    this.db.transaction(() => {
      this.db.prepare('INSERT INTO channel_commands VALUES (?, ?, ?, ?)').run(name, n, frame, JSON.stringify(command))
      if (n % stateEvery === 0) {
        this.db.prepare('UPDATE channels SET state = ? WHERE name = ?').run(JSON.stringify(after), name)
        this.db.prepare('DELETE FROM channel_commands WHERE channel = ? AND n <= ?').run(name, n - keptCommands)
      }
      this.log(name, lines)
    })()
  }

  /** That a title left is logged once, whoever says it again. */
  log(name: string, lines: readonly LoggedAir[]): void {
    const insert = this.db.prepare(
      `INSERT OR IGNORE INTO as_run (channel, n, item, at, layer, what, words, template, version, by_whom)
       VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    )
    for (const { n, item, at, layer, what, words, template, version, by } of lines)
      insert.run(name, n, item, at, layer, what, words, template, version, by)
  }

  /** What was on air, the last first. @param most lines; absent: all */
  asRun(name: string, most = -1): AsRun[] {
    return this.db
      .prepare(
        `SELECT at, layer, what, words, template, version, by_whom AS "by" FROM as_run
         WHERE channel = ? ORDER BY at DESC, id DESC LIMIT ?`,
      )
      .all(this.get(name).name, most) as AsRun[]
  }
}
