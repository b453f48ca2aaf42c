import {
  chmodSync,
  chownSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  utimesSync,
  writeFileSync,
} from 'node:fs'
import { join } from 'node:path'
import { newTemplate } from '@hoja/core/template'
import Database from 'better-sqlite3'
import fc from 'fast-check'
import { Intake } from '../jobs/intake.ts'
import { demo, temporaryFolder } from '../testing/running.ts'
import { aboutOf } from './about.ts'
import { openDatabase } from './database.ts'
import { FileStore, hashOf, writeWhole } from './files.ts'
import { Store } from './index.ts'

const folder = temporaryFolder()
const store = new Store(folder)
afterAll(() => {
  store.close()
  rmSync(folder, { recursive: true, force: true })
})

const migrations = readdirSync(new URL('./migrations', import.meta.url)).sort()

/** A data folder as it was when only the first migrations were there. */
function olderFolder(done: number): { folder: string; db: Database.Database } {
  const old = temporaryFolder()
  const db = new Database(join(old, 'hoja.sqlite'))
  for (const file of migrations.slice(0, done))
    db.exec(readFileSync(new URL(`./migrations/${file}`, import.meta.url), 'utf8'))
  db.pragma(`user_version = ${done}`)
  return { folder: old, db }
}

test('the database is in WAL mode, keeps foreign keys, syncs what it acknowledges, and migrates once', () => {
  expect(store.db.pragma('journal_mode', { simple: true })).toBe('wal')
  expect(store.db.pragma('foreign_keys', { simple: true })).toBe(1)
  expect(store.db.pragma('synchronous', { simple: true })).toBe(2)
  const { db: again, migrated } = openDatabase(folder)
  expect(again.pragma('user_version', { simple: true })).toBe(migrations.length)
  expect(migrated).toBeUndefined()
  again.close()
})

test('a folder that a newer Hoja has written is refused and not touched', () => {
  const { folder: newer, db } = olderFolder(migrations.length)
  db.pragma('user_version = 900')
  db.close()
  const before = readFileSync(join(newer, 'hoja.sqlite'))
  expect(() => new Store(newer)).toThrow(
    `"${newer}" was written by a newer Hoja (database 900, this one knows up to ${migrations.length}); update Hoja`,
  )
  expect(readFileSync(join(newer, 'hoja.sqlite')).equals(before)).toBe(true)
  expect(readdirSync(newer)).toEqual(['hoja.sqlite'])
  rmSync(newer, { recursive: true, force: true })
})

test('before a migration the database is copied beside itself, whole, what stands in its log included', () => {
  const { folder: old, db } = olderFolder(6)
  db.pragma('journal_mode = WAL')
  db.prepare("INSERT INTO presets VALUES ('Clips', ?, 'then')").run('{"format":"mov","rows":[2,3]}')
  // A copy that an earlier start began and did not finish, and one that it did.
  const day = new Date().toISOString().slice(0, 10)
  writeFileSync(join(old, `hoja-database-6-${day}.sqlite`), 'mine')
  writeFileSync(join(old, `hoja-database-6-${day}-2.sqlite.part`), 'half')
  const opened = new Store(old)
  db.close()
  const backup = join(old, `hoja-database-6-${day}-2.sqlite`)
  expect(opened.migrated).toEqual({ from: 6, to: migrations.length, backup })
  opened.close()
  expect(readFileSync(join(old, `hoja-database-6-${day}.sqlite`), 'utf8')).toBe('mine')
  const copy = new Database(backup, { readonly: true })
  expect(copy.pragma('integrity_check', { simple: true })).toBe('ok')
  expect(copy.pragma('user_version', { simple: true })).toBe(6)
  expect(copy.prepare('SELECT settings FROM presets').all()).toEqual([{ settings: '{"format":"mov","rows":[2,3]}' }])
  copy.close()
  rmSync(old, { recursive: true, force: true })
})

test('a file is written whole into folders that were not there', () => {
  const deep = join(folder, 'a/b/c/tide.txt')
  writeWhole(deep, 'low')
  writeWhole(deep, 'high')
  expect(readFileSync(deep, 'utf8')).toBe('high')
  expect(readdirSync(join(folder, 'a/b/c'))).toEqual(['tide.txt'])
})

