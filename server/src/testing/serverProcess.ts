import { type ChildProcess, spawn } from 'node:child_process'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { aboutFile } from '../render/finished.ts'
import { hashOf } from '../store/files.ts'
import { builtCli, until } from './running.ts'

export interface ServerProcess {
  child: ChildProcess
  address: string
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
  const { env = process.env, uid } = options
  // On whatever port is free, which it tells itself: one that was looked for first could be somebody else's by then.
  const child = spawn(process.execPath, [builtCli, 'serve', '--port', '0', '--data', data], {
    stdio: ['ignore', 'pipe', 'ignore'],
    env,
    ...(uid === undefined ? {} : { uid, gid: uid }),
  })
  const address = await new Promise<string>((done, fail) => {
    let said = ''
    child.stdout!.on('data', (piece) => {
      said += piece
      const [, found] = /Hoja is at (\S+)\n/.exec(said) ?? []
      if (found) done(found)
    })
    child.once('exit', (code) => fail(new Error(`The server ended with ${code}: ${said}`)))
  })
  const ask = async <T>(path: string, init?: RequestInit) =>
    (await fetch(`${address}/api${path}`, init)).json() as Promise<T>
  const server: ServerProcess = {
    child,
    address,
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
