import { readdirSync, readFileSync } from 'node:fs'
import { Ajv2020 } from 'ajv/dist/2020.js'
import fc from 'fast-check'
import { Refusal } from '../refusal/index.ts'
import { axis, box, fixed, text, tie, to } from '../testing/parts.ts'
import { speaker, templateOf } from '../testing/speaker.ts'
import {
  allParts,
  edit,
  freeId,
  migrate,
  newPart,
  newTemplate,
  numberedParts,
  type Part,
  partKinds,
  propertiesOf,
  readTemplate,
  refuseValue,
  stillMotion,
  type Template,
  templateJsonSchema,
} from './index.ts'

const demoFolder = new URL('../../../demo/templates/', import.meta.url)
const demoTemplates = readdirSync(demoFolder).map(
  (name) => JSON.parse(readFileSync(new URL(`${name}/template.json`, demoFolder), 'utf8')) as Template,
)

type Json = Record<string, unknown>
const plain = (template: Template) => JSON.parse(JSON.stringify(template))

test('the published JSON Schema is the one the registry gives; demo and new templates hold to it (ajv, JSON Schema 2020-12)', () => {
  const published = JSON.parse(readFileSync(new URL('../../../docs/template.schema.json', import.meta.url), 'utf8'))
  expect(published).toEqual(JSON.parse(JSON.stringify(templateJsonSchema())))
  const validate = new Ajv2020({ strict: false }).compile(published)
  for (const template of [
    ...demoTemplates,
    newTemplate('t', 'T'),
    templateOf(partKinds.map((kind) => newPart(kind, kind, kind))),
  ]) {
    expect(validate(plain(template))).toBe(true)
    expect(() => readTemplate(plain(template))).not.toThrow()
  }
})

test('both schemas refuse the same broken documents', () => {
  const validate = new Ajv2020({ strict: false }).compile(templateJsonSchema())
  const broken: ((t: Record<string, never> & Template) => void)[] = [
    (t) => Object.assign(t.frame, { width: 'wide' }),
    (t) => Object.assign(t.spans, { in: -1 }),
    (t) => Object.assign(t.parts[0]!, { kind: 'blob' }),
    (t) => Object.assign(t.parts[0]!.style, { opacity: 7 }),
    (t) => Object.assign(t.palette[0]!, { colour: 'red' }),
    (t) => Object.assign(t.fields[0]!, { key: 'Name!' }),
    (t) => Object.assign(t.parts[0]!.x.ties[0]!, { at: 'left' }),
    (t) => Object.assign(t.fonts[0]!, { sha256: 'x' }),
    (t) => Object.assign(t.parts[0]!.style, { fill: { kind: 'linear', angle: 0, stops: [] } }),
    (t) => Reflect.deleteProperty(t, 'parts'),
  ]
  for (const spoil of broken) {
    const document = plain(speaker)
    spoil(document)
    expect(validate(document)).toBe(false)
    expect(() => readTemplate(document)).toThrow(/^template\.json is not right: .+\.$/)
  }
})

/** One part of every kind, the text's words moving one by one, in a group. */
const rich = templateOf([
  ...partKinds.map((kind) => newPart(kind, kind, kind)),
  {
    ...newPart('group', 'holder', 'Holder'),
    parts: [
      text(
        'words',
        'Tide',
        axis([]),
        { size: 40 },
        {
          motion: {
            ...stillMotion(),
            segments: { by: 'word', order: 'random', seed: 3, overlap: 0.5, tracks: { fade: { keys: [] } } },
          },
        },
      ),
    ],
  } as Part,
])

/** Every place of a document, as the keys that lead there. */
function placesOf(value: unknown, path: string[] = []): string[][] {
  if (typeof value !== 'object' || value === null) return [path]
  return [path, ...Object.entries(value).flatMap(([key, one]) => placesOf(one, [...path, key]))]
}

test('whatever stands in whatever place, a document is read or refused in a sentence, and nothing else', () => {
  const documents: Json[] = [speaker, rich, { ...speaker, levels: { overflow: 'look' as const } }].map(plain)
  const strange = [-1, '', 'x', true, null, [], {}, [null], [[-1]], { kind: 7 }, { keys: 3 }]
  let read = 0
  let refused = 0
  for (const document of documents)
    for (const [place, path] of placesOf(document).slice(1).entries()) {
      const holder = path.slice(0, -1).reduce((at, key) => at[key] as Json, document)
      const last = path.at(-1)!
      const was = holder[last]
      for (const value of [strange[place % strange.length], strange[(place + 3) % strange.length]]) {
        holder[last] = value
        try {
          readTemplate(document)
          read++
        } catch (error) {
          if (!(error instanceof Refusal)) throw new Error(`${path.join('.')} = ${JSON.stringify(value)}: ${error}`)
          expect(error.message).toMatch(/[.?]$/)
          refused++
        }
      }
      holder[last] = was
    }
  expect(read).toBeGreaterThan(100)
  expect(refused).toBeGreaterThan(1000)
})

