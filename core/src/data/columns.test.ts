import fc from 'fast-check'
import { checkColumns, isSlip, scriptOf } from './index.ts'

const column = (...cells: string[]) => ({ field: { key: 'name', name: 'Name' }, cells })
const told = (...cells: string[]) => checkColumns([column(...cells)]).map((f) => `${f.row} ${f.code}`)

test('the same name twice is told once, at the later row; NFC and NFD, case and spaces make no other name of it', () => {
  expect(told('Ngọc Ánh', 'Io', 'Ngọc Ánh'.normalize('NFD'))).toEqual(['3 twice'])
  expect(told('Io Marrec', 'IO  MARREC ')).toEqual(['2 twice'])
  expect(told('', '', ' ')).toEqual([])
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme', minLength: 1 }), (name) => {
      if (name.trim() === '') return
      expect(checkColumns([column(name.normalize('NFC'), name.normalize('NFD'))]).map((f) => f.code)).toContain('twice')
    }),
  )
})

test('a slip of one letter is told: left out, added, another, two that changed places; short names and numbers are left alone', () => {
  for (const slip of ['Marisol Veg', 'Marisol Vegas', 'Marisol Vaga', 'Marisol Vgea'])
    expect(told('Marisol Vega', slip)).toEqual(['2 slip'])
  expect(told('Tam', 'Tom')).toEqual([])
  expect(told('Ferry line 1', 'Ferry line 2')).toEqual([])
  expect(told('Marisol Vega', 'Marisa Vegas')).toEqual([])
})

// Damerau's four single errors; optimal string alignment distance computed the long way is the reference.
test('it is a slip when, and only when, the distance is one', () => {
  const distance = (a: string, b: string): number => {
    const [s, t] = [[...a], [...b]]
    const d = Array.from({ length: s.length + 1 }, (_, i) =>
      Array.from({ length: t.length + 1 }, (_x, j) => (i === 0 ? j : j === 0 ? i : 0)),
    )
    for (let i = 1; i <= s.length; i++)
      for (let j = 1; j <= t.length; j++) {
        d[i]![j] = Math.min(d[i - 1]![j]! + 1, d[i]![j - 1]! + 1, d[i - 1]![j - 1]! + (s[i - 1] === t[j - 1] ? 0 : 1))
        if (i > 1 && j > 1 && s[i - 1] === t[j - 2] && s[i - 2] === t[j - 1])
          d[i]![j] = Math.min(d[i]![j]!, d[i - 2]![j - 2]! + 1)
      }
    return d[s.length]![t.length]!
  }
  const word = fc.string({ unit: fc.constantFrom('a', 'b', 'c'), maxLength: 6 })
  fc.assert(
    fc.property(word, word, (a, b) => expect(isSlip(a, b)).toBe(distance(a, b) === 1)),
    { numRuns: 2000 },
  )
})

test('every slip among many names is found, and nothing else is called one', () => {
  const name = fc.string({ unit: fc.constantFrom('a', 'b', 'e'), minLength: 5, maxLength: 7 })
  fc.assert(
    fc.property(fc.uniqueArray(name, { minLength: 2, maxLength: 14 }), (names) => {
      const pairs = names.flatMap((a, i) => names.slice(0, i).flatMap((b) => (isSlip(a, b) ? [i + 1] : [])))
      const found = checkColumns([column(...names)])
        .filter((f) => f.code === 'slip')
        .map((f) => f.row)
      expect(found).toEqual(pairs)
    }),
  )
})

test('a text in another script than its column, and capitals where hardly anybody has them', () => {
  const latin = [
    'Maren Oduya',
    'Io Marrec',
    'Tamsin Rowe',
    'Gwyneth Pugh',
    'Ada Brzeg',
    'Pia Lund',
    'Ana Vado',
    'Liv Holm',
  ]
  expect(told(...latin, 'ليلى الساحلي')).toEqual(['9 script'])
  expect(told(...latin, 'LARS BRUN')).toEqual(['9 capitals'])
  // A column of capitals has that habit, and four rows have none.
  expect(told(...latin.map((cell) => cell.toUpperCase()))).toEqual([])
  expect(told('Maren', 'LARS', 'ليلى')).toEqual([])
  expect(['Ждань', '海野', 'さくら', 'ليلى', 'A1', '12'].map(scriptOf)).toEqual([
    'Cyrillic',
    'Chinese or Japanese',
    'Japanese',
    'Arabic',
    'Latin',
    undefined,
  ])
})

test('only what names a row is looked at for twins: a role may be the same twice', () => {
  const role = { field: { key: 'role', name: 'Role' }, cells: ['Pilot', 'Pilot'] }
  expect(checkColumns([column('Io Marrec', 'Ada Brzeg'), role])).toEqual([])
})

test('a thousand names that differ by one letter each are told to be near a few others, and soon', () => {
  const letters = 'abcdefghijklmnopqrstuvwxyz'
  const names = Array.from(
    { length: 1000 },
    (_, i) => `Marisol ${letters[i % 26]}${letters[Math.floor(i / 26) % 26]}nso`,
  )
  const findings = checkColumns([column(...names)])
  const near = new Map<number, number>()
  for (const { row, code } of findings) if (code === 'slip') near.set(row, (near.get(row) ?? 0) + 1)
  expect(Math.max(...near.values())).toBeLessThanOrEqual(3)
  expect(near.size).toBeGreaterThan(500)
})
