import { type ChildProcess, spawn } from 'node:child_process'
import { readdirSync, readFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { join } from 'node:path'
import { aboutFile } from '../render/finished.ts'
import { hashOf } from '../store/files.ts'
import { builtCli, until } from './running.ts'

const freePort = () =>
  new Promise<number>((done) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number }
      server.close(() => done(port))
    })
  })

export interface ServerProcess {
  child: ChildProcess
  get<T>(path: string): Promise<T>
  post<T>(path: string, body?: object): Promise<T>
  /** An output at its end. */
  ended(id: number): Promise<MadeOutput>
  /** Kills it at once, as a power cut would. */
  kill(): Promise<unknown>
  /** Process ids of its renderers. */
  renderers(): number[]
}

export interface MadeOutput {
  id: number
  state: string
  counts: Record<string, number>
  titles: { row: number; result: string | null; state: string; reason: string; attempts: number; found: number }[]
  progress: { hindrance: string | null; left: number | null }
  log: { row: number | null; text: string }[]
}

/** The real server in a process of its own, so that things can be done to it. */
export async function startProcess(
  data: string,
  options: { env?: NodeJS.ProcessEnv; uid?: number } = {},
): Promise<ServerProcess> {
  const port = await freePort()
  const { env = process.env, uid } = options
  const child = spawn(process.execPath, [builtCli, 'serve', '--port', String(port), '--data', data], {
    stdio: 'ignore',
    env,
    ...(uid === undefined ? {} : { uid, gid: uid }),
  })
  const ask = async <T>(path: string, init?: RequestInit) =>
    (await fetch(`http://127.0.0.1:${port}/api${path}`, init)).json() as Promise<T>
  const server: ServerProcess = {
    child,
    get: (path) => ask(path),
    post: (path, body = {}) =>
      ask(path, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
    ended: (id) =>
      until(
        () => ask<MadeOutput>(`/outputs/${id}`),
        (o) => o.state === 'done',
      ),
    kill: () =>
      new Promise((done) => {
        child.once('exit', done)
        child.kill('SIGKILL')
      }),
    renderers: () => childrenOf(child.pid!).filter((pid) => commandOf(pid).includes('renderer.js')),
  }
  await until(
    () =>
      fetch(`http://127.0.0.1:${port}/api/templates`).then(
        ({ ok }) => ok,
        () => false,
      ),
    Boolean,
  )
  return server
}

/** A sheet of rows for the demo's `speaker`, none of them held. */
export async function sheetOf(server: ServerProcess, count: number): Promise<number> {
  const rows = Array.from({ length: count }, (_, i) => [`Ana Vega ${i + 1}`, `Buoy ${i + 1}, outer bar`])
  const { id } = await server.post<{ id: number }>('/sheets', {
    version: 1,
    name: 'Buoys',
    table: [['name', 'role'], ...rows],
  })
  return id
}

/** SHA-256 of every finished file, by the key of its title; a half-written one would be a key that ends in `.part`. */
export function finishedFiles(data: string): Map<string, string> {
  const files = new Map<string, string>()
  const root = join(data, 'finished')
  for (const shelf of readdirSync(root))
    for (const key of readdirSync(join(root, shelf)))
      for (const file of readdirSync(join(root, shelf, key)))
        if (file !== aboutFile) files.set(`${key} ${file}`, hashOf(readFileSync(join(root, shelf, key, file))))
  return files
}

function childrenOf(pid: number): number[] {
  return readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').trim().split(' ').filter(Boolean).map(Number)
}

function commandOf(pid: number): string {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8')
  } catch {
    return ''
  }
}
