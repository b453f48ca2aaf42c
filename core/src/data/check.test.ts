import fc from 'fast-check'
import { Scene } from '../scene/index.ts'
import { type Field, newShape, type Part, type Template } from '../template/index.ts'
import { axis, box, field, fixed, part, text, tie, to } from '../testing/parts.ts'
import { assets, sceneOf, speaker, templateOf } from '../testing/speaker.ts'
import { cellsOf, checkLayout, checkRow, inThatShape, readCell, refuseFieldValue, stateOf, valuesOf } from './index.ts'

const codes = (parts: Part[]) => {
  const scene = sceneOf(parts)
  return checkLayout(scene, scene.layout({}), scene.timing(scene.layout({}))).map(
    (f) => `${f.part} ${f.level} ${f.code}`,
  )
}

test('a box drawn outside action-safe is meant so, a text outside title-safe is stopped, a matte is not', () => {
  const far = (kind: 'box' | 'text', style = {}) => [
    kind === 'box'
      ? box('a', axis([], fixed(100), { place: 1850 }), axis([], fixed(20), { place: 500 }), style)
      : part(
          'text',
          'a',
          axis([], { kind: 'content' }, { place: 1800 }),
          axis([], { kind: 'content' }, { place: 500 }),
          { content: [{ text: 'Tide' }], font: 'semibold', ...style },
        ),
  ]
  expect(codes(far('box'))).toEqual([])
  expect(codes(far('text'))).toEqual(['a stop safe.title'])
  expect(codes(far('box', { matteOnly: true }))).toEqual([])
  expect(codes(far('box', { visible: false }))).toEqual([])
})

test('what a row brings out of action-safe is looked at on the sides on which it was drawn within', () => {
  // Drawn out of the frame on the left, and as far on the right as the words go.
  const strip = (words: string) => {
    const own = text(
      't',
      words,
      axis([], undefined, { place: 1500 }),
      { size: 60 },
      { y: axis([], undefined, { place: 500 }) },
    )
    const bar = box(
      'bar',
      axis([tie('start', { region: 'frame' }, 'start', -20), tie('end', to('t'), 'end', 40)]),
      axis([], fixed(80), { place: 490 }),
      { fill: '#204060' },
    )
    const name = field({ id: 'n', key: 'n', name: 'N', default: words })
    const part = { ...own, style: { ...own.style, content: [{ field: 'n' }] } } as Part
    return sceneOf([bar, part], { fields: [name] })
  }
  const of = (scene: Scene, words: string) =>
    checkRow(scene, { n: 'n' }, { cells: { n: words } }, 1).findings.filter(({ part: id }) => id === 'bar')
  const inside = strip('Tide')
  expect(of(inside, 'Tide')).toEqual([])
  const far = of(inside, 'Tide tables of all rivers')
  const { rest } = inside.layout({ n: 'Tide tables of all rivers' })
  const end = rest.start[0][rest.order.index.get('bar')!]! + rest.size[0][rest.order.index.get('bar')!]!
  const past = Math.ceil(end - (1920 - 1920 * 0.035))
  expect(past).toBeGreaterThan(0)
  expect(far.map(({ message }) => message)).toEqual([`bar stands ${past} px outside action-safe.`])
  // Drawn past it on both sides, it is told where it goes further.
  const out = strip('Tide tables of')
  expect(of(out, 'Tide tables of')).toEqual([])
  expect(of(out, 'Tide')).toEqual([])
  expect(of(out, 'Tide tables of all')).toHaveLength(1)
})

test('a row is looked at in every shape of the frame: what is wrong in some alone says in which', () => {
  const at = (id: string, x: number, y: number) =>
    text(id, 'Tide', axis([], undefined, { place: x }), {}, { y: axis([], undefined, { place: y }) })
  const bar = at('a', 1020, 500)
  const off = at('b', 500, 5000)
  const plain = templateOf([bar, off])
  const upright = { ...newShape(plain, { width: 1080, height: 1920 }), sets: [] }
  const scene = new Scene({ ...plain, shapes: [upright] }, assets)
  const found = checkRow(scene, {}, { cells: {} }, 1).findings
  expect(found.map(({ part, shape, message }) => [part, shape, message.slice(0, 8)])).toEqual([
    ['b', 'first', 'In 16:9:'],
    ['a', '9x16', 'In 9:16:'],
    ['b', '9x16', 'In 9:16:'],
  ])
  expect(inThatShape(found, 'first').map(({ part }) => part)).toEqual(['b'])
  expect(checkRow(scene.inShape('9x16'), {}, { cells: {} }, 1).findings.map(({ message }) => message)).toEqual(
    inThatShape(found, '9x16').map(({ message }) => message.replace('In 9:16: ', '')),
  )
})

