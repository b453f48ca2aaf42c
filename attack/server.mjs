import { spawn } from 'node:child_process'
import { readdirSync, readFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { fileURLToPath } from 'node:url'
import { Worker } from 'node:worker_threads'

export const root = fileURLToPath(new URL('..', import.meta.url))

const freePort = () =>
  new Promise((done) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address()
      server.close(() => done(port))
    })
  })

/** The real server in a process of its own, and the few calls that are made of it. */
export async function startServer(data, ...args) {
  const port = await freePort()
  const child = spawn(
    'node',
    [`${root}server/dist/app/cli.js`, 'serve', '--port', String(port), '--data', data, ...args],
    {
      stdio: ['ignore', 'ignore', 'pipe'],
    },
  )
  const said = []
  child.stderr.on('data', (piece) => said.push(String(piece)))
  const base = `http://127.0.0.1:${port}`
  const ask = async (path, init) => {
    const response = await fetch(`${base}/api${path}`, init)
    const body = await response.text()
    return { status: response.status, body: body.startsWith('{') || body.startsWith('[') ? JSON.parse(body) : body }
  }
  const server = {
    base,
    child,
    ask,
    /** What it wrote to its log. */
    log: () => said.join(''),
    send: (method, path, body) =>
      ask(path, {
        method,
        headers: { 'Content-Type': 'application/json' },
        ...(body === undefined ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
      }),
    upload(path, name, bytes, fields = {}) {
      const form = new FormData()
      for (const [key, value] of Object.entries(fields)) form.append(key, value)
      form.append('file', new Blob([bytes]), name)
      return ask(path, { method: 'POST', body: form })
    },
    end: (signal = 'SIGTERM') =>
      new Promise((done) => {
        if (child.exitCode !== null || child.signalCode !== null) return done()
        child.once('exit', done)
        child.kill(signal)
      }),
  }
  for (let tries = 0; ; tries++) {
    try {
      if ((await fetch(`${base}/api/templates`)).ok) return server
    } catch {
      // Not listening yet.
    }
    if (child.exitCode !== null || tries > 600) throw new Error(`the server did not start: ${said.join('')}`)
    await new Promise((done) => setTimeout(done, 50))
  }
}

/** Processes that a process has started, and theirs, itself first. */
function familyOf(pid) {
  try {
    const own = readdirSync(`/proc/${pid}/task`).flatMap((task) =>
      readFileSync(`/proc/${pid}/task/${task}/children`, 'utf8').trim().split(' ').filter(Boolean).map(Number),
    )
    return [pid, ...own.flatMap(familyOf)]
  } catch {
    return [pid]
  }
}

const residentMb = (pid) => {
  try {
    return Number(/^VmRSS:\s+(\d+)/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024
  } catch {
    return 0
  }
}

/** MB that a server's own process holds, and all of its processes together. */
export function memoryOf(pid) {
  const [own, ...others] = familyOf(pid).map(residentMb)
  return { own, all: own + others.reduce((sum, one) => sum + one, 0) }
}

/** Asks for something plain again and again: how long the slowest answer took, ms, and how much longer than it had to, when it is ended. */
export function probe({ base }) {
  const prober = new Worker(new URL('./prober.mjs', import.meta.url), { workerData: base })
  return () =>
    new Promise((done) => {
      prober.once('message', done)
      prober.postMessage('stop')
    })
}
