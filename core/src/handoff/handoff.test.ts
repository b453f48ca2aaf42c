import fc from 'fast-check'
import { Looks } from '../data/index.ts'
import type { Scene } from '../scene/index.ts'
import {
  edit,
  expose,
  type Field,
  findPart,
  newLanguage,
  newPart,
  type Part,
  readTemplate,
  type Template,
} from '../template/index.ts'
import { axis, box, field, fixed, text, tie, to } from '../testing/parts.ts'
import { resources } from '../testing/raster.ts'
import { sceneOf, speaker, templateOf } from '../testing/speaker.ts'
import { adviceOn, differenceOf, longestHeld, moveMatch } from './index.ts'

const looks = new Looks(resources)
const advise = (scene: Scene) => adviceOn(scene, looks)
const at = (place: number, size: number) => axis([], fixed(size), { place })
const nameField = (more: Partial<Field> = {}) =>
  field({ id: 'f1', key: 'name', name: 'Name', default: 'Maren', limit: 10, onAir: true, ...more })

describe('advice', () => {
  const shown = (parts: Part[], fields: Field[], more: Partial<Template> = {}) =>
    advise(sceneOf(parts, { fields, poster: { frame: 20, values: {} }, ...more }))
  const name = (room: number, style: object = {}) =>
    text(
      'name',
      '',
      axis([], undefined, { place: 100 }),
      { content: [{ field: 'f1' }], size: 40, ...style },
      { y: at(500, 60), room: { kind: 'width', value: room } },
    )

  test('the demo template needs none, and a poor one gets a sentence for each flaw', () => {
    expect(advise(sceneOf(speaker.parts, speaker)).map((a) => a.message)).toEqual([])
    const codes = shown([name(400)], [nameField({ name: 'text 1', limit: undefined as never })]).map((a) => a.code)
    expect(codes).toEqual(['name', 'limit.none'])
  })

  test('a limit that the layout cannot hold is found by filling it, and what it holds really fits', () => {
    fc.assert(
      fc.property(fc.integer({ min: 150, max: 900 }), (room) => {
        const scene = sceneOf([name(room)], { fields: [nameField({ limit: 80 })], poster: { frame: 20, values: {} } })
        const held = longestHeld(scene, scene.template.fields[0]!, 80)
        const advice = advise(scene).find((a) => a.code.startsWith('limit'))
        if (held < 80) {
          expect(advice).toMatchObject({ code: 'limit.wide', fix: { words: `Limit it to ${held}` } })
          const better = edit(scene.template, advice!.fix!.change)
          expect(advise(sceneOf(better.parts, better)).some((a) => a.code.startsWith('limit'))).toBe(false)
        } else expect(advice).toBeUndefined()
      }),
      { numRuns: 12 },
    )
  })

  test('a field that changes nothing is told from one that does', () => {
    const parts = [name(900), box('bar', at(0, 50), at(0, 50), { fill: '#00ff00' })]
    const colour = (property: 'fill' | 'stroke') =>
      nameField({
        id: 'f2',
        key: 'c',
        name: 'Bar',
        type: 'colour',
        free: true,
        default: '#00ff00',
        targets: [{ part: 'bar', property }],
      })
    const effects = (fields: Field[]) =>
      shown(parts, fields)
        .filter((a) => a.code === 'effect')
        .map((a) => a.field)
    expect(effects([nameField({}), colour('fill')])).toEqual([])
    // A stroke of no width has no colour that anybody sees.
    expect(effects([nameField({}), colour('stroke')])).toEqual(['f2'])
    expect(effects([nameField({}), nameField({ id: 'f3', key: 'x', name: 'Nothing' })])).toEqual(['f3'])
    // The language of the title drives no part; all that is written goes by it.
    expect(effects([nameField({}), { ...newLanguage(templateOf([])), id: 'f2' }])).toEqual([])
  })

  test('every kind of field that is exposed has an effect', () => {
    const parts: Part[] = [
      name(900),
      newPart('curve', 'curve', 'Curve'),
      { ...newPart('picture', 'pic', 'Pic'), style: { picture: 'eel.png' } } as Part,
    ]
    let template = templateOf(parts, { fields: [nameField({})] })
    for (const [part, key] of [
      ['curve', 'values'],
      ['curve', 'visible'],
      ['curve', 'line'],
      ['pic', 'picture'],
      ['name', 'size'],
      ['name', 'shiftX'],
      ['name', 'colour'],
      ['name', 'opacity'],
    ] as const)
      template = edit(template, expose(template, part, key).change)
    const advice = advise(sceneOf(template.parts, template))
    expect(advice.filter((a) => a.code === 'effect').map((a) => a.message)).toEqual([])
  })

  test('thirteen fields, an empty poster, a long In and a trembling crawl are spoken of', () => {
    const many = Array.from({ length: 13 }, (_, i) =>
      nameField({ id: `f${i + 1}`, key: `k${i}`, name: `Line ${i} of many` }),
    )
    const parts = [name(900, { crawl: 60, content: [{ field: 'f1' }] })]
    const codes = shown(parts, many, {
      poster: { frame: 0, values: { k0: '' } },
      spans: { in: 40, out: 10, hold: { frames: 20, gives: 'freeze' } },
    }).map((a) => a.code)
    for (const code of ['many', 'poster', 'in', 'crawl']) expect(codes).toContain(code)
  })

  test('a text too pale for its plate is named with both colours', () => {
    const plate = box('plate', at(50, 900), at(480, 120), { fill: '#dddddd' })
    const advice = shown([plate, name(700)], [nameField({})]).find((a) => a.code === 'contrast')
    expect(advice).toMatchObject({ part: 'name', message: expect.stringContaining('#ffffff on #dddddd') })
  })
})

