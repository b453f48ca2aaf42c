import { cached } from '../cache/index.ts'
import { limits } from '../limits/index.ts'
import {
  type About,
  bool,
  either,
  type Infer,
  type InferMembers,
  list,
  map,
  named,
  number,
  oneOf,
  optional,
  type RecordNode,
  type Reference,
  record,
  type Schema,
  type Typed,
  text,
  tuple,
  variant,
  whole,
} from '../schema/index.ts'
import { type CheckLevel, checkKinds } from './checkKinds.ts'
import { type Meaning, meanings, propertyMeanings } from './meanings.ts'
import {
  type PartKind,
  type Property,
  type PropertyKey,
  type PropertyType,
  partKinds,
  propertiesOf,
  type Style,
  type ValueTypes,
} from './properties.ts'
import type { Axis, Derived, Field, Part, SavedStyle, Target } from './types.ts'
import type { FieldType, FieldValue } from './values.ts'

/**
 * The one description of the template document. The validator, the JSON Schema, the visitor of references and the limits
 * of every control are derived from it; `description.test.ts` proves that the types of `types.ts` are its own.
 */

/** What each key means and how it is written, as the JSON Schema says it. */
const withMeaning = (told: Readonly<Record<string, Meaning>>): { about: About } => ({
  about: Object.fromEntries(
    Object.entries(told).map(([key, { means, example }]) => [key, { description: means, examples: [example] }]),
  ),
})

/** The furthest that anything is drawn from where it belongs, px. */
const far = 100_000
const px = (least = -far, most = far) => number(least, most, { unit: 'px' })
const share = (least: number, most: number) => number(least, most, { unit: 'share', step: 0.01 })
const degrees = (least: number, most: number) => number(least, most, { unit: 'degrees' })
const em = (least: number, most: number) => number(least, most, { unit: 'em/1000', step: 5 })
const frames = (least = 0) => whole(least, limits.titleFrames.most, { unit: 'frames' })

const idPattern = '^[A-Za-z0-9_-]{1,64}$'
const idWords = '1 to 64 letters, digits, - or _'
const id = named('id', () => text(64, { pattern: idPattern, like: idWords }))
const name = text(200)
const reference = (to: Reference['to'], as: string) =>
  text(64, { pattern: idPattern, like: idWords, refers: { to, as } })
/** A reference that may be empty: none. */
const anyReference = (to: Reference['to'], as: string) =>
  text(64, { pattern: '^[A-Za-z0-9_-]{0,64}$', like: idWords, refers: { to, as } })
const pictureName = (as: string) => text(300, { refers: { to: 'picture', as } })
const colour = named('colour', () =>
  text(76, {
    pattern: '^(#[0-9a-fA-F]{6}([0-9a-fA-F]{2})?|palette:[A-Za-z0-9_-]+)$',
    like: '#rrggbb, #rrggbbaa or palette:ID',
    refers: { to: 'colour', as: 'colour' },
    otherwise: '#000000',
  }),
)
/** A colour of the palette, by its name. */
const paletteColour = text(72, {
  pattern: '^palette:[A-Za-z0-9_-]{1,64}$',
  like: 'palette:ID',
  refers: { to: 'colour', as: 'colour' },
})
/** Of the form of a BCP 47 tag; whether it is one is a matter of its meaning. */
const language = text(35, {
  pattern: '^[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*$',
  like: 'a BCP 47 tag, as en, pt-BR or sr-Latn',
})
const features = named('features', () =>
  list(text(4, { pattern: '^[a-z0-9]{4}$', like: 'an OpenType feature tag of four letters' }), 100),
)
const axisTag = text(4, { pattern: '^[A-Za-z0-9 ]{4}$', like: 'an axis tag of four letters or digits' })
const axisValue = number(-far, far)
const weight = number(0, 1000, { step: 10 })
const stretch = number(0, 1000)
const axes = named('axes', () => list(record({ tag: axisTag, value: axisValue }), 64))

