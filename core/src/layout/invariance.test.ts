import fc from 'fast-check'
import { boundsOf } from '../paint/index.ts'
import type { Edge, Part, Tie } from '../template/index.ts'
import { axis, box, content, fixed, part, text, tie, to } from '../testing/parts.ts'
import { sceneOf } from '../testing/speaker.ts'
import { boxOf, explain } from './index.ts'

const edges: Edge[] = ['start', 'middle', 'end']

function solved(parts: Part[]) {
  const scene = sceneOf(parts)
  const layout = scene.layout({})
  const index = layout.rest.order.index
  return {
    scene,
    layout,
    at: (id: string) => boxOf(layout.rest, index.get(id)!),
    gone: (id: string) => layout.rest.gone[index.get(id)!] === 1,
  }
}

/** Random drawings: every part tied to earlier ones on both axes. */
const drawing = fc.array(
  fc.record({
    targets: fc.array(fc.nat(), { minLength: 1, maxLength: 3 }),
    edge: fc.constantFrom(...edges),
    at: fc.constantFrom(...edges),
    gap: fc.integer({ min: -80, max: 80 }),
    size: fc.integer({ min: 1, max: 300 }),
    hidden: fc.boolean(),
    turned: fc.constantFrom(0, 0, 0, 90, 30),
  }),
  { minLength: 2, maxLength: 10 },
)
function partsOf(
  list: typeof drawing extends fc.Arbitrary<infer T> ? T : never,
  origin: number,
  gone: Tie['gone'] = 'keep',
): Part[] {
  return list.map((spec, i) => {
    const targets = to(...new Set(spec.targets.map((t) => `p${t % Math.max(1, i)}`)))
    const ties = i === 0 ? [] : [tie(spec.edge, targets, spec.at, spec.gap, { gone })]
    const own = axis(ties, fixed(spec.size), { place: origin })
    return part('box', `p${i}`, own, own, { visible: !(spec.hidden && i > 0), rotation: spec.turned })
  })
}

test('moving what everything hangs on moves everything by as much', () => {
  fc.assert(
    fc.property(drawing, fc.integer({ min: -500, max: 500 }), (list, by) => {
      const [here, there] = [solved(partsOf(list, 100)), solved(partsOf(list, 100 + by))]
      list.forEach((_, i) => {
        expect(there.at(`p${i}`).x - here.at(`p${i}`).x).toBeCloseTo(by, 6)
        expect(there.at(`p${i}`).width).toBeCloseTo(here.at(`p${i}`).width, 9)
      })
    }),
  )
})

test('both axes follow the same rules', () => {
  fc.assert(
    fc.property(drawing, (list) => {
      const { at } = solved(partsOf(list, 40).filter((_, i) => list[i]!.turned === 0 || true))
      for (const [i] of list.entries()) {
        const b = at(`p${i}`)
        expect(b.x).toBeCloseTo(b.y, 6)
        expect(b.width).toBeCloseTo(b.height, 6)
      }
    }),
  )
})

test('a gone part leaves every union as if it had never been drawn', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 3 }),
      fc.array(fc.tuple(fc.integer({ min: 0, max: 900 }), fc.integer({ min: 1, max: 300 })), {
        minLength: 4,
        maxLength: 4,
      }),
      (out, spans) => {
        const boxes = (hidden: boolean) =>
          spans.map(([place, size], i) =>
            box(`b${i}`, axis([], fixed(size), { place }), undefined, { visible: !(hidden && i === out) }),
          )
        const around = (ids: string[]) =>
          box('around', axis([tie('start', to(...ids), 'start', -5), tie('end', to(...ids), 'end', 9)]))
        const all = ['b0', 'b1', 'b2', 'b3']
        const hidden = solved([...boxes(true), around(all)])
        const without = solved([...boxes(false), around(all.filter((_, i) => i !== out))])
        expect(hidden.at('around')).toEqual(without.at('around'))
      },
    ),
  )
})

