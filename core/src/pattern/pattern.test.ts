import fc from 'fast-check'
import { pattern, refusePatternText } from './index.ts'

// ECMAScript's own engine judges what both can read.
test('what is found and replaced is what ECMAScript finds and replaces', () => {
  const piece = fc.constantFrom(
    'a',
    'b',
    '.',
    '\\d',
    '\\w',
    '[^a]',
    '[a-c]',
    '(a|b)',
    '(?:ab)',
    '\\s',
    '^',
    '$',
    'é',
    '\\.',
  )
  const source = fc
    .array(fc.tuple(piece, fc.constantFrom('', '?', '*', '+', '{1,2}', '*?')), { minLength: 1, maxLength: 4 })
    .map((list) => list.map(([one, times]) => (one === '^' || one === '$' ? one : one + times)).join(''))
  const words = fc.array(fc.constantFrom('a', 'b', 'c', '1', ' ', '.', 'é', '🦀', 'A'), { maxLength: 12 })
  fc.assert(
    fc.property(source, words, fc.constantFrom('', 'x', '$1', '<$&>', '$$', '$9', '$12'), (find, list, put) => {
      const text = list.join('')
      expect(pattern(find).replaceAll(text, put)).toBe(text.replace(new RegExp(find, 'gu'), put))
      expect(pattern(find).matches(text)).toBe(new RegExp(find, 'u').test(text))
    }),
    { numRuns: 2000 },
  )
})

test('groups go by their names, too', () => {
  expect(pattern('(?<day>\\d+)/(?<month>\\d+)').replaceAll('26/11', '$<month>-$<day>')).toBe('11-26')
})

// The family of patterns by which a backtracking engine never ends (OWASP, Regular expression Denial of Service).
test.each([
  ['^(a+)+$', false],
  ['([a-zA-Z]+)*$', true],
  ['(a|aa)+$', false],
  ['(a|a?)+$', true],
  ['^(.*a){20}$', false],
])('%s ends', (source, isFound) => {
  expect(pattern(source).matches(`${'a'.repeat(20_000)}!`)).toBe(isFound)
})

test('a pattern that unfolds to a million steps is none', () => {
  expect(refusePatternText('((a{1000}){1000}){1000}')).toContain('is no pattern')
})

test('what the engine cannot do is told', () => {
  expect(refusePatternText('a(?=b)')).toBe("looks ahead or behind, which Hoja's patterns can't")
  expect(refusePatternText('(a)\\1')).toBe("refers back to a group, which Hoja's patterns can't")
  expect(refusePatternText('(a')).toBe('is no pattern; look at its brackets')
  expect(refusePatternText('a'.repeat(501))).toBe('is longer than 500 characters')
  expect(refusePatternText('\\p{L}+')).toBeUndefined()
})