const edge = oneOf('start', 'middle', 'end')
const target: Schema<Target> = named('target', () =>
  either(
    'the parts or the region that it is held to',
    record({ parts: list(reference('part', 'target'), 200, { least: 1 }) }),
    record({ region: oneOf('frame', 'action', 'title', 'group') }),
  ),
)
const atShare = share(-100, 100)
const at = named('at', () => either('start, middle, end or a share of the way', edge, atShare))
const tie = named('tie', () =>
  record(
    { edge, to: target, at, gap: px(), follow: oneOf('settled', 'moving'), gone: oneOf('hide', 'collapse', 'keep') },
    withMeaning(meanings.tie),
  ),
)
const fixedSize = px(0)
const factor = number(-1000, 1000, { unit: 'share', step: 0.01 })
const roomWidth = px(1)
const size = named('size', () =>
  variant(
    'kind',
    {},
    { fixed: { value: fixedSize }, content: {}, share: { of: target, factor, plus: px() } },
    { otherwise: { kind: 'fixed', value: 100 } },
  ),
)
const axis: Schema<Axis> = named('axis', () =>
  record(
    {
      ties: list(tie, 2, { distinct: 'edge' }),
      size,
      place: px(),
      min: optional(px(0)),
      max: optional(px(0)),
    },
    withMeaning(meanings.axis),
  ),
)
const room = named('room', () =>
  variant(
    'kind',
    {},
    { free: {}, width: { value: roomWidth }, limit: { to: target, at, gap: px() } },
    { otherwise: { kind: 'free' } },
  ),
)

const slope = number(-10, 10, { step: 0.01 })
const across = share(0, 1)
const steps = whole(1, 1000)
const ease = named('ease', () =>
  either(
    'linear, or an object with bezier, steps or points',
    oneOf('linear'),
    record({ bezier: tuple(across, slope, across, slope) }),
    record({ steps, jump: oneOf('start', 'end', 'none', 'both') }),
    record({ points: list(tuple(slope, slope), 1000, { least: 2 }) }),
  ),
)
const keyValue = number(-far, far)
const keySpeed = number(1, 1_000_000, { unit: 'px/s', step: 50 })
const key = named('key', () =>
  record(
    {
      span: oneOf('in', 'hold', 'out'),
      at: number(0, limits.titleFrames.most, { step: 1, unit: 'frames' }),
      speed: optional(keySpeed),
      value: keyValue,
      ease,
    },
    withMeaning(meanings.key),
  ),
)
const keys = list(key, 10_000)
const track = named('track', () => record({ keys }))

/** What channels work by, besides their keys; in Out some of it may be otherwise. */
const channelSettings = {
  shiftX: { unit: oneOf('px', 'own', 'frame', 'off') },
  shiftY: { unit: oneOf('px', 'own', 'frame', 'off') },
  reveal: { from: oneOf('left', 'right', 'top', 'bottom'), soft: px(0), slant: degrees(-80, 80) },
  grow: { axis: oneOf('x', 'y'), from: edge },
  colour: { to: colour },
  axis: { tag: axisTag },
  trim: { from: edge },
  count: { start: number(0, 1e12) },
  settle: { as: oneOf('scramble', 'board'), from: oneOf('digits', 'alphabet', 'own') },
} as const
type ChannelSettings = (typeof channelSettings)[keyof typeof channelSettings]
/** A channel's keys with what it works by, and what of that differs in Out. */
const settingsTrack = <M extends ChannelSettings>(settings: M) =>
  record({ keys, ...settings, leaving: optional(record(settings)) }) as RecordNode &
    Typed<Infer<typeof track> & InferMembers<M> & { leaving?: InferMembers<M> }>
