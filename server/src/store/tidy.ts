import { renameSync, rmSync } from 'node:fs'
import { readdir, rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import { setImmediate } from 'node:timers/promises'
import { diskRefusal } from '../render/disk.ts'
import type { Db } from './database.ts'
import type { FileStore } from './files.ts'
import type { Sheets } from './sheets.ts'
import type { Templates } from './templates.ts'

/** Seconds after which a file that nothing uses goes: a page that is open may still hold what it undid. */
const grace = 24 * 3600
/** Seconds that a file may lie in the store before it is written down; what lay there at the start never will be. */
const unwritten = 3600
const began = Date.now()
/** ms between two rounds, and from a removal to the next one. */
const [every, soon] = [6 * 3600_000, 500]

/** What is cleared. */
interface Kept {
  folder: string
  db: Db
  files: FileStore
  templates: Templates
  sheets: Sheets
  /** Folder of finished titles. */
  finished: string
}

/** Clears away, a little at a time and beside everything else, what nobody can reach any more. */
export class Tidy {
  private timer: NodeJS.Timeout | undefined
  private working: Promise<void> = Promise.resolve()
  private stopped = true
  private beside: ((isKept: (sha256: string) => boolean) => void)[] = []
  private log: (error: unknown) => void = () => {}

  constructor(private readonly store: Kept) {}

  private get db(): Db {
    return this.store.db
  }

  /** The first round takes what an end in the middle left. */
  start(log: (error: unknown) => void = () => {}): void {
    this.stopped = false
    this.log = log
    this.store.sheets.giveUpArriving()
    this.later(soon)
  }

  stop(): void {
    this.stopped = true
    clearTimeout(this.timer)
  }

  /** Something that is kept of files, elsewhere, and goes with them. */
  also(clear: (isKept: (sha256: string) => boolean) => void): void {
    this.beside.push(clear)
  }

  /** Something was removed. */
  soon(): void {
    if (!this.stopped) this.later(soon)
  }

  /** Files that something used which was removed: they go with the next round, unless something else does. */
  released(files: Iterable<string>): void {
    const mark = this.db.prepare("UPDATE assets SET unused = '' WHERE sha256 = ?")
    for (const sha256 of files) mark.run(sha256)
    this.soon()
  }

  /** One round. */
  round(): Promise<void> {
    // One that failed is no reason not to try again.
    this.working = this.working
      .catch(() => {})
      .then(async () => {
        while (!this.stopped && this.store.sheets.clear()) await setImmediate()
        // What versions carry has to be known before anything is taken to be unused.
        for (const step of [
          this.readVersions,
          this.assets,
          this.others,
          this.strayFiles,
          this.halfWritten,
          this.finished,
        ]) {
          if (this.stopped) return
          await step.call(this)
        }
      })
    return this.working
  }

  private later(milliseconds: number): void {
    clearTimeout(this.timer)
    this.timer = setTimeout(() => {
      this.round()
        .catch((error: unknown) => {
          // Where nothing can be written nothing can be cleared away, either; the next round will.
          if (!this.stopped && !diskRefusal(error)) this.log(error)
        })
        .finally(() => {
          if (!this.stopped) this.later(every)
        })
    }, milliseconds)
    this.timer.unref()
  }

  /** Writes down what versions carry that an older Hoja published. */
  private async readVersions(): Promise<void> {
    const ids = this.db
      .prepare('SELECT id FROM versions WHERE id NOT IN (SELECT version FROM version_files)')
      .pluck()
      .all() as number[]
    for (const id of ids) {
      if (this.stopped) return
      this.store.templates.noteFiles(id)
      await setImmediate()
    }
  }

  /** Every file that something refers to. */
  private used(): Set<string> {
    const all = this.db
      .prepare(
        `SELECT sha256 FROM version_files
         UNION SELECT file.value ->> 1 FROM templates t, json_each(t.about, '$.files') file
         UNION SELECT sha256 FROM sheet_pictures
         UNION SELECT sha256 FROM fonts_instead
         UNION SELECT picture.value ->> 'sha256' FROM outputs o, json_each(o.pictures) picture
         UNION SELECT file.value ->> 'sha256' FROM styles, json_each(style, '$.clipping.fonts') file
         UNION SELECT file.value ->> 'sha256' FROM styles, json_each(style, '$.clipping.media') file
         UNION SELECT medium.value ->> 'sha256' FROM programmes, json_each(document, '$.media') medium
           WHERE medium.value ->> 'sha256' IS NOT NULL
         UNION SELECT settings ->> '$.review.document' FROM outputs WHERE settings ->> '$.review.document' IS NOT NULL
         UNION SELECT settings ->> '$.backdrop.sha256' FROM outputs WHERE settings ->> '$.backdrop.sha256' IS NOT NULL
         UNION SELECT settings ->> '$.backdrop.sha256' FROM presets WHERE settings ->> '$.backdrop.sha256' IS NOT NULL`,
      )
      .pluck()
      .all() as string[]
    return new Set(all)
  }

  private async assets(): Promise<void> {
    // A draft that an older Hoja kept has to be looked at before it is known what it uses.
    this.store.templates.list()
    const used = this.used()
    const rows = this.db.prepare('SELECT sha256, kind, unused FROM assets').all() as {
      sha256: string
      kind: string
      unused: string | null
    }[]
    const now = Date.now()
    const mark = this.db.prepare('UPDATE assets SET unused = ? WHERE sha256 = ?')
    const forget = this.db.prepare('DELETE FROM assets WHERE sha256 = ? AND unused IS NOT NULL')
    for (const { sha256, kind, unused } of rows) {
      if (used.has(sha256)) {
        if (unused !== null) mark.run(null, sha256)
      } else if (unused === '' || (kind !== 'font' && unused !== null && now - Date.parse(unused) > grace * 1000)) {
        // Both at once: somebody may be bringing the same file right now, and must find either both or neither.
        if (forget.run(sha256).changes > 0) rmSync(this.store.files.path(sha256), { force: true })
        await setImmediate()
      } else if (unused === null && kind !== 'font') mark.run(new Date(now).toISOString(), sha256)
    }
  }

  private async others(): Promise<void> {
    const isKnown = this.db.prepare('SELECT 1 FROM assets WHERE sha256 = ?')
    for (const clear of this.beside) clear((sha256) => isKnown.get(sha256) !== undefined)
  }

  /** Files of the store that are not written down: half written, or taken in and never recorded. */
  private async strayFiles(): Promise<void> {
    const { folder } = this.store.files
    const isKnown = this.db.prepare('SELECT 1 FROM assets WHERE sha256 = ?')
    for (const shelf of await names(folder))
      for (const name of await names(join(folder, shelf))) {
        if (this.stopped) return
        if (isKnown.get(name)) continue
        const path = join(folder, shelf, name)
        const isStray = (await isOlder(path, unwritten)) || (await isFromBefore(path))
        if (isStray && !this.stopped && !isKnown.get(name)) rmSync(path, { force: true })
      }
  }

  /** What an end in the middle of writing left of previews, and in the folder itself. */
  private async halfWritten(): Promise<void> {
    for (const folder of [this.store.folder, join(this.store.folder, 'previews')])
      for (const name of await names(folder)) {
        const path = join(folder, name)
        if (name.endsWith('.part') && (await isFromBefore(path))) await rm(path, { force: true })
      }
  }

  /** Titles that no output refers to, while nothing is rendered. */
  private async finished(): Promise<void> {
    const root = this.store.finished
    const isUsed = this.db.prepare('SELECT 1 FROM titles WHERE result = ? LIMIT 1')
    const isBusy = this.db.prepare("SELECT 1 FROM titles WHERE state = 'running' LIMIT 1")
    for (const shelf of await names(root))
      for (const key of await names(join(root, shelf))) {
        if (this.stopped || isBusy.get()) return
        if (key.endsWith('.part') || isUsed.get(key)) continue
        const folder = join(root, shelf, key)
        // Away in one step: whoever looks for it meanwhile finds all of it or none.
        renameSync(folder, `${folder}.part`)
        await rm(`${folder}.part`, { recursive: true, force: true })
      }
  }
}

async function names(folder: string): Promise<string[]> {
  try {
    return await readdir(folder)
  } catch {
    return []
  }
}

/** Whether it was there before this process had the folder. */
async function isFromBefore(path: string): Promise<boolean> {
  try {
    return (await stat(path)).mtimeMs < began
  } catch {
    return false
  }
}

async function isOlder(path: string, seconds: number): Promise<boolean> {
  try {
    return Date.now() - (await stat(path)).mtimeMs > seconds * 1000
  } catch {
    return false
  }
}
