import type { Cells } from '@hoja/core/data'
import fc from 'fast-check'
import type { RowChange } from '../ui/api.ts'
import { changesBetween } from './changes.ts'

/** What the server does with the edits. */
function applied(cells: Cells[], changes: RowChange[]): Cells[] {
  const rows = cells.map((row) => ({ ...row }))
  for (const change of changes) {
    if (change.kind === 'cell') rows[change.row - 1]![change.column] = change.value
    else if (change.kind === 'insert') rows.splice(change.at - 1, 0, ...change.rows.map((row) => ({ ...row })))
    else rows.splice(change.from - 1, change.count)
  }
  return rows
}

const row = (name: string): Cells => ({ name, role: '' })

test('one edited cell is one edit', () => {
  const before = [row('Io'), row('Tam')]
  expect(changesBetween(before, [before[0]!, { ...before[1]!, role: 'Diver' }])).toEqual([
    { kind: 'cell', row: 2, column: 'role', value: 'Diver' },
  ])
  expect(changesBetween(before, before)).toEqual([])
})

test('rows put in and taken out are told by their place', () => {
  const [a, b, c] = [row('a'), row('b'), row('c')]
  expect(changesBetween([a, c], [a, b, c])).toEqual([{ kind: 'insert', at: 2, rows: [b] }])
  expect(changesBetween([a, b, c], [a])).toEqual([{ kind: 'remove', from: 2, count: 2 }])
  expect(changesBetween([], [a])).toEqual([{ kind: 'insert', at: 1, rows: [a] }])
})

test('the edits lead from any state to any other', () => {
  const cells = fc.array(fc.record({ name: fc.string({ maxLength: 3 }), role: fc.string({ maxLength: 2 }) }), {
    maxLength: 8,
  })
  const edits = fc.array(fc.tuple(fc.constantFrom('put', 'take', 'write'), fc.nat(), fc.string({ maxLength: 2 })), {
    maxLength: 6,
  })
  fc.assert(
    fc.property(cells, edits, (start, list) => {
      const after: Cells[] = [...start]
      for (const [kind, at, word] of list) {
        const i = after.length > 0 ? at % after.length : 0
        if (kind === 'put') after.splice(i, 0, row(word))
        else if (kind === 'take') after.splice(i, 1)
        else if (after[i]) after[i] = { ...after[i], name: word }
      }
      expect(applied(start, changesBetween(start, after))).toEqual(after)
    }),
  )
})