const segmentChannels = {
  shiftX: optional(settingsTrack(channelSettings.shiftX)),
  shiftY: optional(settingsTrack(channelSettings.shiftY)),
  scale: optional(track),
  turn: optional(track),
  fade: optional(track),
  blur: optional(track),
}
/** Of the random order. */
const seed = whole(-2_147_483_648, 2_147_483_647)
const overlap = share(0, 1)
const arrival = {
  tracks: record(
    {
      ...segmentChannels,
      reveal: optional(settingsTrack(channelSettings.reveal)),
      grow: optional(settingsTrack(channelSettings.grow)),
      colour: optional(settingsTrack(channelSettings.colour)),
      track: optional(track),
      weight: optional(track),
      stretch: optional(track),
      axis: optional(settingsTrack(channelSettings.axis)),
      trim: optional(settingsTrack(channelSettings.trim)),
      travel: optional(track),
      count: optional(settingsTrack(channelSettings.count)),
    },
    withMeaning(meanings.channels),
  ),
  segments: optional(
    record(
      {
        by: oneOf('character', 'word', 'line'),
        order: oneOf('forward', 'backward', 'middle', 'random'),
        seed,
        overlap,
        caret: optional(bool),
        tracks: record({ ...segmentChannels, settle: optional(settingsTrack(channelSettings.settle)) }),
      },
      withMeaning(meanings.segments),
    ),
  ),
}
const motion = named('motion', () =>
  record(
    {
      anchor: record({ x: slope, y: slope }),
      ...arrival,
      out: oneOf('mirror', 'own'),
      ride: optional(anyReference('part', 'ride')),
      update: optional(oneOf('comes')),
    },
    withMeaning(meanings.motion),
  ),
)

const fontSize = px(1, 2000)
const runTracking = em(-200, 1000)
const run = record({
  text: optional(text(5000)),
  field: optional(anyReference('field', 'run')),
  font: optional(anyReference('font', 'run')),
  size: optional(fontSize),
  colour: optional(colour),
  tracking: optional(runTracking),
  features: optional(features),
  weight: optional(weight),
  stretch: optional(stretch),
  axes: optional(axes),
})
const fitBounds = {
  fillShare: share(0.05, 1),
  fillLeast: share(0.05, 1),
  fillMost: share(1, 20),
  wrap: whole(1, 20, { unit: 'lines' }),
  tighten: em(-200, 0),
  condense: share(0.3, 1),
  shrink: share(0.1, 1),
}
const fitStep = variant(
  'step',
  {},
  {
    fill: {
      share: fitBounds.fillShare,
      least: fitBounds.fillLeast,
      most: fitBounds.fillMost,
      by: optional(oneOf('width', 'height', 'both')),
    },
    wrap: { to: fitBounds.wrap },
    tighten: { to: fitBounds.tighten },
    condense: { to: fitBounds.condense },
    shrink: { to: fitBounds.shrink },
    cut: {},
  },
)
const stopAt = share(0, 1)
const angle = degrees(-360, 360)
const stops = list(record({ at: stopAt, colour }), 16, { least: 2 })
const scaling = oneOf('cover', 'contain')
const focus = share(0, 1)
const zoom = number(0.1, 10, { step: 0.1 })
const gradientShare = share(-100, 100)
const gradientRadius = share(0.001, 1000)
const gradient = record({
  kind: oneOf('linear', 'radial'),
  angle,
  centre: optional(record({ x: gradientShare, y: gradientShare })),
  radius: optional(gradientRadius),
  stops,
})
const pictureFill = record({ kind: oneOf('picture'), picture: pictureName('fill'), scaling })
const fill = named('fill', () =>
  either('a colour, null, a gradient or a picture', oneOf(null), colour, gradient, pictureFill),
)
const shadowBlur = px(0, 500)
const shadow = record({ x: px(), y: px(), blur: shadowBlur, colour })
const handle = tuple(number(-1000, 1000), number(-1000, 1000))
const point = record({
  x: share(-1000, 1000),
  y: share(-1000, 1000),
  in: optional(handle),
  out: optional(handle),
  smooth: optional(bool),
})
const outline = record({ points: list(point, 5000, { least: 1 }), closed: bool })

