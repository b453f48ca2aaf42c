import fc from 'fast-check'
import { replacedWords } from './replaced.ts'

test('what was written leads from the words before to those after, and lies at the caret', () => {
  const word = fc.string({ maxLength: 6, unit: fc.constantFrom('a', 'b', ' ') })
  fc.assert(
    fc.property(word, word, word, word, (start, gone, written, end) => {
      const [before, after] = [start + gone + end, start + written + end]
      const made = replacedWords(before, after, start.length + written.length)
      if (!made) return expect(before).toBe(after)
      expect(before.slice(0, made.from) + made.words + before.slice(made.to)).toBe(after)
      expect(made.to).toBe(start.length + gone.length)
    }),
  )
})

test('a caret that tells nothing is done without', () => {
  expect(replacedWords('Io Marrec', 'Io R Marrec', 0)).toEqual({ from: 2, to: 2, words: ' R' })
  expect(replacedWords('aaa', 'aa', 1)).toEqual({ from: 1, to: 2, words: '' })
})
