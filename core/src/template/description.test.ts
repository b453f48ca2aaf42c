import { readdirSync, readFileSync } from 'node:fs'
import { Ajv2020 } from 'ajv/dist/2020.js'
import fc from 'fast-check'
import { faultIn, type Infer, type InferMembers } from '../schema/index.ts'
import { templateOf } from '../testing/speaker.ts'
import {
  type ChoiceOption,
  type described,
  document,
  edit,
  type Field,
  type Fill,
  type FitStep,
  type Keyframe,
  type Matte,
  type Motion,
  newPart,
  newShape,
  newTemplate,
  type Outline,
  type PictureValue,
  partKinds,
  type Room,
  type Run,
  readTemplate,
  type Shadow,
  type Shape,
  type ShiftValue,
  type Size,
  type StyleValue,
  type Template,
  type Tie,
  templateJsonSchema,
} from './index.ts'

/** A template of two shapes that differ in a property, an axis and a movement. */
function shaped(): Template {
  const plain = templateOf([newPart('box', 'plate', 'Plate'), newPart('text', 'name', 'Name')])
  const shapes = [newShape(plain, { width: 1080, height: 1920 })]
  const sets = [
    { part: 'name', property: 'size', value: 72 },
    { part: 'plate', property: 'x', value: plain.parts[0]!.x },
    { part: 'plate', property: 'motion', value: plain.parts[0]!.motion },
  ]
  return { ...plain, shapes: shapes.map((shape) => ({ ...shape, guides: [{ axis: 'y', at: 1500 }], sets })) }
}

type Json = Record<string, unknown>
type Holder = Json & unknown[]

const demoFolder = new URL('../../../demo/templates/', import.meta.url)
const documents: Json[] = [
  ...readdirSync(demoFolder).map((name) =>
    JSON.parse(readFileSync(new URL(`${name}/template.json`, demoFolder), 'utf8')),
  ),
  JSON.parse(JSON.stringify(newTemplate('t', 'T'))),
  JSON.parse(JSON.stringify(templateOf(partKinds.map((kind) => newPart(kind, kind, kind))))),
  JSON.parse(JSON.stringify(shaped())),
].map((one) => JSON.parse(JSON.stringify(readTemplate(one))))

/** Every place of a document below its root: what holds it and under which key. */
function places(value: unknown): [holder: Holder, key: string][] {
  if (typeof value !== 'object' || value === null) return []
  return Object.entries(value).flatMap(([key, one]) => [[value as Holder, key] as [Holder, string], ...places(one)])
}
const placesOf = documents.map(places)
const strings = placesOf.map((all) => all.filter(([holder, key]) => typeof holder[key as never] === 'string'))
const numbers = placesOf.map((all) => all.filter(([holder, key]) => typeof holder[key as never] === 'number'))
const lists = placesOf.map((all) =>
  all.filter(([holder, key]) => Array.isArray(holder[key as never]) && (holder[key as never] as unknown[]).length > 0),
)
const objects = placesOf.map((all) =>
  all.filter(([holder, key]) => {
    const own: unknown = holder[key as never]
    return typeof own === 'object' && own !== null && !Array.isArray(own)
  }),
)

const otherTypes = [-1, 0.5, '', 'x', true, null, [], {}, [null], [[0, 0]], { kind: 'fixed' }, { region: 'title' }]
// The edges of what the description allows, and what lies just behind them.
const edges = [
  -1e13, -100_001, -100_000, -8193, -8192, -1, -0.001, 0, 0.1, 0.29, 0.3, 0.4, 0.41, 0.5, 1, 1.5, 2, 15, 16, 20, 21, 75,
  76, 200, 201, 1000, 1001, 2000, 2001, 8192, 8193, 100_000, 100_001, 1_000_000, 1_000_001, 1e12, 1e13,
]
const lengths = [0, 1, 4, 40, 41, 60, 61, 64, 65, 200, 201, 300, 301, 500, 501, 2000, 2001, 5000, 5001, 100_001]
const extras = ['strange', 'x-own', 'constructor', '__proto__', 'toString', 'leaving', 'parts', 'value']

