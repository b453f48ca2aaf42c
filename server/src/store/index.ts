import { mkdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import type { SavedMove } from '@hoja/core/motion'
import type { ShelfStyle } from '@hoja/core/template'
import { Assets } from './assets.ts'
import { Channels } from './channels.ts'
import { type Db, type Migrated, openDatabase } from './database.ts'
import { FileStore } from './files.ts'
import { Library } from './library.ts'
import { Outputs } from './outputs.ts'
import { Presets } from './presets.ts'
import { Previews } from './previews.ts'
import { Productions } from './productions.ts'
import { Programmes } from './programmes.ts'
import { Sheets } from './sheets.ts'
import { Templates } from './templates.ts'
import { Tidy } from './tidy.ts'

/** Everything Hoja keeps, in one folder: the database, and the files beside it. */
export class Store {
  readonly db: Db
  readonly files: FileStore
  readonly assets: Assets
  readonly templates: Templates
  readonly sheets: Sheets
  readonly outputs: Outputs
  readonly presets: Presets
  readonly productions: Productions
  readonly programmes: Programmes
  readonly channels: Channels
  readonly moves: Library<SavedMove>
  readonly styles: Library<ShelfStyle>
  readonly previews: Previews
  readonly tidy: Tidy
  /** Where files lie that came in and are not kept yet: what a crash leaves there is nobody's. */
  readonly incoming: string
  /** Where finished titles lie, by their key. */
  readonly finished: string
  /** What was done to a database of an older Hoja when this was opened. */
  readonly migrated: Migrated | undefined

  /** @param unclean whether whoever had it before did not come to an end */
  constructor(
    readonly folder: string,
    unclean = false,
  ) {
    const { db, migrated } = openDatabase(folder, unclean)
    this.db = db
    this.migrated = migrated
    this.files = new FileStore(join(folder, 'files'))
    this.finished = join(folder, 'finished')
    this.incoming = join(folder, 'incoming')
    rmSync(this.incoming, { recursive: true, force: true })
    mkdirSync(this.incoming, { recursive: true, mode: 0o700 })
    this.assets = new Assets(this.db, this.files)
    this.templates = new Templates(this.db, this.assets, this.files)
    this.sheets = new Sheets(this.db)
    this.outputs = new Outputs(this.db)
    this.presets = new Presets(this.db)
    this.productions = new Productions(this.db)
    this.programmes = new Programmes(this.db)
    this.channels = new Channels(this.db)
    this.moves = new Library(this.db, 'move')
    this.styles = new Library(this.db, 'style')
    this.previews = new Previews(join(folder, 'previews'))
    this.tidy = new Tidy(this)
  }

  /** Something that is known of the whole folder. */
  fact(key: 'seeded'): string | undefined {
    return this.db.prepare('SELECT value FROM facts WHERE key = ?').pluck().get(key) as string | undefined
  }

  setFact(key: 'seeded', value: string): void {
    this.db.prepare('INSERT INTO facts VALUES (?, ?) ON CONFLICT DO UPDATE SET value = excluded.value').run(key, value)
  }

  close(): void {
    this.db.close()
  }
}
