import type { AxisPlace, Colour, Fill, FitStep, FontId, Outline, Run, Shadow } from './values.ts'

/**
 * The one registry of properties. The inspector, the fields, the document schemas and the conversion of data are all
 * derived from it: adding a property is adding one entry here and drawing it in `scene/drawings.ts`.
 */
export interface ValueTypes {
  runs: Run[]
  number: number
  switch: boolean
  colour: Colour
  fill: Fill
  /** Name of a picture that the template or the sheet carries; empty for none. */
  picture: string
  choice: string
  font: FontId
  fit: FitStep[]
  shadows: Shadow[]
  outlines: Outline[]
  /** OpenType feature tags that are switched on. */
  features: string[]
  /** Axes of a variable font that have no property of their own. */
  axes: AxisPlace[]
  /** Id of another part; empty for none. */
  part: string
  /** What a curve runs through. */
  numbers: number[]
  /** A BCP 47 tag; empty: the title's own. */
  language: string
}
export type PropertyType = keyof ValueTypes

export interface Property<T extends PropertyType = PropertyType> {
  label: string
  type: T
  default: ValueTypes[T]
  unit?: 'px' | 'px/s' | 'seconds' | 'frames' | 'degrees' | 'share' | 'em/1000' | 'lines'
  min?: number
  max?: number
  /** By which a hand changes it. */
  step?: number
  options?: readonly string[]
  /** No field may drive it: the order in which ties are solved, or what is painted at all, hangs on it. */
  locked?: true
  /** It has an effect only where another property of the part is one of these, or none of those. */
  only?: { readonly of: string; readonly is?: readonly unknown[]; readonly not?: readonly unknown[] }
  /** May an operator change it while the title is on air? */
  onAir: boolean
}

/** Blend modes of W3C Compositing and Blending Level 1. */
export const blendModes = [
  'normal',
  'multiply',
  'screen',
  'overlay',
  'darken',
  'lighten',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'difference',
  'exclusion',
  'hue',
  'saturation',
  'color',
  'luminosity',
] as const

const p = <T extends PropertyType>(property: Property<T>): Property<T> => property

const everyPart = {
  visible: p({ label: 'Shown', type: 'switch', default: true, onAir: true }),
  opacity: p({
    label: 'Opacity',
    type: 'number',
    default: 1,
    unit: 'share',
    min: 0,
    max: 1,
    onAir: true,
  }),
  scale: p({ label: 'Scale', type: 'number', default: 1, unit: 'share', min: 0.01, max: 20, onAir: false }),
  rotation: p({
    label: 'Rotation',
    type: 'number',
    default: 0,
    unit: 'degrees',
    min: -360,
    max: 360,
    locked: true,
    onAir: false,
  }),
  blur: p({ label: 'Blur', type: 'number', default: 0, unit: 'px', min: 0, max: 200, onAir: false }),
  blend: p({ label: 'Blend', type: 'choice', default: 'normal', options: blendModes, onAir: false }),
  matteOnly: p({ label: 'Only a matte', type: 'switch', default: false, locked: true, onAir: false }),
}

/** How far a part stands from where its ties put it; what is tied to it goes along. */
const shifted = (label: string) =>
  p({ label, type: 'number', default: 0, unit: 'px', min: -8192, max: 8192, onAir: true })
const placed = { ...everyPart, shiftX: shifted('Shift across'), shiftY: shifted('Shift down') }

const strokeEnds = {
  ends: p({ label: 'Line ends', type: 'choice', default: 'butt', options: ['butt', 'round', 'square'], onAir: false }),
  corners: p({
    label: 'Corners',
    type: 'choice',
    default: 'miter',
    options: ['miter', 'round', 'bevel'],
    onAir: false,
  }),
  dash: p({ label: 'Dash', type: 'number', default: 0, unit: 'px', min: 0, max: 1000, onAir: false }),
}

