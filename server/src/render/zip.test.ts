import { execFileSync } from 'node:child_process'
import { createWriteStream, mkdirSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { Writable } from 'node:stream'
import { strFromU8, unzipSync } from 'fflate'
import { temporaryFolder } from '../testing/running.ts'
import { frameName, piecesOf, titleFiles } from './deliver.ts'
import { aboutFile, type Finished, finishedFolder, readFinished, removeUnfinished } from './finished.ts'
import { zipFiles } from './zip.ts'

const folder = temporaryFolder()
const root = join(folder, 'finished')
afterAll(() => rmSync(folder, { recursive: true, force: true }))

/** A finished sequence of three pictures over six frames. */
function finish(key: string): Finished {
  const folder = finishedFolder(root, key)
  mkdirSync(folder, { recursive: true })
  writeFileSync(join(folder, 'pictures'), 'onetwothree')
  const finished: Finished = {
    key,
    format: 'png',
    files: [
      {
        file: 'pictures',
        suffix: '',
        bytes: 11,
        sha256: 'c0',
        frames: 6,
        sequence: {
          pictures: [
            { at: 0, length: 3 },
            { at: 3, length: 3 },
            { at: 6, length: 5 },
          ],
          frames: [0, 1, 2, 2, 1, 0],
        },
      },
    ],
    frames: 6,
    pictures: 3,
    rate: { num: 25, den: 1 },
  }
  writeFileSync(join(folder, aboutFile), JSON.stringify(finished))
  return finished
}
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
  expect(files.map((file) => `${file.path} ${Buffer.concat([...piecesOf(file)])}`)).toEqual([
    'Io/Io_0000.png one',
    'Io/Io_0001.png two',
    'Io/Io_0002.png three',
    'Io/Io_0003.png three',
    'Io/Io_0004.png two',
    'Io/Io_0005.png one',
  ])
})

test('a zip is written no faster than it is taken, whole, and leaves no listener behind', async () => {
  const slow = new Slow()
  const ended = new Promise((done) => slow.once('finish', done))
  const files = [...titleFiles(root, finish('aa11'), 'Io'), ...titleFiles(root, finish('aa22'), 'sheet/Xu')]
  await zipFiles([{ path: 'manifest.csv', bytes: Buffer.from('row,file') }, ...files], slow)
  await ended
  const read = unzipSync(new Uint8Array(Buffer.concat(slow.pieces)))
  expect(Object.keys(read)).toHaveLength(13)
  expect(strFromU8(read['sheet/Xu/Xu_0002.png']!)).toBe('three')
  expect(strFromU8(read['manifest.csv']!)).toBe('row,file')
  expect(slow.waits).toBeGreaterThan(12)
  expect(slow.listenerCount('drain')).toBe(0)
})

// PKWARE APPNOTE 4.4.1.4: an archive of more than 65,535 entries needs the ZIP64 records; unzip reads them.
test('more files than a plain zip can count are all there', async () => {
  finish('aa11')
  const finished = readFinished(root, 'aa11')!
  const own = [...titleFiles(root, finished, 'Io')]
  const files = Array.from({ length: 70_000 }, (_, i) => ({ ...own[i % 6]!, path: `Io_${i}.png` }))
  const path = join(folder, 'many.zip')
  await zipFiles(files, createWriteStream(path))
  const listed = execFileSync('unzip', ['-Z', '-t', path], { encoding: 'utf8' })
  expect(listed).toContain('70000 files')
})

test('a reader that goes away ends the writing', async () => {
  const slow = new Slow()
  setTimeout(() => slow.destroy(), 5)
  finish('aa11')
  const files = Array.from({ length: 400 }, (_, i) => [...titleFiles(root, readFinished(root, 'aa11')!, `t${i}`)])
  await zipFiles(files.flat(), slow)
  expect(slow.destroyed).toBe(true)
  expect(slow.waits).toBeLessThan(400)
})

test('nothing half-written is found', () => {
  mkdirSync(join(root, 'bb', 'bb33.x.part'), { recursive: true })
  removeUnfinished(root)
  expect(readFinished(root, 'bb33')).toBeUndefined()
  expect(readFinished(root, 'aa11')?.frames).toBe(6)
})

test('what was finished before titles came in pieces is handed over as it was', () => {
  const kept = { key: 'bb11', format: 'pair', frames: 6, pictures: 3, rate: { num: 25, den: 1 } }
  const lies = finishedFolder(root, 'bb11')
  mkdirSync(lies, { recursive: true })
  const files = ['_fill', '_key'].map((end) => ({ file: `title${end}.mov`, bytes: 3, sha256: 'c0' }))
  for (const { file } of files) writeFileSync(join(lies, file), 'abc')
  writeFileSync(join(lies, aboutFile), JSON.stringify({ ...kept, files }))
  const pair = readFinished(root, 'bb11')!
  expect([...titleFiles(root, pair, 'Io')].map(({ path }) => path)).toEqual(['Io_fill.mov', 'Io_key.mov'])
  const places = [{ at: 0, length: 3 }]
  const sequence = { pictures: places, frames: [0, 0] }
  const before = { ...kept, format: 'png', frames: 2, files: [{ file: 'pictures', bytes: 3, sha256: 'c0' }], sequence }
  writeFileSync(join(lies, aboutFile), JSON.stringify(before))
  const read = readFinished(root, 'bb11')!
  expect([...titleFiles(root, read, 'Io')].map(({ path }) => path)).toEqual(['Io/Io_0000.png', 'Io/Io_0001.png'])
  expect(read.files[0]).toMatchObject({ frames: 2, suffix: '', sequence })
})
