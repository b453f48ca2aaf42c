import type { Box } from '../geometry/index.ts'
import type { Block } from './block.ts'
import { characterStarts, wordStarts } from './breaks.ts'

/**
 * A place between two characters: a UTF-16 offset, and the one of the two that it stands at. Where writing turns its
 * direction, or a line ends, these are two places.
 */
export interface Caret {
  offset: number
  /** `before`: at the character that ends here; `after`: at the one that begins here. */
  side: 'before' | 'after'
}

/** How a caret goes on. Left and right are as seen, whatever the direction of writing. */
export type CaretStep =
  | 'left'
  | 'right'
  | 'word left'
  | 'word right'
  | 'up'
  | 'down'
  | 'line start'
  | 'line end'
  | 'start'
  | 'end'

/** A user-perceived character (UAX #29) where it stands; px, the block's own. */
interface Char {
  start: number
  end: number
  left: number
  right: number
  /** Whether it is written to the left. */
  rtl: boolean
}

interface CaretLine {
  /** Offsets of its first and last place; a line feed lies behind the last. */
  start: number
  end: number
  top: number
  height: number
  /** Where a caret stands if there is no character. */
  x: number
  /** From left to right. */
  chars: Char[]
}

const isFeed = (text: string, at: number) => /[\n\u000b\u000c\r\u0085\u2028\u2029]/.test(text[at] ?? '')

/** Where carets stand in a set text, and where they go: by UAX #9 as it is seen, by UAX #29 as it is counted. */
export class Carets {
  private readonly lines: CaretLine[]
  private readonly rtl: boolean
  private readonly text: string

  constructor(block: Block) {
    this.text = block.text
    this.rtl = block.direction === 'rtl'
    const starts = characterStarts(block.text)
    const { line: whole } = block.boxes
    const last = block.lines.at(-1)!
    const height = whole.height - last.baseline
    const clusters = block.clusters
    this.lines = block.lines.map((line, n) => {
      const next = block.lines[n + 1]?.start ?? block.text.length
      const end = next > line.start && isFeed(block.text, next - 1) ? next - 1 : next
      const own = clusters.filter((cluster) => cluster.line === n && cluster.start < end)
      const within = starts.filter((start) => start >= line.start && start < end)
      return {
        start: line.start,
        end,
        top: whole.y + line.baseline,
        height,
        x: line.x,
        chars: charsOf(own, within, end),
      }
    })
  }

  /** Where a caret stands; px, the block's own. */
  place(caret: Caret): { x: number; top: number; height: number } {
    const { line, gap } = this.find(caret)
    return { x: xOf(line, gap), top: line.top, height: line.height }
  }

  /** The caret nearest to a point (px, the block's own). */
  at(x: number, y: number): Caret {
    return this.nearest(this.lineAt(y), x)
  }

  /** What a selection covers: boxes from left to right, line by line; px, the block's own. */
  boxes(from: number, to: number): Box[] {
    return this.lines.flatMap(({ chars, top, height, end, x }) => {
      const boxes: Box[] = []
      for (const char of chars) {
        if (char.end <= from || char.start >= to) continue
        const last = boxes.at(-1)
        if (last && Math.abs(last.x + last.width - char.left) < 1e-6) last.width = char.right - last.x
        else boxes.push({ x: char.left, y: top, width: char.right - char.left, height })
      }
      // A line feed that is chosen is seen as well, or an empty line would not be.
      if (from <= end && to > end && isFeed(this.text, end)) {
        const feed = height / 6
        const edge = chars.length === 0 ? x : this.rtl ? chars[0]!.left - feed : chars.at(-1)!.right
        boxes.push({ x: edge, y: top, width: feed, height })
      }
      return boxes
    })
  }

  /** Where a caret goes. @param aim px: the x that going up and down keeps to */
  move(caret: Caret, step: CaretStep, aim?: number): Caret {
    const { line, gap } = this.find(caret)
    const n = this.lines.indexOf(line)
    switch (step) {
      case 'left':
      case 'right':
        return this.beside(n, gap, step)
      case 'word left':
      case 'word right':
        return this.byWord(caret.offset, (step === 'word right') !== this.rtl)
      case 'up':
      case 'down': {
        const to = this.lines[step === 'up' ? n - 1 : n + 1]
        if (!to) return step === 'up' ? this.from(0) : this.from(this.text.length)
        return this.nearest(to, aim ?? xOf(line, gap))
      }
      case 'line start':
        return { offset: line.start, side: 'after' }
      case 'line end':
        return { offset: line.end, side: line.end > line.start ? 'before' : 'after' }
      case 'start':
        return this.from(0)
      case 'end':
        return this.from(this.text.length)
    }
  }

  /** A caret at an offset that was come to by writing: at what was written last. */
  from(offset: number): Caret {
    return { offset, side: offset > 0 && !isFeed(this.text, offset - 1) ? 'before' : 'after' }
  }

