import { Buffer, Direction, Feature, shape } from 'harfbuzzjs'
import { levelsOf } from './bidi.ts'
import { characterStarts } from './breaks.ts'
import type { Font } from './font.ts'
import { type HanForm, hanFormOf, hasHan } from './han.ts'

/** A stretch of text with its style worked out. */
export interface StyledRun {
  text: string
  font: Font
  /** px per em */
  size: number
  /** thousandths of an em, added after every character */
  tracking: number
  /** `#rrggbb` or `#rrggbbaa` */
  colour: string
  /** OpenType feature tags that are switched on. */
  features?: readonly string[]
  /** BCP 47 tag, from which HarfBuzz takes the OpenType language system; absent: none in particular. */
  language?: string
}

export interface Glyph {
  id: number
  /** UTF-16 offset of the first unit of its cluster. */
  start: number
  /** Ems, along the line. */
  advance: number
  /** Ems; y up. */
  dx: number
  dy: number
}

/** A stretch of one style, one font, one script and one direction, shaped. Glyphs stand left to right. */
export interface Item {
  start: number
  end: number
  level: number
  run: StyledRun
  font: Font
  glyphs: Glyph[]
  /**
   * To which share of their own width its glyphs are scaled where the text was narrowed by its fonts' width axis (`narrow`);
   * absent: as the fit says.
   */
  across?: number
  /** What stands at the end of a line that is broken at a soft hyphen; absent: there is none in this stretch. */
  hyphen?: Glyph
}

export interface Shaped {
  text: string
  /** In logical order. */
  items: Item[]
  base: 0 | 1
  /** Characters that no font has, each once, as `U+XXXX`. */
  missing: string[]
}

const scripts: [string, RegExp][] = [
  ['Latn', /\p{Script=Latin}/u],
  ['Arab', /\p{Script=Arabic}/u],
  ['Hebr', /\p{Script=Hebrew}/u],
  ['Grek', /\p{Script=Greek}/u],
  ['Cyrl', /\p{Script=Cyrillic}/u],
  ['Han', /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}]/u],
  ['Hang', /\p{Script=Hangul}/u],
  ['Thai', /\p{Script=Thai}/u],
  ['Deva', /\p{Script=Devanagari}/u],
]

/** Common and inherited characters (spaces, digits, marks) join what stands before them. */
function scriptOf(codePoint: number): string | undefined {
  if (codePoint < 0x300) return codePoint > 0x40 ? 'Latn' : undefined
  const character = String.fromCodePoint(codePoint)
  return scripts.find(([, pattern]) => pattern.test(character))?.[0]
}

/** Default-ignorable, drawn as nothing whether or not a font has it; or a space that can be made of another. */
function needsNoGlyph(codePoint: number): boolean {
  return (
    codePoint < 0x20 ||
    codePoint === 0xad ||
    // Spaces of other widths: HarfBuzz makes them of the font's own space where the font has none.
    (codePoint >= 0x2000 && codePoint <= 0x200a) ||
    codePoint === 0x202f ||
    codePoint === 0x205f ||
    codePoint === 0x3000 ||
    (codePoint >= 0x200b && codePoint <= 0x200f) ||
    (codePoint >= 0x2028 && codePoint <= 0x202e) ||
    (codePoint >= 0x2060 && codePoint <= 0x206f) ||
    (codePoint >= 0xfe00 && codePoint <= 0xfe0f) ||
    codePoint === 0xfeff ||
    (codePoint >= 0xe0100 && codePoint <= 0xe01ef)
  )
}

export function unicodeName(codePoint: number): string {
  return `U+${codePoint.toString(16).toUpperCase().padStart(4, '0')}`
}

/** A text as it is drawn: a tab is one space, other control characters but the line feed are nothing. */
export function drawnText(text: string): string {
  return /[\u0000-\u0009\u000b-\u001f\u007f-\u009f]/.test(text)
    ? text
        .replace(/\r\n?/g, '\n')
        .replaceAll('\t', ' ')
        .replace(/[\u0000-\u0009\u000b-\u001f\u007f-\u009f]/g, '')
    : text
}

const plain = /^[\u0020-\u007e\u00a0-\u024f]*$/

/** Whether one font has every character of a stretch. */
function coversAll(font: Font, text: string): boolean {
  for (const character of text) {
    const codePoint = character.codePointAt(0)!
    if (!needsNoGlyph(codePoint) && !font.covers(codePoint)) return false
  }
  return true
}

/**
 * The first font that has a whole user-perceived character, the text's own if none has.
 * @param form of Han letters: a font that says it has this one comes before those that say they have others
 */
