import bidiFactory from 'bidi-js'

const bidi = bidiFactory()

/** Hebrew, Arabic and the other right-to-left blocks, and the explicit direction controls: without them UAX #9 has nothing to do. */
const anyRightToLeft =
  /[\u0590-\u08ff\u200e\u200f\u202a-\u202e\u2066-\u2069\ufb1d-\ufdff\ufe70-\ufeff]|[\ud802-\ud803\ud83a-\ud83b]/

export interface Levels {
  /** UAX #9 embedding level by UTF-16 unit; odd runs right to left. Undefined: all 0. */
  levels?: Uint8Array
  /** Level of the first paragraph: 0 left to right, 1 right to left. */
  base: 0 | 1
}

/** Embedding levels of a text by the Unicode Bidirectional Algorithm; its direction is found from the text unless given. */
export function levelsOf(text: string, direction?: 'ltr' | 'rtl'): Levels {
  if (!anyRightToLeft.test(text) && direction !== 'rtl') return { base: 0 }
  const result = bidi.getEmbeddingLevels(text, direction)
  return { levels: result.levels, base: (result.paragraphs[0]?.level ?? 0) % 2 === 1 ? 1 : 0 }
}

/**
 * Visual order of pieces that stand in logical order, by rule L2: from the highest level down to the lowest odd one,
 * every stretch at that level or above is reversed. Returns indices, left to right.
 */
export function visualOrder(levels: number[]): number[] {
  const order = levels.map((_, i) => i)
  const highest = Math.max(0, ...levels)
  for (let level = highest; level > 0; level--)
    for (let i = 0; i < order.length; i++) {
      if (levels[order[i]!]! < level) continue
      let end = i
      while (end + 1 < order.length && levels[order[end + 1]!]! >= level) end++
      for (let a = i, b = end; a < b; a++, b--) [order[a], order[b]] = [order[b]!, order[a]!]
      i = end
    }
  return order
}
