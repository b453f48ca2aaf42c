import { newTemplate } from '@hoja/core/template'
import fc from 'fast-check'
import { fitScale, seenArea, viewOf, zoomedAt, zoomedTo } from './view.ts'

const { frame } = newTemplate('t', 'T')
const size = fc.record({ width: fc.integer({ min: 200, max: 1600 }), height: fc.integer({ min: 150, max: 900 }) })

test('a frame that fits lies whole and in the middle of its view', () => {
  fc.assert(
    fc.property(size, (s) => {
      const view = viewOf(s, frame, undefined, { x: 99, y: 99 })
      expect(view.left).toBeGreaterThan(0)
      expect(view.top).toBeGreaterThan(0)
      // Whole px, half of one off at most; the rest is what doubles round.
      expect(Math.abs(view.left - (s.width - frame.width * view.scale) / 2)).toBeLessThan(0.5 + 1e-9)
      expect(Math.abs(view.top - (s.height - frame.height * view.scale) / 2)).toBeLessThan(0.5 + 1e-9)
      expect(seenArea(s, frame, view)).toEqual({ x: 0, y: 0, width: 1920, height: 1080 })
    }),
  )
})

test('zooming keeps the point under the pointer where it is', () => {
  fc.assert(
    fc.property(
      size,
      fc.double({ min: 0.1, max: 6, noNaN: true }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (s, scale, u, v) => {
        const before = viewOf(s, frame, undefined, { x: 0, y: 0 })
        const [x, y] = [u * s.width, v * s.height]
        const { zoom, pan } = zoomedAt(s, frame, before, scale, x, y)
        const after = viewOf(s, frame, zoom, pan)
        const point = (view: typeof before) => [(x - view.left) / view.scale, (y - view.top) / view.scale]
        point(after).forEach((value, i) => {
          expect(Math.abs(value - point(before)[i]!)).toBeLessThan(1 / zoom + 0.01)
        })
      },
    ),
  )
})

test('only what is seen of a frame is drawn', () => {
  const s = { width: 400, height: 300 }
  const view = viewOf(s, frame, 4, { x: 0, y: 0 })
  const seen = seenArea(s, frame, view)!
  expect(seen.width).toBe(100)
  expect(seen.height).toBe(75)
  expect(seenArea(s, frame, viewOf(s, frame, 1, { x: 5000, y: 0 }))).toBeUndefined()
  expect(fitScale(s, frame)).toBeLessThan(0.2)
})

test('zoomed to a box, its middle is in the middle of the view, and all of it is seen', () => {
  const box = fc.record({
    x: fc.integer({ min: 0, max: 1800 }),
    y: fc.integer({ min: 0, max: 1000 }),
    width: fc.integer({ min: 1, max: 1920 }),
    height: fc.integer({ min: 1, max: 1080 }),
  })
  fc.assert(
    fc.property(size, box, (s, own) => {
      const { zoom, pan } = zoomedTo(frame, own, s)
      const view = viewOf(s, frame, zoom, pan)
      expect(view.left + (own.x + own.width / 2) * view.scale).toBeCloseTo(s.width / 2, -0.5)
      expect(view.top + (own.y + own.height / 2) * view.scale).toBeCloseTo(s.height / 2, -0.5)
      if (zoom > 0.06) expect(own.width * zoom).toBeLessThanOrEqual(s.width)
    }),
  )
})
