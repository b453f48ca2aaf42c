import fc from 'fast-check'
import { shapeDifferences } from '../handoff/index.ts'
import { boxOf } from '../layout/index.ts'
import { axis, box, fixed, tie } from '../testing/parts.ts'
import { sceneOf, speaker, templateOf } from '../testing/speaker.ts'
import { applied } from './edits.ts'
import {
  allParts,
  type Change,
  commonShapes,
  edit,
  everyShape,
  expose,
  findPart,
  fullStyle,
  inShape,
  newChoice,
  newShape,
  type Part,
  readTemplate,
  reframe,
  type Shape,
  shapeNamed,
  shapeOf,
  shapesOf,
  shapeWord,
  stillMotion,
  type Template,
  variantOf,
} from './index.ts'

const upright = { width: 1080, height: 1920 }
const square = { width: 1080, height: 1080 }

function withShapes(template: Template, ...sizes: { width: number; height: number }[]): Template {
  return sizes.reduce(
    (now, size) => edit(now, { kind: 'shapes', shapes: [...(now.shapes ?? []), newShape(now, size)] }),
    template,
  )
}
const two = withShapes(speaker, upright, square)
const parts = allParts(speaker.parts)
const texts = parts.filter((part) => part.kind === 'text')

test('shapes are called by how their sides stand to each other, in files too', () => {
  expect(shapesOf(two).map(({ id, name }) => [id, name])).toEqual([
    ['first', '16:9'],
    ['9x16', '9:16'],
    ['1x1', '1:1'],
  ])
  const [odd] = withShapes(speaker, { width: 1998, height: 1081 }).shapes!
  expect([odd!.name, shapeWord(odd!)]).toEqual(['1998 × 1081', '1998x1081'])
  expect(newShape(two, upright).id).not.toBe('9x16')
  expect(shapeNamed(two, '9:16').id).toBe('9x16')
  expect(shapeNamed(two, '16x9').id).toBe('first')
  expect(() => shapeNamed(two, '4:5')).toThrow('There is no shape "4:5"; the template has 16:9, 9:16, 1:1.')
  expect(() => shapeOf(two, 'gone')).toThrow('has no shape "gone" any more')
})

/** What somebody does to parts while looking at a shape. */
const change = fc.oneof(
  fc.record({
    kind: fc.constant('style' as const),
    part: fc.constantFrom(...texts.map(({ id }) => id)),
    key: fc.constantFrom('size', 'tracking'),
    value: fc.option(fc.integer({ min: 1, max: 200 }), { nil: undefined }),
  }),
  fc.record({
    kind: fc.constant('axis' as const),
    part: fc.constantFrom(...parts.map(({ id }) => id)),
    axis: fc.constantFrom('x' as const, 'y' as const),
    value: fc.record({
      place: fc.integer({ min: -500, max: 2000 }),
      ties: fc.constant([]),
      size: fc.constant(fixed(80)),
    }),
  }),
  fc.record({
    kind: fc.constant('room' as const),
    part: fc.constantFrom(...texts.map(({ id }) => id)),
    room: fc.record({ kind: fc.constant('width' as const), value: fc.integer({ min: 20, max: 900 }) }),
  }),
  fc
    .constantFrom(...parts.map(({ id }) => id))
    .map((part) => ({ kind: 'motion' as const, part, motion: stillMotion() })),
  fc.constantFrom(...parts).map((part) => ({ kind: 'replacePart' as const, part: moved(part) })),
) as fc.Arbitrary<Change>

const moved = (part: Part): Part =>
  ({ ...part, y: { ...part.y, ties: [], place: 7 }, style: { ...part.style, opacity: 0.5 } }) as Part

test('what is done in one shape is there as it was done, and nowhere else; taken back, nothing differs', () => {
  fc.assert(
    fc.property(fc.array(change, { minLength: 1, maxLength: 6 }), (changes) => {
      const all: Change = { kind: 'several', changes }
      const done = edit(two, inShape(two, '9x16', all))
      const wanted = applied(shapeOf(two, '9x16'), all)
      const full = (template: Template) =>
        allParts(template.parts).map(({ parts: _, ...part }) => ({
          ...part,
          style: fullStyle(part.kind, part.style as never),
        }))
      expect(full(shapeOf(done, '9x16'))).toEqual(full(wanted))
      expect(shapeOf(done)).toEqual(shapeOf(two))
      expect(shapeOf(done, '1x1')).toEqual(shapeOf(two, '1x1'))
      expect(readTemplate(JSON.parse(JSON.stringify(done)))).toEqual(done)
      // Every difference is told, and only what differs is kept.
      const [shape] = done.shapes as [Shape]
      const told = shapeDifferences(done, shape)
      expect(told).toHaveLength(shape.sets.length)
      for (const { sentence } of told) expect(sentence).not.toContain('is as in the first shape')
      const back = told.reduce(
        (now, { setting: { part, property } }) => edit(now, { kind: 'differ', shape: '9x16', part, property }),
        done,
      )
      expect(back).toEqual(two)
    }),
    { numRuns: 60 },
  )
})

