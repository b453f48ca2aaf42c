import { appendFileSync, existsSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { execa } from 'execa'
import { builtCli, type Client, demo, startServer, temporaryFolder, until } from '../testing/running.ts'
import { backUp, restore } from './backup.ts'
import type { BackupState } from './backups.ts'

let hoja: Client
const made: string[] = []
const newFolder = () => {
  const folder = temporaryFolder()
  made.push(folder)
  return folder
}
beforeAll(async () => {
  hoja = await startServer(undefined, { backup: join(newFolder(), 'shelf') })
})
afterAll(async () => {
  await hoja.end()
  for (const folder of made) rmSync(folder, { recursive: true, force: true })
})

const cli = (...args: string[]) => execa(process.execPath, [builtCli, ...args], { reject: false })
const speaker = async () =>
  ((await hoja.get('/templates/speaker')).body as { versions: { id: number }[] }).versions[0]!.id
const filesIn = (folder: string): Map<string, number> => {
  const files = readdirSync(folder, { recursive: true, withFileTypes: true }).filter((entry) => entry.isFile())
  return new Map(
    files.map((entry) => {
      const path = join(entry.parentPath, entry.name)
      return [path.slice(folder.length + 1), statSync(path).mtimeMs]
    }),
  )
}

test('a backup is made while rows are written, and what comes back is sound and as it was at one moment', async () => {
  const to = join(newFolder(), 'backup')
  const version = await speaker()
  const table = [['name', 'role'], ...Array.from({ length: 3000 }, (_, i) => [`Io ${i}`, 'Pilot'])]
  let stop = false
  const writing = (async () => {
    for (let n = 0; !stop; n++) await hoja.send('POST', '/sheets', { version, name: `Crew ${n}`, table })
  })()
  const { stdout, exitCode } = await cli('backup', to, '--data', hoja.data)
  stop = true
  await writing
  expect([exitCode, stdout]).toEqual([
    0,
    expect.stringMatching(
      /: 12 templates with 12 versions, \d+ sheets with [\d,]+ rows, 0 outputs, \d+ files, [\d.]+ MB\. Rendered/,
    ),
  ])
  const data = join(newFolder(), 'data')
  const back = await cli('restore', to, '--data', data)
  expect([back.exitCode, back.stdout]).toEqual([0, expect.stringContaining('12 templates with 12 versions')])
  const db = new Database(join(data, 'hoja.sqlite'), { readonly: true })
  // SQLite's own judgement of the file, and of what refers to what.
  expect(db.pragma('integrity_check', { simple: true })).toBe('ok')
  expect(db.pragma('foreign_key_check')).toEqual([])
  const counts = db
    .prepare('SELECT s.count, COUNT(r.position) AS rows FROM sheets s JOIN rows r ON r.sheet = s.id GROUP BY s.id')
    .all()
  for (const { count, rows } of counts as { count: number; rows: number }[]) expect(rows).toBe(count)
  for (const sha256 of db.prepare('SELECT sha256 FROM assets').pluck().all() as string[])
    expect(existsSync(join(data, 'files', sha256.slice(0, 2), sha256))).toBe(true)
  db.close()
  const again = await startServer(data)
  expect((await again.get('/templates')).body).toHaveLength(12)
  const { versions } = (await again.get('/templates/speaker')).body as { versions: { id: number }[] }
  expect((await fetch(`${again.running.address}/api/versions/${versions[0]!.id}/package`)).status).toBe(200)
  await again.end()
}, 120_000)

test('a second one copies only what is new, and takes away what is no longer referred to', async () => {
  const to = newFolder()
  await backUp(hoja.data, to)
  const before = filesIn(join(to, 'files'))
  const sheet = (
    await hoja.send('POST', '/sheets', { version: await speaker(), name: 'One', table: [['name'], ['Io']] })
  ).body as { id: number }
  const media = join(demo, 'templates/species/media')
  const picture = readFileSync(join(media, readdirSync(media)[0]!))
  await hoja.upload(`/sheets/${sheet.id}/pictures`, 'own.png', new Uint8Array(picture))
  const { holds } = await backUp(hoja.data, to)
  const after = filesIn(join(to, 'files'))
  for (const [path, time] of before) expect(after.get(path)).toBe(time)
  expect(readdirSync(join(to, 'database'))).toHaveLength(1)
  expect(holds.sheets).toBeGreaterThan(0)
})

test('what was cut off in a backup is copied again by the next one', async () => {
  const to = newFolder()
  await backUp(hoja.data, to)
  const [file] = [...filesIn(join(to, 'files')).keys()]
  const whole = readFileSync(join(to, 'files', file!))
  writeFileSync(join(to, 'files', file!), whole.subarray(0, 10))
  await backUp(hoja.data, to)
  expect(readFileSync(join(to, 'files', file!)).equals(whole)).toBe(true)
})

test('a backup that is damaged anywhere is not restored, and nothing of it stays', async () => {
  const to = newFolder()
  await backUp(hoja.data, to)
  const [file] = [...filesIn(join(to, 'files')).keys()]
  const path = join(to, 'files', file!)
  const good = readFileSync(path)
  appendFileSync(path, 'x')
  const data = join(newFolder(), 'data')
  await expect(restore(to, data)).rejects.toThrow('missing or damaged; nothing was restored')
  rmSync(path)
  await expect(restore(to, data)).rejects.toThrow('missing or damaged; nothing was restored')
  writeFileSync(path, good)
  const [database] = readdirSync(join(to, 'database'))
  const bytes = readFileSync(join(to, 'database', database!))
  bytes[5000]! ^= 1
  writeFileSync(join(to, 'database', database!), bytes)
  await expect(restore(to, data)).rejects.toThrow('The database of the backup is missing or damaged')
  expect(existsSync(data)).toBe(false)
})

test('what can not be is said in one line, with exit code 2', async () => {
  const other = newFolder()
  writeFileSync(join(other, 'mine.txt'), 'x')
  const none = join(newFolder(), 'none')
  const calls: [string[], string][] = [
    [['backup', other, '--data', hoja.data], 'holds other things than a backup'],
    [['backup', join(hoja.data, 'in'), '--data', hoja.data], 'lies in the data folder itself'],
    [['backup', none, '--data', none], 'There is no Hoja data'],
    [['restore', none, '--data', none], 'There is no backup'],
  ]
  for (const [args, message] of calls) {
    const { exitCode, stderr } = await cli(...args)
    expect([exitCode, stderr]).toEqual([2, expect.stringContaining(message)])
    expect(stderr.split('\n')).toHaveLength(1)
  }
  const to = newFolder()
  await backUp(hoja.data, to)
  await expect(restore(to, hoja.data)).rejects.toThrow('holds data already; give an empty folder')
  expect(readdirSync(other)).toEqual(['mine.txt'])
})

test('the Shelf backs up to its own folder and says what is in it', async () => {
  const state = async () => (await hoja.get('/backup')).body as BackupState
  expect(await state()).toMatchObject({ last: null, running: null, now: expect.stringMatching(/^12 templates with/) })
  expect((await hoja.send('POST', '/backup')).status).toBe(202)
  const done = await until(state, ({ running }) => running === null, 30)
  expect(done).toMatchObject({
    trouble: null,
    last: { holds: expect.stringMatching(/^12 templates with 12 versions/) },
  })
  writeFileSync(join(done.folder, 'backup.json'), '{}')
  await hoja.send('POST', '/backup')
  expect((await until(state, ({ running }) => running === null, 30)).trouble).toContain(
    'is not what a backup says of itself',
  )
})