test('what a document names must be there', () => {
  const spoil = (change: (t: Template) => void) => {
    const document = plain(speaker)
    change(document)
    return () => readTemplate(document)
  }
  expect(spoil((t) => Object.assign(t.parts[0]!.x.ties[0]!.to, { parts: ['nobody'] }))).toThrow(
    'is tied to "nobody", which is not there',
  )
  expect(spoil((t) => Object.assign(t.parts[1]!, { id: 'plate' }))).toThrow('Two parts have the id "plate"')
  expect(spoil((t) => Object.assign(t.fields[1]!, { key: 'name' }))).toThrow('Two fields have the key "name"')
  expect(spoil((t) => Object.assign(t.fields[2]!.targets[0]!, { part: 'gone' }))).toThrow(
    'drives the part "gone", which is not there',
  )
  expect(spoil((t) => Object.assign(t.fields[2]!, { type: 'number', default: 1 }))).toThrow('cannot drive "picture"')
  expect(spoil((t) => Object.assign(t.parts[1]!.x.ties[0]!, { to: { parts: ['plate'] } }))).toThrow('in a ring: ')
  expect(spoil((t) => t.fallbacks.push('none'))).toThrow('fallback font "none"')
  expect(spoil((t) => t.fields.splice(0, 1))).toThrow('shows the field "name", which is not there')
})

/** What is called otherwise since schema 5, as it was called before, at any depth. */
const named4 = (value: unknown): unknown =>
  JSON.parse(JSON.stringify(value), (_, own) => {
    if (typeof own !== 'object' || own === null || Array.isArray(own)) return own
    const before = (key: string, one: unknown) =>
      key === 'segments' ? 'units' : key === 'style' && typeof one === 'object' ? 'look' : key
    return Object.fromEntries(Object.entries(own).map(([key, one]) => [before(key, one), one]))
  })

test('a document of schema 4 is read: its looks are styles, its units segments, inside groups too, in any document', () => {
  for (const document of [speaker, rich].map(plain)) {
    const old = named4({ ...document, schema: 4 })
    expect(JSON.stringify(old)).toContain('"look":')
    expect(readTemplate(old)).toEqual(readTemplate(document))
    expect(JSON.stringify(readTemplate(old))).toBe(JSON.stringify(readTemplate(document)))
  }
  expect(JSON.stringify(rich)).toContain('"segments":')
})

test('a document of schema 1 is read: its shadows become lists, inside groups too', () => {
  const old = named4(plain({ ...speaker, guides: undefined } as unknown as Template)) as { parts: object[] }
  const shadow = { x: 1, y: 2, blur: 3, colour: '#000000' }
  const first = named4(newPart('box', 'old1', 'Old')) as object
  const group = {
    ...(named4(newPart('group', 'old2', 'Old group')) as object),
    parts: [{ ...first, look: { shadow, fill: '#ffffff' } }],
  }
  const read = readTemplate({
    ...old,
    schema: 1,
    parts: [...old.parts, group, { ...first, id: 'old3', look: { shadow: null } }],
  })
  expect(read.schema).toBe(5)
  expect(read.guides).toEqual([])
  const made = allParts(read.parts)
  expect(made.find((part) => part.id === 'old1')!.style).toEqual({ shadows: [shadow], fill: '#ffffff' })
  expect(made.find((part) => part.id === 'old3')!.style).toEqual({})
})

test('a document of schema 2 is read: an option of a choice sets what it set, colours stay as free as they were', () => {
  const { tags: _, comments: __, sounds: ___, ...old } = plain(speaker)
  const field = { ...old.fields[0], targets: [] as object[] }
  const read = readTemplate({
    ...old,
    schema: 2,
    fields: [
      ...old.fields,
      {
        ...field,
        id: 'side',
        key: 'side',
        type: 'choice',
        default: 'end',
        options: ['start', 'end'],
        targets: [{ part: 'name', property: 'align' }],
      },
      { ...field, id: 'tint', key: 'tint', type: 'colour', default: '#ff0000', targets: [] },
    ],
  })
  expect([read.schema, read.tags, read.comments, read.sounds]).toEqual([5, [], [], []])
  expect(read.fields.find((f) => f.id === 'side')).toMatchObject({
    targets: [],
    options: [
      { value: 'start', name: 'start', sets: [{ part: 'name', property: 'align', value: 'start' }] },
      { value: 'end', name: 'end', sets: [{ part: 'name', property: 'align', value: 'end' }] },
    ],
  })
  expect(read.fields.find((f) => f.id === 'tint')?.free).toBe(true)
})

