import { Scene } from '../scene/index.ts'
import { findPart, type Keyframe, type Part, type Template } from '../template/index.ts'
import { assets, demoNames, demoScene, speaker } from '../testing/speaker.ts'
import { deadKeys, deadKeysWords } from './index.ts'

const key = (span: Keyframe['span'], at: number, value: number): Keyframe => ({ span, at, value, ease: 'linear' })

function withKeys(id: string, change: (part: Part, whole: Template) => void): Template {
  const copy = structuredClone(speaker)
  change(findPart(copy, id)!, copy)
  return copy
}
const told = (template: Template) => deadKeys(template).map((one) => deadKeysWords('Name', one))

test('keys that never play are told, with what would make them', () => {
  const fade = (...keys: Keyframe[]) =>
    withKeys('name', ({ motion }) => Object.assign(motion.tracks, { fade: { keys } }))
  expect(told(fade(key('in', 0, 0), key('hold', 20, 0.5)))).toEqual([
    'One key of Name, fade, never plays: Hold is frozen; let Hold loop or stretch, or put them into In.',
  ])
  expect(told(fade(key('in', 0, 0), key('in', 99, 1), key('in', 120, 0)))[0]).toMatch(
    /^2 keys .* In ends at frame 15; put them at frame 15 or before/,
  )
  expect(told(fade(key('in', 0, 0), key('out', 5, 1)))[0]).toMatch(
    /Out is In run backwards here; give the part an Out of its own/,
  )
  const moving = withKeys('name', ({ motion }, whole) => {
    whole.spans.hold = { ...whole.spans.hold, gives: 'loop', loop: { from: 10, to: 40 } }
    Object.assign(motion.tracks, { fade: { keys: [key('hold', 20, 1), key('hold', 60, 0)] } })
  })
  expect(told(moving)).toEqual([
    'One key of Name, fade, never plays: Hold ends at frame 40, where it begins again; put them at frame 40 or before, or make Hold longer.',
  ])
  const travel = withKeys('name', ({ motion }) => Object.assign(motion.tracks, { travel: { keys: [key('in', 0, 0)] } }))
  expect(told(travel)[0]).toMatch(/Name runs along no path/)
  const trim = withKeys('plate', ({ motion }) =>
    Object.assign(motion.tracks, { trim: { from: 'start', keys: [key('in', 0, 0)] } }),
  )
  expect(told(trim)[0]).toMatch(/changes nothing of this kind of part/)
})

test.each(demoNames)('%s has no key that never plays', async (name) => {
  expect(deadKeys((await demoScene(name)).template)).toEqual([])
})

test('taking away what is said never to play changes no frame', () => {
  const before = withKeys('name', ({ motion }) =>
    Object.assign(motion.tracks, {
      fade: { keys: [key('in', 0, 0), key('in', 10, 1), key('in', 44, 0), key('hold', 20, 0.2)] },
    }),
  )
  const after = withKeys('name', ({ motion }) =>
    Object.assign(motion.tracks, { fade: { keys: [key('in', 0, 0), key('in', 10, 1)] } }),
  )
  const frames = (template: Template) => {
    const scene = new Scene(template, assets)
    const layout = scene.layout({})
    const timing = scene.timing(layout)
    return Array.from({ length: timing.in + timing.hold }, (_, at) => JSON.stringify(scene.frame(layout, timing, at)))
  }
  expect(frames(before)).not.toEqual([])
  expect(deadKeys(before)).toHaveLength(2)
  expect(frames(after).slice(0, 10)).toEqual(frames(before).slice(0, 10))
})
