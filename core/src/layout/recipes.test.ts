import fc from 'fast-check'
import type { Box } from '../geometry/index.ts'
import { boundsOf, type LayerItem } from '../paint/index.ts'
import { Scene } from '../scene/index.ts'
import { type AxisName, edit, findPart, type Part, type Template } from '../template/index.ts'
import { axis, box, fixed, part, text, tie, to } from '../testing/parts.ts'
import { assets, templateOf } from '../testing/speaker.ts'
import {
  addGlint,
  align,
  boxOf,
  dependents,
  dependsOn,
  distribute,
  followRecipe,
  moveBy,
  type Recipe,
  resizeBy,
  snapLines,
  snapped,
} from './index.ts'

const layout = (template: Template) => new Scene(template, assets).layout({}).rest
const boxIn = (template: Template, id: string): Box => {
  const rest = layout(template)
  return boxOf(rest, rest.order.index.get(id)!)
}
const after = (parts: Part[], id: string, recipe: Recipe) => {
  const template = templateOf(parts)
  return edit(template, followRecipe(template, id, recipe))
}
const at = (id: string, x: number, y: number, width: number, height: number) =>
  box(id, axis([], fixed(width), { place: x }), axis([], fixed(height), { place: y }))
const both: AxisName[] = ['x', 'y']

test('around: every side stands off by its padding, whatever the texts say', () => {
  fc.assert(
    fc.property(fc.string({ minLength: 1, maxLength: 30 }), fc.integer({ min: 0, max: 60 }), (words, left) => {
      fc.pre(words.trim() !== '')
      const made = after([text('a', words, axis([], undefined, { place: 300 })), at('plate', 0, 0, 1, 1)], 'plate', {
        recipe: 'around',
        targets: ['a'],
        padding: { left, right: 30, top: 10, bottom: 12 },
        axes: both,
      })
      const [a, plate] = [boxIn(made, 'a'), boxIn(made, 'plate')]
      expect(plate.x).toBeCloseTo(a.x - left, 6)
      expect(plate.x + plate.width).toBeCloseTo(a.x + a.width + 30, 6)
      expect(plate.y).toBeCloseTo(a.y - 10, 6)
      expect(plate.height).toBeCloseTo(a.height + 22, 6)
    }),
    { numRuns: 40 },
  )
})

test('inside, beside, between, same size, share and centred on say what they say', () => {
  const parts = [at('a', 100, 100, 400, 80), at('b', 900, 300, 200, 50), at('me', 5, 5, 60, 20)]
  const padding = { left: 10, right: 20, top: 5, bottom: 6 }
  expect(boxIn(after(parts, 'me', { recipe: 'inside', target: to('a'), padding, axes: both }), 'me')).toEqual({
    x: 110,
    y: 105,
    width: 370,
    height: 69,
  })
  const beside = (side: 'before' | 'after' | 'above' | 'below', line: 'start' | 'middle' | 'free') =>
    boxIn(after(parts, 'me', { recipe: 'beside', target: to('a'), side, gap: 12, line }), 'me')
  expect(beside('after', 'middle')).toEqual({ x: 512, y: 130, width: 60, height: 20 })
  expect(beside('before', 'free')).toEqual({ x: 28, y: 5, width: 60, height: 20 })
  expect(beside('above', 'start')).toEqual({ x: 100, y: 68, width: 60, height: 20 })
  expect(beside('below', 'start')).toEqual({ x: 100, y: 192, width: 60, height: 20 })
  expect(
    boxIn(after(parts, 'me', { recipe: 'between', first: to('a'), second: to('b'), axis: 'x', gap: 7 }), 'me'),
  ).toMatchObject({ x: 507, width: 386 })
  expect(boxIn(after(parts, 'me', { recipe: 'same size', target: to('a'), axes: both }), 'me')).toMatchObject({
    width: 400,
    height: 80,
  })
  expect(
    boxIn(after(parts, 'me', { recipe: 'share', target: to('a'), axis: 'x', factor: 0.5, plus: 3 }), 'me').width,
  ).toBe(203)
  // Common practice: an anchor in the middle keeps a line growing evenly to both sides.
  for (const width of [60, 200, 333]) {
    const line = after([at('a', 100, 100, 400, 80), at('me', 5, 5, width, 4)], 'me', {
      recipe: 'centred on',
      target: to('a'),
      axes: ['x'],
    })
    const me = boxIn(line, 'me')
    expect(me.x + me.width / 2).toBe(300)
  }
})

// Common practice: a bar with a patterned end must slide, not stretch.
test('slide from: the end follows the text, the bar itself keeps one width and starts off the frame', () => {
  const widths = ['Io', 'Maximiliana Theodora'].map((words) => {
    const made = after([text('a', words, axis([], undefined, { place: 96 })), at('bar', 0, 0, 10, 60)], 'bar', {
      recipe: 'slide from',
      targets: ['a'],
      side: 'left',
      gap: 40,
      frames: 15,
    })
    const [a, bar] = [boxIn(made, 'a'), boxIn(made, 'bar')]
    expect(bar.x + bar.width).toBeCloseTo(a.x + a.width + 40, 6)
    expect(bar.x).toBeLessThanOrEqual(0)
    const scene = new Scene(made, assets)
    const first = scene.frame(scene.layout({}), scene.timing(scene.layout({})), 0).items[1] as LayerItem
    expect(bar.x + bar.width + first.matrix[4]!).toBeLessThanOrEqual(0.01)
    return bar.width
  })
  expect(widths[0]).toBe(widths[1])
})

