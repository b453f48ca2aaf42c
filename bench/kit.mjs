import { spawn } from 'node:child_process'
import { closeSync, fsyncSync, mkdtempSync, openSync, rmSync } from 'node:fs'
import { availableParallelism, cpus, tmpdir } from 'node:os'
import { join } from 'node:path'
import { Scene } from '@hoja/core/scene'
import { openPackage } from '../server/dist/packageFolder.js'
import { loadAssets } from '../server/dist/render/assets.js'

/** The demo template, ready. */
export const speakerScene = () => demoScene('speaker')

/** A template of the demo, ready. */
export async function demoScene(name) {
  const { template, files } = await openPackage(`demo/templates/${name}`)
  return new Scene(template, await loadAssets(template, (entry) => files[entry.file]))
}

const median = (list) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]

/**
 * Runs kinds of work in turn, so that whatever else the machine does falls on all, each round beginning with another one,
 * and gives each one's least and median milliseconds. `warm` rounds come before anything counts.
 */
export async function sideBySide(works, rounds, warm = 2) {
  const times = Object.fromEntries(Object.keys(works).map((name) => [name, []]))
  const all = Object.entries(works)
  for (let round = -warm; round < rounds; round++) {
    const first = (round + warm) % all.length
    for (const [name, work] of [...all.slice(first), ...all.slice(0, first)]) {
      const start = performance.now()
      await work(round)
      if (round >= 0) times[name].push(performance.now() - start)
    }
  }
  return Object.fromEntries(
    Object.entries(times).map(([name, list]) => [name, { least: Math.min(...list), median: median(list) }]),
  )
}

export const machine = () => `${availableParallelism()} cores, ${cpus()[0].model}, Node ${process.version}`
export const percentile = (list, p) =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.ceil(list.length * p) - 1)]

/** A real server with the demo data in a folder of its own, for as long as `work` takes. */
export async function withServer(work) {
  const data = mkdtempSync(join(tmpdir(), 'hoja-bench-'))
  const port = 4177
  const server = spawn('node', ['server/dist/app/cli.js', 'serve', '--port', String(port), '--data', data], {
    stdio: 'ignore',
  })
  const base = `http://127.0.0.1:${port}`
  const ask = async (path, init) => (await fetch(`${base}/api${path}`, init)).json()
  const post = (path, body) =>
    ask(path, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) })
  try {
    for (let tries = 0; ; tries++)
      try {
        const { ok } = await fetch(`${base}/api/templates`)
        if (ok) break
      } catch (error) {
        if (tries > 400) throw error
        await new Promise((done) => setTimeout(done, 100))
      }
    return await work({ base, ask, post, data, pid: server.pid })
  } finally {
    server.kill('SIGKILL')
    rmSync(data, { recursive: true, force: true })
  }
}

/** Brings a file to the disk, as Hoja's own are when they are done. */
export function synced(path) {
  const file = openSync(path, 'r')
  fsyncSync(file)
  closeSync(file)
}

/** ffmpeg's encoder by itself, fed with whole frames from memory. `bits`: of a channel, 8 or 16 */
export function encoderAlone({ width, height }, frames, bits, args, path) {
  return new Promise((done, fail) => {
    const pixels = bits === 16 ? 'rgba64le' : 'rgba'
    const raw = ['-f', 'rawvideo', '-pix_fmt', pixels, '-s', `${width}x${height}`, '-r', '25', '-i', 'pipe:0']
    const child = spawn('ffmpeg', ['-v', 'error', '-y', ...raw, ...args, '-threads', '1', path])
    child.once('exit', (code) => {
      if (code !== 0) return fail(new Error(`ffmpeg ended with ${code}`))
      if (!path.includes('%')) synced(path)
      done()
    })
    child.stdin.on('error', () => {})
    const feed = (n) => {
      if (n === frames.length) child.stdin.end()
      else if (child.stdin.write(frames[n])) feed(n + 1)
      else child.stdin.once('drain', () => feed(n + 1))
    }
    feed(0)
  })
}
