import bezierEasing from 'bezier-easing'
import fc from 'fast-check'
import { Scene } from '../scene/index.ts'
import {
  allParts,
  edit,
  type Keyframe,
  type Motion,
  type Part,
  type PartKind,
  partKinds,
  type Segments,
  stillMotion,
  type Template,
} from '../template/index.ts'
import { axis, box, fixed, part, text } from '../testing/parts.ts'
import { assets, sceneOf, speaker, templateOf } from '../testing/speaker.ts'
import {
  eased,
  easePresets,
  keyMoment,
  momentAt,
  moveOf,
  moves,
  pose,
  putMove,
  restFrame,
  saveMove,
  segmentMoment,
  segmentRanks,
  shortestDuration,
  stagger,
  timingOf,
  valueAt,
  withOut,
} from './index.ts'

const key = (at: number, value: number, span: Keyframe['span'] = 'in'): Keyframe => ({
  span,
  at,
  value,
  ease: 'linear',
})
const moving = (tracks: Motion['tracks'], more: Partial<Motion> = {}): Motion => ({ ...stillMotion(), tracks, ...more })

test('cubic-bezier agrees with the bezier-easing library', () => {
  const unit = fc.double({ min: 0, max: 1, noNaN: true })
  const free = fc.double({ min: -1, max: 2, noNaN: true })
  fc.assert(
    fc.property(unit, free, unit, free, unit, (x1, y1, x2, y2, t) => {
      // bezier-easing looks x up in a table; where a curve is almost upright it is the less exact of the two.
      const slope = Math.abs(3 * (1 - 3 * x2 + 3 * x1) * t * t + 2 * (3 * x2 - 6 * x1) * t + 3 * x1)
      fc.pre(slope > 0.2)
      expect(eased({ bezier: [x1, y1, x2, y2] }, t)).toBeCloseTo(bezierEasing(x1, y1, x2, y2)(t), 3)
    }),
    { numRuns: 500 },
  )
})

// CSS Easing Functions Level 2: the keywords' curves (section 2.2), steps() (section 2.3.1 figures), linear().
test('the CSS keywords, steps and linear points', () => {
  const preset = (css: string) => easePresets.find((p) => p.css === css)!.ease
  expect(preset('ease')).toEqual({ bezier: [0.25, 0.1, 0.25, 1] })
  expect(preset('ease-in')).toEqual({ bezier: [0.42, 0, 1, 1] })
  expect(preset('ease-out')).toEqual({ bezier: [0, 0, 0.58, 1] })
  expect(preset('ease-in-out')).toEqual({ bezier: [0.42, 0, 0.58, 1] })
  const at = (jump: 'start' | 'end' | 'none' | 'both') =>
    [0, 0.2, 0.5, 0.99, 1].map((t) => eased({ steps: 3, jump }, t))
  expect(at('end')).toEqual([0, 0, 1 / 3, 2 / 3, 1])
  expect(at('start')).toEqual([1 / 3, 1 / 3, 2 / 3, 1, 1])
  expect(at('none')).toEqual([0, 0, 0.5, 1, 1])
  expect(at('both')).toEqual([1 / 4, 1 / 4, 2 / 4, 3 / 4, 1])
  const points = {
    points: [
      [0, 0],
      [0.5, 0.8],
      [1, 1],
    ] as [number, number][],
  }
  expect(eased(points, 0.25)).toBeCloseTo(0.4)
  expect(eased(points, 0.75)).toBeCloseTo(0.9)
})

test('retiming: the shortest title is In + Out; shorter is refused with that number', () => {
  expect(shortestDuration(speaker.spans)).toBe(30)
  expect(timingOf(speaker, 30).hold).toBe(0)
  expect(() => timingOf(speaker, 29)).toThrow('In and Out need 30')
  expect(restFrame(timingOf(speaker))).toBe(15)
})