  /** The word around an offset, without the spaces behind it. */
  word(offset: number): [from: number, to: number] {
    const starts = wordStarts(this.text)
    const start = starts.findLast((at) => at <= offset) ?? 0
    const end = starts.find((at) => at > offset) ?? this.text.length
    const word = this.text.slice(start, end).trimEnd()
    // Pressed on the space behind a word, the word is meant.
    return [start, start + (word.length || end - start)]
  }

  /** The line around a caret. */
  lineOf(caret: Caret): [from: number, to: number] {
    const { line } = this.find(caret)
    return [line.start, line.end]
  }

  private lineAt(y: number): CaretLine {
    return this.lines.find(({ top, height }, n) => {
      const next = this.lines[n + 1]
      // Between two lines, the nearer one.
      return !next || y < (top + height + next.top) / 2
    })!
  }

  private nearest(line: CaretLine, x: number): Caret {
    const { chars } = line
    const at = chars.findIndex(({ left, right }) => x < (left + right) / 2)
    const gap = at < 0 ? chars.length : at
    // At the character that was pressed.
    const on = chars[gap - 1] && x < chars[gap - 1]!.right ? 'left' : 'right'
    return caretIn(line, gap, on)
  }

  /** The line and the gap between two of its characters, from the left, in which a caret stands. */
  private find({ offset, side }: Caret): { line: CaretLine; gap: number } {
    const fits = this.lines.filter((line) => offset >= line.start && offset <= line.end)
    const line = (side === 'before' ? fits[0] : fits.at(-1)) ?? this.lines.at(-1)!
    const { chars } = line
    const ends = chars.findIndex((char) => offset > char.start && offset <= char.end)
    const begins = chars.findIndex((char) => offset >= char.start && offset < char.end)
    const at = side === 'before' && ends >= 0 ? ends : begins >= 0 ? begins : ends
    if (at < 0) return { line, gap: 0 }
    const behind = at === begins && !(side === 'before' && ends >= 0) ? offset > chars[at]!.start : true
    return { line, gap: behind !== chars[at]!.rtl ? at + 1 : at }
  }

  /** One character to the left or right, as seen; past the end of a line, the line that reading leads to. */
  private beside(n: number, gap: number, step: 'left' | 'right'): Caret {
    const line = this.lines[n]!
    const next = step === 'right' ? gap + 1 : gap - 1
    if (next >= 0 && next <= line.chars.length) return caretIn(line, next, step === 'right' ? 'left' : 'right')
    const onward = (step === 'right') !== this.rtl
    const to = this.lines[onward ? n + 1 : n - 1]
    if (!to) return caretIn(line, gap, step === 'right' ? 'left' : 'right')
    return caretIn(to, step === 'right' ? 0 : to.chars.length, step)
  }

  private byWord(offset: number, onward: boolean): Caret {
    const starts = wordStarts(this.text)
    const to = onward ? starts.find((at) => at > offset) : starts.findLast((at) => at < offset)
    return this.from(to ?? (onward ? this.text.length : 0))
  }
}

/** The x of a gap: between the characters at its sides. */
function xOf({ chars, x }: CaretLine, gap: number): number {
  return chars[gap]?.left ?? chars[gap - 1]?.right ?? x
}

/** The caret in a gap. @param at the character that it stands at: the one at its left or at its right */
function caretIn({ chars, start }: CaretLine, gap: number, at: 'left' | 'right'): Caret {
  const [left, right] = [chars[gap - 1], chars[gap]]
  const char = (at === 'left' ? left : right) ?? left ?? right
  if (!char) return { offset: start, side: 'after' }
  const isBehind = (char === left) !== char.rtl
  return isBehind ? { offset: char.end, side: 'before' } : { offset: char.start, side: 'after' }
}

/** The characters of a line from left to right; those that share a cluster, as in a ligature, have equal parts of it. */
function charsOf(clusters: Block['clusters'], starts: readonly number[], lineEnd: number): Char[] {
  const order = clusters.map(({ start }) => start).sort((a, b) => a - b)
  const chars: Char[] = []
  for (const { start, left, right, level } of clusters) {
    const end = order.find((other) => other > start) ?? lineEnd
    const own = starts.filter((at) => at >= start && at < end)
    const rtl = level % 2 === 1
    // It goes on with a character that began before: a mark that was shaped by itself.
    if (own.length === 0 || own[0]! > start) {
      const base = chars.find((char) => char.start <= start && char.end > start)
      if (base) Object.assign(base, { left: Math.min(base.left, left), right: Math.max(base.right, right) })
    }
    own.forEach((at, i) => {
      const share = (right - left) / own.length
      const place = rtl ? own.length - 1 - i : i
      const next = starts[starts.indexOf(at) + 1] ?? lineEnd
      chars.push({ start: at, end: next, left: left + place * share, right: left + (place + 1) * share, rtl })
    })
  }
  chars.sort((a, b) => a.left - b.left || a.right - b.right)
  // A caret stands in the middle of what tracking leaves between two.
  chars.forEach((char, i) => {
    const next = chars[i + 1]
    if (next) char.right = next.left = (char.right + next.left) / 2
  })
  return chars
}
