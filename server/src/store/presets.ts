import type { PresetSettings } from '@hoja/core/output'
import { type Db, now } from './database.ts'

export interface Preset {
  name: string
  settings: PresetSettings
}

/** Output settings that somebody gave a name. */
export class Presets {
  constructor(private readonly db: Db) {}

  list(): Preset[] {
    const rows = this.db.prepare('SELECT name, settings FROM presets ORDER BY name').all() as {
      name: string
      settings: string
    }[]
    return rows.map(({ name, settings }) => ({ name, settings: JSON.parse(settings) as PresetSettings }))
  }

  /** One of the same name is replaced. */
  put({ name, settings }: Preset): void {
    this.db
      .prepare(
        `INSERT INTO presets VALUES (?, ?, ?)
         ON CONFLICT DO UPDATE SET settings = excluded.settings, changed = excluded.changed`,
      )
      .run(name, JSON.stringify(settings), now())
  }

  remove(name: string): void {
    this.db.prepare('DELETE FROM presets WHERE name = ?').run(name)
  }
}