// Invariant 3: changing D never changes any frame of In or Out. Common practice: 15 frames of In stay 15.
test.each(['freeze', 'loop', 'stretch'] as const)('no duration changes a frame of In or Out (Hold %ss)', (gives) => {
  const hold = [key(3, 5, 'hold'), key(9, -20, 'hold')]
  const parts = allParts(speaker.parts).filter((p) => p.kind === 'box')
  const holding: Template = {
    ...speaker,
    spans: { ...speaker.spans, hold: { frames: 12, gives, loop: { from: 2, to: 10 } } },
  }
  const template = parts.reduce(
    (t, p, i) =>
      edit(t, {
        kind: 'motion',
        part: p.id,
        motion: {
          ...p.motion,
          out: i % 2 ? 'own' : 'mirror',
          tracks: {
            ...p.motion.tracks,
            shiftX: { unit: 'px', keys: [key(0, -40), key(9, 0), ...hold, key(4, 0, 'out'), key(12, 60, 'out')] },
          },
        },
      }),
    holding,
  )
  const scene = new Scene(template, assets)
  const layout = scene.layout({})
  const keys = (duration: number) => {
    const timing = scene.timing(scene.layout({}), duration)
    const frame = (f: number) => scene.posed(layout, timing, f).key
    return {
      in: Array.from({ length: 15 }, (_, f) => frame(f)),
      out: Array.from({ length: 15 }, (_, f) => frame(duration - 15 + f)),
    }
  }
  const designed = keys(42)
  fc.assert(
    fc.property(fc.integer({ min: 31, max: 400 }), (duration) => expect(keys(duration)).toEqual(designed)),
    { numRuns: 25 },
  )
  // Nothing held: what has arrived is seen once all the same, in the place of Out's first frame.
  const shortest = keys(30)
  const arrived = scene.posed(layout, scene.timing(layout, 42), 15).key
  expect(shortest).toEqual({ in: designed.in, out: [arrived, ...designed.out.slice(1)] })
})

test('a mirrored Out is In frame by frame backwards, ending in the reverse order', () => {
  const scene = new Scene(speaker, assets)
  const layout = scene.layout({})
  const timing = scene.timing(scene.layout({}))
  for (let f = 0; f < 15; f++)
    expect(scene.posed(layout, timing, timing.total - 1 - f).key).toBe(scene.posed(layout, timing, f).key)
  // Common practice: the first to arrive is the last to leave.
  const two = sceneOf([box('first', axis([], fixed(9))), box('last', axis([], fixed(9)))])
  const template = edit(
    edit(two.template, { kind: 'motion', part: 'first', motion: moving({ fade: { keys: [key(0, 0), key(3, 1)] } }) }),
    { kind: 'motion', part: 'last', motion: moving({ fade: { keys: [key(9, 0), key(15, 1)] } }) },
  )
  const fade = (part: number, at: number) =>
    pose(
      template.parts[part]!.motion,
      { x: 0, y: 0, width: 9, height: 9 },
      { frame: template.frame, spans: template.spans, hold: 10, moment: { span: 'out', at } },
    ).fade
  expect(fade(1, 6)).toBe(0)
  expect(fade(0, 6)).toBe(1)
})

test('before its first key a part holds its first value; spans do not reach into each other', () => {
  const track = { keys: [key(5, 10), key(10, 20), key(4, 7, 'out')] }
  expect(valueAt(track, { span: 'in', at: 0 })).toBe(10)
  expect(valueAt(track, { span: 'in', at: 7.5 })).toBe(15)
  expect(valueAt(track, { span: 'hold', at: 3 })).toBe(20)
  expect(valueAt(track, { span: 'out', at: 0 })).toBe(20)
  expect(valueAt(track, { span: 'out', at: 9 })).toBe(7)
})