test('a glint crosses the whole of a bar, short or long, and is not seen while the bar stands', () => {
  for (const width of [120, 1500]) {
    const template = templateOf([at('bar', 100, 400, width, 60)])
    const made = edit(template, addGlint(template, 'bar').change)
    const scene = new Scene(made, assets)
    const layout = scene.layout({})
    const shown = (frame: number) => {
      const layer = scene.frame(layout, scene.timing(scene.layout({})), frame).items[1] as LayerItem
      return boundsOf([layer])!
    }
    expect(shown(0).x + shown(0).width).toBeLessThanOrEqual(100)
    expect(shown(made.spans.in).x).toBeGreaterThanOrEqual(100 + width)
    const seen = Array.from({ length: made.spans.in }, (_, frame) => shown(frame))
    expect(seen.some((box) => box.x < 100 + width / 2 && box.x + box.width > 100 + width / 2)).toBe(true)
    expect(findPart(made, 'glint1')!.matte).toMatchObject({ part: 'bar' })
  }
})

test('a recipe that would close a ring is refused, and names its parts', () => {
  const parts = [box('a', axis([tie('start', to('b'), 'end')], fixed(9))), at('b', 0, 0, 9, 9)]
  const template = templateOf(parts)
  const ring = followRecipe(template, 'b', { recipe: 'centred on', target: to('a'), axes: ['x'] })
  expect(() => edit(template, ring)).toThrow('ring: a → b → a')
  try {
    edit(template, ring)
  } catch (error) {
    expect((error as { about: string[] }).about).toEqual(['a', 'b', 'a'])
  }
})

test('what a part depends on and what depends on it', () => {
  const parts = [
    at('a', 0, 0, 9, 9),
    box('b', axis([tie('start', to('a'), 'end')], { kind: 'share', of: to('c'), factor: 1, plus: 0 })),
    at('c', 0, 0, 5, 5),
    { ...text('d', 'x'), room: { kind: 'limit' as const, to: to('c'), at: 'end' as const, gap: 0 } },
  ]
  const template = templateOf(parts)
  expect(dependsOn(parts[1]!)).toEqual(['a', 'c'])
  expect(dependents(template, 'c')).toEqual(['b', 'd'])
  expect(dependents(template, 'd')).toEqual([])
})

test('a part is moved by hand whatever holds it, and resized with the other edge standing', () => {
  const ties: Part[] = [
    at('free', 50, 60, 100, 40),
    box('one', axis([tie('start', to('free'), 'end', 10)], fixed(70))),
    box('middle', axis([tie('middle', to('free'), 'middle')], fixed(70))),
    box('two', axis([tie('start', to('free'), 'start', 4), tie('end', to('free'), 'end', -4)])),
  ]
  for (const { id } of ties) {
    const template = templateOf(ties)
    const before = boxIn(template, id)
    const part = template.parts.find((p) => p.id === id)!
    const movedBox = boxIn(edit(template, moveBy(part, 13, -7)), id)
    expect([movedBox.x - before.x, movedBox.y - before.y, movedBox.width]).toEqual([13, -7, before.width])
    for (const edge of ['start', 'end'] as const) {
      const resized = boxIn(edit(template, resizeBy(part, before, 'x', edge, 8)), id)
      const other = edge === 'start' ? 'right' : 'left'
      const sides = (b: Box) => ({ left: b.x, right: b.x + b.width })
      expect(sides(resized)[other]).toBeCloseTo(sides(before)[other], 6)
      expect(resized.width - before.width).toBeCloseTo(edge === 'end' ? 8 : -8, 6)
    }
  }
})

test('parts are lined up with the frame, safe areas and each other, and spread evenly', () => {
  const template = templateOf([at('a', 10, 0, 100, 10), at('b', 300, 0, 50, 10), at('c', 900, 0, 20, 10)])
  const ids = ['a', 'b', 'c']
  const lined = (edge: 'start' | 'middle' | 'end', goal: 'frame' | 'title' | 'each other') => {
    const made = edit(template, align(template, layout(template), ids, 'x', edge, goal))
    return ids.map((id) => boxIn(made, id).x)
  }
  expect(lined('start', 'frame')).toEqual([0, 0, 0])
  expect(lined('start', 'title')).toEqual([96, 96, 96])
  expect(lined('end', 'each other')).toEqual([820, 870, 900])
  expect(lined('middle', 'frame')).toEqual([910, 935, 950])
  const even = edit(template, distribute(template, layout(template), ids, 'x'))
  const [a, b, c] = ids.map((id) => boxIn(even, id))
  expect([a!.x, c!.x]).toEqual([10, 900])
  expect(b!.x - (a!.x + a!.width)).toBeCloseTo(c!.x - (b!.x + b!.width), 6)
  expect(() => distribute(template, layout(template), ['a', 'b'], 'x')).toThrow('three parts or more')
})

test('a moved box snaps to the nearest line within reach, and says which', () => {
  const template = templateOf(
    [at('a', 100, 100, 200, 50), part('box', 'me', axis([], fixed(60)), axis([], fixed(20)))],
    {
      guides: [{ axis: 'y', at: 777 }],
    },
  )
  const lines = snapLines(template, layout(template), ['me'], template.guides)
  const me = boxIn(template, 'me')
  expect(snapped(me, 297, 400, lines, 6)).toMatchObject({ dx: 300, dy: 400 })
  expect(snapped(me, 500, 780, lines, 6)).toMatchObject({ dx: 500, dy: 777, lines: [{ axis: 'y', at: 777 }] })
  expect(snapped(me, 500, 430, lines, 0)).toMatchObject({ dx: 500, dy: 430, lines: [] })
})
