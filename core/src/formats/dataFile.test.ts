import { utils, write } from '@e965/xlsx'
import exceljs from 'exceljs'
import fc from 'fast-check'
import { guessHeader, jsonArrays, jsonTable, openDataFile, readDataFile, serialDate, Workbook } from './index.ts'

const utf8 = (text: string) => new TextEncoder().encode(text)

/** A workbook as exceljs writes it. */
async function written(fill: (book: exceljs.Workbook) => void): Promise<Uint8Array> {
  const book = new exceljs.Workbook()
  fill(book)
  return new Uint8Array((await book.xlsx.writeBuffer()) as ArrayBuffer)
}

describe('dates', () => {
  // ECMA-376 part 1, 18.17.4.1: in the 1900 system 1 is 1900-01-01, 59 is 1900-02-28, 60 the day that never was, 61 is
  // 1900-03-01, 39448 is 2008-01-01; in the 1904 system 0 is 1904-01-01 and 37986 is 2008-01-01.
  test.each([
    [1, 1900, '1900-01-01'],
    [59, 1900, '1900-02-28'],
    [60, 1900, '1900-02-29'],
    [61, 1900, '1900-03-01'],
    [39448, 1900, '2008-01-01'],
    [0, 1904, '1904-01-01'],
    [37986, 1904, '2008-01-01'],
    [39448.5, 1900, '2008-01-01T12:00'],
    [39448.999999, 1900, '2008-01-02'],
    [39448 + 1 / 86400, 1900, '2008-01-01T00:00:01'],
  ] as const)('serial %d in the %d system is %s', (serial, system, date) => {
    expect(serialDate(serial, system)).toBe(date)
  })

  test('the two systems are 1462 days apart, from 1904 on', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 60000 }), fc.integer({ min: 0, max: 1439 }), (day, minute) => {
        expect(serialDate(day + 1462 + minute / 1440, 1900)).toBe(serialDate(day + minute / 1440, 1904))
      }),
    )
  })

  test.each([false, true])('a date that exceljs writes is read as that date, 1904 system: %s', async (date1904) => {
    const bytes = await written((book) => {
      book.properties.date1904 = date1904
      const sheet = book.addWorksheet('Days')
      sheet.addRow(['day', 'moment'])
      sheet.addRow([new Date(Date.UTC(2026, 10, 26)), new Date(Date.UTC(2026, 10, 26, 18, 30))])
      sheet.getCell('A2').numFmt = 'mm-dd-yy'
      sheet.getCell('B2').numFmt = 'm/d/yy h:mm'
    })
    expect(new Workbook(bytes, 'd.xlsx').dates).toBe(date1904 ? 1904 : 1900)
    expect(readDataFile(bytes, 'd.xlsx', { as: 'values' }).rows).toEqual([['2026-11-26', '2026-11-26T18:30']])
  })
})

