import { Buffer } from 'node:buffer'
import { readFileSync } from 'node:fs'
import spectrum from 'csv-spectrum'
import ExcelJS from 'exceljs'
import fc from 'fast-check'
import { strToU8, zipSync } from 'fflate'
import { PNG } from 'pngjs'
import { matchColumns } from '../data/index.ts'
import { fontFiles, speaker } from '../testing/speaker.ts'
import {
  crc32,
  packageFiles,
  readCsv,
  readDataFile,
  readImageHeader,
  readPackage,
  safeName,
  starterFile,
  unzipPackage,
  writeCsv,
  writePng,
  zipPackage,
} from './index.ts'

const csv = (text: string) => readCsv(strToU8(text), 'a.csv')

// csv-spectrum: a published collection of hard CSV files and the rows they mean.
test('every file of csv-spectrum reads as it should', async () => {
  const cases = await new Promise<{ name: string; csv: Buffer; json: Buffer }[]>((done, fail) =>
    spectrum((error: Error | null, data: never) => (error ? fail(error) : done(data))),
  )
  expect(cases.length).toBeGreaterThan(10)
  for (const { name, csv: bytes, json } of cases) {
    const { columns, rows } = readCsv(bytes, 'spectrum.csv')
    const read = rows.map((row) => Object.fromEntries(columns.map((c, i) => [c, row[i]])))
    const meant = [JSON.parse(json.toString())].flat()
    // In one of the collection's files the telephone number differs between its CSV and its JSON.
    if (name === 'location_coordinates') for (const row of [...read, ...meant]) delete row['Contact Phone Number']
    expect(read).toEqual(meant)
  }
})

test('UTF-8 with and without BOM, UTF-16 both ways, Windows-1252', () => {
  const text = 'name,role\r\nQuéré,Señor\r\n'
  const utf16 = Buffer.from(text, 'utf16le')
  const big = Buffer.from(utf16).swap16()
  const want = { columns: ['name', 'role'], rows: [['Quéré', 'Señor']] }
  for (const bytes of [
    Buffer.from(text),
    Buffer.from(`\ufeff${text}`),
    utf16,
    Buffer.concat([Buffer.from([0xff, 0xfe]), utf16]),
    big,
    Buffer.concat([Buffer.from([0xfe, 0xff]), big]),
    Buffer.from(text, 'latin1'),
  ])
    expect(readCsv(bytes, 'a.csv')).toEqual(want)
  expect(readCsv(Buffer.from('name\n\x93Io\x94\n', 'latin1'), 'a.csv').rows).toEqual([['“Io”']])
})

test('comma, semicolon and tab; quotes over several lines; notes above the header', () => {
  expect(csv('name;role\nIo;"a;b"\n').rows).toEqual([['Io', 'a;b']])
  expect(csv('name\trole\nIo\ta,b\n').rows).toEqual([['Io', 'a,b']])
  expect(csv('name,role\n"Io\nMarrec","say ""hi"""\n').rows).toEqual([['Io\nMarrec', 'say "hi"']])
  expect(csv('# name: the name\n# role\nname,role\nIo,\n')).toEqual({ columns: ['name', 'role'], rows: [['Io', '']] })
})

test('20,000 rows of 60 columns', () => {
  const columns = Array.from({ length: 60 }, (_, i) => `c${i}`)
  const big = writeCsv(
    columns,
    Array.from({ length: 20_000 }, (_, r) => columns.map((_c, i) => `${r}.${i}`)),
  )
  const table = csv(big)
  expect([table.columns.length, table.rows.length, table.rows[19_999]![59]]).toEqual([60, 20_000, '19999.59'])
})

test('what is wrong with a file is said in one sentence', () => {
  const cases: [string | Uint8Array, string][] = [
    ['', '"a.csv" is empty'],
    ['name,role\n', 'has column names and no rows'],
    ['name,role,name\n1,2,3\n', 'two columns called "name"'],
    [Uint8Array.from({ length: 400 }, (_, i) => (i * 37) % 256), 'not a text file'],
    [strToU8('PK\u0003\u0004\u0000\u0000'), 'not a text file'],
    ['name,role\nLiv, Ødegård,x,y\n', 'row 1 has 4 cells and the header 2'],
    ['name\n"open\n', 'a quotation mark is opened and not closed'],
  ]
  for (const [bytes, message] of cases)
    expect(() => readCsv(typeof bytes === 'string' ? strToU8(bytes) : bytes, 'a.csv')).toThrow(message)
  expect(() => readDataFile(strToU8('x'), 'a.pdf')).toThrow('of no kind that Hoja reads')
  expect(() => readDataFile(strToU8('[1, 2]'), 'a.json')).toThrow('holds no list of rows')
  expect(() => readDataFile(strToU8('{"a":'), 'a.json')).toThrow('is not JSON')
  expect(() => readDataFile(strToU8('nope'), 'a.xlsx')).toThrow('not a workbook')
})

test('written CSV reads back (RFC 4180)', () => {
  const cell = fc
    .string({ unit: fc.constantFrom('a', '"', ',', ';', '\n', ' ', 'é', '\t') })
    .filter((s) => s.trim() === s)
  fc.assert(
    fc.property(fc.array(fc.tuple(cell, cell), { minLength: 1, maxLength: 8 }), (rows) => {
      fc.pre(rows.every((row) => row.some((c) => c !== '')))
      expect(csv(writeCsv(['one', 'two'], rows)).rows).toEqual(rows)
    }),
  )
})

