import type { Row, Table } from '@hoja/core/data'
import fc from 'fast-check'
import { refreshed } from './refreshed.ts'

const row = (name: string, role = '', more: Partial<Row> = {}): Row => ({ cells: { name, role }, ...more })
const tableOf = (list: [string, string][]): Table => ({
  columns: ['name', 'role'],
  rows: list.map((pair) => [...pair]),
})

/** What the store does with the changes. */
function applied(before: Row[], table: Table): Row[] {
  const rows = [...before]
  for (const { at, remove, rows: put } of refreshed(before, table, 'name').changes) rows.splice(at - 1, remove, ...put)
  return rows
}

test('nothing changes when the data says the same', () => {
  const before = [row('Io', 'Pilot', { note: 'n' }), row('Tam')]
  expect(
    refreshed(
      before,
      tableOf([
        ['Io', 'Pilot'],
        ['Tam', ''],
      ]),
      'name',
    ),
  ).toEqual({ changes: [], moved: false })
})

test('one cell that changes is one edit in place; what a person set beside stays', () => {
  const before = [row('Io', 'Pilot', { own: { role: 'Captain' } }), row('Tam', 'Diver')]
  expect(
    refreshed(
      before,
      tableOf([
        ['Io', 'Sailor'],
        ['Tam', 'Diver'],
      ]),
      'name',
    ),
  ).toEqual({
    changes: [{ at: 1, remove: 1, rows: [row('Io', 'Sailor', { own: { role: 'Captain' } })] }],
    moved: false,
  })
})

test('a row put in above carries nobody else’s note', () => {
  const before = [row('Io', '', { note: 'of Io' }), row('Tam', '', { note: 'of Tam' })]
  expect(
    applied(
      before,
      tableOf([
        ['Xu', ''],
        ['Io', ''],
        ['Tam', ''],
      ]),
    ),
  ).toEqual([row('Xu'), row('Io', '', { note: 'of Io' }), row('Tam', '', { note: 'of Tam' })])
  expect(
    refreshed(
      before,
      tableOf([
        ['Xu', ''],
        ['Io', ''],
        ['Tam', ''],
      ]),
      'name',
    ).moved,
  ).toBe(true)
})

test('a name that is spelt anew in its place keeps what stood beside it', () => {
  const before = [row('Io Marec', '', { note: 'ask' }), row('Tam')]
  expect(
    applied(
      before,
      tableOf([
        ['Io Marrec', ''],
        ['Tam', ''],
      ]),
    )[0],
  ).toEqual(row('Io Marrec', '', { note: 'ask' }))
})

test('the same name twice keeps its two notes apart, by their places', () => {
  const before = [row('Tam', 'a', { note: '1' }), row('Tam', 'b', { note: '2' })]
  expect(
    applied(
      before,
      tableOf([
        ['Tam', 'x'],
        ['Tam', 'b'],
        ['Tam', 'c'],
      ]),
    ).map(({ note }) => note),
  ).toEqual(['1', '2', undefined])
})

test('whatever the data says next, the rows say it, and no note is lost whose name is still there, none doubled', () => {
  const names = fc.constantFrom('Io', 'Tam', 'Xu', 'Ada', 'Maren', 'O')
  const pairs = fc.array(fc.tuple(names, fc.constantFrom('', 'Pilot', 'Diver')), { maxLength: 8 })
  fc.assert(
    fc.property(fc.uniqueArray(names), pairs, (start, next) => {
      const before = start.map((name, i) => row(name, '', { note: `note ${i}` }))
      const after = applied(before, tableOf(next))
      expect(after.map(({ cells }) => [cells.name, cells.role])).toEqual(next)
      const notes = after.flatMap(({ note }) => note ?? [])
      expect(new Set(notes).size).toBe(notes.length)
      for (const [i, name] of start.entries())
        if (next.some(([own]) => own === name))
          expect(after.find(({ note }) => note === `note ${i}`)?.cells.name).toBe(name)
    }),
  )
})
