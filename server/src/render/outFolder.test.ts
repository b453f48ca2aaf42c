import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { temporaryFolder } from '../testing/running.ts'
import { type Finished, finishedFolder } from './finished.ts'
import { type Asked, OutFolder, supersededFolder } from './outFolder.ts'

const folder = temporaryFolder()
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const sha256 = (text: string) => createHash('sha256').update(text).digest('hex')

/** A finished title of some words, as a renderer leaves it. */
function finished(root: string, key: string, format: 'mov' | 'png' | 'pair'): Finished {
  const lies = finishedFolder(root, key)
  mkdirSync(lies, { recursive: true })
  const file = (name: string, text: string) => {
    writeFileSync(join(lies, name), text)
    return {
      file: name,
      suffix: name.replace(/^(title|pictures)/, ''),
      bytes: text.length,
      sha256: sha256(text),
      frames: 3,
    }
  }
  const made = { key, format, frames: 3, pictures: 2, rate: { num: 25, den: 1 } }
  if (format === 'mov') return { ...made, files: [file('title.mov', key)] }
  if (format === 'pair')
    return { ...made, files: [file('title_fill.mov', `${key} fill`), file('title_key.mov', `${key} key`)] }
  const stored = { ...file('pictures', `${key}A${key}B`), sha256: sha256(`${key}A${key}B${key}B`) }
  const pictures = [0, 1].map((i) => ({ at: i * (key.length + 1), length: key.length + 1 }))
  return { ...made, files: [{ ...stored, sequence: { pictures, frames: [0, 1, 1] } }] }
}

const titles = (...names: string[]): Asked[] =>
  names.map((name, i) => ({ row: i + 1, name: name.replace(/=.*/, ''), key: `${name.replace(/.*=/, '')}00` }))

let count = 0
/** One run after another over the same folder, each by what is asked for; those in `held` are not rendered. */
function runs(format: 'mov' | 'png' | 'pair', keep = false) {
  const path = join(folder, `run-${count++}`)
  return {
    path,
    async run(asked: Asked[], held: string[] = []): Promise<string[]> {
      const out = new OutFolder(path, {}, { keepSuperseded: keep })
      const rendered: string[] = []
      const there: Asked[] = []
      await out.arrange(asked)
      for (const title of asked) {
        if (held.includes(title.name)) continue
        if (!(await out.holds(title))) {
          rendered.push(title.name)
          await out.put(finished(join(out.work, 'finished'), title.key, format), title.row, title.name)
        }
        there.push(title)
      }
      out.clear(there)
      out.book()
      out.close()
      return rendered
    },
    files: () =>
      (readdirSync(path, { recursive: true }) as string[]).filter((name) => !name.startsWith('manifest')).sort(),
    manifest: () =>
      JSON.parse(readFileSync(join(path, 'manifest.json'), 'utf8')).files as {
        file: string
        row: number
        sha256: string
      }[],
  }
}

test('a row put in before others renames them in one step, and renders one', async () => {
  const { run, files, manifest } = runs('mov')
  expect(await run(titles('001_Io=a', '002_Tam=b', '003_Ana=c'))).toHaveLength(3)
  expect(await run(titles('001_Io=a', '002_Xu=d', '003_Tam=b', '004_Ana=c'))).toEqual(['002_Xu'])
  expect(files()).toEqual(['001_Io.mov', '002_Xu.mov', '003_Tam.mov', '004_Ana.mov'])
  expect(manifest().map(({ file, row }) => [file, row])).toEqual([
    ['001_Io.mov', 1],
    ['002_Xu.mov', 2],
    ['003_Tam.mov', 3],
    ['004_Ana.mov', 4],
  ])
})

