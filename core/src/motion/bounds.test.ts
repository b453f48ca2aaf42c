import fc from 'fast-check'
import { boundsOf } from '../paint/index.ts'
import { type Keyframe, type Motion, type Part, type Segments, stillMotion } from '../template/index.ts'
import { axis, box, fixed, text } from '../testing/parts.ts'
import { sceneOf } from '../testing/speaker.ts'
import { animatedBounds, holdFrame, mirrored, momentAt, pose, segmentMoment, shownMoment, timingOf } from './index.ts'

const key = (at: number, value: number, span: Keyframe['span'] = 'in'): Keyframe => ({
  span,
  at,
  value,
  ease: 'linear',
})
const still = (value: number) => ({ keys: [key(0, value)] })

test('the bounds that moving ties take are the bounds that are drawn', () => {
  const unit = fc.double({ min: 0.05, max: 1, noNaN: true })
  fc.assert(
    fc.property(
      fc.integer({ min: -90, max: 90 }),
      fc.double({ min: 0.1, max: 3, noNaN: true }),
      fc.integer({ min: -300, max: 300 }),
      unit,
      unit,
      unit,
      fc.constantFrom('start' as const, 'middle' as const, 'end' as const),
      fc.constantFrom('x' as const, 'y' as const),
      (turn, scale, shift, grow, ax, ay, from, along) => {
        const motion: Motion = {
          ...stillMotion(),
          anchor: { x: ax, y: ay },
          tracks: {
            turn: still(turn),
            scale: still(scale),
            shiftX: { unit: 'px', ...still(shift) },
            grow: { axis: along, from, ...still(grow) },
          },
        }
        const part = {
          ...box('a', axis([], fixed(200), { place: 500 }), axis([], fixed(90), { place: 400 })),
          motion,
        } as Part
        const scene = sceneOf([part])
        const layout = scene.layout({})
        const drawn = boundsOf(scene.frame(layout, scene.timing(scene.layout({})), 3).items)!
        const rest = { x: 500, y: 400, width: 200, height: 90 }
        const context = {
          frame: scene.template.frame,
          spans: scene.template.spans,
          hold: 10,
          moment: { span: 'in' as const, at: 3 },
        }
        const moved = animatedBounds(motion, rest, pose(motion, rest, context))
        for (const name of ['x', 'y', 'width', 'height'] as const) expect(moved[name]).toBeCloseTo(drawn[name], 1)
      },
    ),
  )
})

test('letters that are not there yet do not count', () => {
  const segments: Segments = {
    by: 'character',
    order: 'forward',
    seed: 1,
    overlap: 0,
    tracks: { fade: { keys: [key(0, 0), key(10, 1)] } },
  }
  const part = {
    ...text('a', 'Estuary', axis([], { kind: 'content' }, { place: 300 })),
    motion: { ...stillMotion(), segments },
  } as Part
  const scene = sceneOf([part])
  const layout = scene.layout({})
  const rest = { x: 300, y: 0, width: layout.rest.size[0][0]!, height: layout.rest.size[1][0]! }
  const boxes = scene.drawings(layout).segmentBoxes(0, rest)
  expect(boxes).toHaveLength(7)
  const at = (frame: number) =>
    animatedBounds(
      part.motion,
      rest,
      pose(
        part.motion,
        rest,
        { frame: scene.template.frame, spans: scene.template.spans, hold: 9, moment: { span: 'in', at: frame } },
        boxes,
      ),
      boxes,
    )
  expect(at(0).width).toBe(0)
  let last = 0
  for (let frame = 1; frame <= 10; frame++) {
    expect(at(frame).width).toBeGreaterThanOrEqual(last)
    last = at(frame).width
  }
  expect(at(10).x + at(10).width).toBeLessThanOrEqual(rest.x + rest.width)
})

test('Hold freezes, loops its marked stretch, or stretches', () => {
  const spans = (gives: 'freeze' | 'loop' | 'stretch') => ({
    in: 5,
    out: 5,
    hold: { frames: 10, gives, loop: { from: 4, to: 8 } },
  })
  expect(holdFrame(spans('freeze'), 30, 7)).toBeUndefined()
  expect([0, 3, 7, 8, 9, 12, 15].map((at) => holdFrame(spans('loop'), 30, at))).toEqual([0, 3, 7, 4, 5, 4, 7])
  expect([0, 15, 30].map((at) => holdFrame(spans('stretch'), 30, at))).toEqual([0, 5, 10])
})

test('every frame of a title is of one span, in order, whatever its length', () => {
  const template = sceneOf([]).template
  fc.assert(
    fc.property(fc.integer({ min: 30, max: 300 }), (total) => {
      const timing = timingOf(template, total)
      const spans = Array.from({ length: total }, (_, f) => momentAt(timing, f).span)
      expect(spans.filter((s) => s === 'in')).toHaveLength(15)
      // With nothing held, one frame of Out shows what has arrived.
      expect(spans.filter((s) => s === 'hold')).toHaveLength(Math.max(1, timing.hold))
      expect(spans.filter((s) => s === 'out')).toHaveLength(Math.min(15, total - 16))
      expect([...spans].sort((a, b) => ['in', 'hold', 'out'].indexOf(a) - ['in', 'hold', 'out'].indexOf(b))).toEqual(
        spans,
      )
      if (timing.hold > 1)
        expect(shownMoment(template.spans, timing, 16)).toEqual(shownMoment(template.spans, timing, 15))
    }),
  )
})

test('an Out of another length mirrors all of In', () => {
  const spans = { in: 20, out: 10, hold: { frames: 5, gives: 'freeze' as const } }
  expect([0, 4, 9].map((at) => mirrored(spans, at).at)).toEqual([18, 10, 0])
})

test('words of a long text arrive within the window that a short one has', () => {
  const segments: Segments = {
    by: 'word',
    order: 'middle',
    seed: 1,
    overlap: 0.3,
    tracks: { shiftY: { unit: 'px', keys: [key(3, 20), key(13, 0)] } },
  }
  for (const count of [1, 2, 9, 40])
    for (let rank = 0; rank < count; rank++) {
      expect(segmentMoment(segments, rank, count, { span: 'in', at: 3 }).at).toBe(3)
      expect(segmentMoment(segments, rank, count, { span: 'in', at: 13 }).at).toBeCloseTo(13, 6)
    }
})
