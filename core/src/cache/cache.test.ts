import fc from 'fast-check'
import { cached, LastFew } from './index.ts'

test('a value is made once for as long as it is kept, and what was not asked for the longest goes first', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 5 }),
      fc.array(fc.integer({ min: 0, max: 8 }), { maxLength: 60 }),
      (most, asked) => {
        const cache = new LastFew<number, string>(most)
        let made = 0
        let kept: number[] = []
        for (const key of asked) {
          const before = made
          expect(cached(cache, key, () => `${key} ${++made}`)).toMatch(new RegExp(`^${key} `))
          expect(made - before).toBe(kept.includes(key) ? 0 : 1)
          kept = [...kept.filter((one) => one !== key), key].slice(-most)
        }
      },
    ),
  )
})
