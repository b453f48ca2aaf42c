import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { Refusal } from '@hoja/core/refusal'
import Database from 'better-sqlite3'
import { serverFolder } from '../serverFolder.ts'
import { syncFile, syncFolder } from './files.ts'

export type Db = Database.Database

const migrationsFolder = join(serverFolder, 'src/store/migrations')

/** What became of a database that an older Hoja had written. */
export interface Migrated {
  from: number
  to: number
  /** Where it lies as it was. */
  backup: string
}

/**
 * Opens (or makes) the database in a folder: WAL, foreign keys on, each numbered migration in a transaction of its own.
 * Before the first of them the database as it was is copied beside itself.
 * @throws Refusal for a folder that a newer Hoja has written; nothing of it is touched
 */
export function openDatabase(folder: string, unclean = false): { db: Db; migrated?: Migrated } {
  mkdirSync(folder, { recursive: true })
  const file = join(folder, 'hoja.sqlite')
  const files = readdirSync(migrationsFolder)
    .filter((one) => /^\d{3}_.*\.sql$/.test(one))
    .sort()
  const newest = Number(files.at(-1)?.slice(0, 3) ?? 0)
  const db = new Database(file)
  const done = db.pragma('user_version', { simple: true }) as number
  if (done > newest) {
    db.close()
    throw new Refusal(
      'data.newer',
      `"${folder}" was written by a newer Hoja (database ${done}, this one knows up to ${newest}); update Hoja, or give another folder with --data.`,
    )
  }
  if (done === 0 && db.prepare('SELECT 1 FROM sqlite_master LIMIT 1').get()) {
    db.close()
    throw new Refusal('data.foreign', `"${file}" is a database of another program; give another folder with --data.`)
  }
  // After an end in the middle (`unclean`) the whole of it is looked at; what else is damaged is found when it is read.
  if (unclean && db.pragma('quick_check(1)', { simple: true }) !== 'ok') {
    db.close()
    throw Object.assign(new Error('quick_check'), { code: 'SQLITE_CORRUPT' })
  }
  const backup = done > 0 && done < newest ? copiedBeside(db, file, done) : undefined
  db.pragma('journal_mode = WAL')
  db.pragma('synchronous = FULL')
  // A migration may rebuild a table that others refer to; what it leaves must hold all the same.
  db.pragma('foreign_keys = OFF')
  db.pragma('busy_timeout = 5000')
  for (const migration of files) {
    const number = Number(migration.slice(0, 3))
    if (number <= done) continue
    db.transaction(() => {
      db.exec(readFileSync(join(migrationsFolder, migration), 'utf8'))
      const broken = db.pragma('foreign_key_check') as unknown[]
      if (broken.length > 0) throw new Error(`${migration} leaves rows that refer to nothing`)
      db.pragma(`user_version = ${number}`)
    })()
  }
  db.pragma('foreign_keys = ON')
  return backup === undefined ? { db } : { db, migrated: { from: done, to: newest, backup } }
}

/**
 * The database, what stands in its log included, copied by SQLite itself (VACUUM INTO) to a name of its own beside it.
 * A copy that was begun and not finished is never taken for one.
 */
function copiedBeside(db: Db, file: string, version: number): string {
  const day = now().slice(0, 10)
  let path = ''
  for (let n = 1; path === '' || existsSync(path); n++)
    path = file.replace(/\.sqlite$/, `-database-${version}-${day}${n > 1 ? `-${n}` : ''}.sqlite`)
  const part = `${path}.part`
  rmSync(part, { force: true })
  db.prepare('VACUUM INTO ?').run(part)
  syncFile(part)
  renameSync(part, path)
  syncFolder(dirname(path))
  return path
}

/** The next number of a kind: it was never given before. In the transaction that uses it. */
export function nextId(
  db: Db,
  kind: 'version' | 'sheet' | 'output' | 'move' | 'production' | 'programme' | 'style',
): number {
  return db.prepare('UPDATE given SET last = last + 1 WHERE kind = ? RETURNING last').pluck().get(kind) as number
}

export const now = (): string => new Date().toISOString()
