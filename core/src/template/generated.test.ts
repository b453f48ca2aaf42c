import { Ajv2020 } from 'ajv/dist/2020.js'
import fc from 'fast-check'
import { packageFiles } from '../formats/index.ts'
import { solve } from '../layout/index.ts'
import { Refusal } from '../refusal/index.ts'
import { Scene } from '../scene/index.ts'
import { faultIn } from '../schema/index.ts'
import { assets, speaker } from '../testing/speaker.ts'
import {
  type Axis,
  document,
  driversOf,
  edit,
  expose,
  type Field,
  fieldDriving,
  type Keyframe,
  newPart,
  numberedParts,
  orderedKeys,
  type Part,
  type PartKind,
  type Property,
  partKinds,
  propertiesOf,
  readTemplate,
  type Size,
  type Template,
  type Tie,
  templateJsonSchema,
  tieOrder,
} from './index.ts'

const colour = fc.oneof(
  fc.constantFrom('palette:night', 'palette:amber'),
  fc.integer({ min: 0, max: 0xffffff }).map((n) => `#${n.toString(16).padStart(6, '0')}`),
)
const number = (min: number, max: number) => fc.integer({ min: Math.ceil(min), max: Math.floor(max) })

/** Any value that the registry lets a property have. */
function anyValueOf(property: Property): fc.Arbitrary<unknown> {
  switch (property.type) {
    case 'number':
      return property.unit === 'share'
        ? fc.double({ min: property.min ?? 0, max: Math.min(2, property.max ?? 2), noNaN: true })
        : number(property.min ?? -200, Math.min(400, property.max ?? 400))
    case 'switch':
      return fc.boolean()
    case 'choice':
      return fc.constantFrom(...property.options!)
    case 'colour':
      return colour
    case 'fill':
      return fc.oneof(
        fc.constant(null),
        colour,
        fc.record({
          kind: fc.constant('picture'),
          picture: fc.constantFrom('', 'eel.png', 'none.png'),
          scaling: fc.constantFrom('cover', 'contain'),
        }),
        fc.record({
          kind: fc.constantFrom('linear', 'radial'),
          angle: number(-360, 360),
          stops: fc.array(fc.record({ at: fc.double({ min: 0, max: 1, noNaN: true }), colour }), {
            minLength: 2,
            maxLength: 4,
          }),
        }),
      )
    case 'shadows':
      return fc.array(fc.record({ x: number(-40, 40), y: number(-40, 40), blur: number(0, 60), colour }), {
        maxLength: 3,
      })
    case 'outlines':
      return fc.array(
        fc.record({
          points: fc.array(
            fc.record(
              {
                x: fc.double({ min: -1, max: 2, noNaN: true }),
                y: fc.double({ min: -1, max: 2, noNaN: true }),
                in: fc.constant([-0.1, 0.2]),
                out: fc.constant([0.1, -0.2]),
                smooth: fc.boolean(),
              },
              { requiredKeys: ['x', 'y'] },
            ),
            { minLength: 1, maxLength: 5 },
          ),
          closed: fc.boolean(),
        }),
        { minLength: 1, maxLength: 3 },
      )
    case 'numbers':
      return fc.array(number(-20, 40), { maxLength: 12 })
    case 'features':
      return fc.subarray(['smcp', 'tnum', 'liga'])
    case 'axes':
      return fc.constantFrom(
        [],
        [{ tag: 'slnt', value: -8 }],
        [
          { tag: 'GRAD', value: 40 },
          { tag: 'opsz', value: 20 },
        ],
      )
    case 'part':
      return fc.constant('')
    case 'language':
      return fc.constantFrom('', 'en', 'tr', 'sr-Latn', 'ar-u-nu-latn')
    case 'runs':
      return fc.array(
        fc.oneof(
          fc.record({ text: fc.constantFrom('Tide', 'ليلى', '') }),
          fc.record({ field: fc.constantFrom('name', 'role') }),
        ),
        { minLength: 1, maxLength: 3 },
      )
    case 'fit':
      return fc.subarray([
        { step: 'fill', share: 0.8, least: 0.5, most: 3 },
        { step: 'wrap', to: 2 },
        { step: 'tighten', to: -20 },
        { step: 'condense', to: 0.9 },
        { step: 'shrink', to: 0.7 },
        { step: 'cut' },
      ])
    case 'picture':
      return fc.constantFrom('', 'mill.png', 'nowhere.png')
    case 'font':
      return fc.constantFrom('', 'semibold', 'medium')
  }
}

const edge = fc.constantFrom('start' as const, 'middle' as const, 'end' as const)
const key: fc.Arbitrary<Keyframe> = fc.record({
  span: fc.constantFrom('in' as const, 'out' as const),
  at: number(0, 12),
  value: fc.double({ min: -2, max: 2, noNaN: true }),
  ease: fc.oneof(
    fc.constant('linear' as const),
    fc.record({
      steps: number(1, 9),
      jump: fc.constantFrom('start' as const, 'end' as const, 'none' as const, 'both' as const),
    }),
    fc.constant({ bezier: [0.2, 0, 0.1, 1] as [number, number, number, number] }),
  ),
})
const track = fc.array(key, { minLength: 1, maxLength: 4 }).map((keys) => ({ keys: orderedKeys(keys, speaker.spans) }))

