import fc from 'fast-check'
import type { Run } from './values.ts'
import { commonStyle, fieldToken, styledWords, withWords, wordsOf } from './words.ts'

const run: fc.Arbitrary<Run> = fc.oneof(
  fc.record({ text: fc.string({ maxLength: 5 }), size: fc.integer({ min: 20, max: 22 }) }),
  fc.record({ text: fc.string({ maxLength: 5 }), colour: fc.constantFrom('#ff0000', '#00ff00') }),
  fc.record({ text: fc.string({ maxLength: 5 }) }),
  fc.record({ field: fc.constantFrom('a', 'b') }),
)
const content = fc.array(run, { minLength: 1, maxLength: 5 })
/** Each written character with the style that it has. */
const styled = (runs: readonly Run[]) =>
  runs.flatMap(({ text, field, ...style }) => (field ? [[field, style]] : [...(text ?? '')].map((c) => [c, style])))

test('writing changes the words as in a plain text, and every other word keeps its style', () => {
  fc.assert(
    fc.property(content, fc.nat(30), fc.nat(8), fc.string({ maxLength: 4 }), (runs, at, length, text) => {
      const words = wordsOf(runs)
      const from = Math.min(at, words.length)
      const to = Math.min(from + length, words.length)
      const made = withWords(runs, from, to, text)
      expect(wordsOf(made)).toBe(words.slice(0, from) + text + words.slice(to))
      const [was, now] = [styled(runs), styled(made)]
      expect(now.slice(0, from)).toEqual(was.slice(0, from))
      expect(now.slice(now.length - (was.length - to))).toEqual(was.slice(to))
      // What is written has the style of words that were there.
      const styles = was.map(([, style]) => JSON.stringify(style))
      for (const [, style] of now.slice(from, from + text.length))
        if (styles.length > 0) expect(styles).toContain(JSON.stringify(style))
      // No two neighbours could be one, and none is empty where there are words.
      if (wordsOf(made) !== '') expect(made.every((one) => one.field || one.text)).toBe(true)
    }),
  )
})

test('a style reaches the words that are chosen and no other; taken off again, they are as they were', () => {
  fc.assert(
    fc.property(content, fc.nat(30), fc.nat(8), (runs, at, length) => {
      const words = wordsOf(runs)
      const from = Math.min(at, words.length)
      const to = Math.min(from + length, words.length)
      const made = styledWords(runs, from, to, { tracking: 40 })
      expect(wordsOf(made)).toBe(words)
      styled(made).forEach(([, style], i) => {
        expect((style as Run).tracking).toBe(i >= from && i < to ? 40 : undefined)
      })
      if (to > from) expect(commonStyle(made, from, to).tracking).toBe(40)
      expect(styled(styledWords(made, from, to, { tracking: undefined }))).toEqual(styled(runs))
    }),
  )
})

test('a token that is pasted is no field, and a field that is written over goes', () => {
  const runs: Run[] = [{ text: 'by ' }, { field: 'a', size: 30 }, { text: '.' }]
  expect(withWords(runs, 3, 4, 'Io')).toEqual([{ text: 'by ' }, { text: 'Io', size: 30 }, { text: '.' }])
  expect(withWords(runs, 0, 0, `x${fieldToken}y`)).toEqual([{ text: 'xyby ' }, { field: 'a', size: 30 }, { text: '.' }])
  expect(withWords([{ text: 'Io', size: 30 }], 0, 2, '')).toEqual([{ text: '', size: 30 }])
})