function fontFor(
  character: string,
  own: Font,
  fallbacks: readonly Font[],
  missing: Set<string>,
  form: HanForm | undefined,
): Font {
  if (form && hasHan(character)) {
    const isOf = (font: Font) => font.hanForms.includes(form) && coversAll(font, character)
    const ofLanguage = isOf(own) || own.hanForms.length === 0 ? undefined : fallbacks.find(isOf)
    const among = coversAll(own, character) ? ofLanguage : fallbacks.find(isOf)
    if (among) return among
  }
  if (coversAll(own, character)) return own
  const other = fallbacks.find((font) => coversAll(font, character))
  if (other) return other
  for (const unit of character) {
    const codePoint = unit.codePointAt(0)!
    if (!needsNoGlyph(codePoint) && ![own, ...fallbacks].some((font) => font.covers(codePoint)))
      missing.add(unicodeName(codePoint))
  }
  return own
}

const buffer = new Buffer()
const featureOf = new Map<string, Feature>()

function featuresOf(tags: readonly string[]): Feature[] {
  return tags.map((tag) => {
    const feature = featureOf.get(tag) ?? new Feature(tag, 1)
    featureOf.set(tag, feature)
    return feature
  })
}

function shapeItem(text: string, item: Item): void {
  buffer.clearContents()
  buffer.addText(text, item.start, item.end - item.start)
  buffer.guessSegmentProperties()
  // Always said: what is guessed is the process's own.
  buffer.setLanguage(item.run.language ?? 'und')
  buffer.setDirection(item.level % 2 === 1 ? Direction.RTL : Direction.LTR)
  const { features } = item.run
  if (features && features.length > 0) shape(item.font.hb, buffer, featuresOf(features))
  else shape(item.font.hb, buffer)
  const em = item.font.unitsPerEm
  const infos = buffer.getGlyphInfos()
  const positions = buffer.getGlyphPositions()
  item.glyphs = infos.map((info, i) => {
    const position = positions[i]!
    return {
      id: info.codepoint,
      start: info.cluster,
      advance: position.xAdvance / em,
      dx: position.xOffset / em,
      dy: position.yOffset / em,
    }
  })
}

/** Where a word may be parted (Unicode, SOFT HYPHEN): seen only where it is. */
export const softHyphen = '\u00ad'

/** The hyphen of an item's font: U+2010, or the hyphen-minus where it has none. */
function hyphenOf({ font }: Item): Glyph {
  buffer.clearContents()
  buffer.addText(font.covers(0x2010) ? '\u2010' : '-')
  buffer.guessSegmentProperties()
  shape(font.hb, buffer)
  const em = font.unitsPerEm
  return {
    id: buffer.getGlyphInfos()[0]!.codepoint,
    start: 0,
    advance: buffer.getGlyphPositions()[0]!.xAdvance / em,
    dx: 0,
    dy: 0,
  }
}

/**
 * Shapes styled runs as one text: UAX #9 levels over the whole, then stretches of one style, level, script and font, each
 * shaped by HarfBuzz with its surroundings as context.
 */
export function shapeRuns(runs: readonly StyledRun[], fallbacks: readonly Font[], direction?: 'ltr' | 'rtl'): Shaped {
  const text = runs.map((run) => run.text).join('')
  const { levels, base } = levelsOf(text, direction)
  const missing = new Set<string>()
  const items: Item[] = []
  let offset = 0
  for (const run of runs) {
    const end = offset + run.text.length
    if (run.text && !levels && plain.test(run.text) && coversAll(run.font, run.text))
      items.push({ start: offset, end, level: 0, run, font: run.font, glyphs: [] })
    else if (run.text) split(text, offset, run, levels, fallbacks, missing, items)
    offset = end
  }
  const isSoft = text.includes(softHyphen)
  for (const item of items) {
    shapeItem(text, item)
    if (isSoft && text.slice(item.start, item.end).includes(softHyphen)) item.hyphen = hyphenOf(item)
  }
  return { text, items, base, missing: [...missing] }
}

function split(
  _text: string,
  offset: number,
  run: StyledRun,
  levels: Uint8Array | undefined,
  fallbacks: readonly Font[],
  missing: Set<string>,
  items: Item[],
): void {
  const starts = characterStarts(run.text)
  const form = hanFormOf(run.language)
  let open: Item | undefined
  let openScript: string | undefined
  starts.forEach((start, n) => {
    const character = run.text.slice(start, starts[n + 1] ?? run.text.length)
    const font = fontFor(character, run.font, fallbacks, missing, form)
    const script = scriptOf(character.codePointAt(0)!)
    const level = levels?.[offset + start] ?? 0
    const joins =
      open && open.font === font && open.level === level && (!script || !openScript || script === openScript)
    const end = offset + start + character.length
    if (joins) {
      open!.end = end
      openScript ??= script
    } else {
      open = { start: offset + start, end, level, run, font, glyphs: [] }
      openScript = script
      items.push(open)
    }
  })
}
