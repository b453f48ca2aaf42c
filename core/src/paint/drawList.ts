import type { Box } from '../geometry/index.ts'
import type { Matrix } from './matrix.ts'
import type { Pixels } from './picture.ts'

/** A colour as `#rrggbb` or `#rrggbbaa`, or a gradient in the path's own coordinates. */
export type Brush =
  | string
  | { kind: 'linear'; x0: number; y0: number; x1: number; y1: number; stops: [number, string][] }
  | { kind: 'radial'; x: number; y: number; radius: number; stops: [number, string][] }

export interface PathItem {
  kind: 'path'
  /** SVG path data, filled by the non-zero rule. */
  d: string
  /** Of the path's geometry, in its own coordinates. */
  bounds: Box
  fill?: Brush
  stroke?: {
    brush: Brush
    width: number
    cap?: 'butt' | 'round' | 'square'
    join?: 'miter' | 'round' | 'bevel'
    /** px drawn and left out, over and over. */
    dash?: number
  }
  /** The first lies on top. */
  shadows?: readonly { x: number; y: number; blur: number; colour: string }[]
  /** It stands in for what is drawn over it, so that this casts shadows. */
  castsOnly?: true
}

export interface PictureItem {
  kind: 'picture'
  pixels: Pixels
  /** Where it is drawn, in its own coordinates. */
  bounds: Box
}

/** An edge that fades from all (at x0, y0) to nothing (at x1, y1). */
export interface SoftEdge {
  x0: number
  y0: number
  x1: number
  y1: number
}

export interface LayerItem {
  kind: 'layer'
  /** What it draws, by an id; painting does not read it. */
  of?: string
  matrix: Matrix
  opacity: number
  /** SVG path data in the layer's own coordinates. */
  clip?: string
  soft?: SoftEdge
  matte?: { items: Item[]; by: 'alpha' | 'luminance'; invert: boolean }
  /** Standard deviation in px of the coordinates outside the layer; before `soft` and `matte` cut it. */
  blur?: number
  /** A mode of W3C Compositing and Blending Level 1; absent: normal. */
  blend?: string
  items: Item[]
}

export type Item = PathItem | PictureItem | LayerItem

/** Everything one frame shows, lowest first, in frame px. */
export interface DrawList {
  width: number
  height: number
  items: Item[]
}
