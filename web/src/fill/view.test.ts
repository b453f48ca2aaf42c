import { type Finding, givenText, type Match, type Row } from '@hoja/core/data'
import { expressionOf, isFound, replaced } from '@hoja/core/pattern'
import { withSplices } from '@hoja/core/session'
import fc from 'fast-check'
import { countStates, filledDown, fixable, tidied } from './rowEdits.ts'
import { changedCells, editThrough, groupsOf, spansOf, viewOf, wholeView } from './view.ts'

const match: Match = { name: 'name', role: 'role' }
const row = (name: string, role = '', more: Partial<Row> = {}): Row => ({ cells: { name, role }, ...more })
const rows = [
  row('Tam', 'Pilot'),
  row('Io', 'Diver', { off: true }),
  row('Ångel', 'Pilot', { note: 'ask' }),
  row('Xu 10', 'Kelp'),
  row('Xu 9', 'diver'),
]
const finding = (level: 'stop' | 'look', code: string, fix?: string): Finding => ({
  row: 1,
  field: 'name',
  level,
  code,
  message: 'm',
  ...(fix === undefined ? {} : { fix }),
})
const found = (...own: Finding[]) => ({ findings: own, isLooked: true })
const findings = [
  found(finding('look', 'spaces', 'Tam!')),
  found(finding('stop', 'limit')),
  found(),
  found(finding('stop', 'limit')),
  undefined,
]
const textOf = (own: Row, key: string) => givenText(match, key, own).text ?? ''
const seen = (more: Partial<typeof wholeView>) =>
  viewOf(rows, findings, ['name', 'role'], textOf, { ...wholeView, ...more })

test('rows are shown by state, by what was found, by text, by what stands beside them', () => {
  expect(seen({})).toEqual([0, 1, 2, 3, 4])
  expect([seen({ show: 'stop' }), seen({ show: 'look' }), seen({ show: 'fine' })]).toEqual([[3], [0], [2]])
  expect([seen({ show: 'flagged' }), seen({ show: 'off' }), seen({ show: 'noted' })]).toEqual([[0, 3], [1], [2]])
  expect(seen({ code: 'limit' })).toEqual([1, 3])
  expect(seen({ search: 'PIL' })).toEqual([0, 2])
  expect(viewOf(rows, findings, ['name'], textOf, { ...wholeView, show: 'changed' }, new Set([rows[3]!]))).toEqual([3])
})

test('rows are ordered as people read: numbers by value, accents beside their letters, flagged first; ties as they stand', () => {
  expect(seen({ sort: 'name' })).toEqual([2, 1, 0, 4, 3])
  expect(seen({ sort: 'name', down: true })).toEqual([3, 4, 0, 1, 2])
  expect(seen({ sort: 'state' })).toEqual([1, 3, 0, 2, 4])
  // A group keeps its rows together, in the order they had.
  expect(seen({ group: 'role', sort: 'name' })).toEqual([1, 4, 3, 2, 0])
  expect(groupsOf(rows, textOf, 'role')).toEqual([
    { value: 'Diver', rows: 1 },
    { value: 'diver', rows: 1 },
    { value: 'Kelp', rows: 1 },
    { value: 'Pilot', rows: 2 },
  ])
  expect(seen({ group: 'role', only: 'Pilot' })).toEqual([0, 2])
})

test('edits of what is shown reach the rows that are meant; the others stay', () => {
  const order = [3, 0]
  const [a, b] = [row('a'), row('b')]
  const edit = (type: 'UPDATE' | 'DELETE' | 'CREATE', from: number, to: number, next: Row[]) =>
    withSplices(rows, editThrough(rows, order, next, [{ type, fromRowIndex: from, toRowIndex: to }]))
  expect(edit('UPDATE', 1, 2, [rows[3]!, a])).toEqual([a, ...rows.slice(1)])
  expect(edit('DELETE', 0, 1, [rows[0]!])).toEqual(rows.filter((_, i) => i !== 3))
  expect(edit('CREATE', 1, 3, [rows[3]!, a, b, rows[0]!])).toEqual([...rows.slice(0, 4), a, b, rows[4]])
  expect(edit('CREATE', 2, 3, [rows[3]!, rows[0]!, a])).toEqual([...rows, a])
  fc.assert(
    fc.property(fc.shuffledSubarray([0, 1, 2, 3, 4], { minLength: 1 }), fc.nat(), (shown, at) => {
      const i = at % shown.length
      const next = shown.map((own, n) => (n === i ? a : rows[own]!))
      const after = withSplices(
        rows,
        editThrough(rows, shown, next, [{ type: 'UPDATE', fromRowIndex: i, toRowIndex: i + 1 }]),
      )
      expect(after).toEqual(rows.map((own, n) => (n === shown[i] ? a : own)))
    }),
  )
})