describe('workbooks', () => {
  test('sheets are told, hidden ones too; the first in sight is read, and any by name', async () => {
    const bytes = await written((book) => {
      book.addWorksheet('Notes', { state: 'hidden' }).addRows([['a'], ['1']])
      book.addWorksheet('Speakers').addRows([
        ['name', 'role'],
        ['Maren', 'Marsh'],
      ])
      book.addWorksheet('Talks').addRows([['title'], ['What the marsh remembers']])
    })
    const { facts, table } = openDataFile(bytes, 'week.xlsx')
    expect(facts.sheets).toEqual([
      { name: 'Notes', rows: 2, columns: 1, hidden: true },
      { name: 'Speakers', rows: 2, columns: 2, hidden: false },
      { name: 'Talks', rows: 2, columns: 1, hidden: false },
    ])
    expect(facts.options).toMatchObject({ sheet: 'Speakers', header: 1 })
    expect(table).toEqual({ columns: ['name', 'role'], rows: [['Maren', 'Marsh']] })
    expect(readDataFile(bytes, 'week.xlsx', { sheet: 'Talks' }).columns).toEqual(['title'])
    expect(() => readDataFile(bytes, 'week.xlsx', { sheet: 'Tides' })).toThrow(
      'has no sheet "Tides"; it has Notes, Speakers, Talks',
    )
  })

  test('hidden rows and columns stay out unless they are asked for; merged cells speak for all they cover', async () => {
    const bytes = await written((book) => {
      const sheet = book.addWorksheet('S')
      sheet.addRows([
        ['house', 'name', 'secret'],
        ['Vado', 'Maren', 'x'],
        ['', 'Io', 'y'],
        ['Mill', 'Ada', 'z'],
      ])
      sheet.mergeCells('A2:A3')
      sheet.getRow(4).hidden = true
      sheet.getColumn(3).hidden = true
    })
    expect(readDataFile(bytes, 's.xlsx')).toEqual({
      columns: ['house', 'name'],
      rows: [
        ['Vado', 'Maren'],
        ['Vado', 'Io'],
      ],
    })
    expect(readDataFile(bytes, 's.xlsx', { hidden: true }).rows).toHaveLength(3)
  })

  test('numbers are read as displayed or as kept, formulas as their values, cells with an error as it is shown', async () => {
    const bytes = await written((book) => {
      const sheet = book.addWorksheet('S')
      sheet.addRow(['height', 'sum', 'broken'])
      sheet.addRow([3.25, { formula: 'A2*2', result: 6.5 }, { error: '#DIV/0!' }])
      sheet.getCell('A2').numFmt = '0.0" m"'
    })
    expect(readDataFile(bytes, 's.xlsx').rows).toEqual([['3.3 m', '6.5', '#DIV/0!']])
    expect(readDataFile(bytes, 's.xlsx', { as: 'values' }).rows[0]!.slice(0, 2)).toEqual(['3.25', '6.5'])
  })

  test('an ods that another writer made reads as the xlsx of the same rows does', () => {
    const book = utils.book_new()
    utils.book_append_sheet(
      book,
      utils.aoa_to_sheet([
        ['name', 'n'],
        ['Ngọc Ánh', 3],
        ['Świętosława', 4],
      ]),
      'Names',
    )
    const bytes = (bookType: 'ods' | 'xlsx') => new Uint8Array(write(book, { type: 'array', bookType }) as ArrayBuffer)
    expect(readDataFile(bytes('ods'), 'n.ods')).toEqual(readDataFile(bytes('xlsx'), 'n.xlsx'))
  })

  test('what is written is read back, whatever is in it', async () => {
    const cell = fc
      .string({ unit: 'grapheme', maxLength: 12 })
      .filter((s) => /^[^\0-\x1f]*$/.test(s) && s.trim() === s && s !== '')
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(cell, cell), { minLength: 1, maxLength: 6 }), async (rows) => {
        const bytes = await written((book) => void book.addWorksheet('S').addRows([['a', 'b'], ...rows]))
        expect(readDataFile(bytes, 'r.xlsx', { header: 1 }).rows).toEqual(rows)
      }),
      { numRuns: 30 },
    )
  })
})

describe('the row of the column names', () => {
  test('is found below a title, and can be said; without one columns are numbered', () => {
    const text = 'Estuary Week,,\n,,\nname,role,mark\nMaren,Marsh,eel.png\nIo,Rope,\n'
    const { facts, table } = openDataFile(utf8(text), 'a.csv')
    expect(facts.options.header).toBe(2)
    expect(table.columns).toEqual(['name', 'role', 'mark'])
    expect(readDataFile(utf8('Maren,Marsh\nIo,Rope\n'), 'a.csv', { header: 0 })).toEqual({
      columns: ['column 1', 'column 2'],
      rows: [
        ['Maren', 'Marsh'],
        ['Io', 'Rope'],
      ],
    })
    expect(() => readDataFile(utf8('a\n1\n'), 'a.csv', { header: 9 })).toThrow("row 9 can't hold the column names")
  })

  test('is never a row of numbers where there is one of words', () => {
    const words = fc.uniqueArray(fc.stringMatching(/^[A-Za-z]{2,8}$/), {
      minLength: 2,
      maxLength: 5,
      selector: (w) => w.toLowerCase(),
    })
    fc.assert(
      fc.property(words, fc.integer({ min: 0, max: 4 }), (names, above) => {
        const numbers = names.map((_, i) => String(i + 0.5))
        const grid = [...Array.from({ length: above }, () => numbers), names, numbers]
        expect(guessHeader(grid)).toBe(above + 1)
      }),
    )
  })

  test('a separator that is said holds', () => {
    expect(readDataFile(utf8('a|b\n1|2\n'), 'a.txt', { separator: '|' }).rows).toEqual([['1', '2']])
  })
})

