import { Constraint, Solver as Kiwi, Operator, Variable } from '@lume/kiwi'
import fc from 'fast-check'
import { Scene } from '../scene/index.ts'
import { type Axis, edit, newTemplate, type Part, type Tie, tieOrder } from '../template/index.ts'
import { axis, box, content, fixed, part, text, tie, to } from '../testing/parts.ts'
import { assets, sceneOf, templateOf } from '../testing/speaker.ts'
import { boxOf, explain, regionOf } from './index.ts'

const rest = (parts: Part[], values = {}) => {
  const scene = sceneOf(parts)
  const layout = scene.layout(values)
  return (id: string) => ({
    ...boxOf(layout.rest, layout.rest.order.index.get(id)!),
    gone: layout.rest.gone[layout.rest.order.index.get(id)!] === 1,
  })
}

// SMPTE ST 2046-1: 93 % of width and height are action-safe, 90 % title-safe. EBU R 95 for 16:9 says the same from the edges: 3.5 % and 5 %.
test('safe areas are those of SMPTE ST 2046-1 and EBU R 95', () => {
  const { frame } = newTemplate('t', 'T')
  expect(regionOf(frame, 'action', 'x').map((v) => v / 1920)).toEqual([
    expect.closeTo(0.035, 9),
    expect.closeTo(0.93, 9),
  ])
  expect(regionOf(frame, 'title', 'y').map((v) => v / 1080)).toEqual([expect.closeTo(0.05, 9), expect.closeTo(0.9, 9)])
})

test('a box around two texts, per-side padding, and one that is empty leaves the union', () => {
  const parts = (second: string) => [
    text('a', 'Maren', axis([], content, { place: 300 })),
    text('b', second, axis([], content, { place: 280 })),
    box('plate', axis([tie('start', to('a', 'b'), 'start', -20), tie('end', to('a', 'b'), 'end', 36)])),
  ]
  const both = rest(parts('Salt-marsh ecologist'))
  expect(both('plate').x).toBe(260)
  expect(both('plate').x + both('plate').width).toBeCloseTo(both('b').x + both('b').width + 36, 9)
  const one = rest(parts(''))
  expect(one('b').gone).toBe(true)
  expect(one('plate').x).toBe(280)
  expect(one('plate').x + one('plate').width).toBeCloseTo(one('a').x + one('a').width + 36, 9)
})

test('when all it looks at is gone, a tie hides, collapses or keeps', () => {
  const parts = (gone: Tie['gone']) => [
    text('a', 'Maren', axis([], content, { place: 300 }), { visible: false }),
    box('mark', axis([tie('start', to('a'), 'end', 24, { gone })], fixed(40))),
    box('after', axis([tie('start', to('mark'), 'end', 5, { gone: 'hide' })], fixed(10))),
  ]
  const width = rest([text('a', 'Maren')])('a').width
  expect(rest(parts('collapse'))('mark').x).toBe(300)
  expect(rest(parts('keep'))('mark').x).toBeCloseTo(300 + width + 24, 9)
  expect(rest(parts('hide'))('mark').gone).toBe(true)
  expect(rest(parts('hide'))('after').gone).toBe(true)
})

test('shares, fractions across, min and max; an impossible pair keeps min and says so', () => {
  const at = rest([
    box('bar', axis([], fixed(400), { place: 100 })),
    box('rule', axis([tie('middle', to('bar'), 'middle')], { kind: 'share', of: to('bar'), factor: 0.5, plus: 10 })),
    box('dot', axis([tie('middle', to('bar'), 0.25)], fixed(8))),
    box('least', axis([tie('start', to('bar'), 'start'), tie('end', to('bar'), 'end')], content, { min: 500 })),
  ])
  expect(at('rule')).toMatchObject({ x: 195, width: 210 })
  expect(at('dot').x).toBe(196)
  expect(at('least')).toMatchObject({ x: 100, width: 500 })
  const scene = sceneOf([box('odd', axis([], fixed(5), { min: 90, max: 40 }))])
  const layout = scene.layout({})
  expect(boxOf(layout.rest, 0).width).toBe(90)
  expect(layout.rest.notes).toEqual([{ part: 'odd', axis: 'x', kind: 'min-over-max' }])
})