test('filling down, tidying and counting go by what is shown', () => {
  const down = withSplices(rows, filledDown(rows, [0, 3, 4], { from: 0, to: 3, keys: ['role'] }, match, false))
  expect(down.map((own) => own.cells.role)).toEqual(['Pilot', 'Diver', 'Pilot', 'Pilot', 'Pilot'])
  // In followed rows it stands beside the data.
  expect(filledDown(rows, [0, 3], { from: 0, to: 2, keys: ['role'] }, match, true)[0]!.rows[0]!.own).toEqual({
    role: 'Pilot',
  })
  expect(tidied(rows, [0, 1], findings, match, false)).toEqual([{ at: 1, remove: 1, rows: [row('Tam!', 'Pilot')] }])
  expect([fixable([0, 1], findings), fixable([1, 2], findings)]).toEqual([1, 0])
  expect(tidied(rows, [1, 2], findings, match, false)).toEqual([])
  expect(countStates(rows, findings)).toEqual({
    stop: 1,
    look: 1,
    fine: 1,
    checked: 0,
    off: 1,
    unknown: 1,
    unlooked: 0,
  })
  const unlooked = findings.map((own) => own && { ...own, isLooked: false })
  expect(countStates(rows, unlooked)).toMatchObject({ stop: 1, look: 1, fine: 0, checked: 1, unlooked: 3 })
  expect(viewOf(rows, unlooked, ['name'], textOf, { ...wholeView, show: 'fine' })).toEqual([])
})

test('rows are written as spans, and every span is read back', () => {
  expect(spansOf([0, 1, 2, 8, 4, 3])).toBe('1-5,9')
  expect(spansOf([])).toBe('')
  fc.assert(
    fc.property(fc.uniqueArray(fc.nat(60)), (list) => {
      const read = spansOf(list)
        .split(',')
        .flatMap((span) => {
          const [from, to = from] = span.split('-').map(Number)
          return span ? Array.from({ length: to! - from! + 1 }, (_, i) => from! + i - 1) : []
        })
      expect(read).toEqual([...list].sort((a, b) => a - b))
    }),
  )
})

test('texts are found in NFC and NFD alike, plain or by a pattern, and replaced as they are meant', () => {
  const plain = { find: 'Ángel', pattern: false, case: false, whole: false }
  const expression = expressionOf(plain)!
  expect(isFound('ángel caído'.normalize('NFD'), expression)).toBe(true)
  expect(replaced('Ángel Á', expression, '$&', false)).toBe('$& Á')
  expect(isFound('ángel', expressionOf({ ...plain, case: true })!)).toBe(false)
  expect(isFound('Ángel caído', expressionOf({ ...plain, whole: true })!)).toBe(false)
  const pattern = expressionOf({ ...plain, find: '^(\\w+), (\\w+)$', pattern: true })!
  expect(replaced('Marrec, Io', pattern, '$2 $1', true)).toBe('Io Marrec')
  expect([expressionOf({ ...plain, find: '' }), expressionOf({ ...plain, find: '(', pattern: true })]).toEqual([
    undefined,
    undefined,
  ])
  // A plain search is no pattern.
  expect(
    isFound('a.c', expressionOf({ ...plain, find: '.' })!) && !isFound('abc', expressionOf({ ...plain, find: '.' })!),
  ).toBe(true)
})

test('what others changed is told by the cells whose text is another now', () => {
  const before = [row('Tam', 'Pilot', { own: { name: 'Tamsin' } }), row('Io', 'Diver'), row('Xu')]
  const now = [row('Tom', 'Pilot', { own: { name: 'Tamsin' } }), row('Io', 'Cook'), row('Xu'), row('Ana', 'Kelp')]
  const changed = changedCells({ before, now }, match, ['name', 'role'])
  expect([...changed].map(([own, keys]) => [now.indexOf(own), [...keys]])).toEqual([
    [1, ['role']],
    [3, ['name', 'role']],
  ])
  expect(changedCells(undefined, match, ['name'])).toEqual(new Map())
})