const surface = {
  fill: p({ label: 'Fill', type: 'fill', default: '#12343b', onAir: true }),
  stroke: p({ label: 'Stroke', type: 'colour', default: '#ffffff', onAir: true }),
  strokeWidth: p({ label: 'Stroke width', type: 'number', default: 0, unit: 'px', min: 0, max: 400, onAir: false }),
  shadows: p({ label: 'Shadows, glows', type: 'shadows', default: [], onAir: false }),
}

// Where entries are seen each by itself, and where all of them move through at once.
const oneByOne = { of: 'entries', is: ['in turn', 'in pages'] } as const
const running = { of: 'entries', is: ['rolling', 'crawling'] } as const

/** How a part goes through the entries of lists: each by itself, one after another. */
const entryTimes = {
  entryTime: p({
    label: 'Each entry stands',
    type: 'choice',
    default: 'as long as it takes to read',
    options: ['as long as it takes to read', 'a set time', 'its share of Hold'],
    locked: true,
    only: oneByOne,
    onAir: false,
  }),
  entrySeconds: p({
    label: 'Entry stands for',
    type: 'number',
    default: 2,
    unit: 'seconds',
    min: 0.04,
    max: 3600,
    step: 0.1,
    locked: true,
    only: oneByOne,
    onAir: false,
  }),
  entryOverlap: p({
    label: 'Next entry comes early',
    type: 'number',
    default: 0,
    unit: 'frames',
    min: 0,
    max: 500,
    locked: true,
    only: oneByOne,
    onAir: false,
  }),
  entryTravel: p({
    label: 'What stands round travels for',
    type: 'number',
    default: 12,
    unit: 'frames',
    min: 0,
    max: 500,
    locked: true,
    only: oneByOne,
    onAir: false,
  }),
}

/** How a group's entries run through it, as a roll, a crawl or pages. */
const entryRun = {
  runPace: p({
    label: 'Runs',
    type: 'choice',
    default: 'at its speed',
    options: ['at its speed', 'to end on time', 'over and over'],
    locked: true,
    only: running,
    onAir: false,
  }),
  runSpeed: p({
    label: 'Speed',
    type: 'number',
    default: 120,
    unit: 'px/s',
    min: -4000,
    max: 4000,
    step: 5,
    locked: true,
    only: running,
    onAir: false,
  }),
  runSteps: p({
    label: 'Steps',
    type: 'choice',
    default: 'as they come',
    options: ['as they come', 'steady'],
    locked: true,
    only: running,
    onAir: false,
  }),
  entryGap: p({
    label: 'Between entries',
    type: 'number',
    default: 24,
    unit: 'px',
    min: 0,
    max: 4000,
    locked: true,
    only: { of: 'entries', is: ['rolling', 'crawling', 'in pages'] },
    onAir: false,
  }),
}

const radius = (label: string) => p({ label, type: 'number', default: 0, unit: 'px', min: 0, max: 4000, onAir: false })
/** A side that leans inside its box; clockwise, so that 20 leans like a slash. */
const lean = (label: string) =>
  p({ label, type: 'number', default: 0, unit: 'degrees', min: -75, max: 75, onAir: false })

