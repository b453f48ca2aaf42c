import fc from 'fast-check'
import { edit, type Keyframe, stillMotion, type Template } from '../template/index.ts'
import { axis, box, fixed } from '../testing/parts.ts'
import { templateOf } from '../testing/speaker.ts'
import {
  copyKeys,
  gatherFirstKeys,
  keysOf,
  moveKeys,
  offsetKeys,
  pasteKeys,
  removeKeys,
  resetMotion,
  reverseKeys,
  room,
  setKeyAt,
  setKeys,
  spreadKeys,
  valueAt,
} from './index.ts'

const key = (at: number, value: number, span: Keyframe['span'] = 'in'): Keyframe => ({
  span,
  at,
  value,
  ease: 'linear',
})
const withKeys = (lists: number[][]): Template =>
  templateOf(
    lists.map((times, i) => ({
      ...box(`p${i}`, axis([], fixed(9))),
      motion: { ...stillMotion(), tracks: { fade: { keys: times.map((at, n) => key(at, n)) } } },
    })),
  )
const times = (template: Template, i = 0) => template.parts[i]!.motion.tracks.fade?.keys.map((k) => k.at) ?? []
const refs = (template: Template) => template.parts.flatMap(keysOf)
const frames = fc
  .uniqueArray(fc.integer({ min: 0, max: 15 }), { minLength: 1, maxLength: 5 })
  .map((l) => l.sort((a, b) => a - b))

test('keys move together, as far as In lets all of them; their order and number stay', () => {
  fc.assert(
    fc.property(fc.array(frames, { minLength: 1, maxLength: 3 }), fc.integer({ min: -20, max: 20 }), (lists, by) => {
      const template = withKeys(lists)
      const step = room(template, refs(template), by)
      expect(Math.sign(step) === Math.sign(by) || step === 0).toBe(true)
      const after = edit(template, moveKeys(template, refs(template), by))
      lists.forEach((list, i) => {
        expect(times(after, i)).toEqual(list.map((at) => at + step))
      })
    }),
  )
})

test('turning keys round twice gives them back', () => {
  fc.assert(
    fc.property(fc.array(frames, { minLength: 1, maxLength: 3 }), (lists) => {
      const template = withKeys(lists)
      const once = edit(template, reverseKeys(template, refs(template)))
      const twice = edit(once, reverseKeys(once, refs(once)))
      lists.forEach((list, i) => {
        expect(times(twice, i)).toEqual(list)
      })
      expect(once.parts[0]!.motion.tracks.fade!.keys.map((k) => k.value)).toEqual(lists[0]!.map((_, n) => n).reverse())
    }),
  )
})

test('keys are spread over frames and refuse to leave In', () => {
  const template = withKeys([
    [0, 4],
    [2, 8],
  ])
  const after = edit(template, spreadKeys(template, refs(template), 12))
  expect([times(after, 0), times(after, 1)]).toEqual([
    [0, 6],
    [3, 12],
  ])
  expect(() => spreadKeys(template, refs(template), 16)).toThrow('run past the end of in, which has 15')
})

test('parts are offset from one another and gathered on one frame again', () => {
  const template = withKeys([
    [0, 4],
    [0, 4],
    [0, 4],
  ])
  const apart = edit(template, offsetKeys(template, refs(template), 3))
  expect([times(apart, 0), times(apart, 1), times(apart, 2)]).toEqual([
    [0, 4],
    [3, 7],
    [6, 10],
  ])
  const again = edit(apart, gatherFirstKeys(apart, ['p0', 'p1', 'p2'], 2))
  expect([times(again, 0), times(again, 1), times(again, 2)]).toEqual([
    [2, 6],
    [2, 6],
    [2, 6],
  ])
  expect(() => offsetKeys(template, refs(template), 9)).toThrow('run past in; take fewer frames')
  expect(() => gatherFirstKeys(template, ['p0'], 14)).toThrow('would need 18 frames to arrive and In has 15')
})

test('a key set at the playhead takes the value there, and changes nothing that was seen', () => {
  fc.assert(
    fc.property(frames, fc.integer({ min: 0, max: 15 }), (list, at) => {
      const template = withKeys([list])
      const lane = { part: 'p0', set: 'tracks' as const, channel: 'fade' as const }
      const after = edit(template, setKeyAt(template, lane, 'in', at, undefined))
      expect(times(after)).toContain(at)
      for (let frame = 0; frame <= 15; frame++)
        if (list.length === 1 || (frame >= list[0]! && frame <= list[list.length - 1]!))
          expect(valueAt(after.parts[0]!.motion.tracks.fade!, { span: 'in', at: frame })).toBeCloseTo(
            valueAt(template.parts[0]!.motion.tracks.fade!, { span: 'in', at: frame }),
            9,
          )
    }),
  )
  const template = withKeys([[0, 9]])
  const lane = { part: 'p0', set: 'tracks' as const, channel: 'turn' as const }
  expect(() => setKeyAt(template, lane, 'hold', 3, 1)).toThrow('Hold freezes')
  expect(() => setKeyAt(template, lane, 'out', 3, 1)).toThrow('mirrors its In; unlink it')
  const fresh = edit(template, setKeyAt(template, { ...lane, set: 'segments', channel: 'blur' }, 'in', 3, 8))
  expect(fresh.parts[0]!.motion.segments!.tracks.blur!.keys[0]).toMatchObject({ at: 3, value: 8 })
})

test('keys are copied from one part to another, given values, removed, and all reset', () => {
  const template = withKeys([[2, 5], []])
  const clip = copyKeys(template, refs(template))
  const pasted = edit(template, pasteKeys(template, clip, 'p1', 'in', 7))
  expect(times(pasted, 1)).toEqual([7, 10])
  expect(() => pasteKeys(template, clip, 'p1', 'in', 13)).toThrow('run past the end of in')
  expect(() => pasteKeys(template, [], 'p1', 'in', 0)).toThrow('No keys were copied')
  const valued = edit(pasted, setKeys(pasted, keysOf(pasted.parts[1]!), { value: 0.5 }))
  expect(valued.parts[1]!.motion.tracks.fade!.keys.map((k) => k.value)).toEqual([0.5, 0.5])
  const removed = edit(valued, removeKeys(valued, keysOf(valued.parts[1]!)))
  expect(removed.parts[1]!.motion.tracks).toEqual({})
  expect(keysOf(edit(removed, resetMotion(removed, ['p0'])).parts[0]!)).toEqual([])
})

test('a key moved onto another takes its place', () => {
  const template = withKeys([[2, 5]])
  const after = edit(template, moveKeys(template, [refs(template)[0]!], 3))
  expect(times(after)).toEqual([5])
  expect(after.parts[0]!.motion.tracks.fade!.keys[0]!.value).toBe(0)
})