test('ties that cross are told', () => {
  const crossed = box(
    'b',
    axis([tie('start', to('a'), 'end', 50), tie('end', to('a'), 'start', -50)]),
    axis([], fixed(10), { place: 400 }),
  )
  expect(codes([box('a', axis([], fixed(100), { place: 500 }), axis([], fixed(10), { place: 400 })), crossed])).toEqual(
    ['b look layout.inside-out'],
  )
})

test('a finding names the field that its part shows', () => {
  const scene = new Scene(speaker, assets)
  const { findings } = checkRow(scene, { name: 'n', mark: 'm' }, { cells: { n: 'Io \u{1319D}', m: 'nowhere.png' } }, 4)
  expect(findings).toContainEqual(expect.objectContaining({ row: 4, field: 'name', part: 'name', code: 'missing' }))
  expect(findings).toContainEqual(expect.objectContaining({ row: 4, field: 'mark', part: 'mark', code: 'picture' }))
})

test('where a picture is not there, the one that its field has for that stands, and it is said', () => {
  const given = (more: Partial<Field>) =>
    new Scene(
      { ...speaker, fields: speaker.fields.map((own) => (own.key === 'mark' ? { ...own, ...more } : own)) },
      assets,
    )
  const row = { cells: { n: 'Io', r: 'Pilot', m: 'nowhere.png' } }
  const match = { name: 'n', role: 'r', mark: 'm' }
  const other = speaker.media[1]!.name
  const { findings, layout } = checkRow(given({ fallback: other }), match, row, 1)
  expect(findings.map(({ level, code, field }) => [level, code, field])).toEqual([['look', 'picture.fallback', 'mark']])
  const scene = given({ fallback: other })
  expect(layout.content.styles).toEqual(scene.layout({ ...layout.values, mark: other }).content.styles)
  expect(stateOf(checkRow(given({ fallback: 'no.png' }), match, row, 1).findings)).toBe('stop')
  expect(checkRow(scene, match, { cells: { n: 'Io', r: 'Pilot', m: other } }, 1).findings).toEqual([])
})

test('the worst finding is the state of its row', () => {
  expect([stateOf([]), stateOf([{ level: 'look' }]), stateOf([{ level: 'look' }, { level: 'stop' }])]).toEqual([
    'fine',
    'look',
    'stop',
  ])
})

const withFields = (fields: Partial<Field>[]): Template => ({
  ...speaker,
  fields: fields.map((f, i) => field({ id: `f${i}`, key: `f${i}`, name: `F${i}`, ...f })),
})

test('an empty cell is an empty text, and "as designed" of anything else; a column that is not there says nothing', () => {
  const template = withFields([
    { key: 'a' },
    { key: 'b', type: 'number', default: 7 },
    { key: 'c', type: 'switch', default: true },
  ])
  const match = { a: 'a', b: 'b', c: 'c' }
  expect(valuesOf(template, match, { cells: { a: '', b: '', c: '' } })).toEqual({ values: { a: '' }, problems: [] })
  expect(valuesOf(template, {}, { cells: { a: 'x' } })).toEqual({ values: {}, problems: [] })
  expect(valuesOf(template, match, { cells: { a: 'x', b: '2', c: 'no' } }).values).toEqual({ a: 'x', b: 2, c: false })
})

test('numbers are read with comma or point, and hold their range', () => {
  const field = withFields([{ type: 'number', min: -5, max: 5 }]).fields[0]!
  fc.assert(
    fc.property(
      fc.double({ min: -9, max: 9, noNaN: true }).map((n) => Math.round(n * 100) / 100 || 0),
      fc.boolean(),
      (n, comma) => {
        const read = readCell(speaker, field, comma ? String(n).replace('.', ',') : String(n))
        expect(read).toBe(n)
        expect(refuseFieldValue(speaker, field, read) === undefined).toBe(n >= -5 && n <= 5)
      },
    ),
  )
})

test('a row’s cells are told by their column', () => {
  expect(
    cellsOf(
      {
        columns: ['a', 'b'],
        rows: [
          ['1', '2'],
          ['3', ''],
        ],
      },
      1,
    ),
  ).toEqual({ a: '3', b: '' })
  expect(cellsOf({ columns: ['a'], rows: [] }, 0)).toEqual({ a: '' })
})

