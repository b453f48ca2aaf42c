import fc from 'fast-check'
import { boxOf } from '../layout/index.ts'
import { styleOf } from '../scene/index.ts'
import { axis, box, field, fixed, text, tie, to } from '../testing/parts.ts'
import { sceneOf, speaker, templateOf } from '../testing/speaker.ts'
import {
  asKind,
  drivenBy,
  driversOf,
  driveToo,
  edit,
  expose,
  type Field,
  fieldDriving,
  findPart,
  freeKey,
  fullStyle,
  kindsFor,
  letGo,
  newPart,
  partKinds,
  placedVariants,
  propertiesOf,
  readTemplate,
  type Setting,
  type Template,
  variantOf,
} from './index.ts'

const base = () => templateOf([text('name', 'Maren'), box('plate', axis([], fixed(100)))])
const exposed = (template: Template, part: string, key: string) => edit(template, expose(template, part, key).change)

test('every property that is not locked becomes a field that holds to the schema, at the value it had', () => {
  for (const kind of partKinds)
    for (const [key, property] of propertiesOf(kind)) {
      const template = templateOf([newPart(kind, 'p', 'Part')])
      for (const type of driversOf(key, property)) {
        const style = fullStyle(kind, template.parts[0]!.style as never) as Record<string, unknown>
        if (type === 'colour' && typeof style[key] !== 'string') {
          expect(() => expose(template, 'p', key, type)).toThrow('has no fill; make it one flat colour')
          continue
        }
        const { field, change } = expose(template, 'p', key, type)
        const after = edit(template, change)
        expect(readTemplate(JSON.parse(JSON.stringify(after)))).toEqual(after)
        expect(fieldDriving(after, after.parts[0]!, key)?.id).toBe(field.id)
        const layoutOf = (t: Template) => sceneOf(t.parts, t).layout({})
        if (key !== 'content') expect(layoutOf(after).content.styles).toEqual(layoutOf(template).content.styles)
      }
    }
})

test('a locked property is refused, and one that a field drives already', () => {
  expect(() => expose(base(), 'name', 'rotation')).toThrow('"Rotation" of name stays locked')
  expect(() => expose(base(), 'name', 'fit')).toThrow('stays locked')
  expect(() => expose(base(), 'name', 'colour', 'number')).toThrow('no number field can drive it')
  expect(() => expose(exposed(base(), 'name', 'colour'), 'name', 'colour')).toThrow('is driven by the field')
  expect(() => expose(base(), 'nobody', 'colour')).toThrow('There is no part "nobody"')
})

test('one field drives several parts, and lets go of them one by one', () => {
  let template = exposed(base(), 'name', 'colour')
  const id = template.fields[0]!.id
  template = edit(template, driveToo(template, id, 'plate', 'fill'))
  expect(drivenBy(template, template.fields[0]!)).toEqual([
    { part: 'name', property: 'colour' },
    { part: 'plate', property: 'fill' },
  ])
  const { content } = sceneOf(template.parts, template).layout({ [template.fields[0]!.key]: '#010203' })
  expect([styleOf(content, 0, 'text').colour, styleOf(content, 1, 'box').fill]).toEqual(['#010203', '#010203'])
  expect(() => driveToo(template, id, 'name', 'size')).toThrow("can't be driven by a colour")
  template = edit(template, letGo(template, template.fields[0]!, 'name', 'colour'))
  expect(drivenBy(template, template.fields[0]!)).toEqual([{ part: 'plate', property: 'fill' }])
})

test('a text keeps the words of a field that lets it go, and a comment the place before the next field', () => {
  let template = exposed(exposed(base(), 'name', 'content'), 'plate', 'visible')
  const [first, second] = template.fields as [Field, Field]
  template = edit(template, { kind: 'comments', comments: [{ id: 'c', text: 'Two words.', before: first.id }] })
  expect(() => edit(template, { kind: 'comments', comments: [{ id: 'c', text: 'x', before: 'none' }] })).toThrow(
    'stands before the field "none"',
  )
  template = edit(template, { kind: 'removeField', field: first.id })
  expect(template.parts[0]!.style).toMatchObject({ content: [{ text: 'Maren' }] })
  expect(template.comments).toEqual([{ id: 'c', text: 'Two words.', before: second.id }])
  template = edit(template, { kind: 'removeField', field: second.id })
  expect(template.comments).toEqual([{ id: 'c', text: 'Two words.' }])
})

test('fillings of proofs and poster follow a field to its new key', () => {
  let template = exposed(base(), 'name', 'content')
  const { key } = template.fields[0]!
  template = edit(template, { kind: 'proofs', proofs: [{ id: 'p', name: 'P', values: { [key]: 'Io', other: 1 } }] })
  template = edit(template, { kind: 'poster', poster: { frame: 3, values: { [key]: 'Ada' } } })
  template = edit(template, { kind: 'field', field: { ...template.fields[0]!, key: 'who' } })
  expect(template.proofs[0]!.values).toEqual({ who: 'Io', other: 1 })
  expect(template.poster.values).toEqual({ who: 'Ada' })
})

