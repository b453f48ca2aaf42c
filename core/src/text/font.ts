import { Font as HbFont, MetricsTag } from 'harfbuzzjs'
import { demand, Refusal } from '../refusal/index.ts'
import { faceOf, tableIn } from './face.ts'

/** One drawing step of a glyph outline, in font units, y up. */
export type OutlineStep = { type: 'M' | 'L' | 'Q' | 'C' | 'Z'; values: number[] }

export interface FontMetrics {
  /** All in ems, positive, from the baseline. */
  ascender: number
  descender: number
  capHeight: number
}

/** A TrueType or OpenType font, loaded once and asked often. */
export class Font {
  readonly hb: HbFont
  readonly unitsPerEm: number
  readonly metrics: FontMetrics
  readonly family: string
  readonly style: string
  /** OS/2 fsType: what the licence lets one do with it; `embeddingOf` reads it. */
  readonly fsType: number
  /** OpenType substitution features that the font has: `smcp`, `tnum` and the like. */
  readonly features: ReadonlySet<string>
  private readonly covered = new Map<number, boolean>()
  private readonly outlines = new Map<number, OutlineStep[]>()
  private readonly extents = new Map<number, { x: number; y: number; width: number; height: number }>()

  /** @throws Refusal when the bytes are no TrueType or OpenType font, or one without outlines. */
  constructor(
    bytes: Uint8Array,
    readonly name = 'font',
  ) {
    const tag = bytes.length > 12 ? String.fromCharCode(...bytes.subarray(0, 4)) : ''
    demand(
      tag === '\0\x01\0\0' || tag === 'OTTO' || tag === 'true',
      'font.format',
      `"${name}" is not a TrueType or OpenType font; choose a .ttf or .otf file.`,
    )
    const has = (table: string) => tableIn(bytes, table) !== undefined
    demand(
      has('cmap') && has('head') && has('hmtx') && (has('glyf') || has('CFF ') || has('CFF2')),
      'font.broken',
      `"${name}" is a font without characters or outlines; choose another file.`,
    )
    const face = faceOf(bytes)
    this.hb = new HbFont(face)
    this.unitsPerEm = face.upem
    const extents = this.hb.hExtents()
    const em = this.unitsPerEm
    const cap = this.hb.getMetricPosition(MetricsTag.CAP_HEIGHT) || this.capFromGlyph() || em * 0.7
    this.metrics = { ascender: extents.ascender / em, descender: -extents.descender / em, capHeight: cap / em }
    if (!(this.metrics.ascender + this.metrics.descender > 0))
      throw new Refusal('font.broken', `"${name}" has no height; choose another file.`)
    this.features = new Set(face.getTableFeatureTags('GSUB'))
    const os2 = tableIn(bytes, 'OS/2')
    this.fsType = os2 && os2.length >= 10 ? os2[8]! * 256 + os2[9]! : 0
    this.family = face.getName(16, 'en') || face.getName(1, 'en') || name
    this.style = face.getName(17, 'en') || face.getName(2, 'en') || 'Regular'
  }

  private capFromGlyph(): number {
    const glyph = this.hb.nominalGlyph(0x48)
    return glyph ? (this.hb.glyphExtents(glyph)?.yBearing ?? 0) : 0
  }

  /** Whether the font's character map has this code point. */
  covers(codePoint: number): boolean {
    let known = this.covered.get(codePoint)
    if (known === undefined) {
      known = (this.hb.nominalGlyph(codePoint) ?? 0) > 0
      this.covered.set(codePoint, known)
    }
    return known
  }

  /** A glyph's outline in font units, y up; cached. */
  outline(glyph: number): OutlineStep[] {
    let steps = this.outlines.get(glyph)
    if (!steps) {
      steps = this.hb.glyphToJson(glyph) as OutlineStep[]
      this.outlines.set(glyph, steps)
    }
    return steps
  }

  /** A glyph's ink in font units, y up: left, top, width, and height (negative, as HarfBuzz has it). */
  ink(glyph: number): { x: number; y: number; width: number; height: number } {
    let box = this.extents.get(glyph)
    if (!box) {
      const e = this.hb.glyphExtents(glyph)
      box = { x: e?.xBearing ?? 0, y: e?.yBearing ?? 0, width: e?.width ?? 0, height: e?.height ?? 0 }
      this.extents.set(glyph, box)
    }
    return box
  }
}