test('hiding spreads along ties that hide, and only along those', () => {
  const chain = (rule: Tie['gone']) =>
    solved([
      text('a', ''),
      box('b', axis([tie('start', to('a'), 'end', 3, { gone: rule })], fixed(5))),
      box('c', axis([tie('start', to('b'), 'end', 3, { gone: 'hide' })], fixed(5))),
      box('d', axis([tie('start', to('b', 'e'), 'end', 3, { gone: 'hide' })], fixed(5))),
      box('e', axis([], fixed(5))),
    ])
  expect(['b', 'c', 'd', 'e'].map(chain('hide').gone)).toEqual([true, true, false, false])
  expect(['b', 'c', 'd', 'e'].map(chain('collapse').gone)).toEqual([false, false, false, false])
})

test('a group whose members are all gone is gone, and what is tied to it by hiding too', () => {
  const made = solved([
    part(
      'group',
      'g',
      axis([]),
      axis([]),
      {},
      { parts: [text('t', ''), box('u', axis([], fixed(9)), undefined, { visible: false })] },
    ),
    box('after', axis([tie('start', to('g'), 'end', 0, { gone: 'hide' })], fixed(4))),
  ])
  expect([made.gone('g'), made.gone('after')]).toEqual([true, true])
})

test('groups in groups: a tied group carries what is in it, however deep', () => {
  const leaf = box('leaf', axis([], fixed(10), { place: 5 }))
  const inner = part('group', 'inner', axis([], content, { place: 7 }), axis([]), {}, { parts: [leaf] })
  const outer = (ties: Tie[]) =>
    part(
      'group',
      'outer',
      axis(ties),
      axis([]),
      {},
      { parts: [inner, box('side', axis([tie('start', to('leaf'), 'end', 2)], fixed(3)))] },
    )
  const loose = solved([outer([])])
  expect(loose.at('leaf').x).toBe(12)
  expect(loose.at('side').x).toBe(24)
  const held = solved([
    outer([tie('middle', { region: 'frame' }, 'middle')]),
    box('out', axis([tie('end', to('leaf'), 'start')], fixed(4))),
  ])
  const union = held.at('outer')
  expect(union.x + union.width / 2).toBeCloseTo(960, 9)
  expect(held.at('side').x - held.at('leaf').x).toBe(12)
  expect(held.at('out').x + 4).toBe(held.at('leaf').x)
})

test('a part may hold to its own group’s edges when the group has a size of its own', () => {
  const made = solved([
    part(
      'group',
      'g',
      axis([], fixed(400), { place: 100 }),
      axis([], fixed(50)),
      {},
      { parts: [box('in', axis([tie('end', { region: 'group' }, 'end', -10)], fixed(30)))] },
    ),
  ])
  expect(made.at('in').x).toBe(460)
})

test('explanations end in the number they explain, and tell each line once', () => {
  fc.assert(
    fc.property(drawing, (list) => {
      const parts = partsOf(list, 30)
      const { scene, layout, at } = solved(parts)
      const last = `p${list.length - 1}`
      for (const about of edges) {
        const reasons = explain(scene.template, layout.rest, last, 'x', about)
        const b = at(last)
        const value = about === 'start' ? b.x : about === 'end' ? b.x + b.width : b.x + b.width / 2
        expect(reasons[0]!.value).toBeCloseTo(value, 0)
        const told = reasons.filter((r) => r.part).map((r) => `${r.part}.${r.about}`)
        expect(new Set(told).size).toBe(told.length)
      }
    }),
  )
})

test('what is drawn lies where layout says, turned parts too', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -180, max: 180 }),
      fc.integer({ min: 20, max: 300 }),
      fc.integer({ min: 20, max: 300 }),
      fc.double({ min: 0.2, max: 3, noNaN: true }),
      (rotation, width, height, scale) => {
        const { scene, layout, at } = solved([
          part('box', 'a', axis([], fixed(width), { place: 400 }), axis([], fixed(height), { place: 300 }), {
            rotation,
            scale,
          }),
        ])
        const drawn = boundsOf(scene.restFrame(layout).items)!
        const b = at('a')
        for (const key of ['x', 'y', 'width', 'height'] as const) expect(drawn[key]).toBeCloseTo(b[key], 4)
      },
    ),
  )
})