/** How the value of each type of property is written. */
const valueSchemas: { [T in PropertyType]: (property: Property<T>) => Schema<ValueTypes[T]> } = {
  runs: () => named('runs', () => list(run, 50)),
  number: ({ min = -far, max = far, unit, step = unit === 'share' ? 0.01 : 1 }) => number(min, max, { unit, step }),
  switch: () => bool,
  colour: () => colour,
  fill: () => fill,
  choice: ({ options }) => oneOf(...options!),
  fit: () => named('fit', () => list(fitStep, 6)),
  shadows: () => named('shadows', () => list(shadow, 8)),
  outlines: () => named('outlines', () => list(outline, 500, { least: 1 })),
  features: () => features,
  axes: () => axes,
  numbers: () => list(number(-far, far), 5000),
  language: () => either('a BCP 47 tag, as en, pt-BR or sr-Latn', oneOf(''), language),
  picture: () => pictureName('picture'),
  font: () => anyReference('font', 'font'),
  part: () => anyReference('part', 'along'),
}
const known = new WeakMap<Property, Schema>()

/** How the value of a property is written. */
export function valueSchema(property: Property): Schema {
  return cached(known, property, () => (valueSchemas[property.type] as (property: Property) => Schema)(property))
}

const styles = Object.fromEntries(
  partKinds.map((kind) => {
    const all = propertiesOf(kind)
    const told = all.map(([word, { label, default: standing }]) => {
      const { means, example } = propertyMeanings[word]!
      return [word, { title: label, default: standing, description: means, examples: [example] }]
    })
    const members = Object.fromEntries(all.map(([word, property]) => [word, optional(valueSchema(property))]))
    return [kind, record(members, { about: Object.fromEntries(told) })]
  }),
) as { [K in PartKind]: Schema<Style<K>> }

const matte = record({
  part: reference('part', 'matte'),
  by: oneOf('alpha', 'luminance'),
  invert: bool,
  shadows: optional(bool),
})
const part: Schema<Part> = named('part', () =>
  variant(
    'kind',
    {
      id,
      name,
      x: axis,
      y: axis,
      motion,
      matte: optional(matte),
      room: optional(room),
      locked: optional(bool),
      unseen: optional(text(300, { least: 1 })),
    },
    {
      text: { style: styles.text },
      box: { style: styles.box },
      ellipse: { style: styles.ellipse },
      path: { style: styles.path },
      curve: { style: styles.curve },
      picture: { style: styles.picture },
      group: { style: styles.group, parts: list(part, limits.parts.most) },
    },
    withMeaning(meanings.part),
  ),
) as Schema<Part>

/** A number that somebody gives: of anything, so it has no bounds but these. */
const anyNumber = number(-1e12, 1e12, { step: 1 })
const numbers = list(anyNumber, 5000)
const words = text(limits.cellCharacters.most)
const pictureValue = record({
  picture: pictureName('default'),
  scaling: optional(scaling),
  focusX: optional(focus),
  focusY: optional(focus),
  zoom: optional(zoom),
})
const styleValue = record({ font: optional(anyReference('font', 'default')), size: optional(fontSize) })
const shift = px(-limits.frameSide.most, limits.frameSide.most)
const shiftValue = record({ x: shift, y: shift })

/** What is given for a field of each kind, and so its default. */
const given: { readonly [T in FieldType]: Schema } = {
  text: words,
  number: anyNumber,
  moment: words,
  texts: list(words, 5000),
  numbers,
  switch: bool,
  colour,
  picture: either("a picture's name, or an object with it", pictureName('default'), pictureValue),
  choice: words,
  style: styleValue,
  shift: shiftValue,
  language: text(100),
}

/** In a filling a value stands beside a field that only the whole document knows: here it is of any kind. */
const plain = either('a text, a number, or true or false', words, anyNumber, bool)
const fieldValue: Schema<FieldValue> = named('value', () =>
  either(
    'a text, a number, true or false, a list of them, or an object of them',
    ...[words, anyNumber, bool],
    list(plain, 5000),
    map(plain),
  ),
) as Schema<FieldValue>
const values = map(fieldValue)

