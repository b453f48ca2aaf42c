import LineBreaker from 'linebreak'

export interface Break {
  /** UTF-16 offset after which a line may end. */
  at: number
  /** It must end there: a line feed or the end of a paragraph. */
  must: boolean
}

/** Where UAX #14 lets (or makes) a line end. The end of the text is not among them. */
export function breaksOf(text: string): Break[] {
  const breaker = new LineBreaker(text)
  const found: Break[] = []
  for (let next = breaker.nextBreak(); next; next = breaker.nextBreak())
    if (next.position < text.length) found.push({ at: next.position, must: next.required })
  return found
}

const graphemes = new Intl.Segmenter('und', { granularity: 'grapheme' })
const words = new Intl.Segmenter('und', { granularity: 'word' })
// Nothing in these ranges joins with its neighbour, so each unit is a character of its own.
const simple = /^[\u0020-\u007e\u00a0-\u02ff\u1e00-\u1eff]*$/

/** UTF-16 offsets at which a user-perceived character (UAX #29) starts. */
export function characterStarts(text: string): number[] {
  if (simple.test(text)) return Array.from(text, (_, i) => i)
  return Array.from(graphemes.segment(text), (s) => s.index)
}

/** How many characters a reader counts in a text (UAX #29). */
export function characterCount(text: string): number {
  return characterStarts(text).length
}

/** UTF-16 offsets at which a word starts (UAX #29); punctuation and spaces belong to the word before them. */
export function wordStarts(text: string): number[] {
  const starts = Array.from(words.segment(text))
    .filter((s) => s.isWordLike)
    .map((s) => s.index)
  return starts[0] === 0 || text === '' ? starts : [0, ...starts.slice(1)]
}