// Common practice: a 3-frame stagger over five parts ends 12 frames later.
test('stagger sets parts a number of frames apart, in order, and refuses what In cannot hold', () => {
  const parts = Array.from({ length: 5 }, (_, i) => ({
    ...box(`p${i}`, axis([], fixed(9))),
    motion: moving({ fade: { keys: [key(0, 0), key(3, 1)] } }),
  }))
  const template = templateOf(parts)
  const ids = parts.map((p) => p.id)
  const after = edit(template, stagger(template, ids, 3))
  const last = (t: Template, i: number) => Math.max(...t.parts[i]!.motion.tracks.fade!.keys.map((k) => k.at))
  expect(after.parts.map((_, i) => last(after, i))).toEqual([3, 6, 9, 12, 15])
  expect(last(after, 4) - last(template, 4)).toBe(12)
  const back = edit(template, stagger(template, [...ids].reverse(), 3))
  expect(back.parts.map((_, i) => last(back, i))).toEqual([15, 12, 9, 6, 3])
  expect(() => stagger(template, ids, 4)).toThrow('would need 19 frames to arrive and In has 15')
})

test('shift in px, own sizes, frames, and off the frame', () => {
  const box1 = { x: 300, y: 40, width: 200, height: 50 }
  const context = { frame: speaker.frame, spans: speaker.spans, hold: 5, moment: momentAt(timingOf(speaker), 0) }
  const dx = (unit: 'px' | 'own' | 'frame' | 'off', value: number) =>
    pose(moving({ shiftX: { unit, keys: [key(0, value)] } }), box1, context).dx
  expect([dx('px', 7), dx('own', 0.5), dx('frame', 1), dx('off', 1), dx('off', -1)]).toEqual([7, 100, 1920, 1620, -500])
})

test('units: every one plays all of its keys within their window, in its order', () => {
  const segments: Segments = {
    by: 'character',
    order: 'forward',
    seed: 3,
    overlap: 0.5,
    tracks: { fade: { keys: [key(2, 0), key(12, 1)] } },
  }
  expect(segmentRanks({ ...segments, order: 'backward' }, 3)).toEqual([2, 1, 0])
  expect(segmentRanks({ ...segments, order: 'middle' }, 5)).toEqual([3, 1, 0, 2, 4])
  const random = segmentRanks({ ...segments, order: 'random' }, 9)
  expect(segmentRanks({ ...segments, order: 'random' }, 9)).toEqual(random)
  expect([...random].sort((a, b) => a - b)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8])
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 60 }), fc.double({ min: 0, max: 1, noNaN: true }), (count, overlap) => {
      const own = { ...segments, overlap }
      const at = (rank: number, frame: number) => segmentMoment(own, rank, count, { span: 'in', at: frame }).at
      expect(at(0, 2)).toBe(2)
      expect(at(count - 1, 12)).toBeCloseTo(12, 9)
      for (let rank = 1; rank < count; rank++) expect(at(rank, 7)).toBeLessThanOrEqual(at(rank - 1, 7) + 1e-9)
    }),
  )
})

const example = (kind: PartKind): Part =>
  kind === 'text' ? text('a', 'Eel survey') : part(kind, 'a', axis([], fixed(50)), axis([], fixed(40)))

test('every move, on In or backwards on Out, leaves its part at rest while Hold stands, and moves it before or after', () => {
  for (const move of moves)
    for (const where of ['in', 'out'] as const) {
      const [kind] = move.kinds
      const still = example(kind!)
      const moved = edit(templateOf([still]), putMove(templateOf([still]), ['a'], move, where))
      const scene = sceneOf(moved.parts)
      const flat = (s: Scene) =>
        JSON.stringify(s.restFrame(s.layout({})))
          .replace(/"d":"[^"]*"/g, '')
          .replaceAll(',"blur":0', '')
      if (!moved.parts[0]!.motion.segments) expect(flat(scene)).toBe(flat(sceneOf([still])))
      const key = (frame: number) => scene.posed(scene.layout({}), scene.timing(scene.layout({})), frame).key
      expect(key(where === 'in' ? 0 : scene.timing(scene.layout({})).total - 1) === key(15)).toBe(move.id === 'still')
      if (where === 'out') expect(key(0)).toBe(key(15))
    }
})

test('there are at least 16 moves with names of their own, and every kind of part has some', () => {
  expect(new Set(moves.map((move) => move.name)).size).toBeGreaterThanOrEqual(16)
  expect(new Set(moves.map((move) => move.id)).size).toBe(moves.length)
  for (const kind of partKinds) expect(moves.filter((move) => move.kinds.includes(kind)).length).toBeGreaterThan(8)
})

