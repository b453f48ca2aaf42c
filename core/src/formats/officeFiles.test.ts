import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { readTemplate, type Template } from '../template/index.ts'
import { speaker } from '../testing/speaker.ts'
import {
  bookOffers,
  encodingOf,
  openDataFile,
  readCsv,
  readDataFile,
  readPart,
  starterFile,
  Workbook,
} from './index.ts'

const bytesOf = (path: string) => new Uint8Array(readFileSync(new URL(path, import.meta.url)))
const office = (name: string) => bytesOf(`../testing/workbooks/${name}`)
const demoTemplate = (name: string): Template =>
  readTemplate(
    JSON.parse(readFileSync(new URL(`../../../demo/templates/${name}/template.json`, import.meta.url), 'utf8')),
  )

describe('workbooks that LibreOffice wrote (see core/src/testing/workbooks)', () => {
  test.each(['days-1900.xlsx', 'days-1904.xlsx', 'days-1900.ods', 'days-1904.ods'])(
    '%s: dates in both systems, a hidden row, merged cells, formulas',
    (name) => {
      const book = new Workbook(office(name), name)
      expect(book.dates).toBe(name.includes('1904') ? 1904 : 1900)
      const day = (row: string[]) => [row[0], row[1]!.replace(/[T ]00:00$/, '').replace('T', ' '), row[2], row[4]]
      expect(readDataFile(office(name), name).rows.map(day)).toEqual([
        ['Io', '2026-11-26 18:30', '0.25', '0.5'],
        ['Tam', '2008-01-01', '1234.50', '2469'],
        ['Tam', '1999-12-31', '', ''],
      ])
      const kept = readDataFile(office(name), name, { as: 'values', hidden: true }).rows
      expect(kept.map(day)[1]).toEqual(['Hidden', '1904-02-29', '0.5', '1'])
    },
  )

  test('the week of the demo is the same as ods: sheets, merged heads, hidden columns, formulas', () => {
    const ours = bytesOf('../../../demo/data/estuary-week.xlsx')
    const sheets = openDataFile(ours, 'w.xlsx').facts.sheets!.map(({ name }) => name)
    expect(sheets).toEqual(['Thursday speakers', 'Thursday talks', 'Friday speakers', 'Friday talks', 'Places'])
    for (const sheet of sheets) {
      const plain = (name: string, bytes: Uint8Array) =>
        readDataFile(bytes, name, { sheet }).rows.map((row) => row.map((cell) => cell.replace('T', ' ')))
      expect(plain('w.ods', office('week.ods'))).toEqual(plain('w.xlsx', ours))
    }
  })

  test('it reads the workbook that we write', () => {
    const [columns, ...rows] = [...Object.entries(readDataFile(starterFile(speaker, 'xlsx'), 's.xlsx'))].map(
      ([, v]) => v,
    )
    const read = readCsv(office('starter.csv'), 'starter.csv')
    expect([read.columns, read.rows]).toEqual([columns, ...rows])
  })
})

describe('encodings', () => {
  // iconv-lite, an independent implementation, writes; TextDecoder reads. Texts are long enough for their bytes to tell.
  const iconv = createRequire(import.meta.url)('iconv-lite') as { encode(text: string, encoding: string): Buffer }
  const long = (line: string) => `name\n${Array.from({ length: 12 }, () => line).join('\n')}\n`
  test.each([
    ['windows-1252', 'Ana María Ibáñez, Doña Perpetua – “Gull” für 5 €'],
    ['windows-1251', 'Смотритель северного маяка, паромная переправа'],
    ['shift_jis', '海野さくら、潮汐研究員です。河口の週のひとびと'],
    ['euc-kr', '하구 주간의 조수 연구원과 등대지기 여러분'],
    ['gb18030', '河口周的潮汐研究员和灯塔看守人都在这里'],
    ['utf-16le', 'Ngọc Ánh Đặng'],
    ['utf-8', 'Ngọc Ánh Đặng, Świętosława Brzeg'],
  ])('%s is told from its bytes and read', (encoding, line) => {
    const bytes = new Uint8Array(iconv.encode(long(line), encoding))
    expect(encodingOf(bytes)).toBe(encoding)
    const { facts, table } = openDataFile(bytes, 'names.tsv', { separator: '\t' })
    expect(facts.options.encoding).toBe(encoding)
    expect(table.rows[3]).toEqual([line])
  })

  test.each([
    ['windows-1250', 'Świętosława Brzeg'],
    ['iso-8859-2', 'Świętosława Brzeg'],
    ['windows-1254', 'Çağlayıgüzel'],
    ['windows-1253', 'Θάλασσα'],
    ['windows-1256', 'ليلى الساحلي'],
    ['windows-1255', 'מרים'],
    ['koi8-r', 'Маяк'],
    ['big5', '河口'],
    ['euc-jp', '海野 さくら'],
    ['macintosh', 'Ibáñez'],
    ['utf-16be', 'Ngọc'],
  ])('%s is read where a person says so', (encoding, name) => {
    const bytes = new Uint8Array(iconv.encode(`name\n${name}\n`, encoding))
    expect(openDataFile(bytes, 'n.csv', { encoding }).table.rows).toEqual([[name]])
  })
})

describe('one file for several templates', () => {
  const candidates = ['speaker', 'talk', 'place', 'tide', 'species'].map((name, i) => ({
    version: i + 1,
    template: demoTemplate(name),
  }))

  test('every worksheet finds the template that it looks like', () => {
    const { sheets, column } = bookOffers(bytesOf('../../../demo/data/estuary-week.xlsx'), 'week.xlsx', candidates)
    expect(sheets.map(({ sheet, version, rows, doubt }) => [sheet, version, rows, doubt])).toEqual([
      ['Thursday speakers', 1, 5, null],
      ['Thursday talks', 2, 3, null],
      ['Friday speakers', 1, 4, null],
      ['Friday talks', 2, 2, null],
      ['Places', 3, 4, null],
    ])
    expect(column).toBeNull()
  })

  test('a column that names templates divides the rows; those that name none are told', () => {
    const bytes = new TextEncoder().encode(
      'Template,Name,Place\nSpeaker,Io Marrec,\nplace,,North Light\n,Nobody,\nSPEAKER,Tam,\n',
    )
    const offers = bookOffers(bytes, 'all.csv', candidates)
    expect(offers.column).toBe('Template')
    expect(offers.byColumn.map(({ value, version, rows }) => [value, version, rows])).toEqual([
      ['SPEAKER', 1, 2],
      ['place', 3, 1],
      ['', null, 1],
    ])
    const part = readPart(bytes, 'all.csv', { column: 'Template', value: 'Speaker' })
    expect(part.rows.map((row) => row[1])).toEqual(['Io Marrec', 'Tam'])
    expect(() => readPart(bytes, 'all.csv', { column: 'Kind' })).toThrow('has no column "Kind"')
  })
})

test('a half-written or broken text file says where it breaks', () => {
  const read = (text: string) => () =>
    openDataFile(new TextEncoder().encode(text), 'n.csv', { followed: true, separator: ',' })
  expect(read('a,b\r\n1,2\r\n3,"x\r\n')).toThrow('(line 3, column 3): a quotation mark is opened and not closed')
  expect(read('# a note\na,b\n1,2\n3')).toThrow('"n.csv" ends in the middle of a row, at line 4, column 2.')
  expect(read('a,b\n1,2\n3\n')().table.rows).toEqual([
    ['1', '2'],
    ['3', ''],
  ])
})
