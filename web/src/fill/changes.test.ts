import type { Row } from '@hoja/core/data'
import fc from 'fast-check'
import { changesBetween, inParts, movedBy, withChanges } from './changes.ts'

const row = (name: string): Row => ({ cells: { name, role: '' } })

test('one edited row is one edit, neighbours are one together', () => {
  const before = [row('Io'), row('Tam'), row('Xu')]
  const edited = { ...before[1]!, note: 'late' }
  expect(changesBetween(before, [before[0]!, edited, before[2]!])).toEqual([{ at: 2, remove: 1, rows: [edited] }])
  const [a, b] = [row('a'), row('b')]
  expect(changesBetween(before, [a, b, before[2]!])).toEqual([{ at: 1, remove: 2, rows: [a, b] }])
  expect(changesBetween(before, before)).toEqual([])
})

test('rows put in and taken out are told by their place', () => {
  const [a, b, c] = [row('a'), row('b'), row('c')]
  expect(changesBetween([a, c], [a, b, c])).toEqual([{ at: 2, remove: 0, rows: [b] }])
  expect(changesBetween([a, b, c], [a])).toEqual([{ at: 2, remove: 2, rows: [] }])
  expect(changesBetween([], [a])).toEqual([{ at: 1, remove: 0, rows: [a] }])
})

test('the edits lead from any state to any other, and tell where each row that stayed is now', () => {
  const edits = fc.array(fc.tuple(fc.constantFrom('put', 'take', 'write'), fc.nat(), fc.string({ maxLength: 2 })), {
    maxLength: 6,
  })
  fc.assert(
    fc.property(fc.array(fc.string({ maxLength: 3 }), { maxLength: 8 }), edits, (names, list) => {
      const start = names.map(row)
      const after: Row[] = [...start]
      for (const [kind, at, word] of list) {
        const i = after.length > 0 ? at % after.length : 0
        if (kind === 'put') after.splice(i, 0, row(word))
        else if (kind === 'take') after.splice(i, 1)
        else if (after[i]) after[i] = row(word)
      }
      const changes = changesBetween(start, after)
      expect(withChanges(start, changes)).toEqual(after)
      start.forEach((own, i) => {
        const now = changes.reduce<number | undefined>((n, change) => n && movedBy(change, n), i + 1)
        if (now !== undefined) expect(after[now - 1]).toBe(own)
      })
    }),
  )
})

test('edits in parts do what they do together, none larger than it may be; a row in another’s place stays one for one', () => {
  const splice = fc.record({
    at: fc.nat(),
    remove: fc.nat(9),
    rows: fc.array(fc.string({ maxLength: 2 }), { maxLength: 9 }),
  })
  fc.assert(
    fc.property(fc.array(splice, { maxLength: 5 }), fc.integer({ min: 1, max: 4 }), (wanted, most) => {
      let state = Array.from({ length: 12 }, (_, i) => row(String(i)))
      const changes = wanted.map(({ at, remove, rows }) => {
        const from = at % (state.length + 1)
        const change = { at: from + 1, remove: Math.min(remove, state.length - from), rows: rows.map(row) }
        state = withChanges(state, [change])
        return change
      })
      const start = Array.from({ length: 12 }, (_, i) => row(String(i)))
      const parts = inParts(changes, most)
      expect(parts.reduce(withChanges, start)).toEqual(state)
      for (const part of parts) expect(part.reduce((sum, one) => sum + one.rows.length, 0)).toBeLessThanOrEqual(most)
      const inPlace = changes.every(({ remove, rows }) => remove === rows.length)
      if (inPlace) for (const { remove, rows } of parts.flat()) expect(remove).toBe(rows.length)
    }),
    { numRuns: 400 },
  )
})