// RFC 9535, 1.5, figure 1: the example of the bookstore.
const bookstore = {
  store: {
    book: [
      { category: 'reference', author: 'Nigel Rees', title: 'Sayings of the Century', price: 8.95 },
      { category: 'fiction', author: 'Evelyn Waugh', title: 'Sword of Honour', price: 12.99 },
      { category: 'fiction', author: 'Herman Melville', title: 'Moby Dick', isbn: '0-553-21311-3', price: 8.99 },
      {
        category: 'fiction',
        author: 'J. R. R. Tolkien',
        title: 'The Lord of the Rings',
        isbn: '0-395-19395-8',
        price: 22.99,
      },
    ],
    bicycle: { color: 'red', price: 399 },
  },
}

describe('json', () => {
  test('a list of rows is found anywhere, and named by its normalized path (RFC 9535, 2.7)', () => {
    expect(jsonArrays(bookstore)).toEqual([
      { path: '$', rows: 1, columns: ['store.book', 'store.bicycle.color', 'store.bicycle.price'] },
      { path: "$['store']['book']", rows: 4, columns: ['category', 'author', 'title', 'price', 'isbn'] },
    ])
    expect(jsonArrays({ "it's": [{ a: 1 }] })[1]!.path).toBe("$['it\\'s']")
  })

  // RFC 9535, 1.5, table 2, and what it says they choose.
  test.each([
    ['$.store.book[*]', ['Sayings of the Century', 'Sword of Honour', 'Moby Dick', 'The Lord of the Rings']],
    ['$..book[2]', ['Moby Dick']],
    ['$..book[-1]', ['The Lord of the Rings']],
    ['$..book[0,1]', ['Sayings of the Century', 'Sword of Honour']],
    ['$..book[:2]', ['Sayings of the Century', 'Sword of Honour']],
    ['$..book[?@.isbn]', ['Moby Dick', 'The Lord of the Rings']],
    ['$..book[?@.price<10]', ['Sayings of the Century', 'Moby Dick']],
  ])('%s', (path, titles) => {
    const { columns, rows } = jsonTable(bookstore, 'b.json', path)
    expect(rows.map((row) => row[columns.indexOf('title')])).toEqual(titles)
  })

  test('nested objects become columns, lists stay lists', () => {
    const rows = { rows: [{ name: { first: 'Maren', last: 'Oduya' }, heights: [1, 2.5], none: null }] }
    expect(jsonTable(rows, 'a.json')).toEqual({
      columns: ['name.first', 'name.last', 'heights', 'none'],
      rows: [['Maren', 'Oduya', '[1,2.5]', '']],
      marks: '.',
    })
  })

  test('what is no path, chooses no rows, or is no JSON is refused with its place', () => {
    expect(() => jsonTable(bookstore, 'b.json', '$..[')).toThrow('"$..[" is no path of RFC 9535')
    expect(() => jsonTable(bookstore, 'b.json', '$..price')).toThrow('"$..price" chooses no rows in "b.json"')
    expect(() => readDataFile(utf8('{"rows": [\n  {"a": 1},\n  {"a": }\n]}'), 'b.json')).toThrow(
      '"b.json" is not JSON: it breaks at line 3, column 9',
    )
  })
})