export const properties = {
  text: {
    ...placed,
    content: p({ label: 'Text', type: 'runs', default: [{ text: 'Text' }], onAir: true }),
    font: p({ label: 'Font', type: 'font', default: '', onAir: false }),
    size: p({
      label: 'Size',
      type: 'number',
      default: 48,
      unit: 'px',
      min: 1,
      max: 2000,
      onAir: false,
    }),
    weight: p({ label: 'Weight', type: 'number', default: 0, min: 0, max: 1000, step: 10, onAir: false }),
    stretch: p({ label: 'Stretch', type: 'number', default: 0, min: 0, max: 1000, onAir: false }),
    opticalSize: p({ label: 'Optical size', type: 'number', default: 0, min: 0, max: 2000, onAir: false }),
    axes: p({ label: 'Other axes', type: 'axes', default: [], onAir: false }),
    colour: p({ label: 'Colour', type: 'colour', default: '#ffffff', onAir: true }),
    tracking: p({ label: 'Tracking', type: 'number', default: 0, unit: 'em/1000', min: -200, max: 1000, onAir: false }),
    leading: p({ label: 'Leading', type: 'number', default: 1.15, unit: 'share', min: 0.5, max: 4, onAir: false }),
    align: p({
      label: 'Align',
      type: 'choice',
      default: 'start',
      options: ['start', 'middle', 'end', 'justified'],
      onAir: false,
    }),
    breaks: p({
      label: 'Lines',
      type: 'choice',
      default: 'as they come',
      options: ['as they come', 'balanced', 'no widow'],
      onAir: false,
    }),
    direction: p({
      label: 'Direction',
      type: 'choice',
      default: 'as written',
      options: ['as written', 'left to right', 'right to left'],
      onAir: false,
    }),
    hyphenate: p({ label: 'Parts words', type: 'switch', default: false, onAir: false }),
    language: p({ label: 'Language', type: 'language', default: '', onAir: true }),
    case: p({
      label: 'Case',
      type: 'choice',
      default: 'as typed',
      options: ['as typed', 'upper', 'lower'],
      onAir: false,
    }),
    shows: p({ label: 'Shows others', type: 'choice', default: 'line', options: ['line', 'cap', 'ink'], onAir: false }),
    fit: p({ label: 'Fit', type: 'fit', default: [], onAir: false }),
    fill: p({ label: 'Fill over all', type: 'fill', default: null, onAir: false }),
    stroke: surface.stroke,
    strokeWidth: surface.strokeWidth,
    shadows: surface.shadows,
    features: p({ label: 'Features', type: 'features', default: [], onAir: false }),
    along: p({ label: 'Runs along', type: 'part', default: '', locked: true, onAir: false }),
    alongStart: p({
      label: 'Starts along at',
      type: 'number',
      default: 0,
      unit: 'share',
      min: 0,
      max: 1,
      only: { of: 'along', not: [''] },
      onAir: false,
    }),
    alongSide: p({
      label: 'Side of the way',
      type: 'choice',
      default: 'this side',
      options: ['this side', 'other side'],
      only: { of: 'along', not: [''] },
      onAir: false,
    }),
    alongTurns: p({
      label: 'Letters along',
      type: 'choice',
      default: 'turn with the way',
      options: ['turn with the way', 'stand upright'],
      only: { of: 'along', not: [''] },
      onAir: false,
    }),
    entries: p({
      label: 'List entries',
      type: 'choice',
      default: 'all together',
      options: ['all together', 'in turn'],
      locked: true,
      onAir: false,
    }),
    ...entryTimes,
    crawl: p({
      label: 'Crawls',
      type: 'number',
      default: 0,
      unit: 'px/s',
      min: -4000,
      max: 4000,
      onAir: false,
    }),
  },
  box: {
    ...placed,
    ...surface,
    radiusTopLeft: radius('Top left radius'),
    radiusTopRight: radius('Top right radius'),
    radiusBottomRight: radius('Bottom right radius'),
    radiusBottomLeft: radius('Bottom left radius'),
    leanLeft: lean('Left side leans'),
    leanRight: lean('Right side leans'),
  },
  ellipse: { ...placed, ...surface },
  path: {
    ...placed,
    ...surface,
    outlines: p({
      label: 'Points',
      type: 'outlines',
      default: [
        {
          points: [
            { x: 0, y: 0.5 },
            { x: 1, y: 0.5 },
          ],
          closed: false,
        },
      ],
      onAir: false,
    }),
    ...strokeEnds,
  },
  curve: {
    ...placed,
    ...surface,
    values: p({ label: 'Numbers', type: 'numbers', default: [2, 3, 5, 4, 6], onAir: true }),
    range: p({
      label: 'Range',
      type: 'choice',
      default: 'of the numbers',
      options: ['of the numbers', 'fixed'],
      onAir: false,
    }),
    low: p({ label: 'Lowest', type: 'number', default: 0, onAir: false }),
    high: p({ label: 'Highest', type: 'number', default: 10, onAir: false }),
    line: p({
      label: 'Line',
      type: 'choice',
      default: 'smooth',
      options: ['smooth', 'straight', 'steps'],
      onAir: false,
    }),
    ...strokeEnds,
  },
  picture: {
    ...placed,
    picture: p({ label: 'Picture', type: 'picture', default: '', onAir: true }),
    scaling: p({
      label: 'Scaling',
      type: 'choice',
      default: 'cover',
      options: ['cover', 'contain'],
      onAir: false,
    }),
    focusX: p({
      label: 'Focus across',
      type: 'number',
      default: 0.5,
      unit: 'share',
      min: 0,
      max: 1,
      onAir: true,
    }),
    focusY: p({
      label: 'Focus down',
      type: 'number',
      default: 0.5,
      unit: 'share',
      min: 0,
      max: 1,
      onAir: true,
    }),
    playing: p({
      label: 'A movie plays',
      type: 'choice',
      default: 'once, then holds',
      options: ['once, then holds', 'once, then goes', 'over and over'],
      onAir: false,
    }),
    movieStart: p({
      label: 'Movie from',
      type: 'number',
      default: 0,
      unit: 'seconds',
      min: 0,
      max: 36_000,
      step: 0.1,
      onAir: false,
    }),
    movieLength: p({
      label: 'Movie for',
      type: 'number',
      default: 0,
      unit: 'seconds',
      min: 0,
      max: 36_000,
      step: 0.1,
      onAir: false,
    }),
    movieSpeed: p({
      label: 'Movie speed',
      type: 'number',
      default: 1,
      unit: 'share',
      min: 0.05,
      max: 20,
      onAir: false,
    }),
    zoom: p({
      label: 'Zoom',
      type: 'number',
      default: 1,
      unit: 'share',
      min: 0.1,
      max: 10,
      onAir: true,
    }),
  },
  group: {
    ...placed,
    oneSize: p({ label: 'Texts at one size', type: 'switch', default: false, onAir: false }),
    entries: p({
      label: 'List entries',
      type: 'choice',
      default: 'all together',
      options: ['all together', 'in turn', 'rolling', 'crawling', 'in pages'],
      locked: true,
      onAir: false,
    }),
    ...entryTimes,
    ...entryRun,
  },
}

