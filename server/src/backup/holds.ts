import type Database from 'better-sqlite3'

/** What a data folder, or a backup of one, holds. */
export interface Holds {
  templates: number
  versions: number
  sheets: number
  rows: number
  outputs: number
  /** Fonts, pictures, sounds, footage and published documents. */
  files: number
  /** Of the files and the database. */
  bytes: number
}

export function holdsOf(db: Database.Database, databaseBytes: number): Holds {
  const number = (sql: string) => db.prepare(sql).pluck().get() as number
  return {
    templates: number('SELECT COUNT(*) FROM templates'),
    versions: number('SELECT COUNT(*) FROM versions'),
    sheets: number("SELECT COUNT(*) FROM sheets WHERE state = 'here'"),
    rows: number("SELECT COALESCE(SUM(count), 0) FROM sheets WHERE state = 'here'"),
    outputs: number('SELECT COUNT(*) FROM outputs'),
    files: number('SELECT COUNT(*) FROM assets'),
    bytes: databaseBytes + number('SELECT COALESCE(SUM(size), 0) FROM assets'),
  }
}

/** What it holds, in words. */
export function holdsWords({ templates, versions, sheets, rows, outputs, files, bytes }: Holds): string {
  const some = (n: number, one: string) => `${n.toLocaleString('en')} ${n === 1 ? one : `${one}s`}`
  return [
    `${some(templates, 'template')} with ${some(versions, 'version')}`,
    `${some(sheets, 'sheet')} with ${some(rows, 'row')}`,
    some(outputs, 'output'),
    `${some(files, 'file')}, ${(bytes / 1e6).toFixed(1)} MB`,
  ].join(', ')
}
