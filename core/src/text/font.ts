import { AxisFlags, type Face, Font as HbFont, MetricsTag, Variation } from 'harfbuzzjs'
import { cached, LastFew } from '../cache/index.ts'
import { demand, Refusal } from '../refusal/index.ts'
import { faceOf, tableIn } from './face.ts'
import { type HanForm, hanFormsIn } from './han.ts'

/** One drawing step of a glyph outline, in font units, y up. */
export type OutlineStep = { type: 'M' | 'L' | 'Q' | 'C' | 'Z'; values: number[] }

export interface FontMetrics {
  /** All in ems, positive, from the baseline. */
  ascender: number
  descender: number
  capHeight: number
}

/** One axis of a variable font (OpenType 1.9, `fvar`), in the axis's own units. */
export interface FontAxis {
  /** Four characters; `wght`, `wdth`, `opsz`, `slnt` and `ital` are registered. */
  tag: string
  name: string
  least: number
  most: number
  /** As the font is when nothing is said. */
  standing: number
  /** The font asks that people are not shown it. */
  hidden: boolean
}

/** Values of axes by their tags, in the axes' own units. */
export type AxisValues = Readonly<Record<string, number>>

/** Instances that are kept of a font: an axis that moves asks for another one at every frame. */
const keptInstances = 64
/** Axes go in such steps of their own units, so that instances are found again; far below what can be seen. */
const stepsOfUnit = 64
const finerUnits = 64

/** What all instances of a font share. */
interface FontFile {
  face: Face
  family: string
  style: string
  fsType: number
  features: ReadonlySet<string>
  hanForms: readonly HanForm[]
  axes: readonly FontAxis[]
  covered: Map<number, boolean>
  instances: LastFew<string, Font>
}

/** A TrueType or OpenType font, loaded once and asked often; of a variable one, one instance. */
export class Font {
  readonly hb: HbFont
  /** Of outlines, ink and advances here; of a variable font a multiple of what its file says. */
  readonly unitsPerEm: number
  readonly metrics: FontMetrics
  /** Where it stands on each axis of its file. */
  readonly standing: AxisValues
  private readonly file: FontFile
  private readonly outlines = new Map<number, OutlineStep[]>()
  private readonly extents = new Map<number, { x: number; y: number; width: number; height: number }>()

  /**
   * @param source a font's bytes; what `at` gives for another instance of the same
   * @throws Refusal when the bytes are no TrueType or OpenType font, or one without outlines.
   */
  constructor(
    source: Uint8Array | FontFile,
    readonly name = 'font',
    standing?: AxisValues,
  ) {
    this.file = source instanceof Uint8Array ? fileOf(source, name) : source
    const { face } = this.file
    this.hb = new HbFont(face)
    this.standing = standing ?? standingOf(this.file.axes)
    if (standing) this.hb.setVariations(Object.entries(standing).map(([tag, value]) => new Variation(tag, value)))
    // HarfBuzz rounds what axes change to whole units of its scale: finer ones for fonts that have any.
    this.unitsPerEm = this.file.axes.length > 0 ? face.upem * finerUnits : face.upem
    this.hb.setScale(this.unitsPerEm, this.unitsPerEm)
    const extents = this.hb.hExtents()
    const em = this.unitsPerEm
    const cap = this.hb.getMetricPosition(MetricsTag.CAP_HEIGHT) || this.capFromGlyph() || em * 0.7
    this.metrics = { ascender: extents.ascender / em, descender: -extents.descender / em, capHeight: cap / em }
    if (!(this.metrics.ascender + this.metrics.descender > 0))
      throw new Refusal('font.broken', `"${name}" has no height; choose another file.`)
  }

  get family(): string {
    return this.file.family
  }

  get style(): string {
    return this.file.style
  }

  /** OS/2 fsType: what the licence lets one do with it; `embeddingOf` reads it. */
  get fsType(): number {
    return this.file.fsType
  }

  /** OpenType substitution features that the font has: `smcp`, `tnum` and the like. */
  get features(): ReadonlySet<string> {
    return this.file.features
  }

  /** The languages whose Han letters it says it has; none: it says nothing. */
  get hanForms(): readonly HanForm[] {
    return this.file.hanForms
  }

  /** Of a variable font, in the font's order; empty for any other. */
  get axes(): readonly FontAxis[] {
    return this.file.axes
  }

  /**
   * The instance that stands elsewhere on some axes; on the others as this one. Values are held within what the font covers,
   * and axes that it hasn't are passed over, so that a style can be given to any font.
   */
  at(values: AxisValues): Font {
    const { axes, instances } = this.file
    let isOther = false
    const standing: Record<string, number> = {}
    for (const { tag, least, most } of axes) {
      const wanted = values[tag] ?? this.standing[tag]!
      standing[tag] = Math.min(most, Math.max(least, Math.round(wanted * stepsOfUnit) / stepsOfUnit))
      isOther ||= standing[tag] !== this.standing[tag]
    }
    if (!isOther) return this
    return cached(instances, Object.values(standing).join(), () => new Font(this.file, this.name, standing))
  }

  private capFromGlyph(): number {
    const glyph = this.hb.nominalGlyph(0x48)
    return glyph ? (this.hb.glyphExtents(glyph)?.yBearing ?? 0) : 0
  }

  /** Whether the font's character map has this code point. */
  covers(codePoint: number): boolean {
    const { covered } = this.file
    let known = covered.get(codePoint)
    if (known === undefined) {
      known = (this.hb.nominalGlyph(codePoint) ?? 0) > 0
      covered.set(codePoint, known)
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

const standingOf = (axes: readonly FontAxis[]): AxisValues =>
  Object.fromEntries(axes.map(({ tag, standing }) => [tag, standing]))

/** @throws Refusal when the bytes are no TrueType or OpenType font, or one without outlines. */
function fileOf(bytes: Uint8Array, name: string): FontFile {
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
  const os2 = tableIn(bytes, 'OS/2')
  const features = new Set(face.getTableFeatureTags('GSUB'))
  return {
    face,
    family: face.getName(16, 'en') || face.getName(1, 'en') || name,
    style: face.getName(17, 'en') || face.getName(2, 'en') || 'Regular',
    fsType: os2 && os2.length >= 10 ? os2[8]! * 256 + os2[9]! : 0,
    features,
    hanForms: hanFormsIn(os2, features.has('locl')),
    axes: axesOf(face),
    covered: new Map(),
    instances: new LastFew(keptInstances),
  }
}

function axesOf(face: Face): FontAxis[] {
  return Object.values(face.getAxisInfos())
    .sort((a, b) => a.axisIndex - b.axisIndex)
    .map(({ tag, nameId, min, max, default: standing, flags }) => ({
      tag,
      name: face.getName(nameId, 'en') || tag,
      least: min,
      most: max,
      standing,
      hidden: (flags & AxisFlags.HIDDEN) !== 0,
    }))
}
