import { type ChildProcess, spawn } from 'node:child_process'
import { readdirSync, readFileSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { join } from 'node:path'
import { hashOf } from '../store/files.ts'
import { builtCli, temporaryFolder, until } from '../testing/running.ts'

const freePort = () =>
  new Promise<number>((done) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number }
      server.close(() => done(port))
    })
  })

interface Server {
  child: ChildProcess
  get(path: string): Promise<never>
  post(path: string, body: object): Promise<never>
}

/** The real server in a process of its own, so that it can be killed. */
async function start(data: string): Promise<Server> {
  const port = await freePort()
  const child = spawn('node', [builtCli, 'serve', '--port', String(port), '--data', data], { stdio: 'ignore' })
  const ask = async (path: string, init?: RequestInit) =>
    (await fetch(`http://127.0.0.1:${port}/api${path}`, init)).json() as Promise<never>
  await until(
    () =>
      ask('/templates').then(
        () => true,
        () => false,
      ),
    Boolean,
  )
  return {
    child,
    get: (path) => ask(path),
    post: (path, body) =>
      ask(path, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
  }
}

const killed = (child: ChildProcess) =>
  new Promise((done) => {
    child.once('exit', done)
    child.kill('SIGKILL')
  })

interface Output {
  id: number
  state: string
  counts: Record<string, number>
  units: { row: number; result: string | null; state: string }[]
}

/** SHA-256 of every finished file, by the key of its unit. */
function finishedFiles(data: string): Map<string, string> {
  const files = new Map<string, string>()
  const root = join(data, 'finished')
  for (const shelf of readdirSync(root))
    for (const key of readdirSync(join(root, shelf)))
      files.set(key, hashOf(readFileSync(join(root, shelf, key, 'pictures'))))
  return files
}

test('killed at any moment and started again, the server finishes what it had accepted, as if nothing had been', async () => {
  const rows = Array.from({ length: 20 }, (_, i) => i + 1)
  const order = { sheet: 1, format: 'png', frames: 36, rows }
  const [quiet, rough] = [temporaryFolder(), temporaryFolder()]

  const undisturbed = await start(quiet)
  const reference = (await undisturbed.post('/outputs', order)) as Output
  const good = await until(
    () => undisturbed.get(`/outputs/${reference.id}`) as Promise<Output>,
    (o) => o.state === 'done',
    120,
  )
  await killed(undisturbed.child)

  let server = await start(rough)
  const made = (await server.post('/outputs', order)) as Output
  // Not evenly spaced, so that the moments fall into drawing, writing and booking alike.
  for (const wait of [350, 900, 150, 1300]) {
    await new Promise((done) => setTimeout(done, wait))
    await killed(server.child)
    server = await start(rough)
  }
  const done = await until(
    () => server.get(`/outputs/${made.id}`) as Promise<Output>,
    (o) => o.state === 'done',
    120,
  )
  await killed(server.child)

  expect(done.counts).toEqual(good.counts)
  expect(done.units.map((u) => [u.row, u.state, u.result])).toEqual(good.units.map((u) => [u.row, u.state, u.result]))
  const files = finishedFiles(rough)
  expect([...files.keys()].some((key) => key.endsWith('.part'))).toBe(false)
  expect(files).toEqual(finishedFiles(quiet))
  rmSync(quiet, { recursive: true, force: true })
  rmSync(rough, { recursive: true, force: true })
}, 300_000)
