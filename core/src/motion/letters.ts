import type { SettleTrack } from '../template/index.ts'

/** Letters that one may stand for another on its way, by script; of others the text's own do. */
const alphabets = [
  'ABCDEFGHIJKLMNOPQRSTUVWXYZ',
  'abcdefghijklmnopqrstuvwxyz',
  'ΑΒΓΔΕΖΗΘΙΚΛΜΝΞΟΠΡΣΤΥΦΧΨΩ',
  'αβγδεζηθικλμνξοπρστυφχψω',
  'АБВГДЕЖЗИЙКЛМНОПРСТУФХЦЧШЩЫЭЮЯ',
  'абвгдежзийклмнопрстуфхцчшщыэюя',
].map((letters) => [...letters])

/** The ten digits of the writing that a digit is of; those of ASCII for anything else. */
function digitsLike(character: string): string[] {
  const at = character.codePointAt(0) ?? 0x30
  let zero = 0x30
  if (/^\p{Nd}/u.test(character)) {
    zero = at
    // Ten in a row, the first of which is a nought: Unicode's own rule for decimal digits.
    while (zero > at - 9 && /^\p{Nd}$/u.test(String.fromCodePoint(zero - 1))) zero--
  }
  return Array.from({ length: 10 }, (_, i) => String.fromCodePoint(zero + i))
}

/** What may stand where a character stands while it has not settled. */
export function lettersFor(from: SettleTrack['from'], character: string, own: readonly string[]): readonly string[] {
  if (from === 'digits') return digitsLike(character)
  if (from === 'own') return own
  if (/^\p{Nd}/u.test(character)) return digitsLike(character)
  const base = character.normalize('NFD')[0]!
  const alphabet = alphabets.find((letters) => letters.includes(base))
  return alphabet ?? (/^\p{L}/u.test(character) ? own : alphabets[0]!)
}

/** A number from 0 up to 1 that three others give, the same on every machine (an integer hash, lowbias32 of C. Wellons). */
function scattered(a: number, b: number, c: number): number {
  let x = (Math.imul(a, 0x9e3779b1) ^ Math.imul(b + 1, 0x85ebca6b) ^ Math.imul(c + 1, 0xc2b2ae35)) >>> 0
  x = Math.imul(x ^ (x >>> 16), 0x7feb352d)
  x = Math.imul(x ^ (x >>> 15), 0x846ca68b)
  return ((x ^ (x >>> 16)) >>> 0) / 4294967296
}

/** Frames that a letter stands before it is another one. */
const churnFrames = 2
/** Flaps that fall at most before a letter of a board stands. */
const mostFlaps = 12

/** What stands in a letter's place: another letter (absent: itself), and how much of its height is seen as its flap falls. */
export interface Unsettled {
  letter?: string
  height: number
}

/**
 * A letter on its way.
 * @param settled 0 to 1, where it is itself
 * @param unit the letter's place in its text
 * @param at frames, by which letters that scramble change
 */
export function unsettled(
  track: Pick<SettleTrack, 'as' | 'from'>,
  settled: number,
  character: string,
  own: readonly string[],
  { seed, unit, at }: { seed: number; unit: number; at: number },
): Unsettled {
  if (settled >= 1) return { height: 1 }
  const letters = lettersFor(track.from, character, own)
  if (letters.length === 0) return { height: 1 }
  if (track.as === 'scramble') {
    const step = Math.floor(at / churnFrames)
    return { letter: letters[Math.floor(scattered(seed, unit, step) * letters.length)]!, height: 1 }
  }
  // A board goes through its letters in their order until its own one falls into place.
  const end = letters.indexOf(character)
  const last = end < 0 ? letters.length : end
  const flaps = Math.max(1, Math.min(mostFlaps, last))
  const along = Math.max(0, settled) * flaps
  const flap = Math.min(flaps - 1, Math.floor(along))
  const falls = along - flap
  const isNext = falls >= 0.5
  const shown = last - flaps + flap + (isNext ? 1 : 0)
  const height = Math.abs(1 - 2 * falls)
  return shown === last ? { height } : { letter: letters[shown]!, height }
}

/** A number among the characters of a text, digit by digit. */
interface Figures {
  /** UTF-16 offsets of its digits, from the left, and the digits. */
  digits: { at: number; digit: number }[]
  /** Those of the marks between its digits, and of how many digits stand before each. */
  marks: { at: number; after: number }[]
  decimals: number
}

const figures =
  /\p{Nd}{1,3}(?:([.,'’٬\u00a0\u202f ])\p{Nd}{3})(?:\1\p{Nd}{3})*(?!\p{Nd})(?:[.,٫]\p{Nd}+)?|\p{Nd}+(?:[.,٫]\p{Nd}+)?/gu

/** The numbers that stand in a text, as people write them: digits, perhaps in groups of three, perhaps with decimals. */
function figuresIn(text: string): Figures[] {
  return [...text.matchAll(figures)].map((match) => {
    const digits: Figures['digits'] = []
    const marks: Figures['marks'] = []
    for (const { 0: character, index } of match[0].matchAll(/./gu)) {
      const at = match.index + index
      if (/\p{Nd}/u.test(character)) digits.push({ at, digit: digitsLike(character).indexOf(character) })
      else marks.push({ at, after: digits.length })
    }
    const group = match[1]
    const last = marks.at(-1)
    // A mark before the last three digits is one of groups, unless nothing but a nought stands before it.
    const isDecimal = last !== undefined && (group === undefined || text[last.at] !== group || /^0[.,]/.test(match[0]))
    return { digits, marks, decimals: isDecimal ? digits.length - last.after : 0 }
  })
}

/**
 * A text on its way to its numbers: by the UTF-16 offset of each character that is not itself, what stands there instead;
 * empty for nothing. Digits stand where they will stand, so that nothing moves, whatever the number.
 * @param share of the way from `from` to the number, 0 to 1
 */
export function counted(text: string, share: number, from: number): ReadonlyMap<number, string> {
  const instead = new Map<number, string>()
  if (share >= 1) return instead
  for (const { digits, marks, decimals } of figuresIn(text)) {
    const end = Number(digits.map(({ digit }) => digit).join(''))
    const begin = Math.abs(from) * 10 ** decimals
    const now = Math.round(begin + (end - begin) * share)
    const most = 10 ** digits.length - 1
    const shown = String(Math.min(most, Math.max(0, now))).padStart(decimals + 1, '0')
    const blank = digits.length - shown.length
    // Noughts before it are written where the number itself has them.
    const padded = digits[0]!.digit === 0 && digits.length > decimals + 1
    digits.forEach(({ at, digit }, i) => {
      const next = i < blank ? (padded ? 0 : undefined) : Number(shown[i - blank])
      if (next === digit) return
      const [own] = [...text.slice(at)]
      instead.set(at, next === undefined ? '' : digitsLike(own!)[next]!)
    })
    for (const { at, after } of marks) if (!padded && after <= blank) instead.set(at, '')
  }
  return instead
}
