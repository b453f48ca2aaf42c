import { basename } from 'node:path'
import type { PackageFiles, TemplatePackage } from '@hoja/core/formats'
import { demand, Refusal } from '@hoja/core/refusal'
import { carriedBy, checkReferences, migrate, readTemplate, type Template } from '@hoja/core/template'
import type { Assets } from './assets.ts'
import { type Db, now } from './database.ts'
import { type FileStore, hashOf } from './files.ts'

export interface TemplateRow {
  id: string
  name: string
  revision: number
  created: string
  changed: string
  folder: string
  /** When it was put away; null while it is on the shelf. */
  archived: string | null
  template: Template
}

export interface VersionRow {
  id: number
  template: string
  number: number
  note: string
  created: string
  document: string
}

/** Somebody saved in between: both sides, so that nothing is overwritten unseen. */
export class StaleRevision extends Refusal {
  constructor(readonly current: TemplateRow) {
    super(
      'draft.stale',
      `"${current.name}" was saved elsewhere meanwhile (revision ${current.revision}); choose which one to keep.`,
      409,
    )
  }
}

/** What can be changed of a template without opening it. */
export interface ShelfChange {
  name?: string | undefined
  tags?: string[] | undefined
  folder?: string | undefined
  archived?: boolean | undefined
}

interface StoredTemplate extends Omit<TemplateRow, 'template'> {
  draft: string
  origin: string | null
}

/** A stored document as the code reads it now. The stored bytes stay as they are. */
export function readStored(text: string): Template {
  return migrate(JSON.parse(text)) as unknown as Template
}

/** Drafts and published versions. */
export class Templates {
  constructor(
    private readonly db: Db,
    private readonly assets: Assets,
    private readonly files: FileStore,
  ) {}

  list(): TemplateRow[] {
    const rows = this.db.prepare('SELECT * FROM templates ORDER BY name COLLATE NOCASE').all() as StoredTemplate[]
    return rows.map(unpack)
  }

  get(id: string): TemplateRow {
    const row = this.db.prepare('SELECT * FROM templates WHERE id = ?').get(id) as StoredTemplate | undefined
    if (!row) throw new Refusal('template.none', `There is no template "${id}".`, 404)
    return unpack(row)
  }

  /** Adds a template; its id gets a number when it is taken. */
  add(template: Template): TemplateRow {
    this.checkFiles(template)
    const taken = new Set((this.db.prepare('SELECT id FROM templates').all() as { id: string }[]).map((row) => row.id))
    let id = template.id
    for (let n = 2; taken.has(id); n++) id = `${template.id}-${n}`
    const document = { ...template, id }
    const time = now()
    this.db
      .prepare(
        'INSERT INTO templates (id, name, draft, revision, created, changed, origin) VALUES (?, ?, ?, 1, ?, ?, ?)',
      )
      .run(id, template.name, JSON.stringify(document), time, time, template.id)
    return this.get(id)
  }

  /** Saves a draft over `revision`. @throws StaleRevision when that is no longer the newest. */
  save(id: string, revision: number, value: unknown): TemplateRow {
    const template = readTemplate(value)
    this.checkFiles(template)
    const current = this.get(id)
    demand(template.id === id, 'template.id', `This draft belongs to "${template.id}", not to "${id}".`)
    const result = this.db
      .prepare(
        'UPDATE templates SET draft = ?, name = ?, revision = revision + 1, changed = ? WHERE id = ? AND revision = ?',
      )
      .run(JSON.stringify(template), template.name, now(), id, revision)
    if (result.changes === 0) throw new StaleRevision(current)
    return this.get(id)
  }

  /** Renames, tags, files away or puts back; name and tags are the draft's own. */
  shelve(id: string, change: ShelfChange): TemplateRow {
    const row = this.get(id)
    const { name = row.name, tags = row.template.tags, folder = row.folder } = change
    const archived = change.archived === undefined ? row.archived : change.archived ? now() : null
    this.db.transaction(() => {
      if (name !== row.name || JSON.stringify(tags) !== JSON.stringify(row.template.tags))
        this.save(id, row.revision, { ...row.template, name, tags })
      this.db.prepare('UPDATE templates SET folder = ?, archived = ? WHERE id = ?').run(folder, archived, id)
    })()
    return this.get(id)
  }

  /** A template's document under the id it came with, so that a package that came in goes out as it was. */
  asItCame(id: string, template: Template): Template {
    const { origin } = this.db.prepare('SELECT origin FROM templates WHERE id = ?').get(id) as { origin: string | null }
    return origin === null ? template : { ...template, id: origin }
  }

  remove(id: string): void {
    this.get(id)
    this.db.prepare('DELETE FROM templates WHERE id = ?').run(id)
  }

  publish(id: string, note: string): VersionRow {
    const { template } = this.get(id)
    checkReferences(template)
    const text = JSON.stringify(template)
    return this.db.transaction(() => {
      const document = this.assets.addDocument(text, `${id}.json`)
      const number = (
        this.db.prepare('SELECT COALESCE(MAX(number), 0) + 1 AS n FROM versions WHERE template = ?').get(id) as {
          n: number
        }
      ).n
      const { lastInsertRowid } = this.db
        .prepare('INSERT INTO versions (template, number, document, note, created) VALUES (?, ?, ?, ?, ?)')
        .run(id, number, document, note, now())
      return this.version(Number(lastInsertRowid))
    })()
  }

  versions(template: string): VersionRow[] {
    return this.db
      .prepare('SELECT * FROM versions WHERE template = ? ORDER BY number DESC')
      .all(template) as VersionRow[]
  }

  version(id: number): VersionRow {
    const row = this.db.prepare('SELECT * FROM versions WHERE id = ?').get(id) as VersionRow | undefined
    if (!row) throw new Refusal('version.none', `There is no version ${id}.`, 404)
    return row
  }

  /** The document of a version, exactly as published. */
  published(version: VersionRow): Template {
    return readStored(this.files.get(version.document).toString('utf8'))
  }

  /** Whether the draft differs from the newest version. */
  isAhead(row: TemplateRow): boolean {
    const newest = this.versions(row.id)[0]
    const { draft } = this.db.prepare('SELECT draft FROM templates WHERE id = ?').get(row.id) as { draft: string }
    return !newest || newest.document !== hashOf(draft)
  }

  /** Stores what a read package carries and adds its template. All of it, or nothing. */
  importPackage(pack: TemplatePackage): TemplateRow {
    return this.db.transaction(() => {
      for (const { file, ...entry } of carriedBy(pack.template))
        this.assets.add(pack.files[file]!, basename(file), 'movie' in entry ? entry.movie?.rate : undefined)
      return this.add(pack.template)
    })()
  }

  packageOf(template: Template, poster?: Uint8Array): TemplatePackage {
    const files: PackageFiles = {}
    for (const entry of carriedBy(template)) files[entry.file] = this.files.get(entry.sha256)
    if (poster) files['poster.png'] = poster
    return { template, files }
  }

  private checkFiles(template: Template): void {
    for (const entry of carriedBy(template))
      demand(
        this.assets.find(entry.sha256),
        'template.file',
        `The template uses ${entry.file}, which was never uploaded; add it again.`,
      )
  }
}

function unpack({ draft, origin: _, ...row }: StoredTemplate): TemplateRow {
  return { ...row, template: readStored(draft) }
}