// Common practice: a text drawn at 300 % scale pushes what is tied to it three times as far.
test('static scale is in the number', () => {
  const at = (scale: number) =>
    rest([text('a', 'Tide', axis([]), { scale }), box('b', axis([tie('start', to('a'), 'end', 10)], fixed(4)))])('b')
      .x - 10
  expect(at(3)).toBeCloseTo(3 * at(1), 9)
})

// Common practice: a mark right-aligned against a text sits at frame width - gap - text width.
test('growing leftward', () => {
  const at = rest([
    text('a', 'Puerto Brisal', axis([tie('end', { region: 'frame' }, 'end', -80)])),
    box('mark', axis([tie('end', to('a'), 'start', 0)], fixed(4))),
  ])
  expect(at('mark').x + 4).toBeCloseTo(1920 - 80 - at('a').width, 9)
})

// Common practice: a two-line lower third stays inside title-safe.
test('a text grows upward from the bottom of title-safe and wraps inside its room', () => {
  const part2 = text(
    'a',
    'Head of sediment and tidal-flat restoration',
    axis([tie('start', { region: 'title' }, 'start')]),
    { size: 90, fit: [{ step: 'wrap', to: 2 }] },
    { room: { kind: 'width', value: 900 } },
  )
  part2.y = axis([tie('end', { region: 'title' }, 'end')])
  const at = rest([part2])('a')
  expect(at.y + at.height).toBeCloseTo(1026, 9)
  expect(at.y).toBeGreaterThan(54)
  expect(at.x).toBe(96)
  expect(at.width).toBeLessThanOrEqual(900)
})

test('a room that ends at an edge depends on where the text begins', () => {
  const parts = (place: number) => [
    box('wall', axis([], fixed(10), { place: 700 })),
    text(
      'a',
      'Maximiliana Theodora',
      axis([], content, { place }),
      { size: 80, fit: [{ step: 'shrink', to: 0.2 }] },
      { room: { kind: 'limit', to: to('wall'), at: 'start', gap: -20 } },
    ),
  ]
  for (const place of [100, 300]) {
    const at = rest(parts(place))('a')
    expect(at.x + at.width).toBeLessThanOrEqual(680 + 1e-6)
    expect(at.x + at.width).toBeGreaterThan(678)
  }
})

test('a turned part shows its upright bounding box', () => {
  const turned = part('box', 'a', axis([], fixed(200), { place: 100 }), axis([], fixed(100), { place: 50 }), {
    rotation: 90,
  })
  expect(rest([turned])('a')).toMatchObject({
    x: 100,
    y: 50,
    width: expect.closeTo(100, 9),
    height: expect.closeTo(200, 9),
  })
  const slanted = part('box', 'a', axis([], fixed(200)), axis([], fixed(100)), { rotation: 30 })
  const c = Math.cos(Math.PI / 6)
  expect(rest([slanted])('a').width).toBeCloseTo(200 * c + 100 * 0.5, 9)
  // Two ties say the upright size; the part's own follows so that it fills it.
  const held = part(
    'box',
    'a',
    axis([tie('start', { region: 'frame' }, 'start'), tie('end', { region: 'frame' }, 'start', 300)]),
    axis([], fixed(100)),
    { rotation: 30 },
  )
  const scene = sceneOf([held])
  const layout = scene.layout({})
  expect(layout.rest.own[0][0]! * c + 50).toBeCloseTo(300, 9)
})

test('a group holds what is in it, and carries it along when it is tied', () => {
  const inner = (ties: Tie[]) =>
    part(
      'group',
      'g',
      axis(ties),
      axis([]),
      {},
      {
        parts: [
          box('p', axis([], fixed(40), { place: 10 })),
          box('q', axis([tie('start', to('p'), 'end', 6)], fixed(20))),
        ],
      },
    )
  const loose = rest([inner([])])
  expect(loose('g')).toMatchObject({ x: 10, width: 66 })
  const held = rest([
    inner([tie('end', { region: 'frame' }, 'end', -20)]),
    box('after', axis([tie('start', to('q'), 'start')], fixed(5))),
  ])
  expect(held('g')).toMatchObject({ x: 1834, width: 66 })
  expect(held('p').x).toBe(1834)
  expect(held('q').x).toBe(1880)
  expect(held('after').x).toBe(1880)
})

