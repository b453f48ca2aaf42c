import { join } from 'node:path'
import { Assets } from './assets.ts'
import { type Db, type Migrated, openDatabase } from './database.ts'
import { FileStore } from './files.ts'
import { Moves } from './moves.ts'
import { Outputs } from './outputs.ts'
import { Presets } from './presets.ts'
import { Previews } from './previews.ts'
import { Sheets } from './sheets.ts'
import { Templates } from './templates.ts'

/** Everything Hoja keeps, in one folder: the database, and the files beside it. */
export class Store {
  readonly db: Db
  readonly files: FileStore
  readonly assets: Assets
  readonly templates: Templates
  readonly sheets: Sheets
  readonly outputs: Outputs
  readonly presets: Presets
  readonly moves: Moves
  readonly previews: Previews
  /** Where finished titles lie, by their key. */
  readonly finished: string
  /** What was done to a database of an older Hoja when this was opened. */
  readonly migrated: Migrated | undefined

  constructor(readonly folder: string) {
    const { db, migrated } = openDatabase(folder)
    this.db = db
    this.migrated = migrated
    this.files = new FileStore(join(folder, 'files'))
    this.finished = join(folder, 'finished')
    this.assets = new Assets(this.db, this.files)
    this.templates = new Templates(this.db, this.assets, this.files)
    this.sheets = new Sheets(this.db)
    this.outputs = new Outputs(this.db)
    this.presets = new Presets(this.db)
    this.moves = new Moves(this.db)
    this.previews = new Previews(join(folder, 'previews'))
  }

  close(): void {
    this.db.close()
  }
}
