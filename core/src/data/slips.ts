/**
 * A text as it is compared: NFC and NFD are one (Unicode, UAX #15), and so are upper and lower case, and any run of spaces.
 */
export const plain = (text: string) => text.normalize('NFC').trim().replace(/\s+/g, ' ').toLowerCase()

/** Letters from which a slip of one is told from another name. */
const leastForSlip = 5

/** Whether two texts differ by one letter: added, left out, another one, or two that changed places. */
export function isSlip(a: string, b: string): boolean {
  const [s, t] = [[...a], [...b]]
  if (Math.abs(s.length - t.length) > 1 || a === b) return false
  let head = 0
  while (head < s.length && head < t.length && s[head] === t[head]) head++
  let tail = 0
  while (tail < s.length - head && tail < t.length - head && s[s.length - 1 - tail] === t[t.length - 1 - tail]) tail++
  const [x, y] = [s.slice(head, s.length - tail), t.slice(head, t.length - tail)]
  if (x.length <= 1 && y.length <= 1) return true
  return x.length === 2 && y.length === 2 && x[0] === y[1] && x[1] === y[0]
}

/**
 * Names that are told to be nearly another, and texts looked at for them: where a hundred rows differ by one letter each,
 * nobody reads that every one is nearly ninety-nine others.
 */
const mostSlips = 3
const mostLookedAt = 200

/** Digits count: "Ferry 1" and "Ferry 2" are no slip of one another. */
const digits = (text: string) => (/\d/.test(text) ? text.replace(/\D+/g, ' ').trim() : '')

/** Members by key. Most keys have one member, which is kept without a set. */
export class Groups<K, T extends string | number> {
  private readonly members = new Map<K, T | Set<T>>()

  has(key: K): boolean {
    return this.members.has(key)
  }
  of(key: K): Iterable<T> {
    const found = this.members.get(key)
    return found === undefined ? [] : found instanceof Set ? found : [found]
  }
  add(key: K, member: T): void {
    const found = this.members.get(key)
    if (found === undefined) this.members.set(key, member)
    else if (found instanceof Set) found.add(member)
    else if (found !== member) this.members.set(key, new Set([found, member]))
  }
  take(key: K, member: T): void {
    const found = this.members.get(key)
    if (found === member) this.members.delete(key)
    else if (found instanceof Set) {
      found.delete(member)
      if (found.size === 1) this.members.set(key, [...found][0]!)
    }
  }
}

/** Two multipliers of a rolling hash; together they make numbers that two texts hardly share by chance. */
const [primeA, primeB] = [0x01000193, 0x5bd1e995]

/**
 * A number for a text and for what is left of it when any one letter is left out: two texts that share one may be slips
 * of each other. Numbers, because a sheet has a dozen of them for every row.
 */
function piecesOf(text: string): number[] {
  const n = text.length
  if (n < leastForSlip) return []
  // Of the text from each place on, and the multipliers' powers.
  const [tailA, tailB, powerA, powerB] = Array.from({ length: 4 }, () => new Int32Array(n + 1))
  powerA![0] = powerB![0] = 1
  for (let i = 0; i < n; i++) {
    powerA![i + 1] = Math.imul(powerA![i]!, primeA)
    powerB![i + 1] = Math.imul(powerB![i]!, primeB)
  }
  for (let i = n - 1; i >= 0; i--) {
    const code = text.charCodeAt(i) + 1
    tailA![i] = Math.imul(code, powerA![n - 1 - i]!) + tailA![i + 1]!
    tailB![i] = Math.imul(code, powerB![n - 1 - i]!) + tailB![i + 1]!
  }
  // 53 bits, as a number holds them.
  const joined = (a: number, b: number) => (a >>> 0) * 2 ** 21 + (b >>> 11)
  const pieces = [joined(tailA![0]!, tailB![0]!)]
  let [headA, headB] = [0, 0]
  for (let i = 0; i < n; i++) {
    const rest = n - 1 - i
    const code = text.charCodeAt(i) + 1
    // A letter that stands twice leaves the same either way.
    if (text.charCodeAt(i - 1) !== code - 1)
      pieces.push(
        joined(
          (Math.imul(headA, powerA![rest]!) + tailA![i + 1]!) | 0,
          (Math.imul(headB, powerB![rest]!) + tailB![i + 1]!) | 0,
        ),
      )
    headA = (Math.imul(headA, primeA) + code) | 0
    headB = (Math.imul(headB, primeB) + code) | 0
  }
  return pieces
}

/** Texts by what is left of them without one letter: those that may be slips of one another are found by looking up. */
export class Slips {
  private readonly near = new Groups<number, string>()

  add(text: string): void {
    for (const piece of piecesOf(text)) this.near.add(piece, text)
  }

  take(text: string): void {
    for (const piece of piecesOf(text)) this.near.take(piece, text)
  }

  /** The texts of which this one may be a slip: the first few of them. */
  of(text: string): string[] {
    const found = new Set<string>()
    let looked = 0
    for (const piece of piecesOf(text))
      for (const other of this.near.of(piece)) {
        if (found.size >= mostSlips || looked++ > mostLookedAt) return [...found]
        if (other !== text && !found.has(other) && digits(other) === digits(text) && isSlip(text, other))
          found.add(other)
      }
    return [...found]
  }
}
