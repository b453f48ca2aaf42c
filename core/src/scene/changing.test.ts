import fc from 'fast-check'
import { boundsOf, type DrawList, type Item } from '../paint/index.ts'
import { type Part, plainUpdate, type Template, type Update, type Values } from '../template/index.ts'
import { axis, box, content, field, fixed, part, text, tie, to } from '../testing/parts.ts'
import { sceneOf } from '../testing/speaker.ts'
import { ChangingTitle, type Filling, type Scene } from './index.ts'

const frame = { width: 1920, height: 1080, rate: { num: 50, den: 1 }, safe: { action: 0.035, title: 0.05 } }
const spans: Template['spans'] = { in: 10, out: 10, hold: { frames: 50, gives: 'freeze' } }

/** The name, at its place. */
const nameText = (more: object = {}): Part =>
  text(
    'name',
    '',
    axis([], content, { place: 200 }),
    { content: [{ field: 'f' }], size: 60 },
    { y: axis([], content, { place: 870 }), ...more },
  )

/** A plate round a name and a role under it. */
const titled = (update?: Partial<Update>, more: Partial<Template> = {}) =>
  sceneOf(
    [
      box(
        'plate',
        axis([tie('start', to('name', 'role'), 'start', -36), tie('end', to('name', 'role'), 'end', 36)]),
        axis([], fixed(160), { place: 860 }),
      ),
      nameText(),
      text(
        'role',
        '',
        axis([], content, { place: 200 }),
        { content: [{ field: 'g' }], size: 40 },
        {
          y: axis([], content, { place: 950 }),
        },
      ),
    ],
    {
      frame,
      spans,
      fields: [field({ default: 'Io' }), field({ id: 'g', key: 'g', default: 'Pilot' })],
      ...(update ? { update: { ...plainUpdate, ...update } } : {}),
      ...more,
    },
  )

const fill =
  (values: Values): Filling =>
  () =>
    values
const open = (scene: Scene, values: Values) => scene.open(scene.layout(values))
const boxAt = (title: ChangingTitle, scene: Scene, at: number, part = 'plate') => {
  const posed = title.posed(open(scene, title.fill(at)), at)
  return posed.placeOf(part)!.box
}
const flat = (items: readonly Item[], opacity = 1): { d: string; opacity: number }[] =>
  items.flatMap((item) =>
    item.kind === 'layer'
      ? flat(item.items, opacity * item.opacity)
      : item.kind === 'path'
        ? [{ d: item.d, opacity }]
        : [],
  )
const listAt = (title: ChangingTitle, scene: Scene, at: number): DrawList =>
  title.posed(open(scene, title.fill(at)), at).drawList()
const same = (a: DrawList, b: DrawList) => expect(JSON.stringify(a)).toBe(JSON.stringify(b))

test('a plate travels from its old box to its new one, and the title then stands as if it had always been so', () => {
  const scene = titled({ ease: 'linear' })
  const before = ChangingTitle.of(scene, fill({ f: 'Io' }))
  const timing = open(scene, {})
  const after = before.changed(fill({ f: 'Maximiliana Theodora' }), 100, timing)
  const [from, end] = [boxAt(before, scene, 100).width, scene.layout({ f: 'Maximiliana Theodora' }).rest.size[0][0]!]
  expect(boxAt(after, scene, 100).width).toBeCloseTo(from, 6)
  expect(boxAt(after, scene, 106).width).toBeCloseTo((from + end) / 2, 6)
  expect(boxAt(after, scene, 112).width).toBeCloseTo(end, 6)
  expect(after.arrives).toBe(112)
  // Words take up frames 4 to 12.
  same(listAt(after, scene, 113), listAt(ChangingTitle.of(scene, fill({ f: 'Maximiliana Theodora' })), scene, 113))
  expect(before.changed(fill({ f: 'Io' }), 100, timing)).toBe(before)
})