describe('difference', () => {
  const words = (before: Template, after: Template) => differenceOf(before, after).map((d) => d.sentence)

  test('nothing differs from itself', () => {
    expect(differenceOf(speaker, structuredClone(speaker))).toEqual([])
  })

  test('ties, styles, motion, fields and colours are told in words', () => {
    const plate = speaker.parts.find((part) => part.id === 'plate')!
    let after = edit(speaker, {
      kind: 'axis',
      part: 'plate',
      axis: 'x',
      value: { ...plate.x, ties: plate.x.ties.map((one, i) => (i === 1 ? { ...one, gap: one.gap + 14 } : one)) },
    })
    const name = findPart(speaker, 'name')!
    after = edit(after, { kind: 'style', part: 'name', key: 'size', value: 60 })
    after = edit(after, { kind: 'motion', part: 'name', motion: { ...name.motion, tracks: {}, out: 'own' } })
    after = edit(after, { kind: 'field', field: { ...after.fields[0]!, limit: 30 } })
    after = edit(after, {
      kind: 'palette',
      palette: after.palette.map((p) => (p.id === 'night' ? { ...p, colour: '#000000' } : p)),
    })
    after = edit(after, { kind: 'addPart', part: newPart('ellipse', 'dot', 'Dot') })
    const said = words(speaker, after)
    expect(said).toContain('Dot (ellipse) is new')
    expect(said).toContain('Name, limit: 40 → 30')
    expect(said.some((s) => /^Right of Plate: .* → right of .* \+ 60$/.test(s))).toBe(true)
    expect(said.some((s) => /^Size of Name: [\d.]+ px → 60 px$/.test(s))).toBe(true)
    expect(said).toContain('Out of Name has keys of its own')
    expect(said.some((s) => s.startsWith('The colour ') && s.endsWith('→ #000000'))).toBe(true)
  })

  test('gone parts and fields, another order, a renamed key', () => {
    let after = edit(speaker, { kind: 'removePart', part: 'mark' })
    after = edit(after, { kind: 'removeField', field: 'mark' })
    after = edit(after, { kind: 'field', field: { ...after.fields[0]!, key: 'who' } })
    after = edit(after, { kind: 'orderFields', ids: after.fields.map((f) => f.id).reverse() })
    const said = words(speaker, after)
    expect(said).toContain('Mark (picture) is gone')
    expect(said).toContain('The field Mark is gone')
    expect(said).toContain('Name, key: "name" → "who"')
    expect(said).toContain('The order of the fields is another')
  })

  test('every change of the style is told, one sentence each, with its part', () => {
    const before = templateOf([box('a', at(0, 10))])
    for (const [key, value] of [
      ['opacity', 0.5],
      ['fill', 'palette:amber'],
      ['shadows', [{ x: 0, y: 1, blur: 2, colour: '#000000' }]],
      ['radiusTopLeft', 4],
    ] as const) {
      const found = differenceOf(before, edit(before, { kind: 'style', part: 'a', key, value }))
      expect(found).toEqual([{ about: 'style', part: 'a', sentence: expect.stringContaining(' of a') }])
    }
    const tied = templateOf([box('a', at(0, 10)), box('b', axis([tie('start', to('a'), 'end', 5)], fixed(10)))])
    const moving = edit(tied, {
      kind: 'axis',
      part: 'b',
      axis: 'x',
      value: axis([tie('start', to('a'), 'end', 5, { follow: 'moving' })], fixed(10)),
    })
    expect(words(tied, moving)).toHaveLength(1)
  })
})

