import { execFileSync, spawnSync } from 'node:child_process'
import {
  chmodSync,
  chownSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs'
import { delimiter, join } from 'node:path'
import { Refusal } from '@hoja/core/refusal'
import { seededFolder, temporaryFolder, until } from '../testing/running.ts'
import { finishedFiles, type MadeOutput, type ServerProcess, sheetOf, startProcess } from '../testing/serverProcess.ts'
import { Crew } from './crew.ts'
import type { RenderTask } from './renderer.ts'

const small = { width: 480, height: 270 }
const folders: string[] = []
const kept = (folder: string) => {
  folders.push(folder)
  return folder
}
const fresh = () => kept(temporaryFolder())
const seeded = async () => kept(await seededFolder())
const servers: ServerProcess[] = []
const started: typeof startProcess = async (...how) => {
  const server = await startProcess(...how)
  servers.push(server)
  return server
}
afterEach(async () => {
  for (const server of servers.splice(0))
    if (server.child.exitCode === null && server.child.signalCode === null) await server.kill()
})
afterAll(() => {
  for (const folder of folders) rmSync(folder, { recursive: true, force: true })
})

const once = (server: ServerProcess, id: number, what: (output: MadeOutput) => unknown) =>
  until(
    () => server.get<MadeOutput>(`/outputs/${id}`),
    (output) => !!what(output),
  )

/** Every title of a run is there once, whole. */
function expectWhole(output: MadeOutput, data: string, count: number) {
  expect(output.counts).toMatchObject({ done: count, failed: 0, held: 0, waiting: 0 })
  const keys = new Set(output.titles.map((title) => title.result))
  expect(keys.size).toBe(count)
  expect(new Set([...finishedFiles(data).keys()].map((name) => name.split(' ')[0]))).toEqual(keys)
}

test('a renderer that is killed costs a try of its row, which is told, and nothing else', async () => {
  const data = await seeded()
  const server = await started(data)
  const { id } = await server.post<MadeOutput>('/outputs', {
    sheet: await sheetOf(server, 12),
    format: 'mov',
    size: small,
  })
  await once(server, id, (o) => o.counts.done! >= 2)
  const [victim] = server.renderers()
  process.kill(victim!, 'SIGKILL')
  const done = await server.ended(id)
  expectWhole(done, data, 12)
  expect(done.log.some(({ row, text }) => row && text === 'The renderer was ended from outside. Trying again.')).toBe(
    true,
  )
  expect(Math.max(...done.titles.map((title) => title.attempts))).toBe(2)
})

test('ffmpeg taken away in the middle of a run: the run waits, says so, and goes on when it is back', async () => {
  const data = await seeded()
  const programs = fresh()
  const real = execFileSync('sh', ['-c', 'command -v ffmpeg'], { encoding: 'utf8' }).trim()
  symlinkSync(real, join(programs, 'ffmpeg'))
  const server = await started(data, { env: { ...process.env, PATH: [programs, '/nowhere'].join(delimiter) } })
  const { id } = await server.post<MadeOutput>('/outputs', {
    sheet: await sheetOf(server, 10),
    format: 'mkv',
    size: small,
  })
  await once(server, id, (o) => o.counts.done! >= 2)
  rmSync(join(programs, 'ffmpeg'))
  const waiting = await once(server, id, (o) => o.progress.hindrance)
  expect(waiting.progress.hindrance).toContain('ffmpeg')
  expect(waiting.counts.failed).toBe(0)
  // What needs no ffmpeg goes on meanwhile.
  const still = await server.post<MadeOutput>('/outputs', { sheet: 1, format: 'still', rows: [1], size: small })
  expect((await server.ended(still.id)).counts.done).toBe(1)
  symlinkSync(real, join(programs, 'ffmpeg'))
  const done = await server.ended(id)
  expect(done.counts).toMatchObject({ done: 10, failed: 0 })
  expect(done.log.map(({ text }) => text)).toContain('Goes on.')
})

const setAll = (folder: string, mode: number) => {
  for (const entry of readdirSync(folder, { withFileTypes: true, recursive: true }))
    if (entry.isDirectory()) chmodSync(join(entry.parentPath, entry.name), mode)
  chmodSync(folder, mode)
}

test('write permission taken away in the middle of a run: the run waits, says so, and goes on when it is back', async () => {
  const data = fresh()
  // Root may write anywhere, so that the server is somebody else's.
  const uid = process.getuid!() === 0 ? 65_534 : undefined
  if (uid !== undefined) chownSync(data, uid, uid)
  const server = await started(data, uid === undefined ? {} : { uid })
  const { id } = await server.post<MadeOutput>('/outputs', {
    sheet: await sheetOf(server, 30),
    format: 'png',
    size: small,
  })
  await once(server, id, (o) => o.counts.done! >= 2)
  setAll(join(data, 'finished'), 0o555)
  chmodSync(data, 0o555)
  const waiting = await once(server, id, (o) => o.progress.hindrance)
  expect(waiting.progress.hindrance).toBe(
    'Files may not be written to the data folder; allow it, and rendering goes on.',
  )
  expect(waiting.counts.failed).toBe(0)
  expect(waiting.titles.some(({ state, reason }) => state === 'waiting' && reason.includes('may not be written'))).toBe(
    true,
  )
  chmodSync(data, 0o755)
  setAll(join(data, 'finished'), 0o755)
  expectWhole(await server.ended(id), data, 30)
})

const canMount = process.getuid?.() === 0 && spawnSync('sh', ['-c', 'command -v mount']).status === 0
const onSmallDisk = canMount ? test : test.skip

onSmallDisk('a full disk: the run waits, says so, keeps what it has, and goes on when there is room', async () => {
  const data = join(fresh(), 'disk')
  mkdirSync(data)
  execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=200m', 'tmpfs', data])
  try {
    const server = await started(data)
    const sheet = await sheetOf(server, 12)
    const [, size = ''] =
      /(\d+)\s+(\d+)%/.exec(execFileSync('df', ['--output=avail,pcent', '-k', data], { encoding: 'utf8' })) ?? []
    // All but a few megabytes is taken by something else.
    writeFileSync(join(data, 'ballast'), Buffer.alloc((Number(size) - 14 * 1024) * 1024))
    const { id } = await server.post<MadeOutput>('/outputs', {
      sheet,
      format: 'mov',
      size: { width: 960, height: 540 },
    })
    const waiting = await once(server, id, (o) => o.progress?.hindrance)
    expect(waiting.progress.hindrance).toBe('The disk is full; make room, and rendering goes on.')
    expect(waiting.counts.failed).toBe(0)
    const kept = waiting.titles.filter(({ state }) => state === 'done')
    rmSync(join(data, 'ballast'))
    const done = await server.ended(id)
    expectWhole(done, data, 12)
    for (const title of kept) expect(done.titles.find(({ row }) => row === title.row)?.result).toBe(title.result)
    await server.kill()
  } finally {
    execFileSync('umount', ['-l', data])
  }
})

/** Ended, and waited for or not. */
const isGone = (pid: number) => {
  const file = `/proc/${pid}/status`
  return !existsSync(file) || /State:\s+[ZX]/.test(readFileSync(file, 'utf8'))
}

describe('a crew', () => {
  const task = { n: 1 } as unknown as RenderTask
  const stub = (script: string) => {
    const file = join(fresh(), 'renderer.mjs')
    writeFileSync(file, script)
    return file
  }
  const endings = async (crew: Crew, times: number) => {
    const codes: string[] = []
    for (let n = 0; n < times; n++)
      await crew.run(task).catch((error: Error) => codes.push(error instanceof Refusal ? error.code : error.message))
    return codes
  }

  test('ends a renderer that says nothing, and one whose clock is stopped, and takes another', async () => {
    const silent = new Crew({ file: stub('process.on("message", () => {})'), size: 1, patience: 300 })
    expect(await endings(silent, 2)).toEqual(['renderer.still', 'renderer.still'])
    expect(silent.pids).toEqual([])
    await silent.close()

    const busy = 'process.on("message", () => setInterval(() => process.send({ kind: "picture", done: 1, of: 9 }), 20))'
    // Long enough for a process to start on a machine that has other work.
    const patience = 4000
    const crew = new Crew({ file: stub(busy), size: 1, patience })
    let heard = 0
    const running = crew.run(task, { onPicture: () => heard++ }).catch((error: Refusal) => error.code)
    await until(async () => heard, Boolean)
    // It lives as long as it says something.
    await new Promise((done) => setTimeout(done, 1.5 * patience))
    const [pid] = crew.pids
    expect(pid).toBeDefined()
    process.kill(pid!, 'SIGSTOP')
    expect(await running).toBe('renderer.still')
    expect(await until(async () => isGone(pid!), Boolean)).toBe(true)
    await crew.close()
  })

  test('tells of a renderer that dies, one that cannot start, and a defect, and goes on with the next', async () => {
    const dying = new Crew({ file: stub('process.on("message", () => process.exit(3))'), size: 1 })
    expect(await endings(dying, 2)).toEqual(['renderer.gone', 'renderer.gone'])
    await dying.close()
    const missing = new Crew({ file: join(fresh(), 'none.mjs'), size: 1 })
    expect(await endings(missing, 1)).toEqual(['renderer.gone'])
    await missing.close()
    const real = new Crew({ size: 1 })
    expect((await endings(real, 1))[0]).toMatch(/undefined/)
    expect(real.pids).toHaveLength(1)
    await real.close()
    expect(real.pids).toEqual([])
  })

  test('a renderer that died while it had nothing to do costs one try, however late its end is heard of', async () => {
    const crew = new Crew({ file: stub('process.on("message", () => process.send({ kind: "result" }))'), size: 1 })
    await crew.run(task)
    process.kill(crew.pids[0]!, 'SIGKILL')
    // A busy machine: it is gone, and nobody has told this process yet.
    Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 500)
    expect(await endings(crew, 3)).toEqual(['renderer.gone'])
    await crew.close()
  })

  test('ends the encoder together with its renderer', async () => {
    const marker = join(fresh(), 'pid')
    const script = `
      import { spawn } from 'node:child_process'
      import { writeFileSync } from 'node:fs'
      process.on('message', () => writeFileSync(${JSON.stringify(marker)}, String(spawn('sleep', ['60']).pid)))`
    const crew = new Crew({ file: stub(script), size: 1 })
    const abort = new AbortController()
    const running = crew.run(task, { signal: abort.signal }).catch((error: Error) => error.message)
    await until(async () => statSync(marker, { throwIfNoEntry: false }), Boolean)
    const sleeping = Number(readFileSync(marker, 'utf8'))
    abort.abort()
    expect(await running).toBe('stopped')
    expect(await until(async () => isGone(sleeping), Boolean)).toBe(true)
    await crew.close()
  })
})
