export type FontId = string
export type FieldId = string

/** `#rrggbb`, `#rrggbbaa`, or `palette:ID`. */
export type Colour = string

export interface Gradient {
  kind: 'linear' | 'radial'
  /** Degrees clockwise; 0 runs from left to right. Linear only. */
  angle: number
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
}

/** The kinds of field. */
export type FieldType = 'text' | 'number' | 'switch' | 'colour' | 'picture' | 'choice'
