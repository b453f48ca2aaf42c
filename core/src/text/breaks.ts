import LineBreaker from 'linebreak'

export interface Break {
  /** UTF-16 offset after which a line may end. */
  at: number
  /** It must end there: a line feed or the end of a paragraph. */
  must: boolean
}

/** Opening punctuation of East Asian width, before which LB30 (since Unicode 13) lets a line end. */
const wideOpening =
  /[\u2329\u3008\u300a\u300c\u300e\u3010\u3014\u3016\u3018\u301a\u301d\ufe17\ufe35\ufe37\ufe39\ufe3b\ufe3d\ufe3f\ufe41\ufe43\ufe47\ufe59\ufe5b\ufe5d\uff08\uff3b\uff5b\uff5f\uff62]/u
/** Characters that other rules keep together with what follows: spaces and breaks, glue, quotes, openings, prefixes, postfixes. */
const holdsOn =
  /[\s\u200b\u00a0\u2007\u2011\u202f\u2060\ufeff"'\p{Pi}\p{Pf}\p{Ps}\p{Sc}%\u2030-\u2037\u2103\u2109\u00b0\u00b4+\\\u00b1\u2116]/u
const joins = /[\p{M}\u200d]/u
const emojiModifier = /^\u{1f3fb}|^\u{1f3fc}|^\u{1f3fd}|^\u{1f3fe}|^\u{1f3ff}/u
const pictograph = /\p{Extended_Pictographic}$/u
const unassigned = /\p{Cn}$/u

/** The character before `at`, marks that join it left out; empty at the start of a line. */
function baseBefore(text: string, at: number): string {
  const before = [...text.slice(Math.max(0, at - 12), at)]
  while (before.length > 0 && joins.test(before[before.length - 1]!)) before.pop()
  return before[before.length - 1] ?? ''
}

/**
 * Where UAX #14 lets (or makes) a line end. The end of the text is not among them. The package knows the rules of
 * Unicode 12; what LB30 and LB30b say since is put right here.
 */
export function breaksOf(text: string): Break[] {
  const breaker = new LineBreaker(text)
  const found: Break[] = []
  for (let next = breaker.nextBreak(); next; next = breaker.nextBreak())
    if (next.position < text.length && !isModified(text, next.position))
      found.push({ at: next.position, must: next.required })
  if (!wideOpening.test(text)) return found
  for (let at = 1; at < text.length; at++) {
    if (!wideOpening.test(text[at]!) || found.some((stop) => stop.at === at)) continue
    const before = baseBefore(text, at)
    // A mark without a base stands for a letter (LB10); a joiner holds what follows (LB8a).
    const alone = joins.test(text[at - 1]!) && (before === '' || /[^\S\u00a0\u2007\u202f]|\u200b/.test(before))
    if (text[at - 1] === '\u200d' || (!alone && holdsOn.test(before))) continue
    found.push({ at, must: false })
  }
  return found.sort((a, b) => a.at - b.at)
}

/** A skin tone and the pictograph before it, which is one character even where the pictograph is still unassigned. */
function isModified(text: string, at: number): boolean {
  const before = text.slice(Math.max(0, at - 2), at)
  return emojiModifier.test(text.slice(at, at + 2)) && pictograph.test(before) && unassigned.test(before)
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
  return simple.test(text) ? text.length : characterStarts(text).length
}

/** UTF-16 offsets at which a word starts (UAX #29); punctuation and spaces belong to the word before them. */
export function wordStarts(text: string): number[] {
  const starts = Array.from(words.segment(text))
    .filter((s) => s.isWordLike)
    .map((s) => s.index)
  return starts[0] === 0 || text === '' ? starts : [0, ...starts.slice(1)]
}
