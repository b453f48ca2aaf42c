import type { Rate } from '../time/index.ts'
import type { CheckLevel } from './checkKinds.ts'
import type { PartKind, PropertyKey, Style } from './properties.ts'
import type { Colour, FieldId, FieldType, FieldValue, FontId, NumberFormat } from './values.ts'

export type PartId = string
export type ShapeId = string

/** `start` is left or top, `end` right or bottom. */
export type Edge = 'start' | 'middle' | 'end'
export type AxisName = 'x' | 'y'

/** What a tie or a share looks at: the union of some parts' boxes, or a region of the frame. */
export type Target = { parts: PartId[] } | { region: 'frame' | 'action' | 'title' | 'group' }

/** What becomes of a tie when every part it looks at is hidden or empty. */
export type WhenGone = 'hide' | 'collapse' | 'keep'

/** *My `edge` = `at` of `to` + `gap`.* */
export interface Tie {
  edge: Edge
  to: Target
  /** An edge of the target, or a fraction across it (0.5 is its middle). */
  at: Edge | number
  /** px, to the right or down. */
  gap: number
  /** `settled`: the target's place at rest. `moving`: its animated bounds at the frame drawn. */
  follow: 'settled' | 'moving'
  gone: WhenGone
}

export type Size =
  | { kind: 'fixed'; value: number }
  /** A text's, picture's or group's own size. */
  | { kind: 'content' }
  /** factor x the target's size + plus (px). */
  | { kind: 'share'; of: Target; factor: number; plus: number }

/** How one axis of a part is settled: two ties; or one tie and a size; or a size at a fixed place in its group. */
export interface Axis {
  ties: Tie[]
  size: Size
  /** px from the start of the group (or frame); used when there is no tie. */
  place: number
  min?: number
  max?: number
}

/** How far a text may run before its fit steps begin. */
export type Room =
  | { kind: 'free' }
  | { kind: 'width'; value: number }
  /** As far as an edge, plus a gap (negative: short of it). */
  | { kind: 'limit'; to: Target; at: Edge | number; gap: number }

export type Ease =
  | 'linear'
  | { bezier: [number, number, number, number] }
  | { steps: number; jump: 'start' | 'end' | 'none' | 'both' }
  | { points: [number, number][] }

export type SpanName = 'in' | 'hold' | 'out'

export interface Keyframe {
  span: SpanName
  /** Frames from the start of its span; as drawn where it has a speed. */
  at: number
  /** px a second: it comes as soon as the way from the key before it takes, a frame at least, and within its span. */
  speed?: number
  value: number
  /** From this key to the next. */
  ease: Ease
}

export type ShiftUnit = 'px' | 'own' | 'frame' | 'off'
export type Side = 'left' | 'right' | 'top' | 'bottom'

export interface Track {
  keys: Keyframe[]
}

/** How a channel works besides its values; `leaving` says what differs in an Out with keys of its own. */
interface TrackOf<Settings> extends Track {
  leaving?: Settings
}

interface ShiftSettings {
  /** px; share of the own box; share of the frame; or 1 = just outside the frame (negative: left or top). */
  unit: ShiftUnit
}
export type ShiftTrack = TrackOf<ShiftSettings> & ShiftSettings

interface RevealSettings {
  from: Side
  /** px over which the edge fades; 0 is hard. */
  soft: number
  /** Degrees that the edge leans clockwise. */
  slant: number
}
export type RevealTrack = TrackOf<RevealSettings> & RevealSettings

interface GrowSettings {
  axis: AxisName
  from: Edge
}
export type GrowTrack = TrackOf<GrowSettings> & GrowSettings

interface TintSettings {
  /** The colour that everything drawn turns to as the value goes from 0 to 1. */
  to: Colour
}
export type TintTrack = TrackOf<TintSettings> & TintSettings

interface AxisSettings {
  /** Of the font: four characters, as `slnt`. */
  tag: string
}
export type AxisTrack = TrackOf<AxisSettings> & AxisSettings