test('a sheet goes over to another version by its fields, then by their keys; what is lost is named', () => {
  const before = templateOf([], {
    fields: [
      nameField({ id: 'a', key: 'name', name: 'Name' }),
      nameField({ id: 'b', key: 'role', name: 'Role' }),
      nameField({ id: 'c', key: 'mark', name: 'Mark', type: 'picture' }),
      nameField({ id: 'd', key: 'side', name: 'Side' }),
    ],
  })
  const after = templateOf([], {
    fields: [
      nameField({ id: 'a', key: 'who', name: 'Who' }),
      nameField({ id: 'x', key: 'role', name: 'Role' }),
      nameField({ id: 'c', key: 'mark', name: 'Mark' }),
      nameField({ id: 'n', key: 'new', name: 'New' }),
    ],
  })
  const moving = moveMatch(before, after, { name: 'Full name', role: 'Job', mark: 'File' })
  expect(moving.match).toEqual({ who: 'Full name', role: 'Job' })
  expect(moving.kept.map(({ from, to: now }) => `${from.key}>${now.key}`)).toEqual(['name>who', 'role>role'])
  expect(moving.lost.map((f) => f.key)).toEqual(['mark'])
  expect(moving.fresh.map((f) => f.key)).toEqual(['mark', 'new'])
})

test('checks that weigh something else are told when versions are compared, and hold to the list of checks', () => {
  const after = edit(speaker, { kind: 'levels', levels: { quotes: 'stop', reading: 'off' } })
  expect(differenceOf(speaker, after).map(({ sentence }) => sentence)).toEqual([
    'The check "Too short to read" weighs off instead of look',
    'The check "Straight quotation marks" weighs stop instead of look',
  ])
  expect(differenceOf(after, after)).toEqual([])
  expect(() => readTemplate({ ...after, levels: { spelling: 'stop' } })).toThrow('levels has no "spelling"')
  expect(() => readTemplate({ ...after, levels: { quotes: 'loud' } })).toThrow('levels')
  expect(readTemplate(JSON.parse(JSON.stringify(after))).levels).toEqual({ quotes: 'stop', reading: 'off' })
})

describe('what a look at the drawing says', () => {
  const words = text(
    'name',
    'Maren',
    axis([], undefined, { place: 300 }),
    { size: 60 },
    { y: axis([], undefined, { place: 500 }) },
  )
  const plate = box('plate', at(260, 600), at(460, 200), { fill: '#204060' })

  test('what lies over a text is named, and put behind it by the way out', () => {
    const scene = sceneOf([words, plate])
    const found = advise(scene).find(({ code }) => code === 'seen')!
    expect(found.message).toBe('As drawn: name is not seen: plate lies over it.')
    expect(found.fix!.words).toBe('Put plate behind name')
    const after = sceneOf(edit(scene.template, found.fix!.change).parts)
    expect(after.template.parts.map(({ id }) => id)).toEqual(['plate', 'name'])
    expect(advise(after).some(({ code }) => code === 'seen')).toBe(false)
  })

  test('what may stay unseen is told with why, and nothing else about it', () => {
    const parts = [{ ...words, unseen: 'It is read by a machine.' } as Part, plate]
    expect(advise(sceneOf(parts)).filter(({ part }) => part === 'name')).toEqual([
      { code: 'unseen', part: 'name', message: 'name may stay unseen: It is read by a machine.' },
    ])
  })

  test('keys that never play are told', () => {
    const held = { span: 'hold' as const, at: 5, value: 0, ease: 'linear' as const }
    const parts = [plate, { ...words, motion: { ...words.motion, tracks: { fade: { keys: [held] } } } } as Part]
    expect(advise(sceneOf(parts)).find(({ code }) => code === 'keys')?.message).toMatch(
      /^One key of name, fade, never plays: Hold is frozen/,
    )
  })
})
