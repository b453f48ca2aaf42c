import { closest, distance } from 'fastest-levenshtein'
import * as yup from 'yup'
import { limits } from '../limits/index.ts'
import { isInherited } from './inherited.ts'
import { isLanguage } from './language.ts'
import { checkKinds } from './levels.ts'
import { type PartKind, type Property, partKinds, propertiesOf } from './properties.ts'
import { refusePattern } from './shown.ts'
import { fieldTypes } from './values.ts'

const id = () =>
  yup
    .string()
    .strict()
    .matches(/^[A-Za-z0-9_-]{1,64}$/, '${path} must be 1 to 64 letters, digits, - or _')
    .required()
const number = (min = -100000, max = 100000) => yup.number().strict().min(min).max(max).required()
const frames = () => yup.number().strict().integer().min(0).max(limits.titleFrames.most).required()
const text = (max = 2000) => yup.string().strict().max(max).defined()
const colour = () =>
  yup
    .string()
    .strict()
    .matches(
      /^(#[0-9a-fA-F]{6}([0-9a-fA-F]{2})?|palette:[A-Za-z0-9_-]+)$/,
      '${path} must be #rrggbb, #rrggbbaa or palette:ID',
    )
const language = () =>
  yup
    .string()
    .strict()
    .test(
      'language',
      '${path} is "${value}", which is no language; write a BCP 47 tag, as en, pt-BR or sr-Latn',
      (value) => value === undefined || isLanguage(value),
    )
const oneOf = <T extends string>(...values: T[]) => yup.string().strict().oneOf(values).required()

/** A key by which people and programs keep things of their own in a document; Hoja leaves it as it is. */
const isOwn = (key: string) => key.startsWith('x-')

/** The first key in a document that no schema may look up, since every object has it. @throws yup.ValidationError */
export function refuseInherited(value: unknown, path = ''): void {
  if (typeof value !== 'object' || value === null) return
  const at = (key: string) => (Array.isArray(value) ? `${path}[${key}]` : path === '' ? key : `${path}.${key}`)
  for (const [key, one] of Object.entries(value)) {
    if (isOwn(key)) continue
    if (isInherited(key))
      throw Object.assign(new yup.ValidationError(`${path || 'this'} has no "${key}"; take it out`, value, path), {
        params: { unknown: key },
      })
    refuseInherited(one, at(key))
  }
}

/** An object of these keys and no others, but for somebody's own. */
function record<T extends yup.ObjectShape>(shape: T) {
  const keys = Object.keys(shape)
  return yup.object(shape).test('known', (value, { createError }) => {
    const unknown = Object.keys(value ?? {}).find((key) => !keys.includes(key) && !isOwn(key))
    if (unknown === undefined) return true
    const near = keys.length > 0 ? closest(unknown, keys) : ''
    const guess = near && distance(unknown, near) <= 2 ? `did you mean "${near}"?` : `it knows ${keys.join(', ')}`
    return createError({ message: `\${path} has no "${unknown}"; ${guess}`, params: { unknown } })
  })
}

/** Whether a value is an object with such a key: what a document holds in a place may be anything. */
const holds = (value: unknown, key: string): boolean => typeof value === 'object' && value !== null && key in value

const target = yup.lazy((value) =>
  holds(value, 'region')
    ? record({ region: oneOf('frame', 'action', 'title', 'group') }).required()
    : record({ parts: yup.array(id()).min(1).max(200).required() }).required(),
)
const at = yup.lazy((value) => (typeof value === 'number' ? number(-100, 100) : oneOf('start', 'middle', 'end')))
const tie = record({
  edge: oneOf('start', 'middle', 'end'),
  to: target,
  at,
  gap: number(),
  follow: oneOf('settled', 'moving'),
  gone: oneOf('hide', 'collapse', 'keep'),
})
const size = yup.lazy((value: { kind?: string } | undefined) => {
  if (value?.kind === 'content') return record({ kind: oneOf('content') })
  if (value?.kind === 'share')
    return record({ kind: oneOf('share'), of: target, factor: number(-1000, 1000), plus: number() })
  return record({ kind: oneOf('fixed'), value: number(0) }).required()
})
/** Where a part stands along one axis, and how large it is. */
export const axis = record({
  ties: yup
    .array(tie)
    .max(2)
    .required()
    .test(
      'two-edges',
      '${path} ties the same edge twice',
      (ties) => !ties || ties.length < 2 || ties[0]?.edge !== ties[1]?.edge,
    ),
  size,
  place: number(),
  min: yup.number().strict().min(0),
  max: yup.number().strict().min(0),
})
const room = yup.lazy((value: { kind?: string } | undefined) => {
  if (value === undefined) return yup.mixed().optional()
  if (value?.kind === 'width') return record({ kind: oneOf('width'), value: number(1) })
  if (value?.kind === 'limit') return record({ kind: oneOf('limit'), to: target, at, gap: number() })
  return record({ kind: oneOf('free') })
})
const ease = yup.lazy((value) => {
  if (typeof value === 'string') return oneOf('linear')
  if (holds(value, 'steps'))
    return record({
      steps: yup.number().strict().integer().min(1).max(1000).required(),
      jump: oneOf('start', 'end', 'none', 'both'),
    })
  if (holds(value, 'points'))
    return record({
      points: yup
        .array(yup.array(number(-10, 10)).length(2).required())
        .min(2)
        .required(),
    })
  return record({
    bezier: yup
      .array(number(-10, 10))
      .length(4)
      .required()
      .test(
        'unit',
        '${path} needs x values from 0 to 1',
        (b) => !b || (b[0]! >= 0 && b[0]! <= 1 && b[2]! >= 0 && b[2]! <= 1),
      ),
  }).required()
})
const key = record({
  span: oneOf('in', 'hold', 'out'),
  at: yup.number().strict().min(0).required(),
  value: number(),
  ease,
})
const track = (settings?: yup.ObjectShape) =>
  record({
    keys: yup.array(key).required(),
    ...(settings ? { ...settings, leaving: record(settings).default(undefined) } : {}),
  }).default(undefined)
const shiftTrack = track({ unit: oneOf('px', 'own', 'frame', 'off') })
const unitTracks = {
  shiftX: shiftTrack,
  shiftY: shiftTrack,
  scale: track(),
  turn: track(),
  fade: track(),
  blur: track(),
}
const arriving = {
  tracks: record({
    ...unitTracks,
    reveal: track({ from: oneOf('left', 'right', 'top', 'bottom'), soft: number(0), slant: number(-80, 80) }),
    grow: track({ axis: oneOf('x', 'y'), from: oneOf('start', 'middle', 'end') }),
    colour: track({ to: colour().required() }),
    track: track(),
    trim: track({ from: oneOf('start', 'middle', 'end') }),
  }).required(),
  units: record({
    by: oneOf('character', 'word', 'line'),
    order: oneOf('forward', 'backward', 'middle', 'random'),
    seed: yup.number().strict().integer().required(),
    overlap: number(0, 1),
    tracks: record(unitTracks).required(),
  }).default(undefined),
}
const arrival = yup.object(arriving)
const motion = record({
  ...arriving,
  anchor: record({ x: number(-10, 10), y: number(-10, 10) }).required(),
  out: oneOf('mirror', 'own'),
  ride: yup.string(),
})

/** Whether a value holds the keys of a motion; undefined when it does, else one sentence. */
export function refuseKeys(value: unknown): string | undefined {
  try {
    arrival.validateSync(value)
    return undefined
  } catch (error) {
    return (error as Error).message
  }
}

const features = () =>
  yup.array(
    yup
      .string()
      .matches(/^[a-z0-9]{4}$/, '${path} must be an OpenType feature tag of four letters')
      .required(),
  )
const run = record({
  text: yup.string().strict().max(5000),
  field: yup.string(),
  font: yup.string(),
  size: yup.number().strict().min(1),
  colour: colour(),
  tracking: yup.number().strict(),
  features: features().default(undefined),
})
const fitStep = yup.lazy((value: { step?: string } | undefined) => {
  const bounds: Record<string, [number, number]> = {
    wrap: [1, 20],
    tighten: [-200, 0],
    condense: [0.3, 1],
    shrink: [0.1, 1],
  }
  const bound = bounds[value?.step ?? '']
  return bound
    ? record({ step: oneOf(value!.step!), to: number(...bound) })
    : record({ step: oneOf('wrap', 'tighten', 'condense', 'shrink', 'cut') }).required()
})
const gradient = record({
  kind: oneOf('linear', 'radial'),
  angle: number(-360, 360),
  stops: yup
    .array(record({ at: number(0, 1), colour: colour().required() }))
    .min(2)
    .max(16)
    .required(),
})
const pictureFill = record({
  kind: oneOf('picture'),
  picture: yup.string().strict().defined(),
  scaling: oneOf('cover', 'contain'),
})
const shadow = record({ x: number(), y: number(), blur: number(0, 500), colour: colour().required() })
const handle = yup.array(number(-1000, 1000)).length(2).default(undefined)
const outline = record({
  points: yup
    .array(
      record({
        x: number(-1000, 1000),
        y: number(-1000, 1000),
        in: handle,
        out: handle,
        smooth: yup.boolean().strict(),
      }),
    )
    .min(1)
    .max(5000)
    .required(),
  closed: yup.boolean().strict().required(),
})

/** The Yup schema of one property's value, from the registry. */
function valueSchema(property: Property): yup.Schema {
  switch (property.type) {
    case 'runs':
      return yup.array(run).max(50)
    case 'number':
      return yup
        .number()
        .strict()
        .min(property.min ?? -100000)
        .max(property.max ?? 100000)
    case 'switch':
      return yup.boolean().strict()
    case 'colour':
      return colour()
    case 'fill':
      return yup.lazy((v) =>
        v && typeof v === 'object' ? (v.kind === 'picture' ? pictureFill : gradient) : colour().nullable(),
      ) as unknown as yup.Schema
    case 'choice':
      return yup
        .string()
        .strict()
        .oneOf([...property.options!])
    case 'fit':
      return yup.array(fitStep).max(5)
    case 'shadows':
      return yup.array(shadow).max(8)
    case 'outlines':
      return yup.array(outline).min(1).max(500)
    case 'features':
      return features()
    case 'numbers':
      return yup.array(number()).max(5000)
    case 'language':
      return yup.lazy((value) => (value === '' ? yup.string() : language())) as unknown as yup.Schema
    case 'picture':
    case 'font':
    case 'part':
      return yup.string().strict()
  }
}

/** Whether a value may stand in a property; undefined when it may, else one sentence. */
export function refuseValue(kind: PartKind, keyName: string, value: unknown): string | undefined {
  const entry = propertiesOf(kind).find(([name]) => name === keyName)
  if (!entry) return `a ${kind} has no ${keyName}`
  try {
    valueSchema(entry[1]).validateSync(value)
    return undefined
  } catch (error) {
    return (error as Error).message.replace(/^this/, entry[1].label)
  }
}

const looks = Object.fromEntries(
  partKinds.map((kind) => [
    kind,
    record(Object.fromEntries(propertiesOf(kind).map(([k, property]) => [k, valueSchema(property)]))),
  ]),
)
const part: yup.Lazy<unknown> = yup.lazy((value: { kind?: string } | undefined) =>
  record({
    id: id(),
    name: text(200),
    kind: oneOf(...partKinds),
    x: axis,
    y: axis,
    look: looks[value?.kind ?? 'box'] ?? looks.box!,
    motion,
    matte: record({
      part: id(),
      by: oneOf('alpha', 'luminance'),
      invert: yup.boolean().strict().required(),
      shadows: yup.boolean().strict(),
    }).default(undefined),
    room,
    locked: yup.boolean().strict(),
    parts:
      value?.kind === 'group'
        ? yup
            .array(part as never)
            .max(limits.parts.most)
            .required()
        : yup.mixed().oneOf([undefined], '${path} belongs to groups only'),
  }),
)
const isPlain = (v: unknown) => ['string', 'number', 'boolean'].includes(typeof v)
const fieldValue = yup
  .mixed()
  .test(
    'value',
    '${path} must be a text, a number, true or false, a list of them, or an object of them',
    (v) => v === undefined || isPlain(v) || Object.values(v as object).every(isPlain),
  )
const values = yup.lazy((v) =>
  yup.object(Object.fromEntries(Object.keys(v ?? {}).map((k) => [k, fieldValue]))).required(),
)
const range = (min = -8192, max = 8192) =>
  yup
    .array(number(min, max))
    .length(2)
    .test('order', '${path} must run from the lower to the higher', (v) => !v || v[0]! <= v[1]!)
const field = record({
  id: id(),
  key: yup
    .string()
    .strict()
    .matches(/^[a-z][a-z0-9_-]{0,63}$/, '${path} must be lower-case letters, digits, - or _, starting with a letter')
    .test(
      'inherited',
      '${path} is "${value}", which every object of a program has; add a word or a digit to it',
      (value) => value === undefined || !isInherited(value),
    )
    .required(),
  name: text(200),
  note: text(),
  type: oneOf(...fieldTypes),
  targets: yup.array(record({ part: id(), property: yup.string().required() })).required(),
  default: fieldValue.defined(),
  placeholder: yup.string().strict().max(500),
  required: yup.boolean().strict().required(),
  section: yup.string(),
  limit: yup.number().strict().integer().min(1),
  lines: yup.number().strict().integer().min(1),
  allowed: yup.string().strict().min(1).max(500),
  min: yup.number().strict(),
  max: yup.number().strict(),
  count: yup.number().strict().integer().min(1),
  format: record({
    decimals: yup.number().strict().integer().min(0).max(6).required(),
    mark: oneOf('.', ','),
    group: yup.string().strict().oneOf(['', ' ', ',', '.', '’']).defined(),
    before: text(40),
    after: text(40),
    plus: yup.boolean().strict().required(),
  }).default(undefined),
  pattern: yup
    .string()
    .strict()
    .max(100)
    .test(
      'pattern',
      ({ value, path }) => `${path}: ${refusePattern(String(value))}`,
      (v) => v === undefined || !refusePattern(v),
    ),
  language: language(),
  sample: yup.boolean().strict(),
  empty: yup.string().strict().oneOf(['default', 'none']),
  none: yup.string().strict().min(1).max(40),
  between: yup.string().strict().max(40),
  free: yup.boolean().strict(),
  picture: record({
    scaling: yup.boolean().strict(),
    focus: yup.boolean().strict(),
    zoom: range(0.1, 10).default(undefined),
  }).default(undefined),
  options: yup
    .array(
      record({
        value: yup.string().strict().min(1).max(100).required(),
        name: text(200),
        sets: yup
          .array(record({ part: id(), property: yup.string().required(), value: yup.mixed() }))
          .max(500)
          .required(),
      }),
    )
    .max(100)
    .default(undefined),
  fonts: yup.array(id()).default(undefined),
  sizes: range(1, 2000).default(undefined),
  reach: record({ x: range().required(), y: range().required() }).default(undefined),
  onAir: yup.boolean().strict().required(),
})
const hash = () =>
  yup
    .string()
    .matches(/^[0-9a-f]{64}$/, '${path} must be a SHA-256 in hex')
    .required()

const rate = record({
  num: yup.number().strict().integer().min(1).max(240000).required(),
  den: yup.number().strict().integer().min(1).max(1001).required(),
})

/** The whole document, by itself: `checkReferences` says whether what it names is there. */
export const document = record({
  schema: yup.number().oneOf([4]).required(),
  id: id(),
  name: text(200),
  note: text(5000),
  language: language(),
  tags: yup.array(text(60).required()).max(50).required(),
  frame: record({
    width: yup.number().strict().integer().min(16).max(limits.frameSide.most).required(),
    height: yup.number().strict().integer().min(16).max(limits.frameSide.most).required(),
    rate,
    safe: record({ action: number(0, 0.4), title: number(0, 0.4) }),
  }),
  spans: record({
    in: frames(),
    out: frames(),
    hold: record({
      frames: frames().min(1),
      gives: oneOf('freeze', 'loop', 'stretch'),
      loop: record({ from: frames(), to: frames() }).default(undefined),
    }),
  }),
  palette: yup
    .array(record({ id: id(), name: text(200), colour: colour().required() }))
    .max(200)
    .required(),
  parts: yup
    .array(part as never)
    .max(limits.parts.most)
    .required(),
  guides: yup
    .array(record({ axis: oneOf('x', 'y'), at: number() }))
    .max(200)
    .required(),
  sections: yup.array(record({ id: id(), name: text(200) })).required(),
  fields: yup.array(field).max(500).required(),
  comments: yup
    .array(record({ id: id(), text: text(), before: yup.string() }))
    .max(200)
    .required(),
  proofs: yup.array(record({ id: id(), name: text(200), values })).required(),
  poster: record({ frame: frames(), values }),
  fonts: yup
    .array(record({ id: id(), family: text(200), style: text(200), file: text(300), sha256: hash() }))
    .required(),
  fallbacks: yup.array(id()).required(),
  media: yup
    .array(
      record({
        id: id(),
        name: text(300),
        file: text(300),
        sha256: hash(),
        width: number(1),
        height: number(1),
        movie: record({ frames: yup.number().strict().integer().min(1).max(10_000).required(), rate }).default(
          undefined,
        ),
      }),
    )
    .required(),
  sounds: yup
    .array(
      record({
        id: id(),
        name: text(300),
        file: text(300),
        sha256: hash(),
        seconds: number(0, 36_000),
        span: oneOf('in', 'hold', 'out'),
        at: frames(),
        level: number(-60, 12),
      }),
    )
    .max(20)
    .required(),
  levels: yup.lazy((value: unknown) =>
    yup
      .object(
        Object.fromEntries(
          Object.keys((value as object) ?? {}).map((code) => [
            code,
            code in checkKinds
              ? oneOf('stop', 'look', 'off')
              : yup.mixed().test('check', `There is no check "${code}"`, () => false),
          ]),
        ),
      )
      .default(undefined),
  ),
})
