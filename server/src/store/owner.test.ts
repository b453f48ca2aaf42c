import { spawn } from 'node:child_process'
import { readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { serve } from '../serve.ts'
import { builtCli, startServer, temporaryFolder } from '../testing/running.ts'
import { sheetOf, startProcess } from '../testing/serverProcess.ts'
import { Store } from './index.ts'

const made: string[] = []
const newFolder = () => {
  const folder = temporaryFolder()
  made.push(folder)
  return folder
}
afterAll(() => {
  for (const folder of made) rmSync(folder, { recursive: true, force: true })
})

test('a second start on a folder says who has it, and the first one goes on as if nothing had been', async () => {
  const data = newFolder()
  const first = await startProcess(data)
  const { id } = await first.post<{ id: number }>('/outputs', {
    format: 'png',
    frames: 36,
    size: { width: 480, height: 270 },
    sheet: await sheetOf(first, 12),
  })
  for (let n = 0; n < 3; n++)
    await expect(serve({ data, port: 0 })).rejects.toThrow(
      new RegExp(
        `^The data folder "${data}" is in use by the Hoja at http://127\\.0\\.0\\.1:\\d+ \\(process ${first.child.pid}\\); use that one`,
      ),
    )
  const { titles } = await first.ended(id)
  expect(titles.map(({ state, attempts }) => [state, attempts])).toEqual(titles.map(() => ['done', 1]))
  await first.kill()
  // Killed, it owns nothing any more.
  const next = await startServer(data)
  await next.end()
})

test('a start that finds its port taken touches nothing', async () => {
  const data = newFolder()
  const server = await startServer(data)
  await server.running.close()
  const facts = () =>
    readdirSync(data)
      .sort()
      .map((name) => [name, statSync(join(data, name)).mtimeMs])
  writeFileSync(join(data, 'incoming', 'a.part'), 'x')
  const before = facts().filter(([name]) => !String(name).startsWith('owner'))
  const taken = createServer()
  await new Promise<void>((done) => taken.listen(0, '127.0.0.1', done))
  const { port } = taken.address() as { port: number }
  await expect(serve({ data, port })).rejects.toThrow(`Port ${port} is taken; give another with --port.`)
  expect(facts().filter(([name]) => !String(name).startsWith('owner'))).toEqual(before)
  expect(readdirSync(join(data, 'incoming'))).toEqual(['a.part'])
  taken.close()
})

test("the folder is its owner's alone", async () => {
  const data = join(newFolder(), 'own')
  const server = await startServer(data)
  expect(statSync(data).mode & 0o777).toBe(0o700)
  await server.end()
})

describe('a folder that can not be opened is told in one sentence', () => {
  const starting = (data: string) => serve({ data, port: 0 })

  test('a file in its place', async () => {
    const file = join(newFolder(), 'file')
    writeFileSync(file, 'x')
    await expect(starting(file)).rejects.toThrow(`"${file}" is no folder; give another one with --data.`)
  })

  test('a database that is none', async () => {
    const data = newFolder()
    writeFileSync(join(data, 'hoja.sqlite'), 'no database at all, but longer than a header of one would be'.repeat(40))
    await expect(starting(data)).rejects.toThrow(
      'is no database; give another folder with --data, or restore a backup.',
    )
  })

  test('a database of another program', async () => {
    const data = newFolder()
    const db = new Database(join(data, 'hoja.sqlite'))
    db.exec('CREATE TABLE boats (name TEXT)')
    db.close()
    const before = readFileSync(join(data, 'hoja.sqlite'))
    await expect(starting(data)).rejects.toThrow('is a database of another program; give another folder with --data.')
    expect(readFileSync(join(data, 'hoja.sqlite')).equals(before)).toBe(true)
  })

  test('a damaged one', async () => {
    const data = newFolder()
    const store = new Store(data)
    store.close()
    const file = join(data, 'hoja.sqlite')
    const bytes = readFileSync(file)
    bytes.fill(0xaa, 4096, bytes.length)
    writeFileSync(file, bytes)
    await expect(starting(data)).rejects.toThrow('is damaged; restore a backup with hoja restore')
  })
})

test('an emptied folder stays empty; a first start that was cut short is done again whole', async () => {
  const data = newFolder()
  const one = await startServer(data)
  for (const { id } of (await one.get('/templates')).body as { id: string }[])
    await one.send('DELETE', `/templates/${id}`)
  await one.running.close()
  const two = await startServer(data)
  expect((await two.get('/templates')).body).toEqual([])
  await two.end()
})

test('a first start that is killed leaves nothing or all of the demo data', async () => {
  for (const wait of [300, 600, 900, 1300]) {
    const data = newFolder()
    const child = spawn(process.execPath, [builtCli, 'serve', '--port', '0', '--data', data], { stdio: 'ignore' })
    await new Promise((done) => setTimeout(done, wait))
    await new Promise((done) => {
      child.once('exit', done)
      child.kill('SIGKILL')
    })
    const db = new Database(join(data, 'hoja.sqlite'))
    const count = db.prepare("SELECT COUNT(*) FROM sqlite_master WHERE name = 'templates'").pluck().get()
      ? (db.prepare('SELECT COUNT(*) FROM templates').pluck().get() as number)
      : 0
    db.close()
    expect([0, 12]).toContain(count)
    const again = await startServer(data)
    expect((await again.get('/templates')).body).toHaveLength(12)
    await again.end()
  }
})
