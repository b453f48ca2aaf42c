import { edit, fixedAxis, type Key, newPart, newTemplate, type Part, stillMotion } from '@hoja/core/template'
import fc from 'fast-check'
import { keyTimes, moveKeys } from './keys.ts'
import { moveBy } from './nudge.ts'
import { ruler } from './ruler.ts'

const spans = (a: number, b: number, c: number) => ({ in: a, out: c, hold: { frames: b, gives: 'freeze' as const } })

test('the ruler keeps order, reaches from end to end, and reads back its own frames', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 60 }),
      fc.integer({ min: 1, max: 3000 }),
      fc.integer({ min: 0, max: 60 }),
      fc.integer({ min: 200, max: 900 }),
      (a, b, c, width) => {
        const r = ruler(spans(a, b, c), width)
        expect(r.x(0)).toBe(0)
        expect(r.x(a + b + c)).toBeCloseTo(width, 0)
        let last = -1
        for (let f = 0; f <= a + b + c; f += Math.max(1, Math.floor((a + b + c) / 50))) {
          expect(r.x(f)).toBeGreaterThanOrEqual(last)
          last = r.x(f)
        }
        for (const f of [0, a, a + b - 1].filter((n) => n < a + b + c))
          expect(Math.abs(r.frame(r.x(f) + 0.0001) - f)).toBeLessThanOrEqual(1)
      },
    ),
  )
})

test('In and Out keep their width however long Hold is', () => {
  expect(ruler(spans(15, 5000, 15), 400).inWidth).toBeGreaterThan(60)
  expect(ruler(spans(15, 95, 15), 400).inWidth).toBeLessThan(120)
})

const key = (span: Key['span'], at: number, value: number): Key => ({ span, at, value, ease: 'linear' })
const moving = {
  ...newPart('text', 'a', 'A'),
  motion: {
    ...stillMotion(),
    tracks: {
      fade: { keys: [key('in', 0, 0), key('in', 8, 1), key('out', 3, 0)] },
      scale: { keys: [key('in', 8, 2)] },
    },
  },
} as Part

test('the keys of one moment are one leaf, and move together over all channels', () => {
  expect(keyTimes(moving).map((k) => `${k.span} ${k.at}`)).toEqual(['in 0', 'in 8', 'out 3'])
  const { tracks } = moveKeys(moving, { span: 'in', at: 8 }, 5)
  expect(tracks.fade!.keys.map((k) => k.at)).toEqual([0, 5, 3])
  expect(tracks.scale!.keys[0]!.at).toBe(5)
})

test('a key that passes another keeps its track in order', () => {
  const { tracks } = moveKeys(
    { ...moving, motion: { ...moving.motion, tracks: { fade: { keys: [key('in', 2, 0), key('in', 8, 1)] } } } } as Part,
    { span: 'in', at: 2 },
    12,
  )
  expect(tracks.fade!.keys.map((k) => [k.at, k.value])).toEqual([
    [8, 1],
    [12, 0],
  ])
})

test('moving a part changes its gaps when it is tied and its place when it stands free', () => {
  const box = {
    ...newPart('box', 'b', 'B'),
    x: {
      ...fixedAxis(0, 10),
      ties: [
        {
          edge: 'start' as const,
          to: { region: 'title' as const },
          at: 'start' as const,
          gap: 5,
          follow: 'settled' as const,
          gone: 'collapse' as const,
        },
      ],
    },
    y: fixedAxis(40, 10),
  }
  const template = { ...newTemplate('t', 'T'), parts: [box as Part] }
  const moved = edit(template, moveBy(box as Part, 7, -3)).parts[0]!
  expect([moved.x.ties[0]!.gap, moved.y.place]).toEqual([12, 37])
})