const everyProperty = new Map(partKinds.flatMap((kind) => propertiesOf(kind)))
/** Place of a part in its list, from below. */
const order = whole(0, limits.parts.most)
/** A property, or an axis, the movement, the room or the order of a part, that an option sets. Which kinds of part have it is a matter of its meaning. */
const setting = named('setting', () =>
  variant(
    'property',
    { part: reference('part', 'set') },
    {
      ...Object.fromEntries([...everyProperty].map(([word, property]) => [word, { value: valueSchema(property) }])),
      x: { value: axis },
      y: { value: axis },
      motion: { value: motion },
      room: { value: room },
      order: { value: order },
    },
    { whole: true },
  ),
)
const range = (of: Schema<number>) => tuple(of, of)
const decimals = whole(0, 6)
const format = record({
  decimals,
  mark: oneOf('.', ','),
  group: oneOf('', ' ', ',', '.', '’'),
  before: text(40),
  after: text(40),
  plus: bool,
})
const option = record({
  value: text(100, { least: 1 }),
  name,
  sets: list(setting, 500),
  colours: optional(list(record({ of: paletteColour, to: colour }), 200)),
})
/** Of characters, lines or entries, at most. */
const fieldCount = whole(1, limits.cellCharacters.most)
const fieldMembers = {
  id,
  key: text(64, {
    // Every object of a program has something by this name.
    pattern: '^(?!constructor$)[a-z][a-z0-9_-]{0,63}$',
    like: 'lower-case letters, digits, - or _, starting with a letter, and not "constructor", which every object of a program has',
  }),
  name,
  note: text(2000),
  targets: list(
    record({ part: reference('part', 'driven'), property: oneOf(...([...everyProperty.keys()] as PropertyKey[])) }),
    2000,
  ),
  required: bool,
  placeholder: optional(text(500)),
  section: optional(text(64, { refers: { to: 'section', as: 'section' } })),
  limit: optional(fieldCount),
  lines: optional(fieldCount),
  allowed: optional(text(500, { least: 1 })),
  min: optional(anyNumber),
  max: optional(anyNumber),
  count: optional(fieldCount),
  format: optional(format),
  pattern: optional(text(100, { least: 1 })),
  language: optional(language),
  sample: optional(bool),
  stands: optional(oneOf('now', 'length', 'row', 'rows')),
  empty: optional(oneOf('default', 'none')),
  none: optional(text(40, { least: 1 })),
  fallback: optional(pictureName('fallback')),
  between: optional(text(40)),
  free: optional(bool),
  paints: optional(list(paletteColour, 200)),
  picture: optional(record({ scaling: optional(bool), focus: optional(bool), zoom: optional(range(zoom)) })),
  options: optional(list(option, 100)),
  fonts: optional(list(reference('font', 'allowed'), 200)),
  sizes: optional(range(fontSize)),
  reach: optional(record({ x: range(shift), y: range(shift) })),
  whole: optional(bool),
  onAir: bool,
}
const field = named('field', () =>
  variant(
    'type',
    fieldMembers,
    Object.fromEntries(Object.entries(given).map(([type, value]) => [type, { default: value }])),
    withMeaning(meanings.field),
  ),
) as Schema<Field>

const derivedBy = share(0, 1)
const derived: Schema<Derived> = named('derived', () =>
  variant(
    'as',
    {},
    {
      lighter: { of: paletteColour, by: derivedBy },
      darker: { of: paletteColour, by: derivedBy },
      readable: { on: paletteColour, one: paletteColour, other: paletteColour },
    },
    withMeaning(meanings.derived),
  ),
)

