import fc from 'fast-check'
import type { Field, Template } from '../template/index.ts'
import { field } from '../testing/parts.ts'
import { speaker } from '../testing/speaker.ts'
import { doubtAbout, givenText, likeness, matchColumns, offeredSources, sourceWords } from './index.ts'

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

test('one column fills several texts, line by line or part by part; which is guessed, and can be chosen', () => {
  const cues = {
    columns: ['Start', 'End', 'Text'],
    rows: [
      ['1', '2', 'Io Marrec\nTide-mill keeper'],
      ['3', '4', 'Tam'],
      ['5', '6', 'Gwyneth Pugh\nBoat builder\nand ferry pilot'],
    ],
  }
  const match = matchColumns(speaker, cues.columns, cues.rows)
  const said = (own: typeof match, cells: Record<string, string>) =>
    ['name', 'role'].map((key) => givenText(own, key, { cells }).text)
  expect([match.name, match.role].map((source) => sourceWords(source!))).toEqual([
    'Text, line 1',
    'Text, line 2 and what follows',
  ])
  expect(said(match, { Text: 'Io Marrec\nTide-mill keeper' })).toEqual(['Io Marrec', 'Tide-mill keeper'])
  expect(said(match, { Text: 'Tam' })).toEqual(['Tam', ''])
  expect(said(match, { Text: 'Gwyneth Pugh\nBoat builder\nand ferry pilot' })).toEqual([
    'Gwyneth Pugh',
    'Boat builder\nand ferry pilot',
  ])
  for (const [column, cells] of [
    ['Name, Role', ['Io Marrec, Tide-mill keeper', 'Tam, Kelp', 'Doña Perpetua, Keeper of the light, retired']],
    ['Name - Role', ['Io Marrec - Tide-mill keeper', 'Jean-Baptiste Quéré – Eel survey', 'Tam - Kelp']],
    ['Guest', ['Io Marrec - Tide-mill keeper', 'Jean-Baptiste Quéré – Eel survey', 'Tam - Kelp']],
  ] as const) {
    const own = matchColumns(
      speaker,
      [column],
      cells.map((cell) => [cell]),
    )
    expect(cells.map((cell) => said(own, { [column]: cell })[0])).toEqual([
      'Io Marrec',
      cells[1].includes('Quéré') ? 'Jean-Baptiste Quéré' : 'Tam',
      cells[2].startsWith('Doña') ? 'Doña Perpetua' : 'Tam',
    ])
    expect(said(own, { [column]: cells[0] })[1]).toBe('Tide-mill keeper')
  }
  // A name with a comma in some rows is one name, and a column for each stays a column for each.
  expect(
    matchColumns(
      speaker,
      ['Name', 'Role'],
      [
        ['Marrec, Io', 'Keeper'],
        ['Pugh, Gwyneth', 'Pilot'],
      ],
    ),
  ).toEqual({ name: 'Name', role: 'Role' })
  expect(matchColumns(speaker, ['Name'], [['Tam'], ['Io']])).toEqual({ name: 'Name' })
  expect(matchColumns(speaker, ['Role', 'Phone'], [['Pilot\nof the mole', '112']])).toEqual({ role: 'Role' })
  expect(offeredSources(cues).map(({ words }) => words)).toEqual([
    'Start',
    'End',
    'Text',
    'Text, line 1',
    'Text, line 2 and what follows',
  ])
})

test('none of the columns match: said only where none does, and lists are asked for too', () => {
  expect(doubtAbout(speaker, { mark: 'm' })).not.toContain('None of the columns')
  const credits = { ...speaker, fields: [field({ id: 'a', key: 'names', name: 'Names', type: 'texts' })] }
  expect(doubtAbout(credits, {})).toMatch(/None of the columns match .* It asks for names\./)
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

describe('whether a sheet looks like the template, before it is used', () => {
  const template: Template = {
    ...speaker,
    fields: [
      ...speaker.fields,
      field({ id: 'h', key: 'height', name: 'Height', type: 'number', min: 0, max: 9, default: 1 }),
      field({ id: 'b', key: 'boats', name: 'Boats', type: 'switch', default: true }),
    ],
  }
  const doubt = (columns: string[], ...rows: string[][]) => {
    const table = { columns, rows }
    return doubtAbout(template, matchColumns(template, columns, rows), table)
  }

  test('nothing is said of one that does', () => {
    expect(doubt(['name', 'height', 'boats'], ['Io', '2,4', 'sí'], ['Tam', '', 'no'])).toBeUndefined()
    expect(doubt(['name'], ['Io'])).toBeUndefined()
  })

  test('columns of another kind than their fields, and what one of their cells says', () => {
    expect(doubt(['name', 'height'], ['Io', 'high'], ['Tam', 'low'], ['Xu', '3'])).toBe(
      'Most rows can\'t fill Height ("high") as they are; is this the right column, or the right sheet?',
    )
    // A single odd cell is its row's own business.
    expect(doubt(['name', 'height'], ['Io', 'high'], ['Tam', '2'], ['Xu', '3'])).toBeUndefined()
  })

  test('what must be filled and mostly is not', () => {
    expect(doubt(['name', 'role'], ['', 'Pilot'], ['', 'Diver'], ['Io', ''])).toBe(
      'Name must be filled and is empty in most rows; is this the right sheet?',
    )
  })

  test('a table looks most like the template that it was made for', () => {
    const other: Template = { ...speaker, fields: [field({ key: 'place', name: 'Place', required: true })] }
    const people = { columns: ['Name', 'Role', 'Mark'], rows: [['Io', 'Pilot', 'mill.png']] }
    const places = { columns: ['Place', 'Note'], rows: [['North Light', '']] }
    expect(likeness(speaker, people)).toBe(1)
    expect(likeness(other, people)).toBe(0)
    expect(likeness(other, places)).toBeGreaterThan(0.8)
    expect(likeness(speaker, places)).toBe(0)
    expect(likeness({ ...speaker, fields: [] }, people)).toBe(0)
  })
})
