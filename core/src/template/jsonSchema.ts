import { checkKinds } from './levels.ts'
import { type Meaning, meanings, propertyMeanings } from './meanings.ts'
import { type Property, partKinds, propertiesOf } from './properties.ts'
import { fieldTypes } from './values.ts'

type Json = Record<string, unknown>
const ref = (name: string): Json => ({ $ref: `#/$defs/${name}` })
const object = (properties: Json, required: string[] = Object.keys(properties)): Json => ({
  type: 'object',
  properties,
  required,
  patternProperties: { '^x-': true },
  additionalProperties: false,
})
const list = (items: Json, more: Json = {}): Json => ({ type: 'array', items, ...more })
const one = (...values: readonly string[]): Json => ({ enum: [...values] })
const num = (minimum?: number, maximum?: number): Json => ({
  type: 'number',
  ...(minimum === undefined ? {} : { minimum }),
  ...(maximum === undefined ? {} : { maximum }),
})
const int = (minimum = 0): Json => ({ type: 'integer', minimum })
const str: Json = { type: 'string' }
const none: Json = { type: 'null' }

/** Properties of an object with what each means, in the words of the format's page. */
function told(properties: Json, meanings: Record<string, Meaning>): Json {
  return Object.fromEntries(
    Object.entries(properties).map(([key, schema]) => {
      const meaning = meanings[key]
      return [
        key,
        meaning && schema !== false
          ? { ...(schema as Json), description: meaning.means, examples: [meaning.example] }
          : schema,
      ]
    }),
  )
}

/** A channel's keys with what it works by, and what of that differs in Out. */
const settingsTrack = (settings: Json): Json =>
  object({ keys: list(ref('key')), ...settings, leaving: object(settings) }, ['keys', ...Object.keys(settings)])

function valueSchemaOf(key: string, property: Property): Json {
  const { means, example } = propertyMeanings[key]!
  const described = { title: property.label, default: property.default, description: means, examples: [example] }
  switch (property.type) {
    case 'number':
      return { ...num(property.min, property.max), ...described }
    case 'switch':
      return { type: 'boolean', ...described }
    case 'choice':
      return { ...one(...property.options!), ...described }
    case 'numbers':
      return { ...list(num(), { maxItems: 5000 }), ...described }
    case 'picture':
    case 'font':
    case 'part':
    case 'language':
      return { ...str, ...described }
    default:
      return { ...ref(property.type), ...described }
  }
}