test('newer documents are refused, documents without a schema too', () => {
  expect(() => migrate({ ...plain(speaker), schema: 6 })).toThrow('newer Hoja (schema 6, this one reads up to 5)')
  expect(() => migrate({ name: 'x' })).toThrow('no schema number')
  expect(() => migrate([])).toThrow('does not hold a template')
})

test('every property of the registry has a default that may stand in it', () => {
  for (const kind of partKinds)
    for (const [key, property] of propertiesOf(kind)) expect(refuseValue(kind, key, property.default)).toBeUndefined()
  expect(refuseValue('box', 'opacity', 2)).toContain('Opacity must be a number from 0 to 1')
  expect(refuseValue('box', 'content', [])).toBe('a box has no content')
})

test('edits are values: the old template stays, what did not change is shared', () => {
  const next = edit(speaker, { kind: 'style', part: 'plate', key: 'radiusTopLeft', value: 8 })
  expect(speaker.parts[0]!.style).not.toHaveProperty('radiusTopLeft')
  expect(next.parts[0]!.style).toHaveProperty('radiusTopLeft', 8)
  expect(next.parts[1]).toBe(speaker.parts[1])
  expect(next.fields).toBe(speaker.fields)
  expect(edit(next, { kind: 'style', part: 'plate', key: 'radiusTopLeft', value: undefined })).toEqual(speaker)
  expect(() => edit(speaker, { kind: 'style', part: 'plate', key: 'opacity', value: 3 })).toThrow(
    'Part "Plate": Opacity must be',
  )
  expect(() => edit(speaker, { kind: 'renamePart', part: 'nobody', name: 'x' })).toThrow('There is no part "nobody"')
})

test('removing a part takes along every tie, matte, ride and target that named it', () => {
  for (const part of allParts(speaker.parts)) {
    const next = edit(speaker, { kind: 'removePart', part: part.id })
    expect(() => readTemplate(plain(next))).not.toThrow()
    expect(JSON.stringify(next.parts)).not.toContain(`"${part.id}"]`)
  }
  const noField = edit(speaker, { kind: 'removeField', field: 'role' })
  expect(() => readTemplate(plain(noField))).not.toThrow()
  expect(JSON.stringify(noField.parts)).toContain('Salt-marsh ecologist, Vado Institute')
})

test('any row of random edits leaves a document that reads back', () => {
  const ids = allParts(speaker.parts).map((p) => p.id)
  const change = fc.oneof(
    fc.record({ kind: fc.constant('removePart' as const), part: fc.constantFrom(...ids) }),
    fc.record({
      kind: fc.constant('axis' as const),
      part: fc.constantFrom(...ids),
      axis: fc.constantFrom('x' as const, 'y' as const),
      value: fc
        .tuple(fc.constantFrom(...ids), fc.integer({ min: -50, max: 50 }))
        .map(([id, gap]) => axis([tie('start', to(id), 'end', gap)], fixed(20))),
    }),
    fc.record({
      kind: fc.constant('reorder' as const),
      part: fc.constantFrom('plate', 'edge', 'mark'),
      index: fc.integer({ min: 0, max: 4 }),
    }),
    fc.record({
      kind: fc.constant('addPart' as const),
      part: fc.constantFrom(box('new', axis([], fixed(3))), text('new', 'hi')),
    }),
  )
  fc.assert(
    fc.property(fc.array(change, { maxLength: 12 }), (changes) => {
      let template = speaker
      for (const c of changes)
        try {
          template = edit(template, c)
        } catch (error) {
          expect((error as Error).name).toBe('Refusal')
        }
      expect(readTemplate(plain(template))).toEqual(plain(template))
    }),
  )
})

test('parts are numbered from the top, groups before what they hold', () => {
  expect(numberedParts(speaker).map((r) => `${r.number} ${r.part.name}`)).toEqual([
    '1 Words',
    '2 Name',
    '3 Role',
    '4 Mark',
    '5 Mount',
    '6 Highlight',
    '7 Edge',
    '8 Plate',
  ])
  expect(freeId(['box1', 'box3'], 'box')).toBe('box2')
})