test('at 3,500 px/s a way of 1,000 px takes 286 ms and one of 20 px one frame (common practice)', () => {
  const pace = { kind: 'speed', speed: 3500 } as const
  const scene = titled({ pace })
  const timing = open(scene, {})
  const start = ChangingTitle.of(scene, fill({ f: 'Io' }))
  const travels = (f: string) => {
    const title = start.changed(fill({ f }), 100, timing)
    const way = boxAt(title, scene, 999).width - boxAt(start, scene, 100).width
    return { way, seconds: title.frames / 50, frames: title.frames }
  }
  for (const f of ['Maximiliana Theodora von Hollenstein', 'Maren Oduya-Castellví', 'Ana María']) {
    const { way, seconds } = travels(f)
    expect(seconds).toBeCloseTo(way / 3500, 6)
  }
  // The two ways of the rule themselves, gone by a bar that a number shifts.
  const bar = box('bar', axis([], fixed(300), { place: 100 }), axis([], fixed(40), { place: 900 }))
  const shifted = sceneOf([bar], {
    frame,
    spans,
    update: { ...plainUpdate, pace },
    fields: [field({ type: 'number', default: 0, targets: [{ part: 'bar', property: 'shiftX' }] })],
  })
  const stands = ChangingTitle.of(shifted, fill({ f: 0 }))
  const by = (px: number) => stands.changed(fill({ f: px }), 100, open(shifted, {}))
  expect((by(1000).frames / 50) * 1000).toBeCloseTo(286, 0)
  expect(by(20).frames).toBe(1)
  expect(boxAt(by(20), shifted, 101, 'bar').x).toBeCloseTo(120, 6)
})

test('a group counts for nothing on the way: what it holds is swapped, or travels by itself', () => {
  const words = { ...part('group', 'words', axis([]), axis([])), parts: [] as Part[] }
  words.parts = [nameText()]
  const bar = box('bar', axis([tie('start', to('words'), 'end', 10)], fixed(8)), axis([], fixed(60), { place: 870 }))
  const scene = sceneOf([bar, words as Part], { frame, spans, fields: [field({ default: 'Io' })] })
  const title = ChangingTitle.of(scene, fill({ f: 'Io' })).changed(fill({ f: 'Maximiliana' }), 100, open(scene, {}))
  expect(title.longest).toMatchObject({ part: 'bar' })
})

test('a change that comes in the middle of another begins where every part then stands', () => {
  const scene = titled()
  const timing = open(scene, {})
  const names = ['Io', 'Maximiliana Theodora', 'Xu', 'Wilhelmina-Alexandrina']
  fc.assert(
    fc.property(
      fc.array(fc.record({ f: fc.constantFrom(...names), after: fc.double({ min: 0, max: 20, noNaN: true }) }), {
        minLength: 1,
        maxLength: 12,
      }),
      (changes) => {
        let title = ChangingTitle.of(scene, fill({ f: 'Io' }))
        let at = 50
        for (const { f, after } of changes) {
          at += after
          const stood = boxAt(title, scene, at)
          title = title.changed(fill({ f }), at, timing)
          const stands = boxAt(title, scene, at)
          expect(stands.x).toBeCloseTo(stood.x, 6)
          expect(stands.width).toBeCloseTo(stood.width, 6)
        }
        const last = { f: changes.at(-1)!.f }
        same(listAt(title, scene, at + 50), listAt(ChangingTitle.of(scene, fill(last)), scene, at + 50))
      },
    ),
    { numRuns: 60 },
  )
})

test('words out over 5 or 6 frames and in over 8 to 10, from frame 3 to 5 on, never leave the bar empty (common practice)', () => {
  for (const out of [5, 6])
    for (const after of [3, 4, 5])
      for (const length of [8, 9, 10]) {
        const scene = titled({ fade: { out, after, in: length } })
        const timing = open(scene, {})
        const title = ChangingTitle.of(scene, fill({ f: 'Io' })).changed(fill({ f: 'Maren' }), 100, timing)
        for (let at = 100; at <= 120; at++) {
          const words = flat(listAt(title, scene, at).items).filter(({ d }) => d.includes('C') || d.includes('Q'))
          // The role is there all the while; of the name something is.
          expect(words.filter(({ opacity }) => opacity > 0).length).toBeGreaterThanOrEqual(2)
        }
      }
})