const rate = record({ num: whole(1, 240_000), den: whole(1, 1001) })
const hash = text(64, { pattern: '^[0-9a-f]{64}$', like: 'a SHA-256 in hex' })
const file = text(300)
const side = whole(16, limits.frameSide.most, { unit: 'px' })
const safe = number(0, 0.4, { unit: 'share', step: 0.005 })
const safeAreas = record({ action: safe, title: safe })
const frame = record({ width: side, height: side, rate, safe: safeAreas }, withMeaning(meanings.frame))
const spans = record(
  {
    in: frames(),
    out: frames(),
    hold: record({
      frames: frames(1),
      gives: oneOf('freeze', 'loop', 'stretch'),
      loop: optional(record({ from: frames(), to: frames() })),
    }),
  },
  withMeaning(meanings.spans),
)
const updateFrames = whole(0, 500, { unit: 'frames' })
const updateTime = whole(1, 500, { unit: 'frames' })
const updateSpeed = number(1, 100_000, { unit: 'px/s', step: 50 })
const update = record(
  {
    pace: variant('kind', {}, { time: { frames: updateTime }, speed: { speed: updateSpeed } }),
    ease,
    words: oneOf('fade', 'moves'),
    fade: record({ out: updateFrames, after: updateFrames, in: updateFrames }),
  },
  withMeaning(meanings.update),
)
const soundLevel = number(-60, 12, { unit: 'dB' })
const sound = record({
  id,
  name: text(300),
  file,
  sha256: hash,
  seconds: number(0, 36_000, { unit: 'seconds' }),
  span: oneOf('in', 'hold', 'out'),
  at: frames(),
  level: soundLevel,
})
const medium = record({
  id,
  name: text(300),
  file,
  sha256: hash,
  width: px(1),
  height: px(1),
  movie: optional(record({ frames: whole(1, 10_000, { unit: 'frames' }), rate })),
})
const guide = record({ axis: oneOf('x', 'y'), at: px() })
const guides = list(guide, 200)
const sets = list(setting, 5000)
const shape = record(
  {
    id,
    name: text(60, { least: 1 }),
    width: side,
    height: side,
    safe: safeAreas,
    guides,
    sets,
    options: list(record({ field: reference('field', 'option'), option: text(100, { least: 1 }), sets }), 5000),
  },
  withMeaning(meanings.shape),
)
const levels = record(
  Object.fromEntries(Object.keys(checkKinds).map((code) => [code, optional(oneOf('stop', 'look', 'off'))])),
  { about: Object.fromEntries(Object.entries(checkKinds).map(([code, { label }]) => [code, { title: label }])) },
) as Schema<Record<string, CheckLevel>>

const savedStyle = variant(
  'kind',
  { name },
  Object.fromEntries(partKinds.map((kind) => [kind, { style: styles[kind] }])),
  withMeaning(meanings.savedStyle),
) as Schema<SavedStyle>

/** The whole document, by itself: `readTemplate` says whether it means what it says. */
export const document = record(
  {
    schema: oneOf(5),
    id,
    name,
    note: text(5000),
    language: optional(language),
    tags: list(text(60), 50),
    frame,
    shapes: optional(list(shape, 12)),
    spans,
    update: optional(update),
    palette: list(record({ id, name, colour, from: optional(derived) }), 200),
    parts: list(part, limits.parts.most),
    guides,
    styles: optional(list(savedStyle, 200)),
    sections: list(record({ id, name }), 500),
    fields: list(field, 500),
    comments: list(record({ id, text: text(2000), before: optional(reference('field', 'before')) }), 200),
    proofs: list(record({ id, name, values }), 500),
    poster: record({ frame: frames(), values }),
    fonts: list(record({ id, family: name, style: name, file, sha256: hash }), 200),
    fallbacks: list(reference('font', 'fallback'), 200),
    media: list(medium, 500),
    sounds: list(sound, 20),
    levels: optional(levels),
  },
  withMeaning(meanings.document),
)

/** The parts of the description that controls and edits ask for by name. */
export const described = {
  document,
  part,
  field,
  axis,
  motion,
  matte,
  tie,
  size,
  room,
  key,
  run,
  fitStep,
  fill,
  shadow,
  outline,
  option,
  shape,
  update,
  order,
  fieldMembers,
  pictureValue,
  styleValue,
  shiftValue,
  arrival: record(arrival),
  gap: px(),
  at: atShare,
  fixedSize,
  factor,
  roomWidth,
  channelSettings,
  keyValue,
  keySpeed,
  seed,
  overlap,
  slope,
  across,
  steps,
  stopAt,
  gradientShare,
  gradientRadius,
  derivedBy,
  angle,
  fontSize,
  runTracking,
  axisValue,
  zoom,
  shift,
  fitBounds,
  value: anyNumber,
  decimals,
  count: fieldCount,
  shadowBlur,
  side,
  safe,
  frames: frames(),
  updateFrames,
  updateTime,
  updateSpeed,
  soundLevel,
} as const
