import fc from 'fast-check'
import { counted, lettersFor, unsettled } from './letters.ts'

/** A text as it is read on its way to its numbers; what is not there yet is a space. */
function read(text: string, share: number, from = 0): string {
  const instead = counted(text, share, from)
  return [...text].map((character, i) => (instead.has(i) ? instead.get(i) || ' ' : character)).join('')
}

test('a text counts up to its numbers in their own format, each digit in its place', () => {
  expect(read('1,204 m', 0.5)).toBe('  602 m')
  expect(read('1,204 m', 0)).toBe('    0 m')
  expect(read('1,204 m', 1)).toBe('1,204 m')
  expect(read('12.50', 0)).toBe(' 0.00')
  expect(read('12.50', 0.5)).toBe(' 6.25')
  expect(read('0.500 s', 0.5)).toBe('0.250 s')
  expect(read('1 204 567', 0.01)).toBe('   12 046')
  expect(read('Pier 7, 18:30', 0.5)).toBe('Pier 4,  9:15')
  expect(read('007', 0.5)).toBe('004')
  expect(read('١٢٣', 0.5)).toBe(' ٦٢')
  expect(read('9', 0.5, 5)).toBe('7')
  // Down to a number, as far as its places go.
  expect(read('10', 0.5, 90)).toBe('50')
  expect(read('no number', 0.3)).toBe('no number')
})

test('counting changes digits and their marks alone, and only goes up', () => {
  const numbers = fc.tuple(fc.nat(9_999_999), fc.constantFrom('', ',', '.', '’', '\u202f'), fc.nat(3))
  fc.assert(
    fc.property(
      numbers,
      fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 2, maxLength: 6 }),
      ([n, group, decimals], shares) => {
        const whole = String(n).replace(/\B(?=(\d{3})+(?!\d))/g, group)
        const text = `~ ${whole}${decimals > 0 ? `${group === ',' ? '.' : ','}${'5'.repeat(decimals)}` : ''} ~`
        let before = -1
        for (const share of [...shares].sort((a, b) => a - b)) {
          const shown = read(text, share)
          expect(shown.length).toBe(text.length)
          ;[...shown].forEach((character, i) => {
            if (!/\d/.test(character) && character !== ' ') expect(character).toBe(text[i])
          })
          const value = Number(shown.replace(/\D/g, ''))
          expect(value).toBeGreaterThanOrEqual(before)
          before = value
        }
      },
    ),
  )
})

test('letters change among their own kind', () => {
  expect(lettersFor('alphabet', 'É', [])).toContain('Q')
  expect(lettersFor('alphabet', 'q', [])).not.toContain('Q')
  expect(lettersFor('alphabet', 'ж', [])).toContain('я')
  expect(lettersFor('alphabet', '7', []).join('')).toBe('0123456789')
  expect(lettersFor('digits', '٣', []).join('')).toBe('٠١٢٣٤٥٦٧٨٩')
  expect(lettersFor('alphabet', 'あ', ['あ', 'い'])).toEqual(['あ', 'い'])
  expect(lettersFor('own', 'x', ['a', 'x'])).toEqual(['a', 'x'])
})

describe('a letter on its way', () => {
  const scramble = { as: 'scramble', from: 'alphabet' } as const
  const board = { as: 'board', from: 'alphabet' } as const

  test('that scrambles is the same for the same seed, another every other frame, and itself in the end', () => {
    const at = (frame: number, seed = 1) => unsettled(scramble, 0.4, 'K', [], { seed, unit: 3, at: frame }).letter
    const seen = Array.from({ length: 40 }, (_, frame) => at(frame))
    expect(seen).toEqual(Array.from({ length: 40 }, (_, frame) => at(frame)))
    for (const [frame, letter] of seen.entries()) expect(letter).toBe(seen[frame - (frame % 2)])
    expect(new Set(seen).size).toBeGreaterThan(8)
    expect(Array.from({ length: 40 }, (_, frame) => at(frame, 2))).not.toEqual(seen)
    expect(unsettled(scramble, 1, 'K', [], { seed: 1, unit: 3, at: 7 })).toEqual({ height: 1 })
  })

  test('that falls into place goes through its letters in their order', () => {
    const steps = Array.from({ length: 101 }, (_, i) => unsettled(board, i / 100, 'F', [], { seed: 1, unit: 0, at: i }))
    const seen = steps.map(({ letter }) => letter ?? 'F').filter((letter, i, all) => letter !== all[i - 1])
    expect(seen.join('')).toBe('ABCDEF')
    // Each flap is seen from its full height to none, and the next from none to its full height.
    expect(Math.min(...steps.map(({ height }) => height))).toBeLessThan(0.15)
    expect(steps.at(-1)).toEqual({ height: 1 })
  })
})