test('titles that change places do so without being rendered, sequences and pairs with all their files', async () => {
  for (const format of ['png', 'pair'] as const) {
    const { run, files, manifest, path } = runs(format)
    await run(titles('one=a', 'two=b'))
    expect(await run(titles('two=a', 'one=b'))).toEqual([])
    for (const { file, sha256: told } of manifest()) {
      const lies = join(path, file)
      const bytes =
        format === 'png'
          ? readdirSync(lies)
              .sort()
              .map((name) => readFileSync(join(lies, name), 'utf8'))
              .join('')
          : readFileSync(lies, 'utf8')
      expect(sha256(bytes)).toBe(told)
    }
    expect(files()).toEqual(
      format === 'pair'
        ? ['one_fill.mov', 'one_key.mov', 'two_fill.mov', 'two_key.mov']
        : ['one', 'two'].flatMap((name) => [name, ...[0, 1, 2].map((n) => `${name}/${name}_000${n}.png`)]),
    )
  }
})

test('a row that is held now has no file any more, and what nobody asks for goes, or goes aside', async () => {
  const removed = runs('mov')
  await removed.run(titles('one=a', 'two=b', 'three=c'))
  await removed.run(titles('one=a', 'two=B'), ['two'])
  expect(removed.files()).toEqual(['one.mov'])
  expect(removed.manifest().map(({ file }) => file)).toEqual(['one.mov'])
  const aside = runs('png', true)
  await aside.run(titles('one=a', 'two=b'))
  await aside.run(titles('one=a'))
  expect(aside.files()).toContain(`${supersededFolder}/two/two_0000.png`)
  expect(aside.files().filter((file) => file.startsWith('two'))).toEqual([])
  // The next one of that name lies beside it.
  await aside.run(titles('one=a', 'two=c'))
  await aside.run(titles('one=a'))
  expect(aside.files()).toContain(`${supersededFolder}/two_2/two_0000.png`)
})

test('a sequence is judged by its own frames, not by what else lies there', async () => {
  const { run, path, files } = runs('png')
  await run(titles('one=a'))
  writeFileSync(join(path, 'one/.DS_Store'), 'x')
  writeFileSync(join(path, 'one/Thumbs.db'), 'x')
  expect(await run(titles('one=a'))).toEqual([])
  // As many files as there should be, but one of them is another.
  rmSync(join(path, 'one/one_0001.png'))
  expect(await run(titles('one=a'))).toEqual(['one'])
  writeFileSync(join(path, 'one/one_0002.png'), 'xx')
  expect(await run(titles('one=a'))).toEqual(['one'])
  expect(await run([])).toEqual([])
  expect(files()).toEqual([])
})

test('a movie of the same size with other bytes is rendered again; files of the user stay', async () => {
  const { run, path, files } = runs('mov')
  await run(titles('cut/one=a'))
  writeFileSync(join(path, 'cut/one.mov'), 'zzz'.slice(0, 3))
  writeFileSync(join(path, 'cut/notes.txt'), 'mine')
  expect(await run(titles('cut/one=a'))).toEqual(['cut/one'])
  await run([])
  expect(files()).toEqual(['cut', 'cut/notes.txt'])
})

test('a manifest of before, without names of titles, is understood', async () => {
  const { run, path, manifest } = runs('mov')
  await run(titles('one=a'))
  const file = join(path, 'manifest.json')
  writeFileSync(file, readFileSync(file, 'utf8').replace(/\s*"title": "one",/, ''))
  expect(await run(titles('two=a'))).toEqual([])
  expect(manifest().map(({ file: name }) => name)).toEqual(['two.mov'])
})

