import { stanceOf } from '../motion/index.ts'
import { Scene } from '../scene/index.ts'
import {
  type Change,
  edit,
  findPart,
  newShape,
  type Part,
  shapeOf,
  type Template,
  type Values,
} from '../template/index.ts'
import { axis, box, fixed, part, text, tie } from '../testing/parts.ts'
import { assets, demoNames, demoScene, templateOf } from '../testing/speaker.ts'
import { boxOf, mirrorAcross, sideChoice } from './index.ts'

const fillingsOf = (template: Template): Values[] => [{}, ...template.proofs.map(({ values }) => values)]
const boxes = (scene: Scene, values: Values) => {
  const { rest } = scene.layout(values)
  return rest.order.parts.map((one, i) => ({ id: one.id, gone: rest.gone[i], ...boxOf(rest, i) }))
}
/** Boxes seen in the mirror in the middle of the frame. */
const seen = (scene: Scene, values: Values) =>
  boxes(scene, values).map((one) => ({ ...one, x: scene.template.frame.width - one.x - one.width }))
const near = (one: ReturnType<typeof boxes>, other: ReturnType<typeof boxes>) => {
  expect(one.map(({ id, gone }) => [id, gone])).toEqual(other.map(({ id, gone }) => [id, gone]))
  one.forEach((mine, i) => {
    // What is gone takes no room, and where it would have been hangs on the side that its ties hold.
    if (mine.gone) return
    for (const key of ['x', 'y', 'width', 'height'] as const)
      expect([mine.id, key, Math.abs(mine[key] - other[i]![key]) < 0.01]).toEqual([mine.id, key, true])
  })
}
type Made = (template: Template, restOf: (template: Template) => ReturnType<Scene['layout']>['rest']) => Change
const changed = (scene: Scene, make: Made) =>
  new Scene(
    edit(
      scene.template,
      make(scene.template, (shaped) => new Scene(shaped, scene.assets).layout({}).rest),
    ),
    scene.assets,
  )

test('in every shape of the frame, with what differs there', async () => {
  const plain = shapeOf((await demoScene('speaker')).template)
  const shaped = edit(plain, { kind: 'shapes', shapes: [newShape(plain, { width: 1080, height: 1920 })] })
  const own = { ...findPart(shaped, 'name')!.x, ties: [], place: 300 }
  const drawn = new Scene(
    edit(shaped, { kind: 'differ', shape: '9x16', part: 'name', property: 'x', value: own }),
    assets,
  )
  const mirrored = changed(drawn, mirrorAcross)
  const chosen = changed(drawn, sideChoice)
  for (const id of ['first', '9x16']) {
    const [one, other] = [drawn.inShape(id), mirrored.inShape(id)]
    near(boxes(other, {}), seen(one, {}))
    near(boxes(chosen.inShape(id), {}), boxes(one, {}))
    near(boxes(chosen.inShape(id), { side: 'mirrored' }), boxes(other, {}))
  }
  const twice = changed(mirrored, mirrorAcross)
  expect(twice.template.shapes![0]!.sets.map(({ part, property }) => `${part} ${property}`)).toEqual(['name x'])
})

describe.each(demoNames)('%s in the mirror', (name) => {
  test('stands at the other side with every proof, and twice as it was drawn', async () => {
    const drawn = await demoScene(name)
    const mirrored = changed(drawn, mirrorAcross)
    const twice = changed(mirrored, mirrorAcross)
    for (const values of fillingsOf(drawn.template)) {
      near(boxes(mirrored, values), seen(drawn, values))
      near(boxes(twice, values), boxes(drawn, values))
    }
    // Movement too: at every frame each part is at the other side of where it was, turned the other way.
    const { rest } = drawn.layout({})
    const there = mirrored.layout({}).rest
    rest.order.parts.forEach((one, i) => {
      const other = there.order.parts[i]!
      for (const moment of [0, 2, 5, 9].map((at) => ({ span: 'in' as const, at }))) {
        const was = stanceOf(drawn.template, one, boxOf(rest, i), moment)
        const now = stanceOf(mirrored.template, other, boxOf(there, i), moment)
        expect(now.anchor.x).toBeCloseTo(drawn.template.frame.width - was.anchor.x, 6)
        expect(now.anchor.y).toBeCloseTo(was.anchor.y, 6)
        expect(now.turn).toBeCloseTo(-was.turn, 9)
      }
    })
  })

  test('is an option: its other side is the mirrored design, its first as drawn', async () => {
    const drawn = await demoScene(name)
    const mirrored = changed(drawn, mirrorAcross)
    const chosen = changed(drawn, sideChoice)
    for (const values of fillingsOf(drawn.template)) {
      near(boxes(chosen, values), boxes(drawn, values))
      near(boxes(chosen, { ...values, side: 'mirrored' }), boxes(mirrored, values))
    }
    const layout = mirrored.layout({})
    const other = chosen.layout({ side: 'mirrored' })
    for (const frame of [0, 4, 9, 60]) {
      const timing = mirrored.timing(mirrored.layout({}))
      expect(chosen.frame(other, timing, frame)).toEqual(mirrored.frame(layout, timing, frame))
    }
  })
})

test('free parts, groups with a place of their own, what grows, turns, leans and is rounded', () => {
  const grouped: Part = {
    ...part('group', 'group', axis([], { kind: 'content' }, { place: 300 }), axis([])),
    parts: [box('inner', axis([], fixed(60), { place: 10 })), box('outer', axis([], fixed(40), { place: 90 }))],
  } as Part
  const parts = [
    box('free', axis([], fixed(200), { place: 120 }), axis([], fixed(90)), {
      rotation: 20,
      leanLeft: 12,
      radiusTopRight: 14,
      shiftX: 30,
      fill: {
        kind: 'linear',
        angle: 30,
        stops: [
          { at: 0, colour: '#000000' },
          { at: 1, colour: '#ffffff' },
        ],
      },
      shadows: [{ x: 6, y: 4, blur: 8, colour: '#00000088' }],
    }),
    text('grows', 'Tide', axis([], { kind: 'content' }, { place: 500 })),
    box('held', axis([tie('start', { parts: ['grows'] }, 'end', 12)], fixed(30))),
    grouped,
  ]
  const drawn = new Scene(templateOf(parts), assets)
  const mirrored = changed(drawn, mirrorAcross)
  near(boxes(mirrored, {}), seen(drawn, {}))
  expect(mirrored.template.parts[0]!.style).toMatchObject({
    rotation: -20,
    leanRight: -12,
    radiusTopLeft: 14,
    shiftX: -30,
    fill: { angle: 150 },
    shadows: [{ x: -6, y: 4 }],
  })
  near(boxes(changed(mirrored, mirrorAcross), {}), boxes(drawn, {}))
})
