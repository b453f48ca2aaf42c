import { strToU8, zipSync } from 'fflate'
import { feedOf, odsOf, odsRow, xlsxOf, xlsxRow } from '../testing/hostile.ts'
import { guarded, readDataFile, readPackage, unguarded, unzipPackage, writeCsv } from './index.ts'

// Each of these held a thread for seconds to minutes, or for good: what is linear ends within the patience of a test.

const two = xlsxRow(1, 'name') + xlsxRow(2, 'Io')

test('a worksheet that says it is as large as can be is as large as its cells', () => {
  expect(readDataFile(xlsxOf('A1:XFD1048576', `<sheetData>${two}</sheetData>`), 'a.xlsx')).toEqual({
    columns: ['name'],
    rows: [['Io']],
  })
  const columns = '<cols><col min="1" max="1000000000" width="9"/></cols>'
  expect(readDataFile(xlsxOf('A1', `${columns}<sheetData>${two}</sheetData>`), 'a.xlsx').rows).toHaveLength(1)
})

test.each([
  ['far.xlsx', xlsxOf('A1', `<sheetData>${two}${xlsxRow(1048576, 'x', 'XFD')}</sheetData>`), '1,048,575 rows'],
  ['rows.ods', odsOf(odsRow(1e9)), '1,000,000,000 rows'],
  ['columns.ods', odsOf(odsRow(1, 1e9)), '1,000,000,000 columns'],
  ['columns.csv', strToU8(`${Array.from({ length: 60_000 }, (_, i) => `c${i}`).join(',')}\nx\n`), '60,000 columns'],
])('%s is told to be too large', (name, bytes, has) => {
  expect(() => readDataFile(bytes, name)).toThrow(`has ${has}; Hoja reads up to`)
})

test('rows that have no columns in common are told so before their table is made', () => {
  const rows = Array.from({ length: 6000 }, (_, i) => ({ [`k${i}`]: 1 }))
  expect(() => readDataFile(strToU8(JSON.stringify(rows)), 'keys.json')).toThrow(
    'The rows of "keys.json" have no columns in common: the first 201 have 201, and fill 1 each; call the same things the same',
  )
})

test('a title of signs that open tags and close none is a title', () => {
  expect(readDataFile(feedOf(`<![CDATA[${'<'.repeat(90_000)}]]>`), 'a.xml').rows[0]![0]).toHaveLength(90_000)
  expect(() => readDataFile(feedOf('&lt;'.repeat(120_000)), 'a.xml')).toThrow(
    '"a.xml", row 1: "title" holds 120,000 characters; Hoja takes up to 100,000 characters in a cell.',
  )
})

test('what is nested a thousand levels deep is told, wherever it is', async () => {
  expect(() => readDataFile(strToU8('['.repeat(2000)), 'a.json')).toThrow('more than 200 levels deep')
  expect(() => readDataFile(feedOf('<b>'.repeat(2000)), 'a.xml')).toThrow('more than 200 levels deep')
  const document = `{"x-a":${'['.repeat(2000)}${']'.repeat(2000)}}`
  const pack = zipSync({ 'template.json': strToU8(document) })
  await expect(readPackage(unzipPackage(pack, 'a.hoja'), 'a.hoja')).rejects.toThrow(
    'template.json in "a.hoja" nests lists and objects more than 200 levels deep; make it flatter.',
  )
})

test('brackets in texts are no levels', () => {
  const name = '[{"'.repeat(300)
  expect(readDataFile(strToU8(JSON.stringify([{ name }])), 'a.json').rows).toEqual([[name]])
})

test('entities of a feed fetch nothing and unfold to no more than a text', () => {
  const feed = (types: string, title: string) =>
    strToU8(`<!DOCTYPE a [${types}]>${new TextDecoder().decode(feedOf(title))}`)
  expect(() => readDataFile(feed('<!ENTITY x SYSTEM "file:///etc/passwd">', '&x;'), 'a.xml')).toThrow(
    '"a.xml" is no feed that Hoja reads: External entities are not supported.',
  )
  const tens = Array.from({ length: 12 }, (_, i) => `<!ENTITY e${i + 1} "${`&e${i};`.repeat(10)}">`).join('')
  expect(readDataFile(feed(`<!ENTITY e0 "lol">${tens}`, '&e12;'), 'a.xml').rows[0]![0]!.length).toBeLessThan(100)
  expect(() => readDataFile(feed(`<!ENTITY a "${'x'.repeat(50_000)}">`, '&a;'.repeat(50_000)), 'a.xml')).toThrow(
    '"a.xml" is no feed that Hoja reads',
  )
})

test('sixty thousand tables that are opened and not closed are damage', () => {
  expect(() => readDataFile(odsOf('<table:table '.repeat(60_000)), 'a.ods')).toThrow('is a damaged workbook')
})

test('a path whose pattern nests its quantifiers ends', () => {
  const rows = strToU8(JSON.stringify([{ a: `${'a'.repeat(90_000)}!` }, { a: 'aab' }]))
  expect(readDataFile(rows, 'a.json', { path: "$[?match(@.a, '(a+)+b')]" }).rows).toEqual([['aab']])
})

test('rows with columns that every object has are read like any other', () => {
  const rows = strToU8('[{"__proto__":"a","constructor":"b","toString":"c"}]')
  expect(readDataFile(rows, 'a.json')).toMatchObject({
    columns: ['__proto__', 'constructor', 'toString'],
    rows: [['a', 'b', 'c']],
  })
})

test('what a zip says of its sizes is not trusted', () => {
  const zip = zipSync({ 'template.json': new Uint8Array(5_000_000) })
  const view = new DataView(zip.buffer, zip.byteOffset)
  for (let at = 0; at + 4 < zip.length; at++)
    if (view.getUint32(at, true) === 0x02014b50) view.setUint32(at + 24, 10, true)
  expect(() => unzipPackage(zip, 'a.hoja')).toThrow('"a.hoja" is a damaged package; export it again.')
})

// OWASP, CSV Injection: the signs by which a cell is taken for a formula, and the apostrophe that keeps it from being one.
test.each(['=1+1', '+1+1', '-1+1', '@SUM(A1)', '\t=1', '＝1', "'=1", "''@x"])(
  '%j is guarded, and read back as it was',
  (cell) => {
    const file = strToU8(writeCsv(['name'], [[cell]]))
    expect(new TextDecoder().decode(file)).toContain(`'${cell}`)
    expect(readDataFile(file, 'a.csv').rows).toEqual([[cell]])
    expect(writeCsv(['name'], [[cell]], true)).not.toContain(`'${cell}`)
  },
)

test.each(['-5', '+3,2', '-12.50%', 'Io = Marrec', "O'Hara", "'quoted'", ''])('%j is no formula', (cell) => {
  expect(guarded(cell)).toBe(cell)
  expect(unguarded(cell)).toBe(cell)
})
