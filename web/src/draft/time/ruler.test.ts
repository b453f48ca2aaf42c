import { edit, type Keyframe, newPart, newTemplate, type Part, stillMotion } from '@hoja/core/template'
import fc from 'fast-check'
import { ruler } from './ruler.ts'
import { clippedSpans, spanAt } from './spans.ts'

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

const key = (span: Keyframe['span'], at: number, value: number): Keyframe => ({ span, at, value, ease: 'linear' })
const moving = {
  ...newPart('text', 'a', 'A'),
  motion: {
    ...stillMotion(),
    tracks: { fade: { keys: [key('in', 0, 0), key('in', 8, 1), key('in', 12, 0.5), key('out', 3, 0)] } },
    segments: {
      by: 'word',
      order: 'forward',
      seed: 1,
      overlap: 0.5,
      tracks: { scale: { keys: [key('in', 2, 0), key('in', 10, 1)] } },
    },
  },
} as Part

test('a shorter In brings later keys to its end, the last of them winning; other spans keep theirs', () => {
  const template = { ...newTemplate('t', 'T'), parts: [moving] }
  const made = edit(template, clippedSpans(template, { ...template.spans, in: 8 }))
  const { tracks, segments } = made.parts[0]!.motion
  expect(tracks.fade!.keys.map((k) => [k.span, k.at, k.value])).toEqual([
    ['in', 0, 0],
    ['in', 8, 0.5],
    ['out', 3, 0],
  ])
  expect(segments!.tracks.scale!.keys.map((k) => k.at)).toEqual([2, 8])
  expect(made.spans.in).toBe(8)
  expect(made.poster.frame).toBe(8)
})

test('a frame is told by its span', () => {
  const own = spans(10, 20, 5)
  expect(spanAt(own, 9)).toEqual({ span: 'in', at: 9 })
  expect(spanAt(own, 10)).toEqual({ span: 'hold', at: 0 })
  expect(spanAt(own, 34)).toEqual({ span: 'out', at: 4 })
})