/** The template document as JSON Schema 2020-12, derived from the property registry; published as `docs/template.schema.json`. */
export function templateJsonSchema(): Json {
  const tracks = {
    shiftX: ref('shiftTrack'),
    shiftY: ref('shiftTrack'),
    scale: ref('track'),
    turn: ref('track'),
    fade: ref('track'),
    blur: ref('track'),
  }
  const parts = partKinds.map((kind) => ({
    if: { properties: { kind: { const: kind } } },
    // biome-ignore lint/suspicious/noThenProperty: `then` is JSON Schema's own keyword
    then: {
      properties: {
        look: object(
          Object.fromEntries(propertiesOf(kind).map(([key, property]) => [key, valueSchemaOf(key, property)])),
          [],
        ),
        ...(kind === 'group' ? { parts: list(ref('part')) } : { parts: false }),
      },
      required: kind === 'group' ? ['parts'] : [],
    },
  }))
  const plain = { type: ['string', 'number', 'boolean'] }
  const fieldValue = {
    anyOf: [plain, list(plain), { type: 'object', additionalProperties: plain }],
  }
  const range = (low?: number, high?: number) => list(num(low, high), { minItems: 2, maxItems: 2 })
  const values = { type: 'object', additionalProperties: fieldValue }
  const $defs: Json = {
    id: { ...str, pattern: '^[A-Za-z0-9_-]{1,64}$' },
    colour: { ...str, pattern: '^(#[0-9a-fA-F]{6}([0-9a-fA-F]{2})?|palette:[A-Za-z0-9_-]+)$' },
    features: list({ ...str, pattern: '^[a-z0-9]{4}$' }),
    runs: list(
      object(
        {
          text: str,
          field: str,
          font: str,
          size: num(1),
          colour: ref('colour'),
          tracking: num(),
          features: ref('features'),
        },
        [],
      ),
      { maxItems: 50 },
    ),
    fill: { anyOf: [ref('colour'), none, ref('gradient'), ref('pictureFill')] },
    pictureFill: object({ kind: { const: 'picture' }, picture: str, scaling: one('cover', 'contain') }),
    gradient: object({
      kind: one('linear', 'radial'),
      angle: num(-360, 360),
      stops: list(object({ at: num(0, 1), colour: ref('colour') }), { minItems: 2, maxItems: 16 }),
    }),
    shadows: list(object({ x: num(), y: num(), blur: num(0, 500), colour: ref('colour') }), { maxItems: 8 }),
    handle: list(num(), { minItems: 2, maxItems: 2 }),
    outlines: list(
      object({
        points: list(
          object({ x: num(), y: num(), in: ref('handle'), out: ref('handle'), smooth: { type: 'boolean' } }, [
            'x',
            'y',
          ]),
          { minItems: 1, maxItems: 5000 },
        ),
        closed: { type: 'boolean' },
      }),
      { minItems: 1, maxItems: 500 },
    ),
    fit: list(object({ step: one('wrap', 'tighten', 'condense', 'shrink', 'cut'), to: num() }, ['step']), {
      maxItems: 5,
    }),
    target: {
      anyOf: [
        object({ parts: list(ref('id'), { minItems: 1 }) }),
        object({ region: one('frame', 'action', 'title', 'group') }),
      ],
    },
    at: { anyOf: [one('start', 'middle', 'end'), num(-100, 100)] },
    tie: object(
      told(
        {
          edge: one('start', 'middle', 'end'),
          to: ref('target'),
          at: ref('at'),
          gap: num(),
          follow: one('settled', 'moving'),
          gone: one('hide', 'collapse', 'keep'),
        },
        meanings.tie,
      ),
    ),
    size: {
      anyOf: [
        object({ kind: { const: 'fixed' }, value: num(0) }),
        object({ kind: { const: 'content' } }),
        object({ kind: { const: 'share' }, of: ref('target'), factor: num(), plus: num() }),
      ],
    },
    axis: object(
      told(
        { ties: list(ref('tie'), { maxItems: 2 }), size: ref('size'), place: num(), min: num(0), max: num(0) },
        meanings.axis,
      ),
      ['ties', 'size', 'place'],
    ),
    room: {
      anyOf: [
        object({ kind: { const: 'free' } }),
        object({ kind: { const: 'width' }, value: num(1) }),
        object({ kind: { const: 'limit' }, to: ref('target'), at: ref('at'), gap: num() }),
      ],
    },
    ease: {
      anyOf: [
        { const: 'linear' },
        object({ bezier: list(num(), { minItems: 4, maxItems: 4 }) }),
        object({ steps: int(1), jump: one('start', 'end', 'none', 'both') }),
        object({ points: list(list(num(), { minItems: 2, maxItems: 2 }), { minItems: 2 }) }),
      ],
    },
    key: object(told({ span: one('in', 'hold', 'out'), at: num(0), value: num(), ease: ref('ease') }, meanings.key)),
    track: object({ keys: list(ref('key')) }),
    shiftTrack: settingsTrack({ unit: one('px', 'own', 'frame', 'off') }),
    motion: object(
      told(
        {
          anchor: object({ x: num(), y: num() }),
          tracks: object(
            told(
              {
                ...tracks,
                reveal: settingsTrack({
                  from: one('left', 'right', 'top', 'bottom'),
                  soft: num(0),
                  slant: num(-80, 80),
                }),
                grow: settingsTrack({ axis: one('x', 'y'), from: one('start', 'middle', 'end') }),
                colour: settingsTrack({ to: ref('colour') }),
                track: ref('track'),
                trim: settingsTrack({ from: one('start', 'middle', 'end') }),
              },
              meanings.channels,
            ),
            [],
          ),
          units: object(
            told(
              {
                by: one('character', 'word', 'line'),
                order: one('forward', 'backward', 'middle', 'random'),
                seed: { type: 'integer' },
                overlap: num(0, 1),
                tracks: object(tracks, []),
              },
              meanings.units,
            ),
          ),
          out: one('mirror', 'own'),
          ride: str,
        },
        meanings.motion,
      ),
      ['anchor', 'tracks', 'out'],
    ),
    part: {
      ...object(
        told(
          {
            id: ref('id'),
            name: str,
            kind: one(...partKinds),
            x: ref('axis'),
            y: ref('axis'),
            look: { type: 'object' },
            motion: ref('motion'),
            matte: object(
              {
                part: ref('id'),
                by: one('alpha', 'luminance'),
                invert: { type: 'boolean' },
                shadows: { type: 'boolean' },
              },
              ['part', 'by', 'invert'],
            ),
            room: ref('room'),
            locked: { type: 'boolean' },
            parts: list(ref('part')),
          },
          meanings.part,
        ),
        ['id', 'name', 'kind', 'x', 'y', 'look', 'motion'],
      ),
      allOf: parts,
    },
    field: object(
      told(
        {
          id: ref('id'),
          // Every object of a program has something by this name.
          key: { ...str, pattern: '^[a-z][a-z0-9_-]{0,63}$', not: { const: 'constructor' } },
          name: str,
          note: str,
          type: one(...fieldTypes),
          targets: list(object({ part: ref('id'), property: str })),
          default: fieldValue,
          required: { type: 'boolean' },
          placeholder: { ...str, maxLength: 500 },
          section: str,
          limit: int(1),
          lines: int(1),
          allowed: { ...str, minLength: 1, maxLength: 500 },
          min: num(),
          max: num(),
          count: int(1),
          format: object({
            decimals: { ...int(0), maximum: 6 },
            mark: one('.', ','),
            group: one('', ' ', ',', '.', '’'),
            before: str,
            after: str,
            plus: { type: 'boolean' },
          }),
          pattern: str,
          language: str,
          sample: { type: 'boolean' },
          empty: one('default', 'none'),
          none: { ...str, minLength: 1, maxLength: 40 },
          between: str,
          free: { type: 'boolean' },
          picture: object({ scaling: { type: 'boolean' }, focus: { type: 'boolean' }, zoom: range(0.1, 10) }, []),
          options: list(
            object({
              value: { ...str, minLength: 1, maxLength: 100 },
              name: str,
              sets: list(object({ part: ref('id'), property: str, value: true })),
            }),
          ),
          fonts: list(ref('id')),
          sizes: range(1, 2000),
          reach: object({ x: range(), y: range() }),
          onAir: { type: 'boolean' },
        },
        meanings.field,
      ),
      ['id', 'key', 'name', 'note', 'type', 'targets', 'default', 'required', 'onAir'],
    ),
  }
  const rate = object({ num: int(1), den: int(1) })
  const hash = { ...str, pattern: '^[0-9a-f]{64}$' }
  const document = {
    schema: { const: 4 },
    id: ref('id'),
    name: str,
    note: str,
    tags: list(str, { maxItems: 50 }),
    frame: object(
      told(
        { width: int(16), height: int(16), rate, safe: object({ action: num(0, 0.4), title: num(0, 0.4) }) },
        meanings.frame,
      ),
    ),
    spans: object(
      told(
        {
          in: int(),
          out: int(),
          hold: object(
            { frames: int(1), gives: one('freeze', 'loop', 'stretch'), loop: object({ from: int(), to: int() }) },
            ['frames', 'gives'],
          ),
        },
        meanings.spans,
      ),
    ),
    palette: list(object({ id: ref('id'), name: str, colour: ref('colour') })),
    parts: list(ref('part')),
    guides: list(object({ axis: one('x', 'y'), at: num() })),
    sections: list(object({ id: ref('id'), name: str })),
    fields: list(ref('field')),
    comments: list(object({ id: ref('id'), text: str, before: str }, ['id', 'text'])),
    proofs: list(object({ id: ref('id'), name: str, values })),
    poster: object({ frame: int(), values }),
    fonts: list(object({ id: ref('id'), family: str, style: str, file: str, sha256: hash })),
    fallbacks: list(ref('id')),
    media: list(
      object(
        {
          id: ref('id'),
          name: str,
          file: str,
          sha256: hash,
          width: num(1),
          height: num(1),
          movie: object({ frames: int(1), rate }),
        },
        ['id', 'name', 'file', 'sha256', 'width', 'height'],
      ),
    ),
    sounds: list(
      object({
        id: ref('id'),
        name: str,
        file: str,
        sha256: hash,
        seconds: num(0),
        span: one('in', 'hold', 'out'),
        at: int(),
        level: num(-60, 12),
      }),
      { maxItems: 20 },
    ),
  }
  const levels = Object.fromEntries(
    Object.entries(checkKinds).map(([code, { label }]) => [code, { ...one('stop', 'look', 'off'), title: label }]),
  )
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: 'Hoja template, schema 4',
    ...object(
      told({ ...document, language: str, levels: { type: 'object', properties: levels } }, meanings.document),
      Object.keys(document),
    ),
    $defs,
  }
}
