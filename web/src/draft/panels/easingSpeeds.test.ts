import fc from 'fast-check'
import { bezierOf, speedAt, speedsOf } from './easingSpeeds.ts'

test('a curve seen as speeds and read back is the same curve', () => {
  const share = fc.integer({ min: 5, max: 95 }).map((n) => n / 100)
  const free = fc.integer({ min: -50, max: 150 }).map((n) => n / 100)
  fc.assert(
    fc.property(share, free, share, free, (x1, y1, x2, y2) => {
      const back = bezierOf(speedsOf([x1, y1, x2, y2]))
      ;[x1, y1, x2, y2].forEach((value, i) => {
        expect(back[i]).toBeCloseTo(value, 2)
      })
    }),
  )
})

test('the speeds at the ends are those that the curve leaves and arrives with', () => {
  const { leave, arrive } = speedsOf([0.25, 0.5, 0.5, 0.75])
  expect(leave).toBe(2)
  expect(arrive).toBe(0.5)
  expect(speedAt({ bezier: [0.25, 0.5, 0.5, 0.75] }, 0)).toBeCloseTo(2, 1)
  expect(speedAt({ bezier: [0.25, 0.5, 0.5, 0.75] }, 1)).toBeCloseTo(0.5, 1)
  expect(speedAt('linear', 0.3)).toBeCloseTo(1, 6)
})