test('a shape in which nothing differs is the template for that frame, and what is tied to the frame follows', () => {
  const frame = { ...speaker.frame, ...upright }
  const reframed = edit(speaker, reframe(speaker, frame, false))
  const bare = { ...two, shapes: two.shapes!.map((shape) => ({ ...shape, sets: [] })) }
  expect({ ...shapeOf(bare, '9x16'), guides: [] }).toEqual({ ...reframed, guides: [] })
  const tied = withShapes(
    templateOf([box('bar', axis([tie('end', { region: 'frame' }, 'end', -40)], fixed(300)))]),
    upright,
  )
  const ends = everyShape(tied).map(({ template }) => {
    const { rest } = sceneOf(template.parts, { frame: template.frame }).layout({})
    const bar = boxOf(rest, 0)
    return bar.x + bar.width
  })
  expect(ends).toEqual([1880, 1040])
})

test('what stands by hand keeps its share of a new frame', () => {
  const plain = templateOf([box('bar', axis([], fixed(300), { place: 960 }))])
  const [shape] = withShapes(plain, upright).shapes!
  expect(shape!.sets).toEqual([{ part: 'bar', property: 'x', value: axis([], fixed(300), { place: 540 }) }])
  expect(commonShapes(speaker.frame).map(({ width, height }) => `${width} ${height}`)).toEqual([
    '1920 1080',
    '1080 1920',
    '1080 1080',
    '1080 1350',
  ])
})

test('a new part stands in every shape, as it was drawn in the one that somebody looked at', () => {
  const part = box('new', axis([], fixed(200), { place: 540 }), axis([], fixed(100), { place: 960 }))
  const done = edit(two, inShape(two, '9x16', { kind: 'addPart', part }))
  expect(findPart(shapeOf(done, '9x16'), 'new')).toEqual(part)
  const first = findPart(done, 'new')!
  expect([first.x.place, first.y.place]).toEqual([960, 540])
  const gone = edit(done, inShape(done, '9x16', { kind: 'removePart', part: 'new' }))
  expect(gone).toEqual(two)
})

test('words are the same in every shape, written in whichever; how they look is that shape’s own', () => {
  const { id } = texts[0]!
  const content = (template: Template, shape: string) =>
    findPart(shapeOf(template, shape), id)!.style as { content: object }
  const put = (template: Template, value: object[]) =>
    edit(template, inShape(template, '9x16', { kind: 'style', part: id, key: 'content', value }))
  const written = put(two, [{ text: 'Ebb' }])
  for (const shape of ['first', '9x16', '1x1']) expect(content(written, shape).content).toEqual([{ text: 'Ebb' }])
  const styled = put(written, [{ text: 'E', size: 90 }, { text: 'bb' }])
  expect(content(styled, '9x16').content).toHaveLength(2)
  expect(content(styled, 'first').content).toEqual([{ text: 'Ebb' }])
  const again = put(styled, [{ text: 'Flood' }])
  for (const shape of ['first', '9x16', '1x1']) expect(content(again, shape).content).toEqual([{ text: 'Flood' }])
  expect(again.shapes![0]!.sets).toEqual([])
  // A text that becomes a field in one shape is one in all of them.
  const exposed = edit(again, inShape(again, '9x16', expose(again, id, 'content').change))
  for (const shape of ['first', '9x16', '1x1'])
    expect(content(exposed, shape).content).toEqual([{ field: exposed.fields.at(-1)!.id }])
})

