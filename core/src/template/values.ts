export type FontId = string
export type FieldId = string

/** `#rrggbb`, `#rrggbbaa`, or `palette:ID`. */
export type Colour = string

export interface Gradient {
  kind: 'linear' | 'radial'
  /** Degrees clockwise; 0 runs from left to right. Linear only. */
  angle: number
  /** Shares of the box; absent: its middle. Radial only. */
  centre?: { x: number; y: number }
  /** Share of half of its longer side; absent: all of that. Radial only. */
  radius?: number
  stops: { at: number; colour: Colour }[]
}

/** A picture laid into a shape, scaled to cover or to be contained in its box. */
export interface PictureFill {
  kind: 'picture'
  /** Name of a picture that the template carries. */
  picture: string
  scaling: 'cover' | 'contain'
}

export type Fill = Colour | Gradient | PictureFill | null

/** A shadow, or, without an offset, a glow. */
export interface Shadow {
  x: number
  y: number
  /** Standard deviation of the blur x 2, px, as CSS and Canvas 2D count it. */
  blur: number
  colour: Colour
}

/** A point of a path. Places and handles are fractions of the part's box, so that ties stretch the path with it. */
export interface PathPoint {
  x: number
  y: number
  /** Control points of the cubic curves before and after, as offsets from the point; absent: straight. */
  in?: [number, number]
  out?: [number, number]
  /** The two handles stay in one line. */
  smooth?: boolean
}

/** One line of a path, open or closed. */
export interface Outline {
  points: PathPoint[]
  closed: boolean
}

/** One step of a text's fit, used only as far as needed and never past `to`. */
export type FitStep =
  /**
   * As large as takes a share of its room, at least and at most so many times its own size; first of all. By the room's
   * width (absent), by the height of its box, or as both allow: with `wrap` in as many lines as make it largest.
   */
  | { step: 'fill'; share: number; least: number; most: number; by?: 'width' | 'height' | 'both' }
  /** At most this many lines. */
  | { step: 'wrap'; to: number }
  /** Tracking down to, in thousandths of an em. */
  | { step: 'tighten'; to: number }
  /** Glyph width down to, as a share of its own. */
  | { step: 'condense'; to: number }
  /** Size down to, as a share of its own. */
  | { step: 'shrink'; to: number }
  /** Cut, ending in an ellipsis. */
  | { step: 'cut' }

/** Where a text stands on an axis of a variable font, in the axis's own units. */
export interface AxisPlace {
  /** Four characters, as `slnt`. */
  tag: string
  value: number
}

/** A stretch of a text with one style: literal, or what a field says. */
export interface Run {
  text?: string
  field?: FieldId
  font?: FontId
  /** px */
  size?: number
  colour?: Colour
  /** thousandths of an em */
  tracking?: number
  /** OpenType features besides the text's own. */
  features?: string[]
  /** Of a variable font: 1 to 1000; 0: as the font is. */
  weight?: number
  /** Of a variable font: per cent of its normal width; 0: as the font is. */
  stretch?: number
  /** Other axes of a variable font, besides the text's own. */
  axes?: AxisPlace[]
}

/** The kinds of field: what an editor gives. */
export const fieldTypes = [
  'text',
  'number',
  'moment',
  'texts',
  'numbers',
  'switch',
  'colour',
  'picture',
  'choice',
  'style',
  'shift',
  'language',
] as const
export type FieldType = (typeof fieldTypes)[number]

/** What a picture field takes: which picture, and how it lies in its part. */
export interface PictureValue {
  picture: string
  scaling?: 'cover' | 'contain'
  /** Shares of the picture, 0 to 1. */
  focusX?: number
  focusY?: number
  zoom?: number
}

export interface StyleValue {
  font?: FontId
  /** px */
  size?: number
}

/** px, to the right and down. */
export interface ShiftValue {
  x: number
  y: number
}

/** `moment`: local date and time as ISO 8601 has them, `2026-11-26T18:30`. */
export type FieldValue = string | number | boolean | number[] | string[] | PictureValue | StyleValue | ShiftValue

/** What stands in a list of texts for a new page: the thematic break of CommonMark. */
export const pageBreak = '---'

/** How a number is written in a text. */
export interface NumberFormat {
  decimals: number
  mark: '.' | ','
  /** Between thousands; empty for nothing. */
  group: '' | ' ' | ',' | '.' | '’'
  /** Before and behind: a currency, a unit with its space. */
  before: string
  after: string
  /** A plus before numbers above zero. */
  plus: boolean
}
