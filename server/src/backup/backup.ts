import { existsSync, readdirSync, readFileSync, renameSync, rmSync, statSync } from 'node:fs'
import { join, resolve, sep } from 'node:path'
import { demand, Refusal } from '@hoja/core/refusal'
import Database from 'better-sqlite3'
import { diskRefusal } from '../render/disk.ts'
import {
  copyWhole,
  FileStore,
  hashOfFiles,
  makeFolder,
  readRegular,
  syncFile,
  syncFolder,
  writeWhole,
} from '../store/files.ts'
import { Owner } from '../store/owner.ts'
import { hojaVersion } from '../version.ts'
import { type Holds, holdsOf } from './holds.ts'

/** What a backup says of itself, in `backup.json`: written last, so a backup that has one is whole. */
export interface Manifest {
  kind: 'hoja-backup'
  made: string
  hoja: string
  /** The database's file, which is called by its SHA-256. */
  database: { sha256: string; bytes: number }
  /** SHA-256 and size of every file of the store. */
  files: [sha256: string, bytes: number][]
  /** Data files that sheets follow, from the folder beside the data. */
  followed: { path: string; sha256: string }[]
  holds: Holds
}

/** What happens while a backup is made or restored. */
export type OnProgress = (done: number, of: number) => void

/** Snapshots of a database that are taken when what they refer to is removed meanwhile. */
const tries = 3

const manifestOf = (folder: string) => join(folder, 'backup.json')
const databaseOf = (folder: string, sha256: string) => join(folder, 'database', `${sha256}.sqlite`)

/** What lies in a folder as the last backup; undefined: none. @throws Refusal for what is no backup */
export function readManifest(folder: string): Manifest | undefined {
  if (!existsSync(manifestOf(folder))) return undefined
  try {
    const manifest = JSON.parse(readFileSync(manifestOf(folder), 'utf8')) as Manifest
    if (manifest.kind === 'hoja-backup' && Array.isArray(manifest.files)) return manifest
  } catch {
    // Told below.
  }
  throw new Refusal(
    'backup.manifest',
    `"${manifestOf(folder)}" is not what a backup says of itself; give another folder.`,
  )
}

/**
 * Backs up a data folder, while it is in use: a consistent copy of the database by SQLite's backup interface, and the files
 * that it refers to by their hashes, only those that are not there yet. What was there before stays until all of the new one
 * is. Rendered titles are left out: they can be rendered again.
 * @throws Refusal
 */
export async function backUp(data: string, to: string, onProgress: OnProgress = () => {}): Promise<Manifest> {
  demand(
    existsSync(join(data, 'hoja.sqlite')),
    'backup.none',
    `There is no Hoja data in "${data}"; give it with --data.`,
  )
  demand(
    !`${resolve(to)}${sep}`.startsWith(`${resolve(data)}${sep}`),
    'backup.inside',
    `"${to}" lies in the data folder itself; back up to another one.`,
  )
  try {
    // What is there and no backup is not ours to write into.
    demand(
      !existsSync(to) || readManifest(to) || readdirSync(to).every((name) => ['database', 'files'].includes(name)),
      'backup.folder',
      `"${to}" holds other things than a backup; give an empty folder.`,
    )
    makeFolder(join(to, 'database'))
    for (let n = 1; ; n++) {
      const made = await attempt(data, to, onProgress)
      if (made) return made
      demand(n < tries, 'backup.moving', 'Files were removed while they were copied; try again in a moment.')
    }
  } catch (error) {
    throw (error instanceof Refusal ? undefined : diskRefusal(error, 'back up again')) ?? error
  }
}

