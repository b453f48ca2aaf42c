import type { Box } from '@hoja/core/geometry'
import fc from 'fast-check'
import { diameter, placeDimensions, placeNumbers } from './labelling.ts'

const bounds = { x: -30, y: -30, width: 860, height: 520 }
/** Parts of a title in a corner of the view, some in and over one another. */
const part = fc.record({
  x: fc.integer({ min: 100, max: 420 }),
  y: fc.integer({ min: 220, max: 340 }),
  width: fc.integer({ min: 2, max: 260 }),
  height: fc.integer({ min: 2, max: 60 }),
})
const meets = (a: Box, b: Box) =>
  a.x < b.x + b.width - 0.01 && b.x < a.x + a.width - 0.01 && a.y < b.y + b.height - 0.01 && b.y < a.y + a.height - 0.01
const dimensions = (box: Box) => [
  {
    id: 'w',
    upright: false,
    from: box.x,
    to: box.x + box.width,
    label: '846 wide',
    side: 'before' as const,
    leading: false,
  },
  {
    id: 'h',
    upright: true,
    from: box.y,
    to: box.y + box.height,
    label: '182 high',
    side: 'after' as const,
    leading: false,
  },
  { id: 'g', upright: false, from: box.x - 20, to: box.x, label: '20', side: 'after' as const, leading: true },
]

test('numbers and values never lie on each other, nor on a word, wherever the parts are', () => {
  fc.assert(
    fc.property(fc.array(part, { minLength: 1, maxLength: 8 }), (boxes) => {
      const shy = boxes.map((box) => ({ box, weight: 1 }))
      const values = placeDimensions(dimensions(boxes[0]!), boxes[0]!, shy, bounds).map(({ value }) => value)
      const numbers = placeNumbers(
        boxes.map((box, i) => ({ id: String(i), box, atEnd: i % 2 === 0 })),
        shy,
        values,
        bounds,
      ).map(({ x, y }) => ({ x, y, width: diameter, height: diameter }))
      const labels = [...values, ...numbers]
      for (const [i, a] of labels.entries()) {
        for (const b of labels.slice(i + 1)) expect(meets(a, b)).toBe(false)
        for (const { box } of shy) expect(meets(a, box)).toBe(false)
      }
    }),
  )
})

test('a part by itself has its width above, its height at its right, and its number at its corner', () => {
  const box = { x: 200, y: 200, width: 300, height: 80 }
  const [width, height] = placeDimensions(dimensions(box), box, [{ box, weight: 1 }], bounds)
  expect(width).toMatchObject({ across: 184, value: { y: 176 } })
  expect(height).toMatchObject({ across: 516 })
  const [number] = placeNumbers([{ id: '1', box, atEnd: false }], [{ box, weight: 1 }], [], bounds)
  expect(number).toEqual({ id: '1', x: 200, y: 200 - diameter - 2, lead: undefined })
})

test('a number that can only stand apart is led to its part', () => {
  // Words above, below and beside, so near that no circle fits between.
  const box = { x: 200, y: 240, width: 80, height: 10 }
  const around = [
    { x: 150, y: 200, width: 200, height: 38 },
    { x: 150, y: 252, width: 200, height: 38 },
    { x: 150, y: 238, width: 49, height: 14 },
    { x: 281, y: 238, width: 69, height: 14 },
  ]
  const shy = [box, ...around].map((one) => ({ box: one, weight: 1 }))
  const placed = placeNumbers(
    [box, ...around].map((one, i) => ({ id: String(i), box: one, atEnd: false })),
    shy,
    [],
    bounds,
  )[0]!
  expect(placed.lead).toBeDefined()
  expect(placed.lead!.x).toBeGreaterThanOrEqual(box.x)
  expect(placed.lead!.x).toBeLessThanOrEqual(box.x + box.width)
  for (const one of shy)
    expect(meets({ x: placed.x, y: placed.y, width: diameter, height: diameter }, one.box)).toBe(false)
})
