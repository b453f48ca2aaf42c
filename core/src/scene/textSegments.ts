import type { Box } from '../geometry/index.ts'
import { type Block, characterStarts, inkOf, outlinePath, type PlacedGlyph, wordStarts } from '../text/index.ts'

/** One stretch of a text that moves by itself: its glyphs in the block's coordinates. */
export interface TextSegment {
  glyphs: PlacedGlyph[]
  /** Ink, in the block's coordinates. */
  ink: Box
}

const segmentsByBlock = new WeakMap<Block, Map<string, TextSegment[]>>()

/**
 * A text's characters, words or lines, in reading order; made once for a set text, whatever drawing it stands in, so that
 * their outlines are too.
 */
export function textSegmentsOf(block: Block, by: 'character' | 'word' | 'line'): TextSegment[] {
  const known = segmentsByBlock.get(block) ?? new Map<string, TextSegment[]>()
  segmentsByBlock.set(block, known)
  let segments = known.get(by)
  if (!segments) {
    const starts = by === 'line' ? [] : by === 'word' ? wordStarts(block.text) : characterStarts(block.text)
    const segmentOf = (g: PlacedGlyph) => (by === 'line' ? g.line : starts.findLastIndex((start) => start <= g.start))
    const groups = new Map<number, PlacedGlyph[]>()
    for (const g of block.glyphs) groups.set(segmentOf(g), [...(groups.get(segmentOf(g)) ?? []), g])
    segments = [...groups]
      .sort(([a], [b]) => a - b)
      .map(([, glyphs]) => ({ glyphs, ink: inkOf(glyphs) }))
      .filter((unit) => unit.ink.width > 0)
    known.set(by, segments)
  }
  return segments
}

/** The outlines of some glyphs in one colour. */
export interface Colour {
  colour: string
  d: string
  bounds: Box
}

const byColour = new WeakMap<PlacedGlyph[], Colour[]>()
const whole = new WeakMap<PlacedGlyph[], Colour>()

/** The outlines of glyphs colour by colour; made once for a list of glyphs, whatever drawing they stand in. */
export function coloursOf(glyphs: PlacedGlyph[]): Colour[] {
  let known = byColour.get(glyphs)
  if (!known) {
    known = [...new Set(glyphs.map((g) => g.colour))].map((colour) => {
      const same = glyphs.filter((g) => g.colour === colour)
      return { colour, d: outlinePath(same), bounds: inkOf(same) }
    })
    byColour.set(glyphs, known)
  }
  return known
}

/** The outlines of all glyphs as one. */
export function outlineOf(glyphs: PlacedGlyph[]): Colour {
  const known = whole.get(glyphs) ?? { colour: '', d: outlinePath(glyphs), bounds: inkOf(glyphs) }
  whole.set(glyphs, known)
  return known
}