/** Each kind of mutation: where it can be made, and how; what it gives back undoes it. */
const mutations: Record<string, (document: number, place: number, value: number) => (() => void) | undefined> = {
  'other type': (d, place, value) => put(placesOf[d]!, place, () => otherTypes[value % otherTypes.length]),
  'out of range': (d, place, value) => put(numbers[d]!, place, () => edges[value % edges.length]),
  'other length': (d, place, value) =>
    put(strings[d]!, place, () => (value % 3 === 0 ? '🐚' : 'a').repeat(lengths[value % lengths.length]!)),
  missing: (d, place) => {
    const [holder, key] = objects[d]![place % objects[d]!.length]!
    const own = holder[key as never] as Json
    const keys = Object.keys(own)
    if (keys.length === 0) return undefined
    const name = keys[place % keys.length]!
    const was = own[name]
    delete own[name]
    return () => Object.assign(own, { [name]: was })
  },
  extra: (d, place, value) => {
    const [holder, key] = objects[d]![place % objects[d]!.length]!
    const own = holder[key as never] as Json
    const name = extras[value % extras.length]!
    if (Object.hasOwn(own, name)) return undefined
    Object.defineProperty(own, name, { value: 1, enumerable: true, configurable: true, writable: true })
    return () => Reflect.deleteProperty(own, name)
  },
  dangling: (d, place, value) =>
    put(strings[d]!, place, () => ['nobody', 'palette:nobody', 'no body', 'nobody.png'][value % 4]),
  doubled: (d, place, value) =>
    put(lists[d]!, place, (was) => {
      const list = was as unknown[]
      const times = value % 5 === 0 ? 600 : 1
      return [...list, ...Array.from({ length: times }, () => list[value % list.length])]
    }),
}

function put(places: [Holder, string][], place: number, other: (was: unknown) => unknown): (() => void) | undefined {
  if (places.length === 0) return undefined
  const [holder, key] = places[place % places.length]!
  const was = holder[key as never]
  ;(holder as Json)[key] = other(was)
  return () => {
    ;(holder as Json)[key] = was
  }
}

/** Two types that are the same to every reader, so that what the description takes is what the code is written for. */
type Same<A, B> = (<T>() => T extends A ? 1 : 2) extends <T>() => T extends B ? 1 : 2 ? true : [A, B]
type Whole<T> = T extends object ? { [K in keyof T]: Whole<T[K]> } : T
/** What an option or a shape sets is of any kind. */
type Setting = 'sets' | 'options'
type Own<T> = Whole<Omit<T, 'parts' | 'fields' | 'levels' | 'shapes'>>

test('the types of the code are those of the description; the compiler says so', () => {
  const proofs: [
    Same<Own<Infer<typeof document>>, Own<Template>>,
    Same<Whole<Infer<typeof described.matte>>, Whole<Matte>>,
    Same<Whole<Infer<typeof described.tie>>, Whole<Tie>>,
    Same<Whole<Infer<typeof described.size>>, Whole<Size>>,
    Same<Whole<Infer<typeof described.room>>, Whole<Room>>,
    Same<Whole<Infer<typeof described.motion>>, Whole<Motion>>,
    Same<Whole<Infer<typeof described.key>>, Whole<Keyframe>>,
    Same<Whole<Infer<typeof described.run>>, Whole<Run>>,
    Same<Whole<Infer<typeof described.fitStep>>, Whole<FitStep>>,
    Same<Whole<Infer<typeof described.shadow>>, Whole<Shadow>>,
    Same<Whole<Infer<typeof described.outline>>, Whole<Outline>>,
    Same<Whole<Infer<typeof described.fill>>, Whole<Fill>>,
    Same<Whole<Omit<Infer<typeof described.option>, 'sets'>>, Whole<Omit<ChoiceOption, 'sets'>>>,
    Same<Whole<Omit<Infer<typeof described.shape>, Setting>>, Whole<Omit<Shape, Setting>>>,
    Same<
      Whole<InferMembers<Omit<typeof described.fieldMembers, 'options'>>>,
      Whole<Omit<Field, 'type' | 'default' | 'options'>>
    >,
    Same<Whole<Infer<typeof described.pictureValue>>, Whole<PictureValue>>,
    Same<Whole<Infer<typeof described.styleValue>>, Whole<StyleValue>>,
    Same<Whole<Infer<typeof described.shiftValue>>, Whole<ShiftValue>>,
  ] = [true, true, true, true, true, true, true, true, true, true, true, true, true, true, true, true, true, true]
  expect(proofs).toHaveLength(18)
})

test('the validator and the JSON Schema (ajv, 2020-12) agree on every mutated document, taken and refused alike', () => {
  const ajv = new Ajv2020({ strict: false }).compile(templateJsonSchema())
  const counts: Record<string, { taken: number; refused: number }> = {}
  for (const [kind, mutate] of Object.entries(mutations)) {
    const count = { taken: 0, refused: 0 }
    counts[kind] = count
    fc.assert(
      fc.property(
        // The two small ones hold every kind of part; to read a whole demo takes ten times as long.
        fc.oneof(
          { weight: 4, arbitrary: fc.integer({ min: documents.length - 2, max: documents.length - 1 }) },
          { weight: 1, arbitrary: fc.nat(documents.length - 3) },
        ),
        fc.nat(1_000_000),
        fc.nat(1_000_000),
        (d: number, place: number, value: number) => {
          const undo = mutate(d, place, value)
          try {
            const fault = faultIn(document, documents[d])
            if (ajv(documents[d]) !== (fault === undefined))
              throw new Error(
                `${kind}: ours says ${fault ? `${fault.path.join('.')} ${fault.says}` : 'taken'}, JSON Schema ${ajv.errors ? JSON.stringify(ajv.errors) : 'taken'}`,
              )
            if (fault) count.refused++
            else count.taken++
          } finally {
            undo?.()
          }
        },
      ),
      { numRuns: 3500 },
    )
  }
  for (const [kind, { taken, refused }] of Object.entries(counts)) {
    expect([kind, taken + refused]).toEqual([kind, 3500])
    expect([kind, taken > 30, refused > 30]).toEqual([kind, true, true])
  }
  // Every mutation was undone.
  for (const one of documents) expect(faultIn(document, one)).toBeUndefined()
})

