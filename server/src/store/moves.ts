import type { SavedMove } from '@hoja/core/motion'
import { demand, Refusal } from '@hoja/core/refusal'
import { type Db, nextId, now } from './database.ts'

/** Moves that designers made of their own keys, for every template. */
export class Moves {
  constructor(private readonly db: Db) {}

  list(): SavedMove[] {
    const rows = this.db.prepare('SELECT id, name, move FROM moves ORDER BY name').all() as {
      id: number
      name: string
      move: string
    }[]
    return rows.map((row) => ({ ...JSON.parse(row.move), id: `own-${row.id}`, name: row.name }))
  }

  /** @throws Refusal when the name is taken. */
  add(move: Omit<SavedMove, 'id'>): SavedMove {
    const taken = this.db.prepare('SELECT 1 FROM moves WHERE name = ?').get(move.name)
    demand(!taken, 'move.name', `A move called "${move.name}" is in the library already; choose another name.`)
    const id = this.db.transaction(() => {
      const next = nextId(this.db, 'move')
      this.db
        .prepare('INSERT INTO moves (id, name, move, created) VALUES (?, ?, ?, ?)')
        .run(next, move.name, JSON.stringify(move), now())
      return next
    })()
    return { ...move, id: `own-${id}` }
  }

  remove(id: string): void {
    const { changes } = this.db.prepare('DELETE FROM moves WHERE id = ?').run(Number(id.replace('own-', '')))
    if (changes === 0) throw new Refusal('move.none', 'There is no such move any more.', 404)
  }
}