test('a text may be given as a number, a moment or a list, and back; a size as a style or a number', () => {
  let template = exposed(base(), 'name', 'content')
  const { id } = template.fields[0]!
  const field = () => template.fields.find((one) => one.id === id)!
  template = edit(template, {
    kind: 'field',
    field: { ...field(), name: 'Height', key: 'height', note: 'm', default: '3,42' },
  })
  const shown = (values = {}) =>
    styleOf(sceneOf(template.parts, template).layout(values).content, 0, 'text').content[0]!.text
  expect(kindsFor(template, field())).toEqual(['text', 'number', 'moment', 'texts'])
  // What proofs say they go on saying.
  const proofs: Template['proofs'] = [
    { id: 'p1', name: 'two', values: { height: 'Tide in\nBoats run', other: 1 } },
    { id: 'p2', name: 'none', values: {} },
  ]
  const proved: Template = { ...template, proofs, poster: { frame: 0, values: { height: '2' } } }
  const listed = edit(proved, asKind(proved, id, 'texts'))
  expect(listed.proofs.map(({ values }) => values)).toEqual([{ height: ['Tide in', 'Boats run'], other: 1 }, {}])
  expect(listed.poster.values).toEqual({ height: ['2'] })
  expect(edit(listed, asKind(listed, id, 'text')).proofs[0]!.values.height).toBe('Tide in  ·  Boats run')
  template = edit(template, asKind(template, id, 'number'))
  expect(field()).toMatchObject({ type: 'number', name: 'Height', key: 'height', note: 'm', default: 3.42 })
  const format = { ...field().format!, decimals: 2, after: ' m' }
  template = edit(template, { kind: 'field', field: { ...field(), format } })
  expect([shown(), shown({ height: -1 })]).toEqual(['3.42 m', '−1.00 m'])
  template = edit(template, asKind(template, id, 'texts'))
  expect(shown({ height: ['Tide in', 'Boats run'] })).toBe('Tide in  ·  Boats run')
  template = edit(template, asKind(template, id, 'moment'))
  expect(shown({ height: '2026-11-26T18:05' })).toBe('Thursday 26 November, 18:05')
  template = edit(template, asKind(template, id, 'text'))
  expect(field().format).toBeUndefined()

  let styled = exposed(base(), 'name', 'size')
  expect(styled.fields[0]!.targets.map((target) => target.property)).toEqual(['font', 'size'])
  styled = edit(styled, asKind(styled, styled.fields[0]!.id, 'number'))
  expect(styled.fields[0]).toMatchObject({ type: 'number', targets: [{ property: 'size' }] })
  expect(() => asKind(styled, styled.fields[0]!.id, 'picture')).toThrow("can't be a picture")
})

test('keys are made of words, and never taken twice', () => {
  expect(freeKey({ fields: [] }, 'Ñandú: Größe 2')).toBe('nandu-gro-e-2')
  expect(freeKey({ fields: [] }, '12 — ?')).toBe('field')
  // Every object has something by this name.
  expect(freeKey({ fields: [] }, 'Constructor')).toBe('constructor-2')
  fc.assert(
    fc.property(fc.array(fc.string(), { maxLength: 6 }), (names) => {
      const fields: Field[] = []
      for (const name of names) fields.push({ key: freeKey({ fields }, name) } as Field)
      for (const { key } of fields) expect(key).toMatch(/^[a-z][a-z0-9_-]{0,63}$/)
      expect(new Set(fields.map((f) => f.key)).size).toBe(fields.length)
    }),
  )
})

/** A choice of a side: the text at the left of title-safe, or at the right. */
function sided(more: Setting[] = []): Template {
  const template = templateOf([
    text('name', 'Maren', axis([tie('start', { region: 'title' }, 'start')])),
    box('plate', axis([tie('start', to('name'), 'start', -20), tie('end', to('name'), 'end', 20)])),
  ])
  const right = axis([tie('end', { region: 'title' }, 'end')])
  const side: Field = {
    id: 'side',
    key: 'side',
    name: 'Side',
    note: '',
    type: 'choice',
    targets: [],
    default: 'left',
    required: false,
    onAir: false,
    options: [
      { value: 'left', name: 'Left', sets: [] },
      {
        value: 'right',
        name: 'Right',
        sets: [
          { part: 'name', property: 'x', value: right },
          { part: 'plate', property: 'fill', value: '#ff0000' },
          ...more,
        ],
      },
    ],
  }
  return edit(template, { kind: 'field', field: side })
}

