import { jsonTable } from '../formats/jsonRows.ts'
import type { Field, Template } from '../template/index.ts'
import { field } from '../testing/parts.ts'
import { speaker } from '../testing/speaker.ts'
import { guessMarks, matchColumns, numberIn, quoteFix, readCell, valuesOf, writeCell } from './index.ts'

const found = (more: Partial<Field>, cell: string, template: Partial<Template> = {}) => {
  const own = field({ key: 'a', name: 'A', ...more })
  return valuesOf({ ...speaker, ...template, fields: [own] }, { a: 'A' }, { cells: { A: cell } })
}
const told = (cell: string) => found({}, cell).problems.map(({ level, code }) => `${level} ${code}`)

test('a tab is tidied, another control character stops with its code point and place', () => {
  expect(found({}, 'Io\tMarrec').problems).toMatchObject([{ level: 'look', code: 'spaces', fix: 'Io Marrec' }])
  const bell = found({}, 'Io\u0007 Marrec')
  expect(bell.problems).toMatchObject([{ level: 'stop', code: 'control', fix: 'Io Marrec' }])
  expect(bell.problems[0]!.message).toContain('U+0007 at 3')
  expect(told('Io\u001b[1m')).toEqual(['stop control'])
})

test('names that nobody can see and writing turned round are looked at; other spaces are nothing to stop', () => {
  for (const name of ['\u200b', '\u2060\u00ad', '\u200e', '\u0301\u0308', '\u3164'])
    expect(told(name)).toEqual(['look unseen'])
  for (const name of ['Io \u202eracram', 'Io \u2066Marrec', 'Io\u2069']) expect(told(name)).toEqual(['look unseen'])
  for (const name of ['Io\u200aMarrec', 'Io \u2067مرحبا\u2069 Marrec', 'co\u00adop', 'नमस्ते', '👩‍🔬'])
    expect(told(name)).toEqual([])
})

test('a number that may be meant in two ways shows both; the column says which', () => {
  expect([numberIn('1,234'), numberIn('1.234'), numberIn('12,34'), numberIn('1 234,5'), numberIn('1.234.567')]).toEqual(
    [
      { value: 1.234, other: 1234 },
      { value: 1.234, other: 1234 },
      { value: 12.34 },
      { value: 1234.5 },
      { value: 1234567 },
    ],
  )
  expect([numberIn('0x10'), numberIn('1e3'), numberIn('−5'), numberIn('abc'), numberIn('1.2.3')]).toEqual([
    { value: 16, other: 0 },
    { value: 1000, other: 1 },
    { value: -5 },
    undefined,
    undefined,
  ])
  expect([numberIn('1,234', '.'), numberIn('1,234', ','), numberIn('1.234,5', ',')]).toEqual([
    { value: 1234 },
    { value: 1.234 },
    { value: 1234.5 },
  ])
  expect([guessMarks(['1,234', '2,5']), guessMarks(['1,234', '1,234.5']), guessMarks(['1,234', '2.345'])]).toEqual([
    ',',
    '.',
    undefined,
  ])
  const height = field({ key: 'height', name: 'Height', type: 'number', default: 0 })
  const template = { ...speaker, fields: [height] }
  const bare = valuesOf(template, { height: 'Height' }, { cells: { Height: '1,234' } })
  expect(bare.problems).toMatchObject([{ level: 'look', code: 'ambiguous' }])
  expect(bare.problems[0]!.message).toContain('read as 1.234 and could be meant as 1234')
  const match = matchColumns(template, ['Height'], [['1,234'], ['1,234.50']])
  expect(match).toEqual({ height: { columns: ['Height'], marks: '.' } })
  expect(valuesOf(template, match, { cells: { Height: '1,234' } })).toEqual({ values: { height: 1234 }, problems: [] })
  for (const marks of [undefined, '.', ','] as const)
    for (const value of [1.234, -12.345, 1234, 0.5, 1234.567]) {
      const cell = writeCell(template, height, value, marks)
      expect([readCell(template, height, cell, marks), numberIn(cell, marks)?.other]).toEqual([value, undefined])
    }
})

test('quotation marks are those of the language', () => {
  expect(quoteFix('Das "Watt" ruft', 'de')).toEqual({ fix: 'Das „Watt“ ruft' })
  expect(quoteFix('l\'eau "vive"', 'fr-FR')).toEqual({ fix: 'l’eau «\u202fvive\u202f»' })
  expect(quoteFix('Io "Mar', 'en')).toEqual({})
  expect(found({ sample: false }, 'Das "Watt"', { language: 'de' }).problems).toMatchObject([{ fix: 'Das „Watt“' }])
})

test('nothing given: a sample is looked at, stopped where it is required, and a house mark goes out', () => {
  const about = (more: Partial<Field>, match = {}, cells = {}) =>
    valuesOf({ ...speaker, fields: [field({ key: 'a', name: 'A', default: 'Io', ...more })] }, match, {
      cells,
    }).problems.map(({ level, code }) => `${level} ${code}`)
  expect(about({})).toEqual(['look default'])
  expect(about({ required: true })).toEqual(['stop absent'])
  expect(about({ sample: false })).toEqual([])
  expect(about({ default: '' })).toEqual([])
  expect(about({ type: 'picture', default: 'mill.png' })).toEqual([])
  expect(about({ type: 'picture', default: 'mill.png', sample: true })).toEqual(['look default'])
  expect(about({ type: 'picture', default: 'mill.png', required: true })).toEqual(['stop absent'])
  expect(about({}, { a: 'A' }, { A: '' })).toEqual([])
  expect(about({ type: 'moment', default: '2026-11-26' }, { a: 'A' }, { A: '' })).toEqual(['look default'])
})

test('no picture is a value: by the word for it, and by an empty cell where the designer says so', () => {
  const mark = (more: Partial<Field>, cell: string) =>
    found({ type: 'picture', default: 'mill.png', ...more }, cell).values
  expect(mark({}, 'none')).toEqual({ a: '' })
  expect(mark({ none: '–' }, '–')).toEqual({ a: '' })
  expect(mark({}, '')).toEqual({})
  expect(mark({ empty: 'none' }, '')).toEqual({ a: '' })
  const own = field({ type: 'picture', default: 'mill.png' })
  expect(readCell(speaker, own, writeCell(speaker, own, ''))).toBe('')
})

test('columns may be called what every object has', () => {
  const columns = ['name', 'constructor', 'toString', '__proto__']
  const match = { name: 'constructor', role: { columns: ['toString', 'valueOf', '__proto__'] } }
  // A row that somebody typed has only the cells that were filled in.
  expect(valuesOf(speaker, match, { cells: { constructor: 'Io' } }).values).toEqual({ name: 'Io', role: '' })
  expect(valuesOf(speaker, match, { cells: {} }).values).toEqual({ role: '' })
  expect(matchColumns({ ...speaker, fields: [field({ key: 'a', name: 'Constructor' })] }, columns)).toEqual({
    a: 'constructor',
  })
  const { rows } = jsonTable([{ name: 'Io' }, { toString: 'b', constructor: 'c' }], 'a.json')
  expect(rows).toEqual([
    ['Io', '', ''],
    ['', 'b', 'c'],
  ])
})