test('ties that follow the movement take the animated bounds, the others the settled ones', () => {
  const grow = {
    anchor: { x: 0.5, y: 0.5 },
    out: 'mirror',
    tracks: {
      grow: {
        axis: 'x',
        from: 'start',
        keys: [
          { span: 'in', at: 0, value: 0, ease: 'linear' },
          { span: 'in', at: 10, value: 1, ease: 'linear' },
        ],
      },
    },
  }
  const scene = sceneOf([
    part('box', 'bar', axis([], fixed(200), { place: 100 }), axis([], fixed(20)), {}, { motion: grow }),
    box('live', axis([tie('start', to('bar'), 'end', 0, { follow: 'moving' })], fixed(7))),
    box('still', axis([tie('start', to('bar'), 'end')], fixed(7))),
  ])
  const list = scene.frame(scene.layout({}), scene.timing(scene.layout({})), 5)
  const x = list.items.map((item) =>
    item.kind === 'layer' && item.items[0]?.kind === 'layer' ? item.items[0].matrix[4] : Number.NaN,
  )
  expect(x).toEqual([100, 200, 300])
})

test('rings are refused when they are tied, naming the ring', () => {
  const template = templateOf([box('a', axis([], fixed(5))), box('b', axis([tie('start', to('a'), 'end')], fixed(5)))])
  const ring: Axis = axis([tie('start', to('b'), 'end')], fixed(5))
  expect(() => edit(template, { kind: 'axis', part: 'a', axis: 'x', value: ring })).toThrow(
    /ring: (a → b → a|b → a → b)/,
  )
  expect(() =>
    edit(template, { kind: 'axis', part: 'a', axis: 'x', value: axis([tie('start', to('a'), 'end')], fixed(5)) }),
  ).toThrow('ring')
  // Left against right of one another is no ring when the axes differ.
  expect(() => edit(template, { kind: 'axis', part: 'a', axis: 'y', value: ring })).not.toThrow()
})

test('every edge is explained down to the frame or a measured text', () => {
  const parts = [
    text('name', 'Maren', axis([tie('start', { region: 'title' }, 'start', 40)])),
    box('plate', axis([tie('start', to('name'), 'start', -25), tie('end', to('name'), 'end', 90)])),
  ]
  const scene = sceneOf(parts)
  const layout = scene.layout({})
  const reasons = explain(scene.template, layout.rest, 'plate', 'x', 'end')
  const width = boxOf(layout.rest, 0).width
  expect(reasons[0]!.sentence).toBe(`right of plate ${Number((136 + width + 90).toFixed(1))} = right of name + 90`)
  expect(reasons.map((r) => r.sentence)).toContain(`left of name 136 = left of title-safe + 40`)
  expect(reasons.map((r) => r.sentence)).toContain('title-safe gives 96')
  expect(reasons.some((r) => r.sentence.includes(`is measured: ${Number(width.toFixed(1))}`))).toBe(true)
})

