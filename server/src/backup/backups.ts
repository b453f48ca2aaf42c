import { resolve } from 'node:path'
import { Refusal } from '@hoja/core/refusal'
import type { Jobs } from '../jobs/jobs.ts'
import type { Store } from '../store/index.ts'
import { readManifest } from './backup.ts'
import { holdsOf, holdsWords } from './holds.ts'

export interface BackupState {
  folder: string
  /** What would be backed up now, in words. */
  now: string
  /** The backup that lies in the folder. */
  last: { made: string; holds: string } | null
  running: { done: number; of: number } | null
  /** Why the last one failed. */
  trouble: string | null
}

/** Where backups go when nobody says otherwise: beside the data. */
export const backupBeside = (data: string): string => `${resolve(data)}-backup`

/** Backups of the running server, one at a time. */
export class Backups {
  private running: BackupState['running'] = null
  private trouble: string | null = null

  constructor(
    private readonly store: Store,
    private readonly jobs: Jobs,
    private readonly folder: string,
  ) {}

  state(): BackupState {
    const { db } = this.store
    const size = (name: string) => db.pragma(name, { simple: true }) as number
    return {
      folder: this.folder,
      now: holdsWords(holdsOf(db, size('page_count') * size('page_size'))),
      last: this.last(),
      running: this.running,
      trouble: this.trouble,
    }
  }

  private last(): BackupState['last'] {
    try {
      const manifest = readManifest(this.folder)
      return manifest ? { made: manifest.made, holds: holdsWords(manifest.holds) } : null
    } catch {
      // Something else lies there: told when somebody backs up to it.
      return null
    }
  }

  /** Begins one. @throws Refusal when one is being made */
  start(): void {
    if (this.running)
      throw new Refusal('backup.running', 'A backup is being made already; wait until it is there.', 409)
    this.running = { done: 0, of: 1 }
    this.trouble = null
    const data = resolve(this.store.folder)
    const onPiece = (rows: string[]) => {
      this.running = JSON.parse(rows[0]!) as { done: number; of: number }
    }
    this.jobs
      .run<'backUp'>({ kind: 'backUp', data, to: this.folder }, { onPiece })
      .catch((error: Error) => {
        this.trouble =
          error instanceof Refusal ? error.message : `The backup could not be made: ${error.message.split('\n')[0]}`
      })
      .finally(() => {
        this.running = null
      })
  }
}
