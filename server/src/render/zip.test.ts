import { mkdirSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { Writable } from 'node:stream'
import { strFromU8, unzipSync } from 'fflate'
import type { UnitRow } from '../store/outputs.ts'
import { temporaryFolder } from '../testing/running.ts'
import { type Finished, finishedFolder, readFinished, removeUnfinished } from './unit.ts'
import { frameName, titleFiles, zipOutput } from './zip.ts'

const root = temporaryFolder()
afterAll(() => rmSync(root, { recursive: true, force: true }))

/** A finished sequence of three pictures over six frames. */
function finish(key: string): Finished {
  const folder = finishedFolder(root, key)
  mkdirSync(folder, { recursive: true })
  writeFileSync(join(folder, 'pictures'), 'onetwothree')
  const finished: Finished = {
    key,
    format: 'png',
    file: 'pictures',
    bytes: 11,
    pictures: [
      { at: 0, length: 3 },
      { at: 3, length: 3 },
      { at: 6, length: 5 },
    ],
    frames: [0, 1, 2, 2, 1, 0],
  }
  writeFileSync(join(folder, 'unit.json'), JSON.stringify(finished))
  return finished
}
const unit = (row: number, name: string, result: string | null): UnitRow => ({
  output: 1,
  row,
  name,
  state: result ? 'done' : 'failed',
  reason: '',
  attempts: 1,
  result,
  found: 0,
  milliseconds: 1,
})

/** A stream that takes a few bytes and then makes its writer wait. */
class Slow extends Writable {
  readonly pieces: Buffer[] = []
  waits = 0
  constructor() {
    super({ highWaterMark: 16 })
  }
  override _write(chunk: Buffer, _encoding: string, done: () => void): void {
    this.pieces.push(chunk)
    this.waits++
    setTimeout(done, 1)
  }
}

test('frames are counted from 0 with four digits', () => {
  expect(frameName('001_Io', 7)).toBe('001_Io_0007.png')
})

test('every frame is a file; pictures that repeat are told again, not stored again', () => {
  const files = [...titleFiles(root, finish('aa11'), 'Io')]
  expect(files.map(([name, bytes]) => `${name} ${strFromU8(bytes)}`)).toEqual([
    'Io/Io_0000.png one',
    'Io/Io_0001.png two',
    'Io/Io_0002.png three',
    'Io/Io_0003.png three',
    'Io/Io_0004.png two',
    'Io/Io_0005.png one',
  ])
})

test('a zip is written no faster than it is taken, holds the finished titles alone, and leaves no listener behind', async () => {
  finish('aa22')
  const slow = new Slow()
  const ended = new Promise((done) => slow.once('finish', done))
  await zipOutput(root, 'png', [unit(1, 'Io', 'aa11'), unit(2, 'Tam', null), unit(3, 'Xu', 'aa22')], slow)
  await ended
  const files = unzipSync(new Uint8Array(Buffer.concat(slow.pieces)))
  expect(Object.keys(files)).toHaveLength(12)
  expect(strFromU8(files['Xu/Xu_0002.png']!)).toBe('three')
  expect(slow.waits).toBeGreaterThan(12)
  expect(slow.listenerCount('drain')).toBe(0)
  expect(slow.listenerCount('close')).toBeLessThanOrEqual(1)
})

test('a reader that goes away ends the writing', async () => {
  const slow = new Slow()
  setTimeout(() => slow.destroy(), 5)
  const units = Array.from({ length: 400 }, (_, i) => unit(i + 1, `t${i}`, 'aa11'))
  await zipOutput(root, 'png', units, slow)
  expect(slow.destroyed).toBe(true)
  expect(slow.waits).toBeLessThan(400)
})

test('nothing finished is said, nothing half-written is found', async () => {
  await expect(zipOutput(root, 'png', [unit(1, 'Io', null)], new Slow())).rejects.toThrow(
    'No title of this output is rendered yet',
  )
  mkdirSync(join(root, 'bb', 'bb33.x.part'), { recursive: true })
  removeUnfinished(root)
  expect(readFinished(root, 'bb33')).toBeUndefined()
  expect(readFinished(root, 'aa11')?.frames).toHaveLength(6)
})