test('a text that only just fits is fine; one pixel less begins its first step', () => {
  const words = text('a', 'Salt-marsh ecologist', axis([], { kind: 'content' }, { place: 200 }), {
    fit: [{ step: 'shrink', to: 0.5 }],
  })
  words.y = axis([], { kind: 'content' }, { place: 400 })
  const scene = sceneOf([words])
  const natural = scene.layout({}).blocks[0]!.fit.natural
  const at = (value: number) => {
    const own = sceneOf([{ ...words, room: { kind: 'width', value } } as Part])
    return own.layout({}).blocks[0]!.fit
  }
  expect(at(natural).steps).toEqual([])
  expect(at(natural - 1).steps.map((s) => s.step)).toEqual(['shrink'])
  expect(at(natural - 1).overflow).toBe(0)
})

test('a missing character is named with the family that has it, where one is known', () => {
  const told = (familyWith?: (codePoint: number) => string | undefined) => {
    const own = new Scene(speaker, { ...assets, ...(familyWith ? { familyWith } : {}) })
    const { findings } = checkRow(own, { name: 'n' }, { cells: { n: 'Io \u{1319D}\u2d30' } }, 1)
    return findings.find(({ code }) => code === 'missing')!.message
  }
  const words = 'Name has characters that no font of the template has: U+1319D, U+2D30'
  expect(told()).toBe(`${words}; change it or add a font.`)
  expect(told(() => undefined)).toBe(`${words}; no font that Hoja knows has it, so change it or bring one that does.`)
  expect(told(() => 'Noto Sans')).toBe(`${words}; Noto Sans has it: change it, or have that font added in Draft.`)
  expect(told((point) => (point === 0x2d30 ? 'Noto Sans' : undefined))).toContain('Noto Sans has some of it')
})

test('colours are judged where the row chose them, not where they are the design’s', () => {
  const plate = box('plate', axis([], fixed(600)), axis([], fixed(200)), { fill: '#ffffff' })
  const words = text(
    't',
    'Io',
    axis([], undefined, { place: 40 }),
    { colour: '#eeeeee' },
    {
      y: axis([], undefined, { place: 60 }),
    },
  )
  const colour = field({
    key: 'c',
    name: 'C',
    type: 'colour',
    free: true,
    default: '#ffffff',
    targets: [{ part: 'plate', property: 'fill' }],
  })
  const own = sceneOf([plate, words], { fields: [colour] })
  const codes = (c: string) => checkRow(own, { c: 'c' }, { cells: { c } }, 1).findings.map(({ code }) => code)
  // As designed it hardly shows, and that is said in Hand-off.
  expect(codes('')).not.toContain('contrast')
  expect(codes('#ffffff')).not.toContain('contrast')
  expect(codes('#dddddd')).toContain('contrast')
  expect(codes('#000000')).not.toContain('contrast')
})

test('a fit step from nine tenths on is looked at; at its bound, with none behind it, it stops; lines may all be taken', () => {
  const words = 'Maximiliana Theodora'
  const set = (room: number, fit: object[]) => {
    const own = text(
      't',
      words,
      axis([], undefined, { place: 200 }),
      { size: 60, fit },
      {
        y: axis([], undefined, { place: 400 }),
        room: { kind: 'width', value: room },
      },
    )
    const scene = sceneOf([own])
    return checkLayout(scene, scene.layout({}), scene.timing(scene.layout({})))
      .filter(({ code }) => code.startsWith('fit') || code === 'overflow')
      .map(({ level, code }) => `${level} ${code}`)
  }
  const free = sceneOf([text('t', words, axis([]), { size: 60 })]).layout({}).blocks[0]!.fit.width
  const shrink = [{ step: 'shrink', to: 0.5 }]
  expect(set(free * 0.6, shrink)).toEqual([])
  expect(set(free * 0.53, shrink)).toEqual(['look fit.shrink'])
  expect(set(free * 0.5 + 0.001, shrink)).toEqual(['stop fit.shrink'])
  expect(set(free * 0.4, shrink)).toEqual(['stop overflow'])
  // Another step stands behind it: its end is the other's beginning.
  expect(set(free * 0.6, [{ step: 'condense', to: 0.9 }, ...shrink])).toEqual(['look fit.condense'])
  expect(set(free * 0.8, [{ step: 'wrap', to: 2 }])).toEqual(['look fit.wrap'])
})
