import fc from 'fast-check'
import type { Field } from '../template/index.ts'
import { field } from '../testing/parts.ts'
import { speaker } from '../testing/speaker.ts'
import { doubtAbout, matchColumns } from './index.ts'

test('columns are matched by key, by name, by beginning; each once; doubt is said', () => {
  expect(matchColumns(speaker, ['Mark file', 'ROLE', 'name'])).toEqual({
    name: 'name',
    role: 'ROLE',
    mark: 'Mark file',
  })
  expect(matchColumns(speaker, ['Náme', 'x'])).toEqual({ name: 'Náme' })
  expect(doubtAbout(speaker, {})).toContain('is this the right sheet?')
  expect(doubtAbout(speaker, { role: 'r' })).toContain('No column matches "Name"')
  expect(doubtAbout(speaker, { name: 'a', role: 'b' })).toBeUndefined()
})

test('a column is matched by a word of its name, never by the end of another word', () => {
  expect(matchColumns(speaker, ['Remark', 'First name', 'role_short'])).toEqual({
    name: 'First name',
    role: 'role_short',
  })
  expect(matchColumns(speaker, ['speakerName', 'Mark'])).toEqual({ name: 'speakerName', mark: 'Mark' })
})

test('columns are matched by words that mean the same, and by what they hold where only one can be meant', () => {
  expect(matchColumns(speaker, ['Guest', 'Job title', 'Logo'])).toEqual({
    name: 'Guest',
    role: 'Job title',
    mark: 'Logo',
  })
  const template = (...own: Partial<Field>[]) => ({ ...speaker, fields: own.map((one) => field(one)) })
  const tint = { id: 'a', key: 'tint', name: 'Tint', type: 'colour' } as const
  const seal = { id: 'b', key: 'seal', name: 'Seal', type: 'picture' } as const
  const live = { id: 'c', key: 'live', name: 'Live', type: 'switch' } as const
  const columns = ['A', 'B', 'C', 'D']
  const rows = [
    ['#c2552d', 'heron.png', 'yes', '12'],
    ['', 'otter.SVG', 'no', '1'],
    ['#0b3d4e', '', 'Sí', '0'],
  ]
  expect(matchColumns(template(tint, seal, live), columns, rows)).toEqual({ tint: 'A', seal: 'B', live: 'C' })
  // Two columns of colours, or two fields for one: nobody can tell, so nothing is guessed.
  const twice = rows.map((row) => [...row.slice(0, 3), row[0]!])
  expect(matchColumns(template(tint), columns, twice)).toEqual({})
  expect(matchColumns(template(tint, { ...tint, id: 'd', key: 'edge', name: 'Edge' }), columns, rows)).toEqual({})
  // One cell that is no colour, or one filled cell only, is no column of colours.
  expect(matchColumns(template(tint), columns, [...rows, ['red-ish', '', '', '']])).toEqual({})
  expect(matchColumns(template(tint), columns, rows.slice(0, 2))).toEqual({})
})

test('every column is given to one field at most, and a sheet of the template’s own keys matches whole', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.constantFrom('name', 'Name', 'NAME ', 'role', 'mark', 'Mark file', 'x', 'r\u00f4le'), {
        maxLength: 8,
      }),
      (columns) => {
        const match = matchColumns(speaker, columns)
        const used = Object.values(match)
        expect(new Set(used).size).toBe(used.length)
        for (const column of used) expect(columns).toContain(column)
        expect(matchColumns(speaker, columns)).toEqual(match)
      },
    ),
  )
  const whole = matchColumns(speaker, ['mark', 'role', 'name'])
  expect(doubtAbout(speaker, whole)).toBeUndefined()
  expect(Object.keys(whole).sort()).toEqual(['mark', 'name', 'role'])
})