/** undefined: a file that the copy of the database refers to was removed before it was copied. */
async function attempt(data: string, to: string, onProgress: OnProgress): Promise<Manifest | undefined> {
  const part = join(to, 'database', 'new.part')
  rmSync(part, { force: true })
  const live = new Database(join(data, 'hoja.sqlite'), { readonly: true })
  try {
    // In one step: a step begins anew whenever somebody writes between two.
    await live.backup(part, { progress: () => 2 ** 30 })
  } finally {
    live.close()
  }
  const copy = new Database(part)
  let files: [string, number][]
  let holds: Holds
  try {
    copy.pragma('journal_mode = DELETE')
    files = copy.prepare('SELECT sha256, size FROM assets ORDER BY sha256').raw().all() as [string, number][]
    holds = holdsOf(copy, statSync(part).size)
  } finally {
    copy.close()
  }
  syncFile(part)
  const [from, store] = [new FileStore(join(data, 'files')), new FileStore(join(to, 'files'))]
  const followed = dataFiles(join(data, 'followed'))
  let done = 0
  const of = files.length + followed.length
  const sizeOf = (path: string) => statSync(path, { throwIfNoEntry: false })?.size
  for (const [sha256] of files) {
    const size = sizeOf(from.path(sha256))
    if (size === undefined) return undefined
    // What was cut off there by a full disk or a hand is copied again.
    if (sizeOf(store.path(sha256)) !== size) await copyWhole(from.path(sha256), store.path(sha256), sha256)
    onProgress(++done, of)
  }
  const kept: Manifest['followed'] = []
  for (const path of followed) {
    // Somebody may be writing it right now: what was read is what is kept.
    kept.push({ path, sha256: store.put(readRegular(join(data, 'followed', path))) })
    onProgress(++done, of)
  }
  const sha256 = await hashOfFiles(part)
  renameSync(part, databaseOf(to, sha256))
  syncFolder(join(to, 'database'))
  const manifest: Manifest = {
    kind: 'hoja-backup',
    made: new Date().toISOString(),
    hoja: hojaVersion,
    database: { sha256, bytes: statSync(databaseOf(to, sha256)).size },
    files,
    followed: kept,
    holds,
  }
  writeWhole(manifestOf(to), JSON.stringify(manifest))
  clearBehind(to, manifest)
  return manifest
}

function dataFiles(folder: string): string[] {
  if (!existsSync(folder)) return []
  return readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => join(entry.parentPath, entry.name).slice(folder.length + 1))
}

/** Removes what only an older backup in the same folder referred to. */
function clearBehind(to: string, { database, files, followed }: Manifest): void {
  const own = new Set([...files.map(([sha256]) => sha256), ...followed.map(({ sha256 }) => sha256)])
  for (const name of readdirSync(join(to, 'database')))
    if (name !== `${database.sha256}.sqlite`) rmSync(join(to, 'database', name), { force: true })
  const root = join(to, 'files')
  for (const shelf of existsSync(root) ? readdirSync(root) : [])
    for (const name of readdirSync(join(root, shelf)))
      if (!own.has(name)) rmSync(join(root, shelf, name), { force: true })
}

/**
 * Restores a backup into a folder that holds no data. Everything of it is checked before anything is written.
 * @throws Refusal
 */
export async function restore(from: string, data: string, onProgress: OnProgress = () => {}): Promise<Manifest> {
  const manifest = readManifest(from)
  demand(manifest, 'backup.none', `There is no backup in "${from}"; give the folder of one.`)
  demand(
    !existsSync(join(data, 'hoja.sqlite')),
    'restore.folder',
    `"${data}" holds data already; give an empty folder with --data, or move that one away first.`,
  )
  const { database, files, followed } = manifest
  const store = new FileStore(join(from, 'files'))
  const stored = new Set(files.map(([sha256]) => sha256))
  const all = [...new Set([...stored, ...followed.map(({ sha256 }) => sha256)])]
  const of = 2 * all.length
  let done = 0
  for (const sha256 of all) {
    const path = store.path(sha256)
    const isWhole = existsSync(path) && (await hashOfFiles(path)) === sha256
    demand(
      isWhole,
      'backup.damaged',
      `The file ${sha256.slice(0, 12)}… of the backup is missing or damaged; nothing was restored.`,
    )
    onProgress(++done, of)
  }
  const path = databaseOf(from, database.sha256)
  const isWhole = existsSync(path) && (await hashOfFiles(path)) === database.sha256
  demand(
    isWhole && isSound(path),
    'backup.damaged',
    'The database of the backup is missing or damaged; nothing was restored.',
  )
  const owner = new Owner(data)
  try {
    const to = new FileStore(join(data, 'files'))
    for (const sha256 of all) {
      if (stored.has(sha256)) await copyWhole(store.path(sha256), to.path(sha256), sha256)
      onProgress(++done, of)
    }
    for (const { path: name, sha256 } of followed) {
      const target = resolve(data, 'followed', name)
      demand(
        target.startsWith(resolve(data, 'followed') + sep),
        'backup.path',
        `"${name}" leads out of the data folder.`,
      )
      await copyWhole(store.path(sha256), target, sha256)
    }
    // Last: with it the folder is data, and without it nothing was restored.
    await copyWhole(path, join(data, 'hoja.sqlite'), database.sha256)
  } catch (error) {
    throw (error instanceof Refusal ? undefined : diskRefusal(error, 'restore again')) ?? error
  } finally {
    owner.release()
  }
  return manifest
}

function isSound(path: string): boolean {
  const db = new Database(path, { readonly: true })
  try {
    return db.pragma('integrity_check', { simple: true }) === 'ok'
  } catch {
    return false
  } finally {
    db.close()
  }
}