test('a folder that may be written and not read is written to', () => {
  const drop = temporaryFolder()
  // Root may read anything: as somebody else.
  const isRoot = process.getuid!() === 0
  if (isRoot) chownSync(drop, 65_534, 65_534)
  chmodSync(drop, 0o300)
  if (isRoot) process.seteuid!(65_534)
  try {
    expect(() => readdirSync(drop)).toThrow('EACCES')
    writeWhole(join(drop, 'in.txt'), 'given')
    expect(readFileSync(join(drop, 'in.txt'), 'utf8')).toBe('given')
  } finally {
    if (isRoot) process.seteuid!(0)
  }
  rmSync(drop, { recursive: true })
})

test('files lie under their SHA-256, once, whole or not at all', () => {
  const files = new FileStore(join(folder, 'own'))
  const name = files.put(Buffer.from('tide'))
  expect(name).toBe(hashOf('tide'))
  // SHA-256 of the empty text, FIPS 180-4's well-known value.
  expect(hashOf('')).toBe('e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855')
  expect(files.put(Buffer.from('tide'))).toBe(name)
  expect(files.get(name).toString()).toBe('tide')
  expect(() => files.path('../../etc/passwd')).toThrow('not the name of a stored file')
  expect(() => files.get('0'.repeat(64))).toThrow('not stored here')
  const target = join(folder, 'blocked')
  mkdirSync(target)
  writeFileSync(join(target, 'x'), '')
  // A folder of that name is in the way of the rename: the temporary file must not stay either.
  expect(() => writeWhole(target, 'y')).toThrow()
  expect(readdirSync(folder).filter((f) => f.startsWith('blocked.'))).toEqual([])
})

test('assets are told apart by what they are, and kept once', async () => {
  const intake = new Intake(store.files.folder)
  const brought = (path: string, name: string) => ({ path: join(demo, path), name })
  const font = await intake.font(brought('templates/speaker/fonts/BarlowCondensed_600SemiBold.ttf', 'a.ttf'))
  expect(font).toMatchObject({ kind: 'font', family: 'Barlow Condensed', style: 'SemiBold' })
  const picture = await intake.picture(brought('templates/speaker/media/mill.png', 'mill.png'))
  expect(picture).toMatchObject({ kind: 'picture', width: 320, height: 320, type: 'image/png' })
  store.assets.record(picture)
  expect((await intake.picture(brought('templates/speaker/media/mill.png', 'other.png'))).sha256).toBe(picture.sha256)
  expect(store.assets.find(picture.sha256)?.kind).toBe('picture')
  expect(store.assets.find('f'.repeat(64))).toBeUndefined()
})

test('templates of one id get numbers; versions count by template; a removed template takes its own along', () => {
  const one = store.templates.add(newTemplate('place', 'Place'))
  const two = store.templates.add(newTemplate('place', 'Place'))
  expect([one.id, two.id, two.template.id]).toEqual(['place', 'place-2', 'place-2'])
  const first = store.templates.publish('place', '')
  // The same state again is the same version.
  expect(store.templates.publish('place', 'again')).toEqual(first)
  const edited = { ...one.template, note: 'edited' }
  store.templates.save('place', 1, { text: JSON.stringify(edited), about: aboutOf(edited) })
  expect(() => store.templates.publish('place', '', 1)).toThrow('was saved elsewhere meanwhile (revision 2)')
  expect([
    first.number,
    store.templates.publish('place', '', 2).number,
    store.templates.publish('place-2', '').number,
  ]).toEqual([1, 2, 1])
  expect(store.templates.isAhead(store.templates.get('place'))).toBe(false)
  const version = store.templates.versions('place')[0]!
  const sheet = store.sheets.add(version.id, 's', { columns: ['a'], rows: [['1']] }, {})
  store.templates.remove('place')
  expect(() => store.sheets.get(sheet.id)).toThrow('no sheet')
  expect(() => store.templates.version(version.id)).toThrow('no version')
})

