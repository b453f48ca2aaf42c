import { LastFew } from '@hoja/core/cache'
import { lengthOf, type Programme, readProgramme, titlesOf } from '@hoja/core/programme'
import { Refusal } from '@hoja/core/refusal'
import { type Patch, patched } from '@hoja/core/session'
import { type Db, nextId, now } from './database.ts'

/** What is told of a programme in a list. */
export interface ProgrammeRow {
  id: number
  production: number | null
  name: string
  revision: number
  created: string
  changed: string
  /** Titles in it, and frames, of its rate. */
  titles: number
  frames: number
  rate: Programme['picture']['rate']
}

/** What is told of a programme without reading it. */
type About = Pick<ProgrammeRow, 'titles' | 'frames' | 'rate'>
type StoredRow = Omit<ProgrammeRow, keyof About> & { about: string }

const aboutOf = (programme: Programme): About => ({
  titles: titlesOf(programme).length,
  frames: lengthOf(programme),
  rate: programme.picture.rate,
})

const told = ({ about, ...row }: StoredRow): ProgrammeRow => ({ ...row, ...(JSON.parse(about) as About) })

const columns = 'id, production, name, revision, created, changed, about'

/** Somebody saved in between. */
const stale = (name: string) =>
  new Refusal('programme.stale', `"${name}" was saved elsewhere meanwhile; choose which one to keep.`, 409)

/** Programmes whose documents are kept as they were read. */
const keep = 8

/** Programmes and their documents. */
export class Programmes {
  /** By id, with the revision that it is of. */
  private readonly read = new LastFew<number, { revision: number; programme: Programme }>(keep)

  constructor(private readonly db: Db) {}

  list(): ProgrammeRow[] {
    const rows = this.db.prepare(`SELECT ${columns} FROM programmes ORDER BY name COLLATE NOCASE`).all() as StoredRow[]
    return rows.map(told)
  }

  /** What lists tell of a programme. @throws Refusal, 404 */
  about(id: number): ProgrammeRow {
    return told(this.stored(id))
  }

  /** @throws Refusal, 404 */
  get(id: number): ProgrammeRow & { programme: Programme } {
    const row = this.stored(id)
    return { ...told(row), programme: this.document(row) }
  }

  add(programme: Programme, production: number | null): ProgrammeRow {
    const time = now()
    return this.db.transaction(() => {
      const id = nextId(this.db, 'programme')
      this.db
        .prepare(
          `INSERT INTO programmes (id, production, name, document, about, revision, created, changed)
           VALUES (?, ?, ?, ?, ?, 1, ?, ?)`,
        )
        .run(id, production, programme.name, JSON.stringify(programme), JSON.stringify(aboutOf(programme)), time, time)
      return this.get(id)
    })()
  }

  /**
   * Changes places of the document, all or none.
   * @param revision that they were changed on
   * @param check what else must hold of the result
   * @throws Refusal for what can't be, 409 for a stale revision
   */
  change(
    id: number,
    revision: number,
    patches: readonly Patch[],
    check: (next: Programme, before: Programme) => void,
  ): Pick<ProgrammeRow, 'revision' | 'changed'> {
    const row = this.stored(id)
    if (row.revision !== revision) throw stale(row.name)
    const before = this.document(row)
    const next = readProgramme(made(before, patches), before)
    check(next, before)
    const time = now()
    const { changes } = this.db
      .prepare(
        `UPDATE programmes SET document = ?, about = ?, name = ?, revision = revision + 1, changed = ?
         WHERE id = ? AND revision = ?`,
      )
      .run(JSON.stringify(next), JSON.stringify(aboutOf(next)), next.name, time, id, revision)
    if (changes === 0) throw stale(row.name)
    this.read.set(id, { revision: revision + 1, programme: next })
    return { revision: revision + 1, changed: time }
  }

  remove(id: number): void {
    this.stored(id)
    this.db.prepare('DELETE FROM programmes WHERE id = ?').run(id)
  }

  private stored(id: number): StoredRow {
    const row = this.db.prepare(`SELECT ${columns} FROM programmes WHERE id = ?`).get(id) as StoredRow | undefined
    if (!row) throw new Refusal('programme.none', `There is no programme ${id} any more.`, 404)
    return row
  }

  private document({ id, revision }: Pick<StoredRow, 'id' | 'revision'>): Programme {
    const known = this.read.get(id)
    if (known?.revision === revision) return known.programme
    const text = this.db.prepare('SELECT document FROM programmes WHERE id = ?').pluck().get(id) as string
    const programme = readProgramme(JSON.parse(text))
    this.read.set(id, { revision, programme })
    return programme
  }
}

/** @throws Refusal for patches of places that are not there */
function made(programme: Programme, patches: readonly Patch[]): unknown {
  try {
    return patched(programme as unknown, patches)
  } catch {
    throw new Refusal('programme.patch', 'A change is of a place that the programme does not have; load it again.')
  }
}