test('an option puts a part at another place of its list, inside its group too', () => {
  const order = (part: string, value: number) => ({ part, property: 'order', value })
  const choice = (...sets: { part: string; property: string; value: number }[]) =>
    edit(speaker, {
      kind: 'field',
      field: field({
        id: 'layers',
        key: 'layers',
        type: 'choice',
        default: 'a',
        options: [
          { value: 'a', name: 'A', sets: [] },
          { value: 'b', name: 'B', sets },
        ],
      }),
    })
  const ids = speaker.parts.map(({ id }) => id)
  const [low, high] = [ids[0]!, ids.at(-1)!]
  const idsOf = (template: Template) => variantOf(template, { layers: 'b' }).parts.map(({ id }) => id)
  expect(idsOf(choice(order(low, 99)))).toEqual([...ids.slice(1), low])
  expect(idsOf(choice(order(high, 0), order(low, 1)))).toEqual([high, low, ...ids.slice(1, -1)])
  const group = speaker.parts.find((part) => part.parts)!
  const inner = group.parts!.map(({ id }) => id)
  const turned = variantOf(choice(order(inner[0]!, 1)), { layers: 'b' })
  expect(findPart(turned, group.id)!.parts!.map(({ id }) => id)).toEqual([inner[1], inner[0]])
  expect(() => choice(order(low, -1))).toThrow('a whole number from 0')
  expect(idsOf(choice())).toEqual(ids)
})

test('one option sets several properties, a side among them; what is tied follows', () => {
  const template = sided()
  const scene = sceneOf(template.parts, template)
  const [left, right] = [scene.layout({}), scene.layout({ side: 'right' })]
  expect(boxOf(left.rest, 0).x).toBe(96)
  const [name, plate] = [boxOf(right.rest, 0), boxOf(right.rest, 1)]
  expect(name.x + name.width).toBeCloseTo(1824, 6)
  expect(plate.x + plate.width).toBeCloseTo(1844, 6)
  expect([styleOf(left.content, 1, 'box').fill, styleOf(right.content, 1, 'box').fill]).toEqual(['#12343b', '#ff0000'])
  // The same choices are the same drawing, and the template itself is what it was.
  expect(variantOf(template, { side: 'right' })).toBe(variantOf(template, { side: 'right', other: 1 }))
  expect(variantOf(template, {}).parts).toBe(template.parts)
})

test('an option that ties parts in a ring, or sets what cannot be, is refused', () => {
  const ring = axis([tie('start', to('plate'), 'start')])
  expect(() => sided([{ part: 'name', property: 'x', value: ring }])).toThrow('in a ring: ')
  expect(() => sided([{ part: 'gone', property: 'fill', value: '#ffffff' }])).toThrow(
    'the part "gone", which is not there',
  )
  expect(() => sided([{ part: 'name', property: 'size', value: 'big' }])).toThrow(
    'Field "Side" (side), option "Right" (right): sets.2.value must be a number from 1 to 2000 (px)',
  )
  expect(() => sided([{ part: 'name', property: 'x', value: axis([tie('start', to('gone'), 'end')]) }])).toThrow(
    'a tie of "name" to "gone"',
  )
})

test('a part that goes takes its settings along, and the ties to it that options make', () => {
  const template = sided([{ part: 'plate', property: 'x', value: axis([tie('start', to('name'), 'end')], fixed(9)) }])
  const after = edit(template, { kind: 'removePart', part: 'name' })
  expect(after.fields[0]!.options![1]!.sets).toEqual([{ part: 'plate', property: 'fill', value: '#ff0000' }])
})

test('options that move parts meet in every way, up to 256', () => {
  const template = sided()
  expect(placedVariants(template)).toHaveLength(2)
  const many = {
    ...template.fields[0]!,
    options: Array.from({ length: 17 }, (_, i) => ({ ...template.fields[0]!.options![1]!, value: `o${i}` })),
  }
  const twice = { ...template, fields: [many, { ...many, id: 'other', key: 'other' }] }
  expect(placedVariants(twice)).toBeUndefined()
  expect(() => edit(twice, { kind: 'info', note: 'x' })).toThrow('meet in more than 256 ways')
})

test('a shift moves a part from where its ties put it, and what is tied to it goes along', () => {
  const template = exposed(
    templateOf([
      text('name', 'Maren', axis([tie('start', { region: 'title' }, 'start')])),
      box('bar', axis([tie('start', to('name'), 'end', 10)], fixed(5))),
    ]),
    'name',
    'shiftX',
  )
  const scene = sceneOf(template.parts, template)
  const { key, reach } = template.fields[0]!
  expect(reach).toEqual({ x: [-200, 200], y: [-200, 200] })
  fc.assert(
    fc.property(fc.integer({ min: -200, max: 200 }), fc.integer({ min: -200, max: 200 }), (x, y) => {
      const [at, moved] = [scene.layout({}).rest, scene.layout({ [key]: { x, y } }).rest]
      for (const i of [0, 1]) expect(moved.start[0][i]! - at.start[0][i]!).toBeCloseTo(x, 6)
      expect(moved.start[1][0]! - at.start[1][0]!).toBeCloseTo(y, 6)
      expect(moved.start[1][1]).toBe(at.start[1][1])
    }),
    { numRuns: 30 },
  )
})
