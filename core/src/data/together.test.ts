import fc from 'fast-check'
import { openDataFile, previewOf } from '../formats/index.ts'
import { field, part } from '../testing/parts.ts'
import { templateOf } from '../testing/speaker.ts'
import { areTogether, joined, rowsOf, valuesOf } from './index.ts'

const stand = { ties: [], size: { kind: 'content' as const }, place: 0 }
const text = (id: string) => part('text', id, stand, stand, { content: [{ field: id }] })
const list = (key: string) => field({ id: key, key, name: key, type: 'texts', default: [] })
const roll = part('group', 'roll', stand, stand, { entries: 'rolling' }, { parts: [text('head'), text('name')] })
const credits = templateOf([text('title'), roll], {
  fields: [field({ id: 'title', key: 'title', name: 'title' }), list('head'), list('name')],
})
const csv = (text: string) => new TextEncoder().encode(text)
const file = 'title,head,name\nEstuary Week,Camera,\n,,Io Marrec\n,,"Núñez, Ana"\n,Sound,\n,,Ossian\n'

test('rows of a template that goes through lists are one title, empty cells with their places', () => {
  const { table, facts } = openDataFile(csv(file), 'credits.csv', {}, credits)
  expect(facts.options.together).toBe(true)
  expect(facts.entries).toBe(5)
  const { values, problems } = valuesOf(credits, { title: 'title', head: 'head', name: 'name' }, rowsOf(table)[0]!)
  expect(table.rows.length).toBe(1)
  expect(problems).toEqual([])
  expect(values).toEqual({
    title: 'Estuary Week',
    head: ['Camera', '', '', 'Sound', ''],
    name: ['', 'Io Marrec', 'Núñez, Ana', '', 'Ossian'],
  })
})

test('they can be a title each, and are where a cell has a list already', () => {
  expect(openDataFile(csv(file), 'credits.csv', { together: false }, credits).table.rows.length).toBe(5)
  const lists = 'title,name\nFriday,Io; Ana\nSaturday,Ossian; Pau\n'
  const { facts, table } = openDataFile(csv(lists), 'days.csv', {}, credits)
  expect(facts.options.together).toBe(false)
  expect(table.rows.length).toBe(2)
  // Other templates are not asked.
  const plain = templateOf([text('title')], { fields: credits.fields.slice(0, 1) })
  expect(previewOf(csv(file), 'credits.csv', {}, plain).options.together).toBeUndefined()
  expect(areTogether(plain, table)).toBeUndefined()
})

test('nothing of a column is lost, whatever stands in it', () => {
  const cell = fc.string({ maxLength: 12 }).map((one) => one.trim())
  fc.assert(
    fc.property(fc.array(fc.tuple(cell, cell), { minLength: 1, maxLength: 20 }), (rows) => {
      const table = { columns: ['head', 'name'], rows: rows.map((row) => [...row]) }
      const { values } = valuesOf(credits, { head: 'head', name: 'name' }, rowsOf(joined(credits, table, 'x.csv'))[0]!)
      expect(values.head).toEqual(rows.map(([head]) => head))
      expect(values.name).toEqual(rows.map(([, name]) => name))
    }),
  )
})

test('more than a cell takes is refused with what to do', () => {
  const rows = Array.from({ length: 3000 }, () => ['', 'x'.repeat(60)])
  expect(() => joined(credits, { columns: ['head', 'name'], rows }, 'all.csv')).toThrow(
    '"all.csv" has 3000 rows, and column "name" of them all takes more than the 100000 characters that one title\'s list can have; split the file.',
  )
})