test('what names something that is not there, or names two alike, is refused behind the shape', () => {
  const spoilt = (change: (own: ReturnType<typeof newTemplate>) => void) => {
    const own = JSON.parse(JSON.stringify(documents.find(({ id }) => id === 'speaker')))
    change(own)
    expect(faultIn(document, own)).toBeUndefined()
    return () => readTemplate(own)
  }
  expect(spoilt((t) => Object.assign(t.parts[1]!, { id: t.parts[0]!.id }))).toThrow('Two parts have the id')
  expect(spoilt((t) => Object.assign(t.fields[1]!, { id: t.fields[0]!.id }))).toThrow('Two fields have the id')
  expect(spoilt((t) => Object.assign(t.parts[0]!.style, { fill: 'palette:nobody' }))).toThrow('not in the palette')
  expect(spoilt((t) => t.fallbacks.push('nobody'))).toThrow('fallback font "nobody"')
  expect(spoilt((t) => Object.assign(t, { language: 'abcdefgh-x' }))).toThrow('is none; write a BCP 47 tag')
})

test('an edit refuses what a save would refuse, in a sentence', () => {
  const speaker = readTemplate(documents.find(({ id }) => id === 'speaker'))
  const plate = speaker.parts[0]!
  const tie = plate.x.ties[0]!
  const axis = (own: object) => () =>
    edit(speaker, { kind: 'axis', part: plate.id, axis: 'x', value: { ...plate.x, ...own } })
  expect(axis({ ties: [{ ...tie, gap: 200_000 }] })).toThrow(
    `That cannot be: Part "${plate.name}" (${plate.id}): x.ties.0.gap must be a number from -100000 to 100000 (px).`,
  )
  expect(axis({ ties: [{ ...tie, gap: Number.NaN }] })).toThrow('x.ties.0.gap must be a number')
  expect(axis({ ties: [tie, tie] })).toThrow(`x.ties has the edge "${tie.edge}" twice`)
  expect(axis({ place: Number.POSITIVE_INFINITY })).toThrow('x.place must be a number')
  const { spans } = speaker
  expect(() => edit(speaker, { kind: 'spans', spans: { ...spans, in: -5 } })).toThrow('spans.in must be a whole number')
  expect(() => edit(speaker, { kind: 'info', name: 'n'.repeat(300) })).toThrow('name must be a text of at most 200')
  expect(() => edit(speaker, { kind: 'renamePart', part: plate.id, name: 'n'.repeat(300) })).toThrow('at most 200')
  expect(() => edit(speaker, { kind: 'polish' } as never)).toThrow('There is no change "polish"')
  expect(edit(speaker, { kind: 'several', changes: [] })).toBe(speaker)
})

test('an edit of one part is refused for what it does to others, though those are not looked at', () => {
  const speaker = readTemplate(documents.find(({ id }) => id === 'speaker'))
  const matte = (part: string, by: string) =>
    ({ kind: 'matte', part, matte: { part: by, by: 'alpha', invert: false } }) as const
  const cut = edit(speaker, matte('plate', 'mark'))
  expect(() => edit(cut, matte('mark', 'plate'))).toThrow("each other's mattes")
  expect(() => edit(cut, matte('mark', 'nobody'))).toThrow('has the matte "nobody", which is not there')
  const red = { kind: 'style', part: 'plate', key: 'fill', value: 'palette:nobody' } as const
  expect(() => edit(cut, red)).toThrow('which is not in the palette')
  expect(() => edit(cut, { kind: 'several', changes: [matte('mark', 'plate')] })).toThrow("each other's mattes")
})

test('what an edit did not touch is not looked at again', () => {
  const speaker = readTemplate(documents.find(({ id }) => id === 'speaker'))
  let looked = 0
  const watched = {
    ...speaker,
    proofs: new Proxy(speaker.proofs, {
      get: (list, key) => {
        if (key === '0') looked++
        return Reflect.get(list, key)
      },
    }),
  }
  expect(faultIn(document, { ...watched, name: 'Other' }, watched)).toBeUndefined()
  expect(looked).toBe(0)
  expect(faultIn(document, watched)).toBeUndefined()
  expect(looked).toBeGreaterThan(0)
})
