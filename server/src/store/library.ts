import { demand, Refusal } from '@hoja/core/refusal'
import { type Db, nextId, now } from './database.ts'

/** What designers made of their own for every template, by name: moves, or styles. */
export class Library<T extends { id: string; name: string }> {
  /** @param kind what is kept, and the table's name in the singular */
  constructor(
    private readonly db: Db,
    private readonly kind: 'move' | 'style',
  ) {}

  list(): T[] {
    const rows = this.db.prepare(`SELECT id, name, ${this.kind} AS made FROM ${this.kind}s ORDER BY name`).all() as {
      id: number
      name: string
      made: string
    }[]
    return rows.map((row) => ({ ...JSON.parse(row.made), id: `own-${row.id}`, name: row.name }))
  }

  /** @throws Refusal when the name is taken. */
  add(made: Omit<T, 'id'>): T {
    const { kind } = this
    const { name } = made as unknown as { name: string }
    const taken = this.db.prepare(`SELECT 1 FROM ${kind}s WHERE name = ?`).get(name)
    demand(!taken, `${kind}.name`, `A ${kind} called "${name}" is in the library already; choose another name.`)
    const id = this.db.transaction(() => {
      const next = nextId(this.db, kind)
      this.db
        .prepare(`INSERT INTO ${kind}s (id, name, ${kind}, created) VALUES (?, ?, ?, ?)`)
        .run(next, name, JSON.stringify(made), now())
      return next
    })()
    return { ...made, id: `own-${id}` } as T
  }

  remove(id: string): void {
    const { changes } = this.db.prepare(`DELETE FROM ${this.kind}s WHERE id = ?`).run(Number(id.replace('own-', '')))
    if (changes === 0) throw new Refusal(`${this.kind}.none`, `There is no such ${this.kind} any more.`, 404)
  }
}
