import { fork } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const early = fileURLToPath(new URL('./early.mjs', import.meta.url))

/** What a process of the runner does: it listens to its pool from the start, and asks for its data when it is ready. */
const worker = `
process.on('message', (told) => {
  if (told !== 'begin') return
  process.on('message', (message) => message.type === 'jest-light-runner-worker-data' && process.send(message.workerData))
  process.send('jest-light-runner-get-worker-data')
})
process.send('listening')
`

test('a process of the tests that starts late is told what the others were told', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'hoja-early-'))
  writeFileSync(join(folder, 'worker.mjs'), worker)
  const child = fork(join(folder, 'worker.mjs'), { execArgv: ['--import', early] })
  const said: unknown[] = []
  const ended = new Promise((done) => child.once('exit', done))
  child.on('message', (message) => {
    said.push(message)
    if (message === 'listening') {
      // Told before it asks, as happens when another process asked first.
      child.send({ type: 'jest-light-runner-worker-data', workerData: 'the data' })
      child.send('begin')
    } else child.kill()
  })
  await ended
  rmSync(folder, { recursive: true })
  expect(said).toEqual(['listening', 'the data'])
})
