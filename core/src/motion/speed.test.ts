import fc from 'fast-check'
import { checkLayout } from '../data/index.ts'
import { boxOf } from '../layout/index.ts'
import { boundsOf } from '../paint/index.ts'
import { edit, type Keyframe, type Motion, type Part, type Template } from '../template/index.ts'
import { axis, field, fixed, part, text, tie, to } from '../testing/parts.ts'
import { sceneOf, templateOf } from '../testing/speaker.ts'
import { fastestOf, framesOfWay, moveKeys, pose, timedTracks } from './index.ts'

const spans: Template['spans'] = { in: 30, out: 10, hold: { frames: 50, gives: 'freeze' } }
const frame = { width: 1920, height: 1080, rate: { num: 50, den: 1 }, safe: { action: 0.035, title: 0.05 } }
const key = (at: number, value: number, speed?: number): Keyframe => ({
  span: 'in',
  at,
  value,
  ease: 'linear',
  ...(speed === undefined ? {} : { speed }),
})
const grows = (keys: Keyframe[]): Motion => ({
  anchor: { x: 0.5, y: 0.5 },
  tracks: { grow: { axis: 'x', from: 'start', keys } },
  out: 'mirror',
})
const boxOfWidth = (width: number) => ({ x: 100, y: 100, width, height: 40 })

test('at 3,500 px/s a way of 1,000 px takes 286 ms, and one of 20 px a single frame (common practice)', () => {
  expect(framesOfWay(1000, 3500, { num: 1000, den: 1 })).toBe(286)
  for (const num of [25, 30, 50, 60]) {
    expect(framesOfWay(20, 3500, { num, den: 1 })).toBe(1)
    expect(Math.abs(framesOfWay(1000, 3500, { num, den: 1 }) / num - 1 / 3.5)).toBeLessThanOrEqual(0.5 / num + 1e-9)
  }
})

test('a key with a speed comes when its way has been gone; long and short bars grow as fast', () => {
  const motion = grows([key(5, 0), key(25, 1, 3000)])
  for (const width of [60, 600, 1200]) {
    const at = 5 + width / (3000 / 50)
    const { keys } = timedTracks(motion.tracks, boxOfWidth(width), { frame, spans }).grow!
    expect(keys.map((one) => one.at)).toEqual([5, at])
    const grown = (moment: number) =>
      pose(motion, boxOfWidth(width), { frame, spans, hold: 50, moment: { span: 'in', at: moment } }).grow * width
    expect(grown(5)).toBe(0)
    for (let n = 6; n <= at; n++) expect(grown(n) - grown(n - 1)).toBeCloseTo(60, 6)
    expect(grown(at + 1)).toBe(width)
  }
})

test('it stays in its span and before the next key that has a time; others follow one another', () => {
  const context = { frame, spans }
  const times = (keys: Keyframe[], width: number) =>
    timedTracks(grows(keys).tracks, boxOfWidth(width), context).grow!.keys.map(({ at }) => at)
  expect(times([key(0, 0), key(20, 1, 100)], 1000)).toEqual([0, 30])
  expect(times([key(0, 0), key(10, 1, 100), key(12, 0.5)], 1000)).toEqual([0, 12, 12])
  expect(times([key(0, 0), key(10, 1, 5000), key(20, 0.5, 5000)], 1000)).toEqual([0, 10, 15])
  // Without a key before it there is no way.
  expect(times([key(4, 0, 500), key(10, 1)], 1000)).toEqual([4, 10])
})

test('keys are in the order of time whatever the box, and nothing changes where no key has a speed', () => {
  const someKeys = fc.array(
    fc.tuple(fc.nat(30), fc.double({ min: 0, max: 1, noNaN: true }), fc.option(fc.integer({ min: 1, max: 9000 }))),
    {
      minLength: 1,
      maxLength: 6,
    },
  )
  fc.assert(
    fc.property(someKeys, fc.integer({ min: 1, max: 3000 }), (given, width) => {
      const at = [...new Set(given.map(([frameAt]) => frameAt))].sort((a, b) => a - b)
      const keys = at.map((frameAt, i) => key(frameAt, given[i]![1], given[i]![2] ?? undefined))
      const { tracks } = grows(keys)
      const timed = timedTracks(tracks, boxOfWidth(width), { frame, spans })
      if (keys.every(({ speed }) => speed === undefined)) expect(timed).toBe(tracks)
      const times = timed.grow!.keys.map((one) => one.at)
      for (const [i, time] of times.entries()) {
        expect(time).toBeLessThanOrEqual(30)
        if (i > 0) expect(time).toBeGreaterThanOrEqual(times[i - 1]!)
      }
    }),
  )
})

test('a key that is moved by hand stands where it was put', () => {
  const template = {
    ...templateOf([
      part(
        'box',
        'bar',
        axis([], fixed(500)),
        axis([], fixed(40)),
        {},
        { motion: grows([key(5, 0), key(20, 1, 3000)]) },
      ),
    ]),
    frame,
    spans,
  }
  const moved = edit(
    template,
    moveKeys(template, [{ part: 'bar', set: 'tracks', channel: 'grow', span: 'in', at: 20 }], 2),
  )
  expect(moved.parts[0]!.motion.tracks.grow!.keys[1]).toEqual(key(22, 1))
})

/** A plate that grows round a name, drawn round a short one. */
function plated(keys: Keyframe[]) {
  const name = text('name', '', axis([tie('start', { region: 'frame' }, 'start', 120)]), {
    content: [{ field: 'f' }],
    size: 60,
  })
  const plate = part(
    'box',
    'plate',
    axis([tie('start', to('name'), 'start', -20), tie('end', to('name'), 'end', 20)]),
    axis([tie('start', to('name'), 'start', -8), tie('end', to('name'), 'end', 8)]),
    {},
    { motion: grows(keys) },
  ) as Part
  return sceneOf([plate, name], { frame, spans, fields: [field({ default: 'Io' })] })
}

test('a row whose part moves more than three times as fast as designed is looked at; with a speed none does', () => {
  const found = (scene: ReturnType<typeof plated>, words: string) => {
    const layout = scene.layout({ f: words })
    return checkLayout(scene, layout, scene.timing(layout)).filter(({ code }) => code === 'fast')
  }
  const long = 'Maximiliana Theodora von Hollenstein'
  const timed = plated([key(0, 0), key(6, 1)])
  expect(found(timed, 'Ana')).toEqual([])
  const [finding] = found(timed, long)
  expect(finding).toMatchObject({ part: 'plate', level: 'look' })
  const speeds = ['Io', long].map((words) => {
    const { rest } = timed.layout({ f: words })
    return fastestOf(timed.template.parts[0]!.motion, boxOf(rest, 0), { frame, spans })!.speed
  })
  expect(finding!.message).toBe(
    `plate moves at ${Math.round(speeds[1]!)} px/s, ${(speeds[1]! / speeds[0]!).toFixed(1)} times as fast as designed; give its key a speed instead of a time, or shorten the text.`,
  )
  expect(found(plated([key(0, 0), key(6, 1, 3000)]), long)).toEqual([])
})

test('what is drawn goes by the speed, in Out that mirrors too', () => {
  const scene = plated([key(0, 0), key(20, 1, 3000)])
  const layout = scene.layout({ f: 'Ana' })
  const timing = scene.timing(layout)
  const width = (n: number) => boundsOf(scene.frame(layout, timing, n).items.slice(0, 1))?.width ?? 0
  const whole = width(timing.in)
  const frames = Math.round(whole / 60)
  expect(width(frames)).toBeCloseTo(whole, 3)
  expect(width(frames - 1)).toBeLessThan(whole)
})
