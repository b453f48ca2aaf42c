import fc from 'fast-check'
import { strToU8, zipSync } from 'fflate'
import { checkRow, matchColumns, stateOf, valuesOf } from '../data/index.ts'
import { Refusal } from '../refusal/index.ts'
import { Scene } from '../scene/index.ts'
import { readTemplate } from '../template/index.ts'
import { assets, fontFiles, speaker } from '../testing/speaker.ts'
import { Font } from '../text/index.ts'
import { frameOfTimecode, parseRate } from '../time/index.ts'
import {
  decodeText,
  readCsv,
  readDataFile,
  readImageHeader,
  readPackage,
  safeName,
  unzipPackage,
  writePng,
} from './index.ts'

/** Runs something on hostile input: it may answer or refuse in one sentence; anything else is a defect. */
async function answersOrRefuses(work: () => unknown): Promise<void> {
  try {
    await work()
  } catch (error) {
    expect(error).toBeInstanceOf(Refusal)
    const { message, code, status } = error as Refusal
    expect(message).not.toMatch(/[\n\r]/)
    expect(message.length).toBeLessThan(700)
    expect(code).toMatch(/^[a-z]+(\.[a-z-]+)?$/)
    expect(status).toBeGreaterThanOrEqual(400)
    expect(status).toBeLessThan(500)
  }
}

const bytes = fc.uint8Array({ maxLength: 400 })
/** Text that looks a little like a sheet. */
const sheetText = fc
  .array(
    fc.constantFrom('name', 'role', ',', ';', '\t', '"', '\n', '\r\n', 'Io', 'ليلى', '#', ' ', '🦀', '\u0000', '=1+1'),
    { maxLength: 60 },
  )
  .map((list) => list.join(''))

test('any bytes are a sheet, or a refusal', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.oneof(bytes, sheetText.map(strToU8)),
      fc.constantFrom('a.csv', 'a.tsv', 'a.json', 'a.xlsx', 'a.ods', 'a.exe', 'noname'),
      (data, name) => answersOrRefuses(() => readDataFile(data, name)),
    ),
    { numRuns: 400 },
  )
})

test('a sheet that reads has as many cells in every row as columns, each column once', () => {
  fc.assert(
    fc.property(sheetText, (text) => {
      let table: ReturnType<typeof readCsv>
      try {
        table = readCsv(strToU8(text), 'a.csv')
      } catch {
        return
      }
      expect(new Set(table.columns).size).toBe(table.columns.length)
      expect(table.rows.length).toBeGreaterThan(0)
      for (const row of table.rows) expect(row).toHaveLength(table.columns.length)
    }),
    { numRuns: 400 },
  )
})

test('any bytes decode to text, and text that was written decodes to itself', () => {
  fc.assert(fc.property(bytes, (data) => expect(typeof decodeText(data)).toBe('string')))
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme', minLength: 1 }), (text) =>
      expect(decodeText(strToU8(`\ufeff${text}`)).replace(/^\ufeff/, '')).toBe(text.replace(/^\ufeff/, '')),
    ),
  )
})

test('any bytes are a package, or a refusal; so is a package with any file spoiled', async () => {
  await fc.assert(
    fc.asyncProperty(bytes, (data) =>
      answersOrRefuses(async () => readPackage(unzipPackage(data, 'a.hoja'), 'a.hoja')),
    ),
  )
  const files = {
    'template.json': strToU8(JSON.stringify({ ...speaker, fonts: [], fallbacks: [], media: [], parts: [] })),
    'README.txt': strToU8('x'),
  }
  const good = zipSync(files)
  await fc.assert(
    fc.asyncProperty(fc.nat(good.length - 1), fc.nat(255), (at, value) => {
      const spoiled = good.slice()
      spoiled[at] = value
      return answersOrRefuses(async () => readPackage(unzipPackage(spoiled, 'a.hoja'), 'a.hoja'))
    }),
    { numRuns: 300 },
  )
})

test('any JSON is a template, or a refusal naming the place', async () => {
  await fc.assert(fc.asyncProperty(fc.jsonValue(), (value) => answersOrRefuses(() => readTemplate(value))))
  const paths: [string, ...(string | number)[]][] = [
    ['frame', 'width'],
    ['spans', 'hold', 'gives'],
    ['parts', 0, 'x', 'size', 'kind'],
    ['parts', 0, 'style', 'fill'],
    ['parts', 5, 'parts', 0, 'style', 'content'],
    ['fields', 0, 'key'],
    ['fonts', 1, 'sha256'],
    ['palette', 0, 'colour'],
    ['parts', 0, 'motion', 'tracks', 'grow', 'keys'],
    ['proofs', 0, 'values'],
    ['fallbacks', 0],
  ]
  await fc.assert(
    fc.asyncProperty(fc.constantFrom(...paths), fc.jsonValue(), (path, value) => {
      const document = JSON.parse(JSON.stringify(speaker))
      let at = document
      for (const step of path.slice(0, -1)) at = at[step]
      at[path[path.length - 1]!] = value
      return answersOrRefuses(() => readTemplate(document))
    }),
    { numRuns: 300 },
  )
})