// Cassowary (Badros, Borning, Stuckey 2001) by @lume/kiwi: the same equations, handed to a general solver.
test('agrees with a Cassowary solver on random acyclic drawings', () => {
  const edges = ['start', 'middle', 'end'] as const
  const tieTo = (i: number) =>
    fc.record({
      edge: fc.constantFrom(...edges),
      targets:
        i === 0 ? fc.constant([]) : fc.uniqueArray(fc.integer({ min: 0, max: i - 1 }), { minLength: 1, maxLength: 1 }),
      at: fc.oneof(fc.constantFrom(...edges), fc.double({ min: -1, max: 2, noNaN: true })),
      gap: fc.integer({ min: -300, max: 300 }),
    })
  const drawing = fc
    .integer({ min: 2, max: 14 })
    .chain((n) =>
      fc.tuple(
        ...Array.from({ length: n }, (_, i) =>
          fc.tuple(
            tieTo(i),
            tieTo(i),
            fc.integer({ min: 0, max: 2 }),
            fc.integer({ min: 1, max: 400 }),
            fc.double({ min: 0.1, max: 2, noNaN: true }),
          ),
        ),
      ),
    )
  const share = (at: number | string) =>
    at === 'start' ? 0 : at === 'end' ? 1 : at === 'middle' ? 0.5 : (at as number)
  fc.assert(
    fc.property(drawing, (list) => {
      const kiwi = new Kiwi()
      const variables = list.map((_, i) => ({ start: new Variable(`s${i}`), size: new Variable(`w${i}`) }))
      const parts = list.map(([one, two, ties, size, factor], i) => {
        const target = (t: typeof one) =>
          t.targets.length > 0 ? to(`p${t.targets[0]}`) : ({ region: 'frame' } as const)
        const make = (t: typeof one) => tie(t.edge, target(t), t.at, t.gap)
        const own = variables[i]!
        const hold = (t: typeof one) => {
          const other = t.targets.length > 0 ? variables[t.targets[0]!]! : undefined
          const right = other
            ? other.start.plus(other.size.multiply(share(t.at))).plus(t.gap)
            : share(t.at) * 1920 + t.gap
          kiwi.addConstraint(new Constraint(own.start.plus(own.size.multiply(share(t.edge))), Operator.Eq, right))
        }
        const both = ties === 2 && one.edge !== two.edge
        if (ties > 0) hold(one)
        else kiwi.addConstraint(new Constraint(own.start, Operator.Eq, 50))
        if (both) hold(two)
        else if (i > 0 && size % 3 === 0)
          kiwi.addConstraint(new Constraint(own.size, Operator.Eq, variables[i - 1]!.size.multiply(factor).plus(7)))
        else kiwi.addConstraint(new Constraint(own.size, Operator.Eq, size))
        const rule =
          !both && i > 0 && size % 3 === 0
            ? ({ kind: 'share', of: to(`p${i - 1}`), factor, plus: 7 } as const)
            : fixed(size)
        return box(`p${i}`, axis(ties === 0 ? [] : both ? [make(one), make(two)] : [make(one)], rule, { place: 50 }))
      })
      kiwi.updateVariables()
      // Ours never lets a size fall below nothing; Cassowary's equations do.
      fc.pre(variables.every((v) => v.size.value() >= 0))
      const at = rest(parts)
      variables.forEach((v, i) => {
        expect(at(`p${i}`).x).toBeCloseTo(v.start.value(), 3)
        expect(at(`p${i}`).width).toBeCloseTo(v.size.value(), 3)
      })
    }),
    { numRuns: 150 },
  )
})

test('the order of parts in the drawing changes nothing', () => {
  const parts = [
    text('a', 'Maren', axis([tie('start', to('d'), 'end', 5)])),
    box('b', axis([tie('start', to('a'), 'start'), tie('end', to('a'), 'end', 3)])),
    box('c', axis([tie('start', to('b'), 'end')], fixed(9))),
    box('d', axis([tie('start', { region: 'title' }, 'start')], fixed(30))),
  ]
  fc.assert(
    fc.property(fc.shuffledSubarray(parts, { minLength: 4 }), (shuffled) => {
      const [one, two] = [rest(parts), rest(shuffled)]
      for (const { id } of parts) expect(two(id)).toEqual(one(id))
    }),
  )
})

test('a drawing is ordered once, and long chains are no trouble', () => {
  const chain = Array.from({ length: 3000 }, (_, i) =>
    box(`p${i}`, axis(i === 2999 ? [] : [tie('start', to(`p${i + 1}`), 'end', 1)], fixed(1))),
  )
  const template = templateOf(chain)
  expect(tieOrder(template)).toBe(tieOrder({ ...template, name: 'other' }))
  const scene = new Scene(template, assets)
  expect(boxOf(scene.layout({}).rest, 0).x).toBe(2999 * 2)
})
