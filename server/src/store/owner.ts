import { chmodSync, existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { Refusal } from '@hoja/core/refusal'
import Database from 'better-sqlite3'
import { startRefusal } from './startRefusal.ts'

/**
 * One owner of a data folder: whoever holds the lock of `owner.sqlite` in it. It is the system's own lock on a file, so it
 * goes with its process, however that ends.
 */
export class Owner {
  private readonly lock: Database.Database
  private readonly note: string
  /** Whether the owner before did not come to an end. */
  readonly unclean: boolean

  /** @throws Refusal for a folder that somebody owns, saying who; or that can't be written */
  constructor(folder: string) {
    this.note = join(folder, 'owner.json')
    try {
      mkdirSync(folder, { recursive: true, mode: 0o700 })
      ownOnly(folder)
      this.lock = new Database(join(folder, 'owner.sqlite'), { timeout: 0 })
    } catch (error) {
      throw startRefusal(error, folder)
    }
    try {
      this.lock.pragma('journal_mode = MEMORY')
      this.lock.exec('BEGIN EXCLUSIVE')
    } catch (error) {
      this.lock.close()
      if ((error as { code?: string }).code !== 'SQLITE_BUSY') throw startRefusal(error, folder)
      throw new Refusal(
        'data.owned',
        `The data folder "${folder}" is in use by ${this.other()}; use that one, stop it, or give another folder with --data.`,
        409,
      )
    }
    this.unclean = existsSync(this.note)
  }

  /** Says to others where the owner is to be found. */
  tell(address: string): void {
    writeFileSync(this.note, JSON.stringify({ process: process.pid, address }))
  }

  release(): void {
    rmSync(this.note, { force: true })
    this.lock.close()
  }

  private other(): string {
    try {
      const { process: pid, address } = JSON.parse(readFileSync(this.note, 'utf8')) as Record<string, unknown>
      return `the Hoja at ${address} (process ${pid})`
    } catch {
      return 'another Hoja that is just starting'
    }
  }
}

/** Nobody else of this machine looks into a data folder. */
function ownOnly(folder: string): void {
  try {
    if (existsSync(folder)) chmodSync(folder, 0o700)
  } catch (error) {
    // Somebody else's folder that may be written, or a file system that knows no such modes.
    if (!['EPERM', 'ENOTSUP', 'EINVAL'].includes((error as NodeJS.ErrnoException).code ?? '')) throw error
  }
}
