import { cached } from '../cache/index.ts'
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
  return cached(
    cached(segmentsByBlock, block, () => new Map<string, TextSegment[]>()),
    by,
    () => {
      const starts = by === 'line' ? [] : by === 'word' ? wordStarts(block.text) : characterStarts(block.text)
      const segmentOf = (g: PlacedGlyph) => (by === 'line' ? g.line : starts.findLastIndex((start) => start <= g.start))
      const groups = new Map<number, PlacedGlyph[]>()
      for (const g of block.glyphs) groups.set(segmentOf(g), [...(groups.get(segmentOf(g)) ?? []), g])
      return [...groups]
        .sort(([a], [b]) => a - b)
        .map(([, glyphs]) => ({ glyphs, ink: inkOf(glyphs) }))
        .filter(({ ink }) => ink.width > 0)
    },
  )
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
  return cached(byColour, glyphs, () =>
    [...new Set(glyphs.map((g) => g.colour))].map((colour) => {
      const same = glyphs.filter((g) => g.colour === colour)
      return { colour, d: outlinePath(same), bounds: inkOf(same) }
    }),
  )
}

/** The outlines of all glyphs as one. */
export function outlineOf(glyphs: PlacedGlyph[]): Colour {
  return cached(whole, glyphs, () => ({ colour: '', d: outlinePath(glyphs), bounds: inkOf(glyphs) }))
}