test('rows move as rows are put in and taken out anywhere', () => {
  const version = store.templates.publish('place-2', '')
  const sheet = store.sheets.add(
    version.id,
    's',
    { columns: ['n'], rows: Array.from({ length: 6 }, (_, i) => [String(i)]) },
    {},
  )
  const rows = () => store.sheets.rows(sheet.id).map(({ cells }) => cells.n)
  store.sheets.change(sheet.id, 1, [{ at: 2, remove: 2, rows: [] }])
  expect(rows()).toEqual(['0', '3', '4', '5'])
  store.sheets.change(sheet.id, 2, [
    { at: 1, remove: 0, rows: [{ cells: { n: 'a' }, note: 'first' }, { cells: { n: 'b' } }] },
    { at: 7, remove: 0, rows: [{ cells: { n: 'z', new: 'x' }, off: true }] },
  ])
  expect(rows()).toEqual(['a', 'b', '0', '3', '4', '5', 'z'])
  expect(store.sheets.get(sheet.id).columns).toEqual(['n', 'new'])
  expect(store.sheets.rows(sheet.id, 7)).toEqual([{ cells: { n: 'z', new: 'x' }, off: true }])
  expect(store.sheets.rows(sheet.id, 1, 1)).toEqual([{ cells: { n: 'a' }, note: 'first' }])
  // Two rows become three, in place.
  store.sheets.change(sheet.id, 3, [{ at: 2, remove: 2, rows: ['p', 'q', 'r'].map((n) => ({ cells: { n } })) }])
  expect(rows()).toEqual(['a', 'p', 'q', 'r', '3', '4', '5', 'z'])
  expect(() => store.sheets.change(sheet.id, 4, [{ at: 10, remove: 0, rows: [] }])).toThrow('no row 10')
  expect(() => store.sheets.change(sheet.id, 1, [{ at: 1, remove: 1, rows: [] }])).toThrow('changed elsewhere')
})

test('a sheet knows names as they stand in it: what was set by hand, not what that replaced', () => {
  const version = store.templates.publish('place-2', '')
  const rows = [['Puerto Brissal'], ['Eel Quay']]
  const sheet = store.sheets.add(version.id, 'known', { columns: ['Place'], rows }, { place: 'Place' })
  const row = { cells: { Place: 'Puerto Brissal' }, own: { place: 'Puerto Brisal' } }
  store.sheets.change(sheet.id, sheet.revision, [{ at: 1, remove: 1, rows: [row] }])
  expect(store.sheets.knownTexts()).toEqual([])
  store.sheets.setKnown(sheet.id, true)
  expect(store.sheets.knownTexts().sort()).toEqual(['Eel Quay', 'Puerto Brisal'])
  store.sheets.remove(sheet.id)
})

test('the queue is the table: claimed in order, given back, booked once, stopped, tried again, resumed', () => {
  const version = store.templates.publish('place-2', '')
  const sheet = store.sheets.add(version.id, 's', { columns: ['n'], rows: [['1'], ['2'], ['3']] }, {})
  const titles = [1, 2, 3].map((n) => ({ n, name: `t${n}`, row: { cells: { n: String(n) }, frames: 40 } }))
  const { id } = store.outputs.add({
    sheet: sheet.id,
    version: sheet.version,
    match: sheet.match,
    pictures: [],
    settings: { format: 'png' },
    used: {},
    titles,
  })
  expect(store.outputs.claim(['png'])).toMatchObject({
    output: id,
    row: 1,
    attempts: 1,
    content: { cells: { n: '1' }, frames: 40 },
  })
  store.outputs.giveBack(id, 1, 'why', true)
  expect(store.outputs.claim(['png'])).toMatchObject({ row: 1, attempts: 2 })
  store.outputs.finish(id, 1, 'done', { result: 'k', milliseconds: 5 })
  // Booked is booked: a late answer changes nothing.
  store.outputs.finish(id, 1, 'failed', { reason: 'late' })
  expect(store.outputs.title(id, 1)).toMatchObject({ state: 'done', result: 'k' })
  expect(store.outputs.claim(['png'])).toMatchObject({ row: 2 })
  store.outputs.resume()
  expect(store.outputs.get(id).counts).toMatchObject({ done: 1, waiting: 2, running: 0 })
  store.outputs.stop(id)
  expect(store.outputs.get(id)).toMatchObject({ state: 'stopped', counts: { stopped: 2 } })
  expect(store.outputs.claim(['png'])).toBeUndefined()
  store.outputs.retry(
    id,
    (n) => ({ cells: { n: `new ${n}` } }),
    () => '',
  )
  expect(store.outputs.claim(['png'])).toMatchObject({ row: 2, attempts: 1, content: { cells: { n: 'new 2' } } })
  store.outputs.finish(id, 2, 'held', { reason: 'why' })
  store.outputs.claim(['png'])
  store.outputs.finish(id, 3, 'failed', { reason: 'bad' })
  expect(store.outputs.get(id)).toMatchObject({ state: 'done', counts: { done: 1, held: 1, failed: 1 } })
  expect(store.outputs.list()[0]!.id).toBe(id)
  expect(() => store.outputs.title(id, 9)).toThrow('no row 9')
  expect(readFileSync(join(folder, 'hoja.sqlite')).length).toBeGreaterThan(0)
})