function axisOf(earlier: string[]): fc.Arbitrary<Axis> {
  const target =
    earlier.length > 0
      ? fc.oneof(
          fc.uniqueArray(fc.constantFrom(...earlier), { minLength: 1, maxLength: 3 }).map((parts) => ({ parts })),
          fc.constantFrom({ region: 'title' as const }, { region: 'frame' as const }),
        )
      : fc.constantFrom({ region: 'title' as const })
  const tie: fc.Arbitrary<Tie> = fc.record({
    edge,
    to: target,
    at: fc.oneof(edge, fc.double({ min: 0, max: 1, noNaN: true })),
    gap: number(-60, 60),
    follow: fc.constantFrom('settled' as const, 'moving' as const),
    gone: fc.constantFrom('hide' as const, 'collapse' as const, 'keep' as const),
  })
  const size: fc.Arbitrary<Size> = fc.oneof(
    fc.record({ kind: fc.constant('fixed' as const), value: number(0, 500) }),
    fc.constant({ kind: 'content' as const }),
    fc.record({
      kind: fc.constant('share' as const),
      of: target,
      factor: fc.double({ min: 0, max: 2, noNaN: true }),
      plus: number(-20, 20),
    }),
  )
  return fc.record({
    ties: fc.uniqueArray(tie, { maxLength: 2, selector: (t) => t.edge }),
    size,
    place: number(0, 900),
  })
}

/** Fields of every kind that can drive a part's properties, with every limit that a kind knows. */
const limits = fc.record(
  {
    placeholder: fc.constant('Not yet'),
    limit: number(1, 60),
    lines: number(1, 4),
    allowed: fc.constant('A-Za-z -'),
    count: number(1, 20),
    format: fc.record({
      decimals: number(0, 3),
      mark: fc.constantFrom('.' as const, ',' as const),
      group: fc.constantFrom('' as const, ' ' as const),
      before: fc.constant(''),
      after: fc.constantFrom('', ' m'),
      plus: fc.boolean(),
    }),
    pattern: fc.constantFrom('d MMM', 'EEEE, HH:mm'),
    language: fc.constantFrom('en', 'es'),
    between: fc.constant(' / '),
    free: fc.boolean(),
    picture: fc.constant({ focus: true, zoom: [1, 2] as [number, number] }),
    sizes: fc.constant([20, 60] as [number, number]),
    reach: fc.constant({ x: [-10, 10] as [number, number], y: [0, 0] as [number, number] }),
  },
  { requiredKeys: [] },
)

/** Exposes what the numbers say of a template's properties, as a designer would. */
function exposed(made: Template, picks: readonly (readonly [number, Partial<Field>])[]): Template {
  return picks.reduce((now, [n, more]) => {
    const free = now.parts.flatMap((part) =>
      propertiesOf(part.kind)
        .filter(([key, property]) => driversOf(key, property).length > 0 && !fieldDriving(now, part, key))
        .map(([key]) => [part.id, key] as const),
    )
    const pick = free[n % Math.max(1, free.length)]
    if (!pick) return now
    try {
      const { field, change } = expose(now, ...pick)
      return edit(edit(now, change), { kind: 'field', field: { ...field, ...more } })
    } catch (error) {
      // A gradient or a picture is no one colour that an editor could choose.
      if (error instanceof Refusal && error.code === 'field.fill') return now
      throw error
    }
  }, made)
}

const template: fc.Arbitrary<Template> = fc
  .array(fc.constantFrom(...partKinds.filter((kind) => kind !== 'group')), { minLength: 1, maxLength: 6 })
  .chain((kinds) =>
    fc.tuple(
      ...kinds.map((kind: PartKind, i) => {
        const earlier = kinds.slice(0, i).map((_, n) => `p${n}`)
        const style = fc.record(
          Object.fromEntries(propertiesOf(kind).map(([name, property]) => [name, anyValueOf(property)])),
          { requiredKeys: [] },
        )
        const tracks = fc.record(
          {
            fade: track,
            scale: track,
            turn: track,
            shiftX: track.map((t) => ({ ...t, unit: 'own' as const })),
            reveal: track.map((t) => ({
              ...t,
              from: 'left' as const,
              soft: 4,
              slant: 10,
              leaving: { from: 'right' as const, soft: 0, slant: 0 },
            })),
            grow: track.map((t) => ({ ...t, axis: 'x' as const, from: 'start' as const })),
            blur: track,
            colour: track.map((t) => ({ ...t, to: 'palette:amber' })),
            track,
            trim: track.map((t) => ({ ...t, from: 'middle' as const })),
          },
          { requiredKeys: [] },
        )
        return fc.tuple(axisOf(earlier), axisOf(earlier), style, tracks).map(
          ([x, y, own, moved]) =>
            ({
              ...newPart(kind, `p${i}`, `Part ${i}`),
              x,
              y,
              style: own,
              motion: { anchor: { x: 0.5, y: 0.5 }, tracks: moved, out: i % 2 ? 'own' : 'mirror' },
            }) as Part,
        )
      }),
    ),
  )
  .chain((parts) => {
    const fields: Field[] = speaker.fields.map((field) => ({ ...field, targets: [] }))
    const made: Template = {
      ...speaker,
      fields,
      parts: parts as Part[],
      comments: [{ id: 'c1', text: 'Names as they are spoken.', before: 'name' }],
      tags: ['estuary'],
    }
    return fc.array(fc.tuple(number(0, 400), limits), { maxLength: 4 }).map((picks) => exposed(made, picks))
  })