test('any bytes are a picture or a font, or a refusal; so is a picture that breaks off', async () => {
  await fc.assert(fc.asyncProperty(bytes, (data) => answersOrRefuses(() => readImageHeader(data, 'a.png'))))
  await fc.assert(fc.asyncProperty(bytes, (data) => answersOrRefuses(() => new Font(data, 'a.ttf'))))
  const png = writePng({ id: '', width: 9, height: 9, rgba: new Uint8ClampedArray(324).fill(70) })
  await fc.assert(
    fc.asyncProperty(fc.nat(png.length - 20), (length) =>
      answersOrRefuses(() => readImageHeader(png.slice(0, length), 'a.png')),
    ),
  )
  for (let length = 0; length < png.length - 12; length += 7)
    expect(() => readImageHeader(png.slice(0, length), 'a.png')).toThrow(Refusal)
  const font = fontFiles[0]!.bytes
  await fc.assert(
    fc.asyncProperty(fc.nat(1000), (length) => answersOrRefuses(() => new Font(font.slice(0, length), 'a.ttf'))),
  )
})

test('any text is a timecode or a rate, or a refusal', async () => {
  const text = fc.oneof(
    fc.string(),
    fc.array(fc.constantFrom('0', '1', '9', ':', ';', '/', '.'), { maxLength: 12 }).map((list) => list.join('')),
  )
  await fc.assert(fc.asyncProperty(text, (t) => answersOrRefuses(() => frameOfTimecode(t, { num: 30000, den: 1001 }))))
  await fc.assert(fc.asyncProperty(text, (t) => answersOrRefuses(() => parseRate(t))))
})

test('a file name of any text can be written on any system, and no two rows share one', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme' }), (text) => {
      const name = safeName(text)
      expect(name).toMatch(/^[^\u0000-\u001f<>:"/\\|?*]+$/)
      expect(name).not.toMatch(/^\.|\.$|^\s|\s$/)
      expect(Buffer.byteLength(name)).toBeLessThanOrEqual(400)
    }),
  )
})

const scene = new Scene(speaker, assets)
const cell = fc.oneof(
  fc.string({ unit: 'grapheme', maxLength: 70 }),
  fc.string({ unit: 'binary', maxLength: 20 }),
  fc.constantFrom('', ' ', '\n', 'mill.png', 'ليلى\nsecond', '\u202eabc', 'a'.repeat(200), '👩‍🔬👩‍🔬'),
)

test('whatever stands in a row, it is measured and checked, and its state is one of three', () => {
  const match = matchColumns(speaker, ['name', 'role', 'mark'])
  fc.assert(
    fc.property(cell, cell, cell, (name, role, mark) => {
      const { findings, layout } = checkRow(scene, match, { cells: { name, role, mark } }, 3)
      expect(['stop', 'look', 'fine']).toContain(stateOf(findings))
      for (const finding of findings) {
        expect(finding.row).toBe(3)
        expect(finding.message).toMatch(/[.]$/)
      }
      for (const list of layout.rest.size) for (const value of list) expect(Number.isFinite(value)).toBe(true)
      expect(() => scene.frame(layout, scene.timing(scene.layout({})), 9)).not.toThrow()
    }),
    { numRuns: 250 },
  )
})

test('a fix, once taken, is not asked for again', () => {
  const match = matchColumns(speaker, ['name', 'role', 'mark'])
  fc.assert(
    fc.property(fc.array(fc.constantFrom('Io', ' ', '  ', 'Marrec'), { minLength: 1, maxLength: 8 }), (pieces) => {
      const name = pieces.join('')
      const { problems } = valuesOf(speaker, match, { cells: { name, role: '', mark: '' } })
      const fix = problems.find((p) => p.fix !== undefined)?.fix
      if (fix === undefined) return
      expect(
        valuesOf(speaker, match, { cells: { name: fix, role: '', mark: '' } }).problems.filter(
          (p) => p.code === 'spaces',
        ),
      ).toEqual([])
    }),
  )
})