test("a published version's bytes outlive a restart, an edit of its draft and an upgrade of the database", () => {
  // As it was before this version: its tables, its draft and its published document of schema 2.
  const { folder: old, db: before } = olderFolder(2)
  const { tags: _, comments: __, sounds: ___, ...now } = newTemplate('quay', 'Quay')
  const text = JSON.stringify({ ...now, schema: 2 })
  const document = new FileStore(join(old, 'files')).put(text)
  before.prepare("INSERT INTO assets VALUES (?, 'document', 'quay.json', ?, '{}')").run(document, text.length)
  before.prepare("INSERT INTO templates VALUES ('quay', 'Quay', ?, 1, 'then', 'then')").run(text)
  before.prepare("INSERT INTO versions VALUES (7, 'quay', 1, ?, '', 'then')").run(document)
  before.close()

  for (let start = 0; start < 2; start++) {
    const opened = new Store(old)
    const version = opened.templates.version(7)
    expect(opened.files.get(version.document).toString('utf8')).toBe(text)
    // Read as this code reads it, and not taken for a change.
    expect(opened.templates.published(version)).toMatchObject({ schema: 5, tags: [], sounds: [] })
    if (start === 0) {
      const draft = opened.templates.get('quay')
      expect(opened.templates.isAhead(draft)).toBe(false)
      const edited = { ...draft.template, note: 'edited' }
      opened.templates.save('quay', draft.revision, { text: JSON.stringify(edited), about: aboutOf(edited) })
      expect(opened.templates.isAhead(opened.templates.get('quay'))).toBe(true)
    }
    expect(() => opened.db.prepare('UPDATE versions SET note = 1').run()).toThrow('A published version never changes.')
    opened.close()
  }
  rmSync(old, { recursive: true, force: true })
})

test('rows that were kept with a preset are let go: they were one sheet’s', () => {
  const { folder: old, db: before } = olderFolder(6)
  before.prepare("INSERT INTO presets VALUES ('Clips', ?, 'then')").run('{"format":"mov","rows":[2,3],"silent":true}')
  before.close()
  const opened = new Store(old)
  expect(opened.presets.list()).toEqual([{ name: 'Clips', settings: { format: 'mov', silent: true } }])
  opened.close()
  rmSync(old, { recursive: true, force: true })
})

test('rows are put in, taken out and changed anywhere, as in a plain list, however often in one place', () => {
  const { id: template } = store.templates.add(newTemplate('rows', 'Rows'))
  const version = store.templates.publish(template, '')
  const name = (i: number) => `n${i}`
  let next = 0
  fc.assert(
    fc.property(
      fc.array(
        fc.record({
          // Often the same place: then there is soon no room between two.
          at: fc.oneof(fc.constant(0), fc.constant(0.5), fc.double({ min: 0, max: 1, noNaN: true })),
          remove: fc.nat(3),
          add: fc.nat(4),
          times: fc.constantFrom(1, 1, 40, 120),
        }),
        { maxLength: 8 },
      ),
      fc.boolean(),
      (edits, isTogether) => {
        let model = Array.from({ length: 30 }, () => name(next++))
        const made = store.sheets.add(version.id, 's', { columns: ['a'], rows: model.map((one) => [one]) }, {})
        let { revision } = made
        const waiting: { at: number; remove: number; rows: { cells: { a: string } }[] }[] = []
        for (const { at, remove, add, times } of edits)
          for (let n = 0; n < times; n++) {
            const from = Math.round(at * model.length)
            const gone = Math.min(remove, model.length - from)
            const rows = Array.from({ length: add }, () => name(next++))
            model = [...model.slice(0, from), ...rows, ...model.slice(from + gone)]
            waiting.push({ at: from + 1, remove: gone, rows: rows.map((a) => ({ cells: { a } })) })
            if (!isTogether) revision = store.sheets.change(made.id, revision, waiting.splice(0)).revision
          }
        if (waiting.length > 0) store.sheets.change(made.id, revision, waiting)
        expect(store.sheets.rows(made.id).map(({ cells }) => cells.a)).toEqual(model)
        expect(store.sheets.get(made.id).count).toBe(model.length)
        if (model.length > 5)
          expect(store.sheets.rows(made.id, 4, 2).map(({ cells }) => cells.a)).toEqual(model.slice(3, 5))
      },
    ),
    { numRuns: 40 },
  )
})