const schema = new Ajv2020({ strict: false }).compile(templateJsonSchema())

test('500 generated templates hold to both schemas, come back from JSON as they were, and settle and draw', () => {
  fc.assert(
    fc.property(
      template,
      number(0, 124),
      fc.constantFrom('id', 'kind', 'x', 'motion', 'more'),
      (made, frame, spoil) => {
        const plain = JSON.parse(JSON.stringify(made))
        expect(schema(plain)).toBe(true)
        const read = readTemplate(plain)
        // The same with one place spoilt is refused by both: what says yes to all says nothing.
        const spoilt = {
          ...plain,
          parts: [...plain.parts, { ...plain.parts[0], id: 'spoilt', [spoil]: { nobody: 1 } }],
        }
        expect([spoil, schema(spoilt), faultIn(document, spoilt) === undefined]).toEqual([spoil, false, false])
        expect(read).toEqual(plain)
        const scene = new Scene(read, assets)
        const layout = scene.layout({ name: 'Íñigo', role: '' })
        for (const list of [...layout.rest.start, ...layout.rest.size])
          for (const value of list) expect(Number.isFinite(value)).toBe(true)
        for (const size of layout.rest.size) for (const value of size) expect(value).toBeGreaterThanOrEqual(0)
        expect(() => scene.frame(layout, scene.timing(scene.layout({})), frame)).not.toThrow()
        expect(numberedParts(read)).toHaveLength(read.parts.length)
      },
    ),
    { numRuns: 500 },
  )
})

test('a picture of any size is drawn, from no more pixels than the largest frame has', () => {
  for (const [width, height] of [
    [400_000, 3],
    [3, 400_000],
    [60_000, 50_000],
  ] as const) {
    const picture = {
      ...newPart('picture', 'p0', 'Part 0'),
      x: { ties: [], size: { kind: 'fixed', value: width }, place: 0 },
      y: { ties: [], size: { kind: 'fixed', value: height }, place: 0 },
      style: { picture: 'mill.png' },
    } as unknown as Part
    const scene = new Scene({ ...speaker, parts: [picture], fields: [] }, assets)
    const drawn = JSON.stringify(scene.frame(scene.layout({}), scene.timing(scene.layout({})), 40), (name, value) =>
      name === 'rgba' ? undefined : value,
    )
    const sizes = [...drawn.matchAll(/"pixels":\{[^}]*"width":(\d+),"height":(\d+)/g)].map(([, w, h]) => [+w!, +h!])
    expect(sizes).toHaveLength(1)
    expect(sizes[0]![0]! * sizes[0]![1]!).toBeLessThanOrEqual(1.01 * 7680 * 4320)
  }
})

test('solving again gives the same rest, and renaming or recolouring changes none of it', () => {
  fc.assert(
    fc.property(template, (made) => {
      const rest = (t: Template) => {
        const layout = new Scene(t, assets).layout({})
        return [...layout.rest.start, ...layout.rest.size].map((list) => [...list])
      }
      const first = rest(made)
      expect(rest(made)).toEqual(first)
      expect(rest(edit(made, { kind: 'renamePart', part: 'p0', name: 'Other' }))).toEqual(first)
      expect(
        rest(edit(made, { kind: 'palette', palette: made.palette.map((p) => ({ ...p, colour: '#123456' })) })),
      ).toEqual(first)
    }),
    { numRuns: 60 },
  )
})

test('an order of ties stands every part behind what it depends on', () => {
  fc.assert(
    fc.property(template, (made) => {
      const { order, parts, index, ring } = tieOrder(made)
      expect(ring).toBeUndefined()
      const placeOf = new Map(order.map((node, n) => [node, n]))
      parts.forEach((part, i) => {
        for (const tie of part.x.ties)
          if ('parts' in tie.to)
            for (const other of tie.to.parts) {
              const [mine, theirs] = [i * 2, index.get(other)! * 2]
              expect(placeOf.get(theirs)!).toBeLessThan(placeOf.get(mine)!)
            }
      })
      expect(() =>
        solve({
          template: made,
          gone: new Uint8Array(parts.length),
          measure: { text: () => ({ width: 1, height: 1 }), picture: () => ({ width: 1, height: 1 }) },
        }),
      ).not.toThrow()
    }),
    { numRuns: 60 },
  )
})

test('the README of a package names every field', () => {
  const readme = new TextDecoder().decode(packageFiles({ template: speaker, files: {} })['README.txt'])
  for (const field of speaker.fields)
    for (const piece of [field.key, field.name, field.note, String(field.default)]) expect(readme).toContain(piece)
})