interface TrimSettings {
  /** Where a path begins to be drawn. */
  from: Edge
}
export type TrimTrack = TrackOf<TrimSettings> & TrimSettings

interface CountSettings {
  /** The number that is counted from. */
  start: number
}
export type CountTrack = TrackOf<CountSettings> & CountSettings

interface SettleSettings {
  /** Letters change at random until they settle, or fall into place as on a board of flaps. */
  as: 'scramble' | 'board'
  /** What else may stand there: digits, letters of its alphabet, or the text's own letters. */
  from: 'digits' | 'alphabet' | 'own'
}
export type SettleTrack = TrackOf<SettleSettings> & SettleSettings

export interface Tracks {
  shiftX?: ShiftTrack
  shiftY?: ShiftTrack
  scale?: Track
  turn?: Track
  fade?: Track
  reveal?: RevealTrack
  grow?: GrowTrack
  /** px, standard deviation as CSS counts a blur. */
  blur?: Track
  colour?: TintTrack
  /** Thousandths of an em added between a text's characters; its place stays. */
  track?: Track
  /** Added to where a text's variable fonts stand on `wght`, in its units; the text's place stays. */
  weight?: Track
  /** Likewise on `wdth`, per cent of the normal width. */
  stretch?: Track
  /** Likewise on any other axis. */
  axis?: AxisTrack
  /** Share of a path's length that is drawn. */
  trim?: TrimTrack
  /** Shares of the way that a text runs along, by which it stands further on. */
  travel?: Track
  /** Share of the way from a number to the numbers that a text says. */
  count?: CountTrack
}

/** The channels that characters, words and lines can have by themselves. */
export interface SegmentTracks extends Pick<Tracks, 'shiftX' | 'shiftY' | 'scale' | 'turn' | 'fade' | 'blur'> {
  /** Share of the way to what each letter is; before 1 another one stands in its place. */
  settle?: SettleTrack
}

export type SegmentOrder = 'forward' | 'backward' | 'middle' | 'random'

/** The same channels per character, word or line. All segments share the tracks; each plays them at its own time. */
export interface Segments {
  by: 'character' | 'word' | 'line'
  order: SegmentOrder
  /** For the random order. */
  seed: number
  /** 0: one after another; 1: all at once. */
  overlap: number
  /** While not all of them are there, a caret stands behind the last one that is. */
  caret?: boolean
  tracks: SegmentTracks
}

export interface Motion {
  /** Fraction of the rest box that scale and turn keep in place. */
  anchor: { x: number; y: number }
  tracks: Tracks
  segments?: Segments
  /** `mirror`: Out is In run backwards. `own`: Out has keys of its own. */
  out: 'mirror' | 'own'
  /** Ride another part's motion besides the own. */
  ride?: PartId
  /**
   * When what it shows, or its box, changes while the title is up: it leaves by its own Out and comes by its own In. Absent:
   * it travels, and its words change as the title's `update` says.
   */
  update?: 'comes'
}

export interface Matte {
  part: PartId
  by: 'alpha' | 'luminance'
  invert: boolean
  /** Its shadows, glows and blur cut too; else its own shape does: fill and stroke. */
  shadows?: boolean
}

interface PartOf<K extends PartKind> {
  id: PartId
  name: string
  kind: K
  x: Axis
  y: Axis
  /** Properties of the registry that differ from their default. */
  style: Style<K>
  motion: Motion
  matte?: Matte
  room?: Room
  /** Can't be moved or changed by hand on the frame. */
  locked?: boolean
  /** Why it, and what it holds, may stay unseen: it is meant so. */
  unseen?: string
  /** Groups only; painted in order, like the template's own. */
  parts?: Part[]
}
export type TextPart = PartOf<'text'>
export type BoxPart = PartOf<'box'>
export type EllipsePart = PartOf<'ellipse'>
export type PathPart = PartOf<'path'>
export type CurvePart = PartOf<'curve'>
export type PicturePart = PartOf<'picture'>
export type GroupPart = PartOf<'group'>
export type Part = TextPart | BoxPart | EllipsePart | PathPart | CurvePart | PicturePart | GroupPart

