import { rmSync } from 'node:fs'
import { seededFolder } from '../testing/running.ts'
import { finishedFiles, type MadeOutput, sheetOf, startProcess } from '../testing/serverProcess.ts'

const small = { width: 480, height: 270 }

test('killed at twenty random moments and started again, the server finishes what it had accepted, as if nothing had been', async () => {
  const [quiet, rough] = [await seededFolder(), await seededFolder()]
  const undisturbed = await startProcess(quiet)
  const order = { format: 'png', frames: 36, size: small }
  const reference = await undisturbed.post<MadeOutput>('/outputs', { ...order, sheet: await sheetOf(undisturbed, 60) })
  const good = await undisturbed.ended(reference.id)
  await undisturbed.kill()

  let server = await startProcess(rough)
  const made = await server.post<MadeOutput>('/outputs', { ...order, sheet: await sheetOf(server, 60) })
  const moments: number[] = []
  for (let n = 0; n < 20; n++) {
    // A renderer needs more than a second to be there: the moments fall into starting, drawing, writing and booking.
    const wait = Math.round(100 + Math.random() * 1600)
    moments.push(wait)
    await new Promise((done) => setTimeout(done, wait))
    await server.kill()
    server = await startProcess(rough)
  }
  const done = await server.ended(made.id)
  await server.kill()

  const told = (output: MadeOutput) => output.titles.map((u) => [u.row, u.state, u.result])
  expect({ moments, titles: told(done) }).toEqual({ moments, titles: told(good) })
  expect(done.counts).toMatchObject({ done: 60, failed: 0, held: 0 })
  const files = finishedFiles(rough)
  expect(files).toEqual(finishedFiles(quiet))
  expect(files.size).toBe(60)
  rmSync(quiet, { recursive: true, force: true })
  rmSync(rough, { recursive: true, force: true })
}, 600_000)
