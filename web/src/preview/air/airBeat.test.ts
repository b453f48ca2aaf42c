import { AirBeat } from './AirBeat.ts'

const rates = [
  { num: 50, den: 1 },
  { num: 60, den: 1 },
  { num: 60_000, den: 1001 },
  { num: 25, den: 1 },
]

test('a display is never more than a frame from the clock, and two are never more than one from each other', () => {
  const start = Date.UTC(2026, 10, 26, 12)
  for (const rate of rates)
    for (const [phase, jitter] of [
      [0, 0],
      [3.1, 2],
      [9.99, 4],
    ] as const) {
      const [one, other] = [new AirBeat(), new AirBeat()]
      for (let i = 0; i < 2000; i++) {
        const ms = start + i * (1000 / 60) + Math.sin(i * 1.7) * jitter
        const [a, b] = [one.frame({ rate }, ms), other.frame({ rate }, ms + phase * 0.3)]
        const exact = (ms * rate.num) / (rate.den * 1000)
        expect(a).toBeGreaterThan(exact - 1.5)
        expect(a).toBeLessThan(exact + 0.5)
        expect(Math.abs(a - b)).toBeLessThanOrEqual(1)
      }
    }
})

test('a display of the same rate shows every frame once, though both stand edge to edge', () => {
  const beat = new AirBeat()
  const rate = { num: 60, den: 1 }
  let before = beat.frame({ rate }, 1_000_000)
  for (let i = 1; i < 2000; i++) {
    // The display's beat trembles round the very moment at which a frame gives way to the next.
    const frame = beat.frame({ rate }, 1_000_000 + (i * 1000) / 60 + (i % 2 ? 0.4 : -0.4))
    expect(frame - before).toBe(1)
    before = frame
  }
})
