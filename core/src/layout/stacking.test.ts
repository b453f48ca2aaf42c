import fc from 'fast-check'
import { allParts, edit, findPart, type Part, type Template } from '../template/index.ts'
import { axis, box, content, fixed, part, text } from '../testing/parts.ts'
import { sceneOf, templateOf } from '../testing/speaker.ts'
import { behindContent, drawnAround, putBelow, stack } from './index.ts'

const group = (id: string, parts: Part[]) => part('group', id, axis([]), axis([]), {}, { parts })
const bar = (id: string) => box(id, axis([], fixed(10)))
const order = (template: Template) =>
  allParts(template.parts)
    .map(({ id }) => id)
    .join(' ')

test('parts go forward, backward, to the front, behind everything, each within its group, in one step', () => {
  const { template } = sceneOf([bar('a'), bar('b'), group('g', [bar('c'), bar('d'), bar('e')]), bar('f')])
  const after = (ids: string[], how: Parameters<typeof stack>[2]) => {
    const change = stack(template, ids, how)
    return change ? order(edit(template, change)) : 'as it was'
  }
  expect(after(['a'], 'forward')).toBe('b a g c d e f')
  expect(after(['f'], 'backward')).toBe('a b f g c d e')
  expect(after(['a', 'b'], 'front')).toBe('g c d e f a b')
  expect(after(['f', 'b'], 'back')).toBe('b f a g c d e')
  expect(after(['c', 'a'], 'forward')).toBe('b a g d c e f')
  expect(after(['e'], 'back')).toBe('a b g e c d f')
  expect(after(['f'], 'front')).toBe('as it was')
  expect(after(['a', 'b'], 'backward')).toBe('as it was')
})

/** One step further on, said as slowly as it can be: the list as places, what is chosen takes the place of what is not. */
function slowly(list: string[], chosen: string[], forward: boolean): string[] {
  const next = forward ? [...list].reverse() : [...list]
  for (const id of next.filter((one) => chosen.includes(one))) {
    const at = next.indexOf(id)
    if (at === 0 || chosen.includes(next[at - 1]!)) continue
    next.splice(at, 1)
    next.splice(at - 1, 0, id)
  }
  return forward ? next.reverse() : next
}

test('any parts of any list, any way: nothing is lost, what is chosen keeps its order, and it goes as a slow model has it', () => {
  const ids = ['a', 'b', 'c', 'd', 'e', 'f']
  const { template } = sceneOf(ids.map(bar))
  fc.assert(
    fc.property(
      fc.subarray(ids, { minLength: 1 }),
      fc.constantFrom('forward', 'backward', 'front', 'back'),
      (chosen, how) => {
        const change = stack(template, chosen, how as 'front')
        const now = change ? order(edit(template, change)).split(' ') : ids
        expect([...now].sort()).toEqual(ids)
        expect(now.filter((id) => chosen.includes(id))).toEqual(chosen)
        const rest = ids.filter((id) => !chosen.includes(id))
        const wanted =
          how === 'front'
            ? [...rest, ...chosen]
            : how === 'back'
              ? [...chosen, ...rest]
              : slowly(ids, chosen, how === 'forward')
        expect(now).toEqual(wanted)
      },
    ),
  )
})

const words = (id: string, x: number, y: number) =>
  text(id, 'Io Marrec', axis([], content, { place: x }), { size: 40 }, { y: axis([], content, { place: y }) })
const plate = (id: string) => box(id, axis([], fixed(900), { place: 100 }), axis([], fixed(300), { place: 500 }))

test('what is drawn around texts goes behind them, those in groups too, and stays above what it was above', () => {
  const scene = sceneOf([
    bar('strip'),
    group('g', [words('name', 200, 540), words('role', 200, 640)]),
    words('far', 200, 100),
    plate('p'),
  ])
  const { template } = scene
  const { rest } = scene.layout({})
  expect(drawnAround(rest, { x: 100, y: 500, width: 900, height: 300 })).toEqual(['name', 'role'])
  const made = behindContent(template, rest, ['p'])!
  expect(made.behind.get('p')).toEqual(['name', 'role'])
  expect(order(edit(template, made.change))).toBe('strip p g name role far')
  // There it stands already, and asking again changes nothing.
  const again = sceneOf(edit(template, made.change).parts)
  expect(behindContent(again.template, again.layout({}).rest, ['p'])).toBeUndefined()
  expect(behindContent(template, rest, ['name', 'strip'])).toBeUndefined()
  expect(findPart(edit(template, made.change), 'p')).toEqual(findPart(template, 'p'))
})

test('two that are drawn around the same words keep their order', () => {
  const scene = sceneOf([words('name', 200, 540), plate('low'), plate('high')])
  const made = behindContent(scene.template, scene.layout({}).rest, ['low', 'high'])!
  expect(order(edit(scene.template, made.change))).toBe('low high name')
})

test('what lies below another part already, or in no list with it, is not put below it', () => {
  const template = templateOf([bar('a'), bar('b')])
  expect(putBelow(template, 'a', 'b')).toBeUndefined()
  expect(putBelow(template, 'b', 'b')).toBeUndefined()
  expect(putBelow(template, 'a', 'none')).toBeUndefined()
  expect(putBelow(template, 'b', 'a')).toEqual({ kind: 'reorder', part: 'b', index: 0 })
})
