import { boundsOf } from '../paint/index.ts'
import type { FitStep, Part } from '../template/index.ts'
import { axis, box, content, field, fixed, part, text, tie, to } from '../testing/parts.ts'
import { demoNames, demoScene, sceneOf } from '../testing/speaker.ts'
import { boxOf } from './index.ts'

// Common practice, no source: what somebody who builds titles expects of a template that grows.

const boxesOf = (parts: Part[], values = {}, more = {}) => {
  const scene = sceneOf(parts, more)
  const { rest } = scene.layout(values)
  return (id: string) => boxOf(rest, rest.order.index.get(id)!)
}
const line = (size: number) => axis([], content, { place: size })

test('two texts at 300 % on one line push the end of a bar by three times what both grew', () => {
  const at = (first: string, second: string, scale: number) => {
    const beside = axis([tie('start', to('a'), 'end', 20)])
    const style = { content: [{ text: second }], font: 'semibold', scale }
    const bar = box('bar', axis([tie('start', to('a'), 'start'), tie('end', to('b'), 'end', 30)]))
    const boxes = boxesOf([text('a', first, line(100), { scale }), part('text', 'b', beside, axis([]), style), bar])
    return { a: boxes('a').width, b: boxes('b').width, end: boxes('bar').x + boxes('bar').width }
  }
  const [plain, longer] = [at('Io', 'Pilot', 1), at('Maren Oduya', 'Salt-marsh ecologist', 1)]
  const [large, grown] = [at('Io', 'Pilot', 3), at('Maren Oduya', 'Salt-marsh ecologist', 3)]
  const sum = longer.a - plain.a + (longer.b - plain.b)
  expect(sum).toBeGreaterThan(100)
  expect(grown.end - large.end).toBeCloseTo(3 * sum, 6)
})

test('marks counted from the right edge stay where they are on every frame while letters fly in', () => {
  const name = text(
    'name',
    'Estuary Week',
    line(200),
    {},
    {
      motion: {
        anchor: { x: 0.5, y: 0.5 },
        out: 'mirror',
        tracks: {},
        segments: {
          by: 'character',
          order: 'random',
          seed: 3,
          overlap: 0.7,
          tracks: {
            shiftY: {
              unit: 'off',
              keys: [
                { span: 'in', at: 0, value: -1, ease: 'linear' },
                { span: 'in', at: 35, value: 0, ease: 'linear' },
              ],
            },
          },
        },
      },
    },
  )
  const [wide, small] = [120, 64]
  const parts = [
    name,
    box('one', axis([tie('end', { region: 'frame' }, 'end', -275)], fixed(wide))),
    box('two', axis([tie('middle', { region: 'frame' }, 'end', -230)], fixed(small))),
  ]
  const scene = sceneOf(parts, { spans: { in: 35, out: 35, hold: { frames: 20, gives: 'freeze' } } })
  const layout = scene.layout({})
  const timing = scene.timing(layout)
  for (let frame = 0; frame < timing.total; frame++) {
    const posed = scene.posed(layout, timing, frame)
    expect([frame, posed.placeOf('one')!.box.x, posed.placeOf('two')!.box.x]).toEqual([
      frame,
      1920 - 275 - wide,
      1920 - 230 - small / 2,
    ])
  }
})

test('a text at 80 % of its container with 98 px to its floor stays so for the shortest and the longest word', () => {
  const fit: FitStep[] = [{ step: 'fill', share: 0.8, least: 0.05, most: 20 }]
  const parts = [
    box('container', axis([], fixed(900), { place: 300 }), axis([], fixed(500), { place: 200 })),
    part(
      'text',
      'word',
      axis([tie('middle', to('container'), 'middle')]),
      axis([tie('end', to('container'), 'end', -98)]),
      { content: [{ field: 'f' }], font: 'semibold', fit },
      { room: { kind: 'width', value: 900 } },
    ),
  ]
  for (const word of ['Ebb', 'Tide', 'Estuary', 'Salt-marsh ecologist', 'Maximiliana Theodora von Hollenstein']) {
    const at = boxesOf(parts, { f: word }, { fields: [field()] })('word')
    expect([word, Math.round(at.width * 1000) / 1000, at.y + at.height]).toEqual([word, 720, 200 + 500 - 98])
    expect(at.x + at.width / 2).toBeCloseTo(750, 6)
  }
})

test('the middle of a text stays put over sizes and line counts', () => {
  const middle = {
    x: axis([tie('middle', { region: 'frame' }, 'middle')]),
    y: axis([tie('middle', { region: 'frame' }, 'middle')]),
  }
  for (const size of [24, 78, 200])
    for (const said of ['Ebb', 'Estuary Week\nof science', 'One\ntwo\nthree\nfour']) {
      const style = { content: [{ text: said }], font: 'semibold', size }
      const at = boxesOf([part('text', 't', middle.x, middle.y, style)])('t')
      expect(at.x + at.width / 2).toBeCloseTo(960, 6)
      expect(at.y + at.height / 2).toBeCloseTo(540, 6)
    }
})

test('a rule as wide as the title keeps its padding when the size changes', () => {
  for (const size of [30, 78, 160]) {
    const rule = box('rule', axis([tie('start', to('t'), 'start', -24), tie('end', to('t'), 'end', 24)]))
    const boxes = boxesOf([text('t', 'What the marsh remembers', line(100), { size }), rule])
    expect(boxes('rule').width - boxes('t').width).toBeCloseTo(48, 6)
  }
})

test('a name of 24 letters fits a design that was drawn for ten', async () => {
  const scene = await demoScene('speaker')
  for (const name of ['Maren Oduy', 'Maximiliana Oduya-Castel']) {
    const layout = scene.layout({ name })
    const index = layout.rest.order.index.get('name')!
    expect([name, layout.blocks[index]!.fit.overflow]).toEqual([name, 0])
    const { x, width } = boundsOf(scene.restFrame(layout).items)!
    expect([x >= 0, x + width <= 1920]).toEqual([true, true])
  }
})

test.each(demoNames)('31 titles of %s are the same but for the texts and what follows them', async (name) => {
  const scene = await demoScene(name)
  const { template } = scene
  const field = template.fields.find(({ type }) => type === 'text') ?? template.fields[0]!
  /** A list has one entry. */
  const said = (one: string) => ({ [field.key]: field.type === 'texts' ? [one] : one })
  const words = Array.from({ length: 31 }, (_, i) => 'Estuary Week on the river'.slice(0, 3 + (i % 22)).trim())
  const plain = scene.layout(said(words[0]!))
  const { order } = plain.rest
  const isText = (i: number) => order.parts[i]!.kind === 'text'
  /** The parts that no tie leads to a text. */
  const free = order.parts.flatMap((own, i) => {
    const seen = new Set<string>()
    const leads = (id: string): boolean => {
      if (seen.has(id)) return false
      seen.add(id)
      const at = order.index.get(id)!
      if (isText(at)) return true
      const one = order.parts[at]!
      const targets = [...one.x.ties, ...one.y.ties].flatMap(({ to: target }) =>
        'parts' in target ? target.parts : [],
      )
      return targets.some(leads) || (one.parts ?? []).some((inner) => leads(inner.id))
    }
    return leads(own.id) ? [] : [i]
  })
  for (const one of words) {
    const { rest } = scene.layout(said(one))
    for (const i of free)
      expect([order.parts[i]!.name, boxOf(rest, i)]).toEqual([order.parts[i]!.name, boxOf(plain.rest, i)])
    // Nothing comes or goes.
    expect(rest.gone).toEqual(plain.rest.gone)
  }
})
