import { demand, Refusal } from '@hoja/core/refusal'
import { type Db, nextId, now } from './database.ts'

export interface Production {
  id: number
  name: string
  created: string
  /** Templates that are used in it, besides those of its sheets. */
  templates: string[]
}

/** Shows that editors work on, each with its templates; their sheets say themselves where they belong. */
export class Productions {
  constructor(private readonly db: Db) {}

  list(): Production[] {
    const rows = this.db.prepare('SELECT * FROM productions ORDER BY name').all() as Omit<Production, 'templates'>[]
    return rows.map((row) => ({ ...row, templates: this.templatesOf(row.id) }))
  }

  /** @throws Refusal, 404 */
  get(id: number): Production {
    const row = this.db.prepare('SELECT * FROM productions WHERE id = ?').get(id) as
      | Omit<Production, 'templates'>
      | undefined
    if (!row) throw new Refusal('production.none', `There is no production ${id} any more.`, 404)
    return { ...row, templates: this.templatesOf(id) }
  }

  /** @throws Refusal when the name is taken */
  add(name: string): Production {
    return this.db.transaction(() => {
      this.demandFree(name)
      const id = nextId(this.db, 'production')
      this.db.prepare('INSERT INTO productions VALUES (?, ?, ?)').run(id, name, now())
      return this.get(id)
    })()
  }

  /** Another name, or other templates. @throws Refusal for a name that is taken or a template that is not there */
  change(id: number, { name, templates }: { name?: string | undefined; templates?: string[] | undefined }): Production {
    return this.db.transaction(() => {
      const old = this.get(id)
      if (name !== undefined && name !== old.name) {
        this.demandFree(name)
        this.db.prepare('UPDATE productions SET name = ? WHERE id = ?').run(name, id)
      }
      if (templates) {
        const isThere = this.db.prepare('SELECT 1 FROM templates WHERE id = ?')
        for (const template of templates)
          demand(isThere.get(template), 'production.template', `There is no template "${template.slice(0, 60)}".`)
        this.db.prepare('DELETE FROM production_templates WHERE production = ?').run(id)
        const add = this.db.prepare('INSERT OR IGNORE INTO production_templates VALUES (?, ?)')
        for (const template of templates) add.run(id, template)
      }
      return this.get(id)
    })()
  }

  /** Its sheets, outputs and templates stay: they belong to no production then. */
  remove(id: number): void {
    this.get(id)
    this.db.prepare('DELETE FROM productions WHERE id = ?').run(id)
  }

  private templatesOf(id: number): string[] {
    return this.db
      .prepare('SELECT template FROM production_templates WHERE production = ? ORDER BY template')
      .pluck()
      .all(id) as string[]
  }

  private demandFree(name: string): void {
    const taken = this.db.prepare('SELECT 1 FROM productions WHERE name = ?').get(name)
    demand(!taken, 'production.name', `A production called "${name}" is there already; choose another name.`)
  }
}
