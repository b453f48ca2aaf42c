import { demand, Refusal } from '@hoja/core/refusal'
import { carriedBy, migrate, type Template } from '@hoja/core/template'
import { type About, aboutOf } from './about.ts'
import type { Asset, Assets } from './assets.ts'
import { type Db, nextId, now } from './database.ts'
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
  about: About
}

export interface TemplateDraft extends TemplateRow {
  template: Template
}

/** A template's document, read and checked, as it is kept. */
export interface CheckedDraft {
  text: string
  about: About
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
  constructor(readonly current: TemplateDraft) {
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

interface StoredTemplate extends Omit<TemplateRow, 'about'> {
  draft: string
  about: string | null
  origin: string | null
}

/** A stored document as the code reads it now. The stored bytes stay as they are. */
export function readStored(text: string): Template {
  return migrate(JSON.parse(text)) as unknown as Template
}

/** Documents of versions that are kept as they were read. */
const keep = 30

/** Drafts and published versions. */
export class Templates {
  private readonly read = new Map<string, Template>()

  constructor(
    private readonly db: Db,
    private readonly assets: Assets,
    private readonly files: FileStore,
  ) {}

  list(): TemplateRow[] {
    const rows = this.db.prepare('SELECT * FROM templates ORDER BY name COLLATE NOCASE').all() as StoredTemplate[]
    return rows.map((row) => this.unpacked(row))
  }

  get(id: string): TemplateDraft {
    const row = this.db.prepare('SELECT * FROM templates WHERE id = ?').get(id) as StoredTemplate | undefined
    if (!row) throw new Refusal('template.none', `There is no template "${id}".`, 404)
    return { ...this.unpacked(row), template: readStored(row.draft) }
  }

  private unpacked({ draft, origin: _, ...row }: StoredTemplate): TemplateRow {
    if (row.about !== null) return { ...row, about: JSON.parse(row.about) as About }
    // Kept by an older Hoja: looked at once.
    const about = aboutOf(readStored(draft))
    this.db.prepare('UPDATE templates SET about = ? WHERE id = ?').run(JSON.stringify(about), row.id)
    return { ...row, about }
  }

  /** Adds a template; its id gets a number when it was ever given. */
  add(template: Template): TemplateDraft {
    const about = aboutOf(template)
    this.checkFiles(about)
    return this.db.transaction(() => {
      const isGiven = this.db.prepare('SELECT 1 FROM given_names WHERE id = ?')
      let id = template.id
      for (let n = 2; isGiven.get(id); n++) id = `${template.id}-${n}`
      this.db.prepare('INSERT INTO given_names VALUES (?)').run(id)
      const time = now()
      this.db
        .prepare(
          'INSERT INTO templates (id, name, draft, about, revision, created, changed, origin) VALUES (?, ?, ?, ?, 1, ?, ?, ?)',
        )
        .run(
          id,
          template.name,
          JSON.stringify({ ...template, id }),
          JSON.stringify({ ...about, id }),
          time,
          time,
          template.id,
        )
      return this.get(id)
    })()
  }

  /** Saves a draft, read and checked, over `revision`. @throws StaleRevision when that is no longer the newest. */
  save(id: string, revision: number, { text, about }: CheckedDraft): Pick<TemplateRow, 'revision' | 'changed'> {
    this.checkFiles(about)
    demand(about.id === id, 'template.id', `This draft belongs to "${about.id}", not to "${id}".`)
    const time = now()
    const result = this.db
      .prepare(
        `UPDATE templates SET draft = ?, about = ?, name = ?, revision = revision + 1, changed = ?
         WHERE id = ? AND revision = ?`,
      )
      .run(text, JSON.stringify(about), about.name, time, id, revision)
    if (result.changes === 0) throw new StaleRevision(this.get(id))
    return { revision: revision + 1, changed: time }
  }

  /** Renames, tags, files away or puts back; name and tags are the draft's own. */
  shelve(id: string, change: ShelfChange): TemplateRow {
    const { template, ...row } = this.get(id)
    const { name = row.name, tags = template.tags, folder = row.folder } = change
    const archived = change.archived === undefined ? row.archived : change.archived ? now() : null
    return this.db.transaction(() => {
      if (name !== row.name || JSON.stringify(tags) !== JSON.stringify(template.tags)) {
        const renamed = { ...template, name, tags }
        this.save(id, row.revision, { text: JSON.stringify(renamed), about: aboutOf(renamed) })
      }
      this.db.prepare('UPDATE templates SET folder = ?, archived = ? WHERE id = ?').run(folder, archived, id)
      return this.get(id)
    })()
  }

  /** A template's document under the id it came with, so that a package that came in goes out as it was. */
  asItCame(id: string, template: Template): Template {
    const { origin } = this.db.prepare('SELECT origin FROM templates WHERE id = ?').get(id) as { origin: string | null }
    return origin === null ? template : { ...template, id: origin }
  }

  /** @returns SHA-256 of the files that it, and its versions, used */
  remove(id: string): Set<string> {
    const { about } = this.get(id)
    for (const version of this.versions(id)) this.noteFiles(version.id)
    const carried = this.db
      .prepare('SELECT f.sha256 FROM version_files f JOIN versions v ON v.id = f.version WHERE v.template = ?')
      .pluck()
      .all(id) as string[]
    this.db.prepare('DELETE FROM templates WHERE id = ?').run(id)
    return new Set([...carried, ...about.files.map(([, sha256]) => sha256)])
  }

  /** Writes down what a version carries, itself included. */
  noteFiles(id: number): void {
    const version = this.version(id)
    const insert = this.db.prepare('INSERT INTO version_files VALUES (?, ?) ON CONFLICT DO NOTHING')
    for (const { sha256 } of carriedBy(this.published(version))) insert.run(id, sha256)
    insert.run(id, version.document)
  }

  /**
   * Publishes the draft; one that is published already stays the version that it is.
   * @param revision of the draft that is meant; absent: whatever it is. @throws StaleRevision
   */
  publish(id: string, note: string, revision?: number): VersionRow {
    return this.db.transaction(() => {
      const row = this.db.prepare('SELECT draft, revision FROM templates WHERE id = ?').get(id) as
        | { draft: string; revision: number }
        | undefined
      if (!row || (revision !== undefined && row.revision !== revision)) throw new StaleRevision(this.get(id))
      const [newest] = this.versions(id)
      const document = this.assets.addDocument(row.draft, `${id}.json`)
      if (newest?.document === document) return newest
      const version = nextId(this.db, 'version')
      this.db
        .prepare('INSERT INTO versions (id, template, number, document, note, created) VALUES (?, ?, ?, ?, ?, ?)')
        .run(version, id, (newest?.number ?? 0) + 1, document, note, now())
      this.noteFiles(version)
      return this.version(version)
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

  /** The document of a version, exactly as published: it never changes, so the last ones read are kept. */
  published({ document }: Pick<VersionRow, 'document'>): Template {
    const known = this.read.get(document)
    if (known) return known
    const template = readStored(this.files.get(document).toString('utf8'))
    if (this.read.size >= keep) this.read.delete(this.read.keys().next().value!)
    this.read.set(document, template)
    return template
  }

  /** Whether the draft differs from the newest version. */
  isAhead(row: Pick<TemplateRow, 'id'>): boolean {
    const newest = this.versions(row.id)[0]
    const { draft } = this.db.prepare('SELECT draft FROM templates WHERE id = ?').get(row.id) as { draft: string }
    return !newest || newest.document !== hashOf(draft)
  }

  /**
   * Adds the template of a package, whose files lie in the store by now. All of it, or nothing.
   * @param into another state of this template instead
   * @param publish with which note it is published as well
   */
  importPackage(
    { text }: CheckedDraft,
    assets: readonly Asset[],
    { into, publish }: { into?: string | undefined; publish?: string | undefined } = {},
  ): TemplateDraft {
    return this.db.transaction(() => {
      for (const asset of assets) this.assets.record(asset)
      const template = readStored(text)
      const { id } = into === undefined ? this.add(template) : this.put(into, template)
      if (publish !== undefined) this.publish(id, publish)
      return this.get(id)
    })()
  }

  /** Puts another state in the place of a draft. */
  private put(id: string, template: Template): { id: string } {
    const own = { ...template, id }
    this.save(id, this.get(id).revision, { text: JSON.stringify(own), about: aboutOf(own) })
    return { id }
  }

  private checkFiles({ files }: About): void {
    for (const [file, sha256] of files)
      demand(
        this.assets.find(sha256),
        'template.file',
        `The template uses ${file}, which was never uploaded; add it again.`,
      )
  }
}