/** What an editor may change; everything else is locked. */
export interface Field {
  id: FieldId
  /** Column name in data; unique, lower case. */
  key: string
  name: string
  note: string
  type: FieldType
  /** Properties this field sets. A text field may also stand in the runs of texts, by its id. */
  targets: { part: PartId; property: PropertyKey }[]
  default: FieldValue
  /** Shown where nothing has been given yet. */
  placeholder?: string
  required: boolean
  section?: string
  /** Texts: characters (UAX #29); of a list of texts: of each. */
  limit?: number
  /** Texts: lines. */
  lines?: number
  /** Texts: the characters that may stand, with ranges, as in `A-Z0-9:. `. */
  allowed?: string
  /** Numbers, alone and in lists. */
  min?: number
  max?: number
  /** Lists: most entries. */
  count?: number
  format?: NumberFormat
  /** Moments: a date pattern of Unicode LDML (UTS #35), `EEEE d MMMM, HH:mm`. */
  pattern?: string
  /** BCP 47 tag of the language of its words, months, days and digits; absent: the title's. */
  language?: string
  /**
   * Whether the default is only a sample, so that a title in which it stands because nothing was given must be looked
   * at; absent: what is read in a text is, anything else is not.
   */
  sample?: boolean
  /**
   * What stands where a row gives nothing: the moment of rendering or the title's own length (moments; a length in numbers
   * is one of seconds), the number of its row, or of all rows; absent: the default.
   */
  stands?: 'now' | 'length' | 'row' | 'rows'
  /** Pictures: what an empty cell means; absent: the default. */
  empty?: 'default' | 'none'
  /** Pictures: the word that means no picture in data; absent: `none`. */
  none?: string
  /** Pictures: what stands where the one that is given is not there; absent: the title must not go out. */
  fallback?: string
  /** Lists of texts: what stands between two of them. */
  between?: string
  /** Colours: any colour; absent: those of the palette. */
  free?: boolean
  /** Colours: those of the palette that it gives, each as `palette:ID`. */
  paints?: Colour[]
  /** Pictures: what besides the picture may be changed. */
  picture?: { scaling?: boolean; focus?: boolean; zoom?: [number, number] }
  /** Choices: one option sets several properties. */
  options?: ChoiceOption[]
  /** Styles: fonts that may be chosen, and sizes (px) from and to. */
  fonts?: FontId[]
  sizes?: [number, number]
  /** Shifts: px from and to, on each axis. */
  reach?: { x: [number, number]; y: [number, number] }
  /** It is about the whole title: a shift moves it, a number scales it (per cent), a choice of the nine places puts it there. */
  whole?: boolean
  onAir: boolean
}

/** A colour worked out from others of the palette, which it names as `palette:ID`. */
export type Derived =
  /** A share of the way to white, or to black. */
  | { as: 'lighter' | 'darker'; of: Colour; by: number }
  /** Of two the one that stands out more from a ground. */
  | { as: 'readable'; on: Colour; one: Colour; other: Colour }

/** A named colour. */
export interface PaletteColour {
  id: string
  name: string
  /** As it stands; of one that is worked out, what came of that. */
  colour: Colour
  from?: Derived
}

/** One of a choice's options, and what it sets. */
export interface ChoiceOption {
  /** As data names it. */
  value: string
  name: string
  sets: Setting[]
  /** Colours of the palette (`palette:ID`) and what they are with it. */
  colours?: { of: Colour; to: Colour }[]
}

/**
 * A property of the registry, the axis `x` or `y`, the `motion`, the `room`, or the `order` (its place in its list, from 0
 * below), with the value that an option gives it.
 */