export type PartKind = keyof typeof properties
export type StyleValues<K extends PartKind> = {
  [P in keyof (typeof properties)[K]]: (typeof properties)[K][P] extends Property<infer T> ? ValueTypes[T] : never
}
/** The properties of a part that differ from their defaults. */
export type Style<K extends PartKind> = Partial<StyleValues<K>>
export type PropertyKey = { [K in PartKind]: keyof StyleValues<K> }[PartKind] & string

export const partKinds = Object.keys(properties) as PartKind[]

/** The properties of a kind, in the registry's order. */
export function propertiesOf(kind: PartKind): [string, Property][] {
  return Object.entries(properties[kind]) as [string, Property][]
}

/** One property of a kind, or undefined when that kind has none of that name. */
export function propertyOf(kind: PartKind, key: string): Property | undefined {
  return (properties[kind] as Record<string, Property>)[key]
}

const defaults = Object.fromEntries(
  partKinds.map((kind) => [
    kind,
    Object.fromEntries(propertiesOf(kind).map(([key, property]) => [key, property.default])),
  ]),
) as { [K in PartKind]: StyleValues<K> }

/** A part's style with every default filled in. */
export function fullStyle<K extends PartKind>(kind: K, style: Style<K>): StyleValues<K> {
  return { ...defaults[kind], ...style }
}

/** Whether a property of a part changes anything, as the part is. */
export function isInEffect({ kind, style }: { kind: PartKind; style: object }, key: string): boolean {
  const rule = propertyOf(kind, key)?.only
  if (!rule) return true
  const { of, is, not = [] } = rule
  const value = (style as Record<string, unknown>)[of] ?? propertyOf(kind, of)?.default
  return (is?.includes(value) ?? true) && !not.includes(value)
}