test('changes that come faster than words can, twenty a second, never leave the bar empty, and the last one stands', () => {
  const scene = titled()
  const timing = open(scene, {})
  let title = ChangingTitle.of(scene, fill({ f: '0' }))
  let next = 100
  for (let at = 100; at < 200; at++) {
    if (at >= next) {
      title = title.changed(fill({ f: String(at) }), at, timing)
      next += 2.5
    }
    const words = flat(listAt(title, scene, at).items).filter(({ d }) => d.includes('C') || d.includes('Q'))
    expect(words.filter(({ opacity }) => opacity > 0).length).toBeGreaterThanOrEqual(2)
  }
  same(listAt(title, scene, 260), listAt(ChangingTitle.of(scene, title.fill), scene, 260))
})

test('what arrives is not disturbed: a change waits until In is over; a held title stays whole for any time', () => {
  const scene = titled()
  const timing = open(scene, {})
  const start = ChangingTitle.of(scene, fill({ f: 'Io' }))
  expect(start.changed(fill({ f: 'Maren' }), 3, timing).at).toBe(spans.in)
  const settled = listAt(start, scene, 10)
  for (const at of [11, 1000.5, 1e6, 4.3e6 * 24]) same(listAt(start, scene, at), settled)
})

test('parts that come anew, and words told to move, leave by their Out and come by their In', () => {
  const key = (at: number, value: number) => ({ span: 'in' as const, at, value, ease: 'linear' as const })
  const motion = {
    anchor: { x: 0.5, y: 0.5 },
    tracks: { fade: { keys: [key(0, 0), key(8, 1)] } },
    out: 'mirror' as const,
  }
  const parts = (update?: 'comes') => [
    {
      ...box(
        'plate',
        axis([tie('start', to('name'), 'start', -36), tie('end', to('name'), 'end', 36)]),
        axis([], fixed(160), { place: 860 }),
      ),
      motion: { ...motion, ...(update ? { update } : {}) },
    } as Part,
    nameText({ motion }),
  ]
  const scene = sceneOf(parts('comes'), { frame, spans, fields: [field({ default: 'Io' })] })
  const timing = open(scene, {})
  const title = ChangingTitle.of(scene, fill({ f: 'Io' })).changed(fill({ f: 'Maximiliana' }), 100, timing)
  const plates = (at: number) => {
    const list = listAt(title, scene, at)
    return list.items.flatMap((item) =>
      item.kind === 'layer' ? [{ opacity: item.opacity, width: boundsOf([item])!.width }] : [],
    )
  }
  const [before, after] = ['Io', 'Maximiliana'].map((f) => scene.layout({ f }).rest.size[0][0]!)
  // Out backwards over 8 frames, then In over 8: the old plate whole in size, then the new one.
  expect(plates(104)[0]).toMatchObject({ opacity: 0.5 })
  expect(plates(104)[0]!.width).toBeCloseTo(before!, 0)
  expect(plates(112).find(({ width }) => Math.abs(width - after!) < 1)!.opacity).toBeCloseTo(0.5, 6)
  const moving = sceneOf(parts(), {
    frame,
    spans,
    fields: [field({ default: 'Io' })],
    update: { ...plainUpdate, words: 'moves' },
  })
  const moved = ChangingTitle.of(moving, fill({ f: 'Io' })).changed(fill({ f: 'Xu' }), 100, timing)
  expect(moved.arrives).toBe(116)
  const words = flat(listAt(moved, moving, 104).items).filter(({ d }) => d.includes('C') || d.includes('Q'))
  expect(words.map(({ opacity }) => opacity)).toEqual(expect.arrayContaining([0.5]))
})

test('words that were not there come, and what is no longer there leaves with its plate round what is left', () => {
  const scene = titled()
  const timing = open(scene, {})
  const title = ChangingTitle.of(scene, fill({ f: 'Io', g: 'Master of the tide mill' })).changed(
    fill({ f: 'Io', g: '' }),
    100,
    timing,
  )
  const words = (at: number) =>
    flat(listAt(title, scene, at).items).filter(({ d }) => d.includes('C') || d.includes('Q')).length
  const [full, half, left] = [100, 103, 120].map(words)
  expect(full).toBe(half)
  expect(left).toBeLessThan(full!)
  expect(boxAt(title, scene, 120).width).toBeLessThan(boxAt(title, scene, 101).width)
})