test('a move is refused for a kind of part it is not for', () => {
  const letters = moves.find((move) => move.id === 'letters')!
  expect(() => putMove(templateOf([box('a', axis([], fixed(9)))]), ['a'], letters, 'in')).toThrow(
    '"Letter by letter" is for text; "a" is a box.',
  )
})

test('In and Out may uncover from different sides: Out works by its own settings', () => {
  const uncover = moves.find((move) => move.id === 'uncover')!
  const right: typeof uncover = {
    ...uncover,
    make: (n) => ({ tracks: { reveal: { ...uncover.make(n, 'box').tracks.reveal!, from: 'right' } } }),
  }
  let template = templateOf([box('a', axis([], fixed(100)))])
  template = edit(template, putMove(template, ['a'], uncover, 'in'))
  template = edit(template, putMove(template, ['a'], right, 'out'))
  const { reveal } = template.parts[0]!.motion.tracks
  expect(reveal).toMatchObject({ from: 'left', leaving: { from: 'right' } })
  const scene = sceneOf(template.parts)
  const clip = (frame: number) =>
    JSON.stringify(scene.frame(scene.layout({}), scene.timing(scene.layout({})), frame).items)
  expect(clip(5)).toContain('clip')
  expect(clip(scene.timing(scene.layout({})).total - 5)).not.toBe(clip(4))
})

test('letting Out go keeps what it showed, frame by frame within one; linking it again drops its keys', () => {
  const bob = moves.find((move) => move.id === 'rise')!
  const mirrored = edit(
    templateOf([box('a', axis([], fixed(100)))]),
    putMove(templateOf([box('a', axis([], fixed(100)))]), ['a'], bob, 'in'),
  )
  const own = withOut(mirrored.parts[0]!.motion, mirrored.spans, 'own')
  const at = (motion: Motion, frame: number) =>
    valueAt(motion.tracks.shiftY!, keyMoment(mirrored.spans, 95, momentAt(timingOf(mirrored), frame), motion.out))
  const total = timingOf(mirrored).total
  for (let frame = 0; frame < total; frame++)
    expect(
      Math.min(
        ...[-1, 0, 1].map((d) =>
          Math.abs(at(own, frame) - at(mirrored.parts[0]!.motion, Math.min(total - 1, Math.max(0, frame + d)))),
        ),
      ),
    ).toBeLessThan(1.5)
  expect(withOut(own, mirrored.spans, 'mirror').tracks.shiftY!.keys.every((k) => k.span === 'in')).toBe(true)
})

test("a designer's own keys become a move that fits other Ins", () => {
  const made = templateOf([
    { ...box('a', axis([], fixed(9))), motion: moving({ fade: { keys: [key(3, 0), key(15, 1)] } }) },
  ])
  const saved = saveMove(made, 'a', 'mine', 'Mine')
  expect(
    moveOf(saved)
      .make(30, 'box')
      .tracks.fade!.keys.map((k) => k.at),
  ).toEqual([6, 30])
  expect(() => saveMove(templateOf([box('b', axis([], fixed(9)))]), 'b', 'x', 'X')).toThrow('has no keys in In')
})

// Common practice: a sub-title that starts 3 frames after its title with the same keys has the same speed.
test('a sub-title three frames behind its title moves at the same speed', () => {
  const rise = moves.find((move) => move.id === 'rise')!
  const base = templateOf([text('title', 'Eel survey'), text('sub', 'Low water')])
  const short = { ...rise, make: (n: number) => rise.make(n - 3, 'text') }
  const both = edit(base, putMove(base, ['title', 'sub'], short, 'in'))
  const after = edit(both, stagger(both, ['title', 'sub'], 3))
  const dy = (id: number, frame: number) => valueAt(after.parts[id]!.motion.tracks.shiftY!, { span: 'in', at: frame })
  for (let frame = 1; frame < 12; frame++)
    expect(dy(1, frame + 3) - dy(1, frame + 2)).toBeCloseTo(dy(0, frame) - dy(0, frame - 1), 9)
})
