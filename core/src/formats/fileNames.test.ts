import fc from 'fast-check'
import { safeName } from './index.ts'

const anyText = fc.oneof(
  fc.string({ unit: 'grapheme', maxLength: 120 }),
  fc.string({ unit: 'binary', maxLength: 120 }),
  fc
    .array(fc.constantFrom('a', '.', '_', ' ', '/', '\\', ':', '😀', 'ễ', '中', 'CON'), { maxLength: 120 })
    .map((all) => all.join('')),
)

// POSIX: no slash, no NUL, 255 bytes; Windows: its reserved characters and names, no dot or space at the end
// (Microsoft, "Naming Files, Paths, and Namespaces").
test('a safe name is a name on any system, whatever it is made of', () => {
  fc.assert(
    fc.property(anyText, (text) => {
      const name = safeName(text)
      expect(name).not.toBe('')
      expect(name).not.toMatch(/[<>:"/\\|?*\u0000-\u001f]/)
      expect(name).not.toMatch(/[. ]$/)
      expect(name).not.toMatch(/^(con|prn|aux|nul|com\d|lpt\d)$/i)
      expect(name.startsWith('.')).toBe(false)
      // A lone half of a character would become another one in UTF-8.
      expect(Buffer.from(name).toString('utf8')).toBe(name)
      expect(Buffer.byteLength(`${name}_99_fill.mov`)).toBeLessThanOrEqual(255)
    }),
    { numRuns: 500 },
  )
})

test('a safe name of a safe name is the same; letters of any script stay', () => {
  fc.assert(fc.property(anyText, (text) => expect(safeName(safeName(text))).toBe(safeName(text))))
  for (const name of ['Ngọc_Ánh', 'محمد', 'Łukasz-Żak', '周波', 'a.b']) expect(safeName(name)).toBe(name)
  expect(safeName('  Tam / O’Neil: 50 %  ')).toBe('Tam_O’Neil_50')
})