test('after any run the folder holds exactly what was asked for, and the manifest says what lies there', async () => {
  const name = fc.constantFrom('anna', 'Anna', 'anna_2', 'b', 'c')
  const title = fc.record({ name, key: fc.constantFrom('aa', 'bb', 'cc', 'dd') })
  // Names that differ by case alone are one name on some disks, and are never given twice.
  const order = fc.uniqueArray(title, { selector: (one) => one.name.toLowerCase(), maxLength: 4 })
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(order, name), { minLength: 1, maxLength: 5 }),
      fc.constantFrom('mov' as const, 'png' as const, 'pair' as const),
      async (orders, format) => {
        const { run, files, manifest, path } = runs(format)
        for (const [order, held] of orders) {
          const asked = order.map((one, i) => ({ ...one, row: i + 1 }))
          await run(asked, [held])
          const wanted = asked.filter((one) => one.name !== held)
          const paths = wanted.flatMap((one) =>
            format === 'mov'
              ? [`${one.name}.mov`]
              : format === 'pair'
                ? [`${one.name}_fill.mov`, `${one.name}_key.mov`]
                : [one.name, ...[0, 1, 2].map((n) => `${one.name}/${one.name}_000${n}.png`)],
          )
          expect(files()).toEqual(paths.sort())
          expect(new Set(manifest().map(({ file }) => file))).toEqual(
            new Set(format === 'png' ? wanted.map((one) => one.name) : paths),
          )
          for (const { file, sha256: told } of manifest())
            if (format !== 'png') expect(sha256(readFileSync(join(path, file), 'utf8'))).toBe(told)
        }
        expect(existsSync(join(path, `.hoja-${process.pid}`))).toBe(false)
      },
    ),
    { numRuns: 60 },
  )
})

test('a file that marks a title goes where its title goes, and names it as it is called', async () => {
  const path = join(folder, 'marked')
  const spans = { before: 0, in: 1, hold: 1, out: 1, after: 0 }
  const marked = (root: string, key: string): Finished => {
    const made = finished(root, key, 'mov')
    return { ...made, marks: true, files: made.files.map((file) => ({ ...file, spans })) }
  }
  const run = async (asked: Asked[]) => {
    const out = new OutFolder(path, {}, { timecode: '10:00:00:00' })
    await out.arrange(asked)
    let rendered = 0
    for (const title of asked) {
      if (await out.holds(title)) continue
      rendered++
      await out.put(marked(join(out.work, 'finished'), title.key), title.row, title.name)
    }
    out.clear(asked)
    out.book()
    out.close()
    return rendered
  }
  const files = () =>
    readdirSync(path)
      .filter((name) => !name.startsWith('manifest'))
      .sort()
  expect(await run(titles('one=a', 'two=b'))).toBe(2)
  expect(files()).toEqual(['one.mov', 'one.otio', 'two.mov', 'two.otio'])
  expect(await run(titles('two=a', 'three=b'))).toBe(0)
  expect(files()).toEqual(['three.mov', 'three.otio', 'two.mov', 'two.otio'])
  expect(readFileSync(join(path, 'two.otio'), 'utf8')).toContain('"target_url": "two.mov"')
  // Frame of day of ten hours, at 25.
  expect(readFileSync(join(path, 'two.otio'), 'utf8')).toContain('"value": 900000')
  // One that somebody has changed is written anew with its title.
  writeFileSync(join(path, 'two.otio'), '{}')
  expect(await run(titles('two=a', 'three=b'))).toBe(1)
  expect(await run([])).toBe(0)
  expect(files()).toEqual([])
})

test('a title that comes in another format, or in fewer files, leaves none of the others behind', async () => {
  const path = join(folder, 'formats')
  const run = async (asked: Asked[], format: 'mov' | 'png' | 'pair') => {
    const out = new OutFolder(path, {})
    await out.arrange(asked)
    for (const title of asked)
      if (!(await out.holds(title)))
        await out.put(finished(join(out.work, 'finished'), title.key, format), title.row, title.name)
    out.clear(asked)
    out.book()
    out.close()
    return (readdirSync(path) as string[]).filter((name) => !name.startsWith('manifest')).sort()
  }
  expect(await run(titles('one=a'), 'pair')).toEqual(['one_fill.mov', 'one_key.mov'])
  expect(await run(titles('one=b'), 'png')).toEqual(['one'])
  expect(await run(titles('one=c'), 'mov')).toEqual(['one.mov'])
})
