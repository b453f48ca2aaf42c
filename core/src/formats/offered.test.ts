import ExcelJS from 'exceljs'
import { field } from '../testing/parts.ts'
import { speaker } from '../testing/speaker.ts'
import { openDataFile, previewOf, readDataFile } from './index.ts'

const bytes = (text: string) => new TextEncoder().encode(text)
const json = (value: unknown) => bytes(JSON.stringify(value))
const gauge = {
  ...speaker,
  name: 'Gauge',
  fields: [
    field({ id: 's', key: 'station', name: 'Station' }),
    field({ id: 'h', key: 'height', name: 'Height', type: 'number', default: 0 }),
  ],
}

async function workbook(sheets: Record<string, string[][]>): Promise<Uint8Array> {
  const book = new ExcelJS.Workbook()
  for (const [name, rows] of Object.entries(sheets)) {
    const sheet = book.addWorksheet(name)
    for (const row of rows) sheet.addRow(row)
  }
  return new Uint8Array((await book.xlsx.writeBuffer()) as ArrayBuffer)
}

test('a worksheet that matches is offered before a first one that matches nothing', async () => {
  const book = await workbook({
    Budget: [
      ['Item', 'Sum'],
      ['Chairs', '40'],
    ],
    Notes: [['Only words']],
    // When rows start and end says nothing about a template.
    Running: [
      ['Start', 'End'],
      ['10:00:00:00', '10:00:04:00'],
    ],
    People: [
      ['Name', 'Role'],
      ['Io Marrec', 'Pilot'],
    ],
  })
  const { facts, table } = openDataFile(book, 'week.xlsx', {}, speaker)
  expect([facts.options.sheet, table.rows]).toEqual(['People', [['Io Marrec', 'Pilot']]])
  expect(facts.sheets!.map(({ name, matched }) => [name, matched])).toEqual([
    ['Budget', 0],
    ['Notes', undefined],
    ['Running', 0],
    ['People', 2],
  ])
  expect(facts.note).toBe('Worksheet "Budget" matches nothing of "Speaker", so the rows are those of "People".')
  // One that was asked for is taken, and so is the first where none matches.
  expect(openDataFile(book, 'week.xlsx', { sheet: 'Budget' }, speaker).facts).not.toHaveProperty('note')
  expect(openDataFile(book, 'week.xlsx', {}, { ...gauge, fields: [] }).facts.options.sheet).toBe('Budget')
})

test('a row of names that matches is taken before a guess that matches nothing', () => {
  const csv = bytes('Estuary Week,Thursday,hall\nprinted for the desk,,\nname,role,mark\nIo Marrec,Pilot,\n')
  expect(openDataFile(csv, 'a.csv').facts.options.header).toBe(1)
  expect(openDataFile(csv, 'a.csv', {}, speaker)).toMatchObject({
    facts: { options: { header: 3 } },
    table: { columns: ['name', 'role', 'mark'], rows: [['Io Marrec', 'Pilot', '']] },
  })
})

test('the part of a timeline that matches is offered before a first one that matches nothing', () => {
  const list = bytes(
    '001  QUAY  V  C  00:00:10:00 00:00:14:00 10:00:00:00 10:00:04:00\n* LOC: 10:00:01:15 RED Maren Oduya\n',
  )
  const note = { ...speaker, name: 'Note', fields: [field({ id: 't', key: 'text', name: 'Text' })] }
  const { facts, table } = openDataFile(list, 'week.edl', {}, note)
  expect(facts.sheets!.map(({ name, matched }) => [name, matched])).toEqual([
    ['Events', 0],
    ['Locators', 1],
  ])
  expect(facts.note).toBe('Its part "Events" matches nothing of "Note", so the rows are those of "Locators".')
  expect(table.rows).toEqual([['10:00:01:15', 'Maren Oduya', 'red']])
  expect(openDataFile(list, 'week.edl', { sheet: 'Events' }, note).facts).not.toHaveProperty('note')
})

test('one JSON document is one row', () => {
  const document = json({ station: 'Vado Bridge', height: 1.234, at: { lat: 43 } })
  expect(readDataFile(document, 'one.json')).toMatchObject({
    columns: ['station', 'height', 'at.lat'],
    rows: [['Vado Bridge', '1.234', '43']],
  })
  // Its own list is a cell, and is offered.
  const nested = json({ station: 'Vado Bridge', height: 2, readings: [{ time: '10:00' }, { time: '11:00' }] })
  const { facts, table } = openDataFile(nested, 'one.json', {}, gauge)
  expect([facts.options.path, table.rows.length]).toEqual(['$', 1])
  expect(facts.arrays!.map(({ path, rows, matched }) => [path, rows, matched])).toEqual([
    ['$', 1, 2],
    ["$['readings']", 2, 0],
  ])
  expect(facts).not.toHaveProperty('note')
})

test('a list inside is taken only where the document itself matches nothing, and that is said', () => {
  const inside = json({ made: 'today', readings: [{ station: 'Vado', height: 1 }] })
  expect(readDataFile(inside, 'a.json').columns).toEqual(['made', 'readings'])
  const { facts, table } = openDataFile(inside, 'a.json', {}, gauge)
  expect(table).toMatchObject({ columns: ['station', 'height'], marks: '.' })
  expect(facts.note).toBe(`The document as one row matches nothing of "Gauge", so the rows are those of $['readings'].`)
  const two = json({ notes: [{ words: 'x' }], rows: [{ other: 1 }], readings: [{ station: 'Vado', height: 1 }] })
  expect(openDataFile(two, 'a.json', {}, gauge).facts.options.path).toBe("$['readings']")
  // A path that was given is kept to; one object is one row.
  expect(previewOf(json([{ a: 1 }, { station: 'V', height: 2 }]), 'a.json', { path: '$[1]' }, gauge)).toMatchObject({
    count: 1,
    match: { station: 'station', height: { columns: ['height'], marks: '.' } },
  })
})
