import {
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { demoFolder } from '../demo.ts'
import { type Running, type ServeOptions, serve } from '../serve.ts'
import { builtScript } from '../serverFolder.ts'
import { hashOf } from '../store/files.ts'

/** The built worker: threads cannot run TypeScript. `npm test` builds before it tests. */
export const builtCli = builtScript('cli')
export const demo = demoFolder

export function temporaryFolder(): string {
  return mkdtempSync(join(tmpdir(), '.hoja-test-'))
}

export interface Client {
  running: Running
  data: string
  get(path: string): Promise<{ status: number; body: never }>
  send(method: string, path: string, body?: unknown): Promise<{ status: number; body: never }>
  upload(
    path: string,
    name: string,
    bytes: Uint8Array,
    fields?: Record<string, string>,
  ): Promise<{ status: number; body: never }>
  end(): Promise<void>
}

/** Where a data folder with the demo data in it is kept for all tests of this build: to make one takes four seconds. */
function seedShelf(): string {
  const files = readdirSync(demo, { recursive: true, withFileTypes: true }).filter((entry) => entry.isFile())
  const times = [builtCli, ...files.map((entry) => join(entry.parentPath, entry.name))].map(
    (file) => statSync(file).mtimeMs,
  )
  return join(demo, '../node_modules/.seeded', hashOf(times.join()).slice(0, 16))
}

/** A data folder of a test's own, with the demo data. */
export async function seededFolder(): Promise<string> {
  const shelf = seedShelf()
  if (!existsSync(shelf)) {
    const fresh = temporaryFolder()
    await (await serve({ data: fresh, port: 0 })).close()
    mkdirSync(dirname(shelf), { recursive: true })
    // On the shelf's own disk first, so that it is there whole or not at all, whoever else is making one.
    const near = `${shelf}.${process.pid}`
    cpSync(fresh, near, { recursive: true })
    try {
      renameSync(near, shelf)
    } catch {
      rmSync(near, { recursive: true })
    }
    return fresh
  }
  const data = temporaryFolder()
  cpSync(shelf, data, { recursive: true })
  return data
}

/** A real server with the demo data on a free port, and the few calls that tests make of it. */
export async function startServer(
  folder?: string,
  options: Omit<Partial<ServeOptions>, 'data' | 'port'> = {},
): Promise<Client> {
  const data = folder ?? (await seededFolder())
  const running = await serve({ data, port: 0, ...options })
  const ask = async (path: string, init?: RequestInit) => {
    const response = await fetch(`${running.address}/api${path}`, init)
    const text = await response.text()
    return { status: response.status, body: (text ? JSON.parse(text) : undefined) as never }
  }
  return {
    running,
    data,
    get: (path) => ask(path),
    send: (method, path, body) =>
      ask(path, {
        method,
        headers: { 'Content-Type': 'application/json' },
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      }),
    upload(path, name, bytes, fields = {}) {
      const form = new FormData()
      for (const [key, value] of Object.entries(fields)) form.append(key, value)
      form.append('file', new Blob([bytes as Uint8Array<ArrayBuffer>]), name)
      return ask(path, { method: 'POST', body: form })
    },
    async end() {
      await running.close()
      rmSync(data, { recursive: true, force: true })
    },
  }
}

export const demoFile = (path: string) => new Uint8Array(readFileSync(join(demo, path)))

/** Asks until the answer is as wanted. */
export async function until<T>(ask: () => Promise<T>, good: (value: T) => boolean, seconds = 120): Promise<T> {
  for (const end = Date.now() + seconds * 1000; ; ) {
    const value = await ask()
    if (good(value)) return value
    if (Date.now() > end) throw new Error(`Not reached in ${seconds} s: ${JSON.stringify(value).slice(0, 400)}`)
    await new Promise((done) => setTimeout(done, 100))
  }
}