test('options set in a shape what they set otherwise there, and go along with their names', () => {
  const choice = (sets: object[]) => ({
    ...speaker.fields[0]!,
    id: 'side',
    key: 'side',
    name: 'Side',
    type: 'choice',
    targets: [],
    default: 'left',
    options: [
      { value: 'left', name: 'Left', sets: [] },
      { value: 'right', name: 'Right', sets },
    ],
  })
  const id = texts[0]!.id
  const set = (value: number) => [{ part: id, property: 'size', value }]
  const base = edit(two, { kind: 'field', field: choice(set(40)) as never })
  const done = edit(base, inShape(base, '9x16', { kind: 'field', field: choice(set(72)) as never }))
  const sizes = (template: Template) =>
    everyShape(template).map(({ template: one }) => {
      const option = one.fields.find((field) => field.id === 'side')!.options![1]!
      return option.sets[0]!.value
    })
  expect(sizes(done)).toEqual([40, 72, 40])
  const renamed = choice(set(40))
  renamed.options[1]!.value = 'far'
  expect(sizes(edit(done, { kind: 'field', field: renamed as never }))).toEqual([40, 72, 40])
  expect(edit(done, { kind: 'removeField', field: 'side' })).toEqual(two)
})

test('an option that leaves something as it is drawn leaves it so in every shape', () => {
  const { id } = texts[0]!
  const sized = edit(two, inShape(two, '9x16', { kind: 'style', part: id, key: 'size', value: 96 }))
  const drawn = fullStyle('text', texts[0]!.style as never).size
  const choice = (value: number) => ({
    ...newChoice(sized),
    options: [
      { value: 'first', name: 'First', sets: [{ part: id, property: 'size', value }] },
      { value: 'second', name: 'Second', sets: [] },
    ],
  })
  const sizeIn = (template: Template, shape: string) =>
    fullStyle('text', findPart(variantOf(shapeOf(template, shape), {}), id)!.style as never).size
  // Added while the first shape is looked at, and while the other one is: neither looks otherwise than before.
  for (const made of [
    edit(sized, { kind: 'field', field: choice(drawn) }),
    edit(sized, inShape(sized, '9x16', { kind: 'field', field: choice(96) })),
  ]) {
    expect([sizeIn(made, 'first'), sizeIn(made, '9x16'), sizeIn(made, '1x1')]).toEqual([drawn, 96, drawn])
    expect(made.shapes![0]!.options).toEqual([])
  }
})

test('what cannot be in a shape is refused with its name', () => {
  const shaped = (more: Partial<Shape>): Template => ({ ...two, shapes: [{ ...two.shapes![0]!, ...more }] })
  const told = (template: Template) => {
    try {
      readTemplate(JSON.parse(JSON.stringify(template)))
      return 'taken'
    } catch (error) {
      return (error as Error).message
    }
  }
  const [a, b] = [parts[0]!, parts[1]!]
  expect(told(shaped({ sets: [{ part: 'nobody', property: 'size', value: 4 }] }))).toContain(
    'The shape "9:16" cannot be: it sets the part "nobody"',
  )
  expect(told(shaped({ id: 'first' }))).toContain('Two shapes of the frame have the id "first"')
  expect(told(shaped({ options: [{ field: 'no', option: 'x', sets: [] }] }))).toContain('names the option "x"')
  const held = (id: string, other: string) => ({
    part: id,
    property: 'x',
    value: axis([tie('start', { parts: [other] }, 'end')], fixed(10)),
  })
  expect(told(shaped({ sets: [held(a.id, b.id), held(b.id, a.id)] }))).toContain('in a ring')
  const late = { ...stillMotion(), tracks: { fade: { keys: [{ span: 'in', at: 900, value: 0, ease: 'linear' }] } } }
  expect(told(shaped({ sets: [{ part: a.id, property: 'motion', value: late }] }))).toContain('at In 900')
  const red = { part: texts[0]!.id, property: 'colour', value: 'palette:none' }
  expect(told(shaped({ sets: [red] }))).toContain('not in the palette')
})

test('shorter spans take keys along in every shape', () => {
  const motion = {
    ...stillMotion(),
    tracks: { fade: { keys: [{ span: 'in' as const, at: two.spans.in, value: 1, ease: 'linear' as const }] } },
  }
  const done = edit(two, inShape(two, '9x16', { kind: 'motion', part: parts[0]!.id, motion }))
  const short = edit(done, { kind: 'spans', spans: { ...done.spans, in: 3 } })
  const own = findPart(shapeOf(short, '9x16'), parts[0]!.id)!
  expect(own.motion.tracks.fade!.keys[0]!.at).toBe(3)
})