test('a number is never given again: a page that was left open would save into what has got it', () => {
  const { id: template } = store.templates.add(newTemplate('given', 'Given'))
  const version = store.templates.publish(template, '')
  const sheet = () => store.sheets.add(version.id, 's', { columns: ['a'], rows: [['1']] }, {})
  const first = sheet()
  store.sheets.remove(first.id)
  while (store.sheets.clear());
  expect(sheet().id).toBeGreaterThan(first.id)
  store.templates.remove(template)
  expect(store.templates.add(newTemplate('given', 'Given')).id).toBe('given-2')
  expect(store.templates.publish('given-2', '').id).toBeGreaterThan(version.id)
})

test('a match that was set on another revision is not taken', () => {
  const { id: template } = store.templates.add(newTemplate('match', 'Match'))
  const version = store.templates.publish(template, '')
  const sheet = store.sheets.add(version.id, 's', { columns: ['a'], rows: [['1']] }, {})
  store.sheets.change(sheet.id, sheet.revision, [{ at: 1, remove: 0, rows: [{ cells: { a: '0' } }] }])
  expect(() => store.sheets.setMatch(sheet.id, {}, sheet.revision)).toThrow('was changed elsewhere meanwhile')
  expect(store.sheets.setMatch(sheet.id, {}, sheet.revision + 1).revision).toBe(sheet.revision + 2)
})

test('files go when what used them is removed, and stay while anything does', async () => {
  const intake = new Intake(store.files.folder)
  const picture = await intake.picture({ path: join(demo, 'templates/speaker/media/eel.png'), name: 'eel.png' })
  store.assets.record(picture)
  const { sha256, width, height } = picture as typeof picture & { kind: 'picture' }
  const media = [{ id: 'eel', name: 'eel.png', file: 'media/eel.png', sha256, width, height }]
  const one = store.templates.add({ ...newTemplate('eel', 'Eel'), media })
  store.templates.publish(one.id, '')
  const two = store.templates.add({ ...newTemplate('eel', 'Eel'), media })
  const stray = store.files.put('nobody wrote this down')
  const round = async () => {
    store.tidy.start()
    await store.tidy.round()
    store.tidy.stop()
  }
  await round()
  expect(existsSync(store.files.path(sha256))).toBe(true)
  // A round that fails is not the last one.
  const { list } = store.templates
  store.templates.list = () => {
    throw new Error('on purpose')
  }
  await expect(round()).rejects.toThrow('on purpose')
  store.templates.list = list
  store.tidy.released(store.templates.remove(one.id))
  await round()
  expect(existsSync(store.files.path(sha256))).toBe(true)
  store.tidy.released(store.templates.remove(two.id))
  await round()
  expect(existsSync(store.files.path(sha256))).toBe(false)
  expect(store.assets.find(sha256)).toBeUndefined()
  // Brought by a job just before it went: it is not written down as if it were there.
  expect(() => store.assets.record(picture)).toThrow('is not stored here')
  // Taken in just now, it may still be written down.
  expect(existsSync(store.files.path(stray))).toBe(true)
  const old = new Date(Date.now() - 2 * 3600_000)
  utimesSync(store.files.path(stray), old, old)
  await round()
  expect(existsSync(store.files.path(stray))).toBe(false)
})

test('moves that were kept before schema 5 move by segments, and orders have titles', () => {
  const { folder: old, db: before } = olderFolder(10)
  const segments = { by: 'word', order: 'forward', seed: 1, overlap: 0.5, tracks: { fade: { keys: [] } } }
  const moves = { Arrive: { arrival: { tracks: {}, units: segments } }, Fade: { arrival: { tracks: {} } } }
  for (const [name, move] of Object.entries(moves))
    before.prepare('INSERT INTO moves (name, move, created) VALUES (?, ?, ?)').run(name, JSON.stringify(move), 'then')
  before.close()

  const opened = new Store(old)
  expect(opened.moves.list()).toMatchObject([
    { name: 'Arrive', arrival: { tracks: {}, segments } },
    { name: 'Fade', arrival: { tracks: {} } },
  ])
  expect(JSON.stringify(opened.moves.list())).not.toContain('units')
  expect(opened.outputs.titles(3)).toEqual([])
  opened.close()
})
