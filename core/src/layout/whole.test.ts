import { Scene } from '../scene/index.ts'
import type { Axis, Field, Part, Values } from '../template/index.ts'
import { axis, box, field, fixed, part, text, tie } from '../testing/parts.ts'
import { assets, demoNames, demoScene, templateOf } from '../testing/speaker.ts'
import { boxOf, places, regionOf } from './index.ts'

const shift: Field = field({
  id: 'w1',
  key: 'shift',
  name: 'Shift',
  type: 'shift',
  default: { x: 0, y: 0 },
  whole: true,
})
const scale: Field = field({ id: 'w2', key: 'scale', name: 'Scale', type: 'number', default: 100, whole: true })
const place: Field = field({
  id: 'w3',
  key: 'place',
  name: 'Place',
  type: 'choice',
  default: 'as-drawn',
  whole: true,
  options: ['as drawn', ...places].map((name) => ({ value: name.replaceAll(' ', '-'), name, sets: [] })),
})
const withWhole = (scene: Scene) =>
  new Scene({ ...scene.template, fields: [...scene.template.fields, shift, scale, place] }, scene.assets)
const boxes = (scene: Scene, values: Values) => {
  const { rest } = scene.layout(values)
  return rest.order.parts.flatMap((part, i) =>
    rest.gone[i] || part.kind === 'group' ? [] : [{ id: part.id, ...boxOf(rest, i) }],
  )
}
const around = (list: ReturnType<typeof boxes>) => ({
  left: Math.min(...list.map((one) => one.x)),
  top: Math.min(...list.map((one) => one.y)),
  right: Math.max(...list.map((one) => one.x + one.width)),
  bottom: Math.max(...list.map((one) => one.y + one.height)),
})

describe.each(demoNames)('the whole of %s', (name) => {
  test('is moved by px: every part alike, as long as its texts have room', async () => {
    const scene = withWhole(await demoScene(name))
    let rigid = 0
    for (const [x, y] of [
      [0, -60],
      [-20, -12],
      [20, 7],
    ] as const) {
      const before = boxes(scene, {})
      const after = boxes(scene, { shift: { x, y } })
      // Where a text has less room there, what follows it goes along with that.
      const isRigid = after.every((one, i) => one.width === before[i]!.width)
      if (isRigid) rigid++
      after.forEach((one, i) => {
        expect([one.id, Math.round((one.y - before[i]!.y) * 100) / 100]).toEqual([one.id, y])
        if (isRigid) expect(one.x - before[i]!.x).toBeCloseTo(x, 6)
      })
    }
    expect(rigid).toBeGreaterThan(1)
  })

  test('stands at any of the nine places of title-safe, whatever it says', async () => {
    const scene = withWhole(await demoScene(name))
    const { frame, proofs } = scene.template
    const [left, width] = regionOf(frame, 'title', 'x')
    const [top, height] = regionOf(frame, 'title', 'y')
    for (const values of [{}, ...proofs.map((proof) => proof.values)])
      for (const where of places) {
        const {
          left: x0,
          right: x1,
          top: y0,
          bottom: y1,
        } = around(boxes(scene, { ...values, place: where.replaceAll(' ', '-') }))
        if (where.includes('left')) expect(Math.abs(x0 - left)).toBeLessThan(1)
        if (where.startsWith('top')) expect(Math.abs(y0 - top)).toBeLessThan(1)
        if (where.startsWith('bottom')) expect(Math.abs(y1 - top - height)).toBeLessThan(1)
        if (where.includes('right')) expect(Math.abs(x1 - left - width)).toBeLessThan(1)
      }
  })

  test('is scaled, from the margin that holds it: texts, gaps and plates together', async () => {
    const scene = withWhole(await demoScene(name))
    const { height } = scene.template.frame
    // What fills the frame goes on to fill it.
    const own = boxes(scene, {}).flatMap((one) => (one.height < height ? [one.id] : []))
    const among = (values: Values) => around(boxes(scene, values).filter(({ id }) => own.includes(id)))
    const before = among({})
    const after = among({ scale: 50 })
    expect(after.bottom - after.top).toBeLessThan((before.bottom - before.top) * 0.75)
    expect(boxes(scene, { scale: 100 })).toEqual(boxes(scene, {}))
    // What is no size scales nothing, and breaks nothing.
    for (const none of ['large', 0, -3]) expect(boxes(scene, { scale: none })).toEqual(boxes(scene, {}))
  })
})