test('workbooks written by exceljs, json, and our own starter files', async () => {
  const book = new ExcelJS.Workbook()
  book.addWorksheet('Notes').addRows([['x'], ['y']])
  book.addWorksheet('Speakers').addRows([
    ['Name', 'Role'],
    ['Ngọc Ánh Đặng', 'Oyster grower'],
  ])
  const bytes = new Uint8Array((await book.xlsx.writeBuffer()) as ArrayBuffer)
  expect(readDataFile(bytes, 'a.xlsx', { sheet: 'Speakers' })).toEqual({
    columns: ['Name', 'Role'],
    rows: [['Ngọc Ánh Đặng', 'Oyster grower']],
  })
  expect(() => readDataFile(bytes, 'a.xlsx', { sheet: 'None' })).toThrow('it has Notes, Speakers')
  expect(readDataFile(strToU8('{"source":"x","rows":[{"name":"Io","n":2}]}'), 'a.json').rows).toEqual([['Io', '2']])
  for (const kind of ['csv', 'xlsx', 'json'] as const) {
    const table = readDataFile(starterFile(speaker, kind), `starter.${kind}`)
    expect(table.columns).toEqual(['name', 'role', 'mark'])
    expect(table.rows).toEqual([speaker.fields.map((f) => f.default)])
    expect(matchColumns(speaker, table.columns)).toEqual({ name: 'name', role: 'role', mark: 'mark' })
  }
  const other = new ExcelJS.Workbook()
  await other.xlsx.load(Buffer.from(starterFile(speaker, 'xlsx')) as never)
  expect(other.getWorksheet('Notes')!.getRow(2).getCell(3).value).toContain('First name and surname')
})

const carried = () => {
  const folder = new URL('../../../demo/templates/speaker/', import.meta.url)
  return Object.fromEntries(
    [...speaker.fonts, ...speaker.media].map((entry) => [
      entry.file,
      new Uint8Array(readFileSync(new URL(entry.file, folder))),
    ]),
  )
}

test('a package reads back, and export-import-export gives the same bytes', async () => {
  const first = zipPackage({ template: speaker, files: carried() })
  const read = await readPackage(unzipPackage(first, 'a.hoja'), 'a.hoja')
  expect(read.template).toEqual(speaker)
  expect(Buffer.from(zipPackage(read)).equals(Buffer.from(first))).toBe(true)
  expect(new TextDecoder().decode(packageFiles(read)['README.txt'])).toContain('at most 40 characters')
})

test('broken and hostile packages are refused', async () => {
  const files = { ...packageFiles({ template: speaker, files: carried() }) }
  const open = async (change: Record<string, Uint8Array | undefined>) => {
    const all = { ...files, ...change }
    for (const [path, bytes] of Object.entries(all)) if (!bytes) delete all[path]
    return readPackage(unzipPackage(zipSync(all as Record<string, Uint8Array>, { level: 0 }), 'a.hoja'), 'a.hoja')
  }
  const font = speaker.fonts[0]!.file
  await expect(open({ '../evil.txt': strToU8('x') })).rejects.toThrow('a path that leaves it')
  await expect(open({ 'C:\\evil.txt': strToU8('x') })).rejects.toThrow('a path that leaves it')
  await expect(open({ 'template.json': undefined })).rejects.toThrow('no template.json')
  await expect(open({ 'template.json': strToU8('{') })).rejects.toThrow('is not JSON')
  await expect(open({ 'template.json': strToU8(JSON.stringify({ ...speaker, schema: 9 })) })).rejects.toThrow(
    'newer Hoja',
  )
  await expect(open({ [font]: undefined })).rejects.toThrow(`lacks ${font}`)
  await expect(open({ [font]: fontFiles[2]!.bytes.slice(4) })).rejects.toThrow('SHA-256 differs')
  expect(() => unzipPackage(strToU8('hello'), 'a.hoja')).toThrow('not a template package')
  expect(() => unzipPackage(zipSync(files).slice(0, 90_000), 'a.hoja')).toThrow('damaged package')
  // A small file whose directory says that it unpacks to 300 MB: refused before a byte of it is unpacked.
  const bomb = zipSync({ a: new Uint8Array(10) })
  const directory = Buffer.from(bomb).indexOf(Buffer.from([0x50, 0x4b, 1, 2]))
  new DataView(bomb.buffer).setUint32(directory + 24, 300 * 1024 * 1024, true)
  expect(() => unzipPackage(bomb, 'a.hoja')).toThrow('more than 256 MB')
})

test('pictures are told by their first bytes, and a 30,000 px one is refused', () => {
  const png = (width: number) => writePng({ id: '', width, height: 1, rgba: new Uint8ClampedArray(width * 4) })
  expect(readImageHeader(png(40), 'a.png')).toEqual({ kind: 'png', width: 40, height: 1 })
  expect(() => readImageHeader(png(30_000), 'a.png')).toThrow('30000 x 1 px; make it at most')
  expect(() => readImageHeader(strToU8('<html>'), 'a.png')).toThrow('not a PNG, JPEG or WebP')
})

// pngjs is an independent reader; the CRC check value is the one that the PNG specification's algorithm gives "123456789".
test('our PNG reads back in pngjs, byte for byte', () => {
  const rgba = Uint8ClampedArray.from({ length: 5 * 3 * 4 }, (_, i) => (i * 31) % 256)
  const read = PNG.sync.read(Buffer.from(writePng({ id: '', width: 5, height: 3, rgba })))
  expect([read.width, read.height]).toEqual([5, 3])
  expect(new Uint8ClampedArray(read.data)).toEqual(rgba)
  expect(crc32(strToU8('123456789'))).toBe(0xcbf43926)
})

test('file names are safe anywhere', () => {
  expect(safeName('  ../Dr. "O\'Brien" / Ngọc:*?  ')).toBe('Dr._O_Brien_Ngọc')
  expect(safeName('con')).toBe('con_')
  expect(safeName('???')).toBe('untitled')
})