export interface Setting {
  part: PartId
  property: string
  value: unknown
}

/** A line of the hand-off that is no field: it stands before one, or, without `before`, at the end. */
export interface Comment {
  id: string
  text: string
  before?: FieldId
}

/** One filling: field keys to values. A key that is absent stands at its default. */
export type Values = Record<string, FieldValue>

export interface Proof {
  id: string
  name: string
  values: Values
}

/** A style under a name, for parts of its kind and for what others have in common with it. */
export type SavedStyle = { [K in PartKind]: { name: string; kind: K; style: Style<K> } }[PartKind]

export interface FontFile {
  id: FontId
  family: string
  style: string
  file: string
  sha256: string
}

export interface MediaFile {
  id: string
  /** As data names it: `mill.png`. */
  name: string
  file: string
  sha256: string
  width: number
  height: number
  /** A moving picture: an animated PNG of so many frames. */
  movie?: { frames: number; rate: Rate }
}

/** A sound that plays with the title. */
export interface SoundFile {
  id: string
  name: string
  file: string
  sha256: string
  seconds: number
  /** It begins with this span, and so many frames into it. */
  span: SpanName
  at: number
  /** dB; 0 as it is. */
  level: number
}

export interface Frame {
  width: number
  height: number
  rate: Rate
  /** Inset from each edge as a share of the frame: SMPTE ST 2046-1 has 0.035 and 0.05. */
  safe: { action: number; title: number }
}

export interface Spans {
  in: number
  out: number
  hold: {
    frames: number
    gives: 'freeze' | 'loop' | 'stretch'
    /** Frames of Hold, for `loop`. */
    loop?: { from: number; to: number }
  }
}

/** How a title goes from one filling to the next while it is up. */
export interface Update {
  /**
   * How long every part takes that travels to its new box, one clock for all: so many frames, or so many px a second, which
   * the longest way sets (a frame at least).
   */
  pace: { kind: 'time'; frames: number } | { kind: 'speed'; speed: number }
  ease: Ease
  /** Words and pictures leave and come by a short fade, or by their own Out and In. */
  words: 'fade' | 'moves'
  /** Frames: what leaves is gone after `out`; what comes begins at `after` and takes `in`. */
  fade: { out: number; after: number; in: number }
}

/** A line to draw by: across the frame at a height, or down it. */
export interface Guide {
  axis: AxisName
  /** px from the frame's left or top. */
  at: number
}

/** Another shape of the frame, and what differs in it from the first one, which the template is itself. */
export interface Shape {
  id: ShapeId
  name: string
  width: number
  height: number
  /** As the frame's. */
  safe: Frame['safe']
  guides: Guide[]
  /** What parts are otherwise in it. */
  sets: Setting[]
  /** What options of choices set otherwise in it. */
  options: { field: FieldId; option: string; sets: Setting[] }[]
}

export interface Template {
  schema: 5
  id: string
  name: string
  note: string
  /** BCP 47 tag of the language of its texts where nothing else is said; absent: none in particular (`und`). */
  language?: string
  tags: string[]
  frame: Frame
  /** Besides that of `frame`. */
  shapes?: Shape[]
  spans: Spans
  /** Absent: `plainUpdate`. */
  update?: Update
  palette: PaletteColour[]
  /** A tree, painted in order: the first lies lowest. */
  parts: Part[]
  guides: Guide[]
  /** Styles that its designer gave a name: they travel with it. */
  styles?: SavedStyle[]
  sections: { id: string; name: string }[]
  fields: Field[]
  comments: Comment[]
  proofs: Proof[]
  poster: { frame: number; values: Values }
  fonts: FontFile[]
  /** Fonts asked, in order, for a character that a text's own font lacks. */
  fallbacks: FontId[]
  media: MediaFile[]
  sounds: SoundFile[]
  /** What checks weigh in this template, by their code; those that are not named weigh what they do elsewhere. */
  levels?: Record<string, CheckLevel>
}