test('free parts keep their proportions, in groups with a place of their own too; shifts and movement grow alike', () => {
  const group = {
    ...part('group', 'g', axis([], { kind: 'content' }, { place: 300 }), axis([], fixed(10))),
    parts: [
      box('in', axis([], fixed(60), { place: 20 })),
      box('too', axis([tie('start', { parts: ['in'] }, 'end', 8)], fixed(40))),
    ],
  } as Part
  const keys = [{ span: 'in', at: 0, value: -40, ease: 'linear' }]
  const tracks = { shiftX: { unit: 'px', keys }, shiftY: { unit: 'own', keys } }
  const free = box('free', axis([], fixed(100), { place: 600 }), axis([], fixed(10)), { shiftX: 30 })
  const moving = { ...free, motion: { ...free.motion, tracks } } as Part
  const scene = new Scene(templateOf([group, moving], { fields: [scale] }), assets)
  const [before, after] = [boxes(scene, {}), boxes(scene, { scale: 200 })]
  const middle = (Math.min(...before.map(({ x }) => x)) + Math.max(...before.map(({ x, width }) => x + width))) / 2
  for (const [i, one] of after.entries()) {
    expect([one.id, one.width]).toEqual([one.id, before[i]!.width * 2])
    expect(one.x - middle).toBeCloseTo((before[i]!.x - middle) * 2, 6)
  }
  const { tracks: made } = scene.layout({ scale: 200 }).template.parts[1]!.motion
  expect([made.shiftX!.keys[0]!.value, made.shiftY!.keys[0]!.value]).toEqual([-80, -40])
})

test('a text that is moved towards the side it grows to has that much less room, and shrinks', () => {
  const name = text(
    'name',
    'A name that is rather long for its plate',
    axis([tie('start', { region: 'title' }, 'start')]),
    {
      size: 90,
      fit: [{ step: 'shrink', to: 0.2 }],
    },
    { room: { kind: 'limit', to: { region: 'title' }, at: 'end', gap: 0 } },
  )
  const plate = box(
    'plate',
    axis([tie('start', { parts: ['name'] }, 'start', -20), tie('end', { parts: ['name'] }, 'end', 20)], fixed(10)),
  )
  const scene = new Scene(templateOf([name, plate], { fields: [shift] }), assets)
  const widthAt = (x: number) => boxes(scene, { shift: { x, y: 0 } })[0]!.width
  const [, room] = regionOf(scene.template.frame, 'title', 'x')
  expect(widthAt(0)).toBeLessThanOrEqual(room)
  expect(widthAt(900)).toBeLessThanOrEqual(room - 900 + 1)
  expect(widthAt(900)).toBeGreaterThan(room - 960)
})

describe('a group is shifted', () => {
  const inner = [
    box('a', axis([], fixed(60), { place: 100 })),
    box('b', axis([tie('start', { parts: ['a'] }, 'end', 8)], fixed(40))),
  ]
  const follower = box('c', axis([tie('start', { parts: ['b'] }, 'end', 5)], fixed(10)))
  const scene = (x: Axis, shift: number, held: Part[] = inner) => {
    const group = { ...part('group', 'g', x, axis([]), shift ? { shiftX: shift } : {}), parts: held } as Part
    return new Scene(templateOf([group, follower]), assets)
  }
  const places = (one: Scene) => {
    const { rest } = one.layout({})
    return Object.fromEntries(rest.order.parts.map((each, i) => [each.id, boxOf(rest, i).x]))
  }

  test.each([
    ['where its parts are', axis([])],
    ['at a place of its own', axis([], { kind: 'content' }, { place: 50 })],
    ['tied', axis([tie('start', { region: 'title' }, 'start', 12)])],
    ['of a size of its own', axis([], fixed(300), { place: 40 })],
  ])('that stands %s: with all that it holds, and what is tied to them', (_name, x) => {
    const [before, after] = [places(scene(x, 0)), places(scene(x, 35))]
    for (const id of ['g', 'a', 'b', 'c']) expect([id, after[id]! - before[id]!]).toEqual([id, 35])
  })

  test('groups in groups add up', () => {
    const own = { ...part('group', 'in', axis([]), axis([]), { shiftX: 7 }), parts: inner } as Part
    const plain = { ...own, style: {} } as Part
    const [before, after] = [places(scene(axis([]), 0, [plain])), places(scene(axis([]), 35, [own]))]
    for (const id of ['g', 'in', 'a', 'b', 'c']) expect([id, after[id]! - before[id]!]).toEqual([id, 42])
  })
})
