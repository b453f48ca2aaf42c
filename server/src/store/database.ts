import { mkdirSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import Database from 'better-sqlite3'

export type Db = Database.Database

const migrationsFolder = fileURLToPath(new URL('./migrations', import.meta.url))

/**
 * Opens (or makes) the database in a folder: WAL, foreign keys on, each numbered migration in a transaction of its own.
 */
export function openDatabase(folder: string): Db {
  mkdirSync(folder, { recursive: true })
  const db = new Database(join(folder, 'hoja.sqlite'))
  db.pragma('journal_mode = WAL')
  db.pragma('synchronous = FULL')
  // A migration may rebuild a table that others refer to; what it leaves must hold all the same.
  db.pragma('foreign_keys = OFF')
  db.pragma('busy_timeout = 5000')
  const done = db.pragma('user_version', { simple: true }) as number
  const files = readdirSync(migrationsFolder)
    .filter((file) => /^\d{3}_.*\.sql$/.test(file))
    .sort()
  for (const file of files) {
    const number = Number(file.slice(0, 3))
    if (number <= done) continue
    db.transaction(() => {
      db.exec(readFileSync(join(migrationsFolder, file), 'utf8'))
      const broken = db.pragma('foreign_key_check') as unknown[]
      if (broken.length > 0) throw new Error(`${file} leaves rows that refer to nothing`)
      db.pragma(`user_version = ${number}`)
    })()
  }
  db.pragma('foreign_keys = ON')
  return db
}

export const now = (): string => new Date().toISOString()
