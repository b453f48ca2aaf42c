import type { FitStep } from '../template/index.ts'
import { type Break, breaksOf } from './breaks.ts'
import { type Shaped, softHyphen } from './itemize.ts'

/** How far each fit step has gone. */
export interface FitState {
  /** Lines allowed. */
  lines: number
  /** Thousandths of an em added to every character's tracking; 0 or less. */
  tracking: number
  /** Glyph width, as a share of its own: by the font's width axis as far as that goes, scaled beyond it. */
  condense: number
  /** Size, as a share of its own; more than 1 where it fills its room. */
  shrink: number
}

/** The height that a text has to fit into as well. */
export interface Height {
  /** px */
  room: number
  /** px that so many lines of it are high at its own size. */
  of(lines: number): number
}

export interface FitUse {
  step: FitStep['step']
  from: number
  to: number
  bound: number
  /** 0 not at all, 1 as far as it may go. */
  used: number
}

export interface FitReport {
  /** px that the text had; undefined when nothing bounds it. */
  room?: number
  /** px of the widest line as set. */
  width: number
  /** px the widest line would have taken unfitted, on one line. */
  natural: number
  steps: FitUse[]
  /** px by which the text still runs out of its room; 0 when it fits. */
  overflow: number
  /** Characters left out by `cut`. */
  cut: number
}

export interface LineRange {
  start: number
  end: number
  /** px */
  width: number
  /** px added to each of its spaces, so that it is as long as its room. */
  spread?: number
}

const space = /[\s\u200b]/

/**
 * Widths of any stretch of a shaped text in constant time. Tracking, scaling and shrinking are linear in the advances, so a
 * text is shaped once however often it is fitted; where a width axis narrows it (`narrow`) once for every place on that.
 */
export class Widths {
  readonly text: string
  private readonly advance: Float64Array
  private readonly em: Float64Array
  private readonly tracked: Float64Array
  private found: Break[] | undefined
  /** Whether its glyphs are as narrow already as the fit wants them. */
  private readonly isNarrowed: boolean
  /** px of the hyphen that a line ends with when it is broken behind this unit. */
  private readonly hyphens: ReadonlyMap<number, number>

  constructor(shaped: Shaped) {
    this.text = shaped.text
    const n = shaped.text.length + 1
    // One piece of memory for the three: there is one of these for every text of every row.
    const sums = new ArrayBuffer(24 * n)
    this.advance = new Float64Array(sums, 0, n)
    this.em = new Float64Array(sums, 8 * n, n)
    this.tracked = new Float64Array(sums, 16 * n, n)
    this.isNarrowed = shaped.items.some(({ across }) => across !== undefined)
    for (const item of shaped.items) {
      const { size, tracking } = item.run
      const wide = size * (item.across ?? 1)
      let previous = -1
      for (const glyph of item.glyphs) {
        this.advance[glyph.start + 1]! += glyph.advance * wide
        if (glyph.start === previous) continue
        previous = glyph.start
        this.em[glyph.start + 1] = size
        this.tracked[glyph.start + 1] = (size * tracking) / 1000
      }
    }
    this.hyphens = hyphensOf(shaped)
    for (let i = 1; i < n; i++) {
      this.advance[i]! += this.advance[i - 1]!
      this.em[i]! += this.em[i - 1]!
      this.tracked[i]! += this.tracked[i - 1]!
    }
  }

  /** UAX #14 break opportunities, looked for only when asked. */
  get breaks(): Break[] {
    this.found ??= breaksOf(this.text)
    return this.found
  }

  /** px of the units from `start` to `end`, the last character's tracking left out. */
  width(start: number, end: number, state: FitState): number {
    if (end <= start) return 0
    let last = end
    while (last > start && this.em[last] === this.em[last - 1]) last--
    const tracking =
      this.tracked[last - 1]! - this.tracked[start]! + ((this.em[last - 1]! - this.em[start]!) * state.tracking) / 1000
    return state.shrink * (this.scale(state) * (this.advance[end]! - this.advance[start]!) + tracking)
  }

  /** px of a line, the hyphen included that it ends with where a word is parted. */
  private lineWidth(start: number, end: number, state: FitState): number {
    const hyphen = end < this.text.length ? this.hyphens.get(end) : undefined
    return this.width(start, end, state) + (hyphen === undefined ? 0 : hyphen * state.shrink * this.scale(state))
  }

  /** Lines of another setting of the same text, as wide as they are in this one. */
  measured(lines: readonly LineRange[], state: FitState): LineRange[] {
    return lines.map(({ start, end, spread }) => {
      const width = this.lineWidth(start, end, state)
      return spread === undefined
        ? { start, end, width }
        : { start, end, spread, width: width + spread * spacesIn(this.text.slice(start, end)) }
    })
  }

  private scale(state: FitState): number {
    return this.isNarrowed ? 1 : state.condense
  }

  /** The end of a line without the spaces that hang over it. */
  private trimmed(start: number, end: number): number {
    let at = end
    while (at > start && space.test(this.text[at - 1]!)) at--
    return at
  }

  /** Lines of a text: at every forced break, and (while lines are left) where the room ends. */
  lines(room: number, state: FitState, forcedOnly: boolean): LineRange[] {
    const result: LineRange[] = []
    let start = 0
    const push = (end: number) => {
      const last = this.trimmed(start, end)
      result.push({ start, end: last, width: this.lineWidth(start, last, state) })
      start = end
    }
    let candidate = 0
    if (!forcedOnly || this.text.includes('\n') || /[\u000b\u000c\u0085\u2028\u2029\r]/.test(this.text))
      for (const stop of this.breaks) {
        if (
          !forcedOnly &&
          candidate > start &&
          result.length + 1 < state.lines &&
          this.lineWidth(start, this.trimmed(start, stop.at), state) > room
        )
          push(candidate)
        if (stop.must) push(stop.at)
        candidate = stop.at
      }
    if (
      !forcedOnly &&
      candidate > start &&
      result.length + 1 < state.lines &&
      this.width(start, this.trimmed(start, this.text.length), state) > room
    )
      push(candidate)
    push(this.text.length)
    return result
  }
}

const noHyphens: ReadonlyMap<number, number> = new Map()

function hyphensOf({ text, items }: Shaped): ReadonlyMap<number, number> {
  if (!items.some(({ hyphen }) => hyphen)) return noHyphens
  const found = new Map<number, number>()
  for (const { start, end, hyphen, run, across = 1 } of items)
    for (let at = start; hyphen && at < end; at++)
      if (text[at] === softHyphen) found.set(at + 1, hyphen.advance * run.size * across)
  return found
}

export interface Fitted {
  lines: LineRange[]
  state: FitState
  steps: FitUse[]
  fits: boolean
}

/** px of the widest line. */
export function widest(lines: readonly LineRange[]): number {
  let most = 0
  for (const line of lines) most = Math.max(most, line.width)
  return most
}

/** Before any step. */
export const unfitted: Readonly<FitState> = { lines: 1, tracking: 0, condense: 1, shrink: 1 }

/** How the words of a text are dealt out over the lines that it takes. */
export type LineBreaks = 'as they come' | 'balanced' | 'no widow'

/** Halvings that find the least room of a text's lines, to far less than a pixel of any frame. */
const halvings = 16

/**
 * Lines of a text that takes several, dealt out anew: as even as they can be, or with more than one word on the last. There
 * are no more of them, none is longer than the longest was, and breaks that were written stay; where it can't be, they stay
 * as they come.
 */
export function dealtOut({ lines, state, ...fitted }: Fitted, widths: Widths, breaks: LineBreaks): Fitted {
  const most = widest(lines)
  const isWritten = /[\n\u000b\u000c\u0085\u2028\u2029\r]/.test(widths.text)
  const hasWidow = ({ start, end }: LineRange) => !/\s/.test(widths.text.slice(start, end).trim())
  if (lines.length < 2 || isWritten || breaks === 'as they come') return { lines, state, ...fitted }
  if (breaks === 'no widow' && !hasWidow(lines.at(-1)!)) return { lines, state, ...fitted }
  const within = (room: number) => {
    const tried = widths.lines(room, { ...state, lines: lines.length }, false)
    return tried.length === lines.length && widest(tried) <= Math.max(room, 0) + tolerance ? tried : undefined
  }
  let [low, high] = [0, most]
  let best = lines
  for (let i = 0; i < halvings; i++) {
    const middle = (low + high) / 2
    const tried = within(middle)
    if (!tried) {
      low = middle
      continue
    }
    high = middle
    best = tried
    // For a widow the first that leaves two words behind is enough: the other lines stay as full as they were.
    if (breaks === 'no widow' && !hasWidow(tried.at(-1)!)) break
  }
  const isBetter = breaks === 'balanced' || !hasWidow(best.at(-1)!)
  return { lines: isBetter ? best : lines, state, ...fitted }
}

/** Rounding of a room worked out from edges must not start a fit step. */
const tolerance = 1e-6

/**
 * The largest size at which a text takes no more than a share of its room, within the step's bounds.
 * @param wrap lines that it may be broken into, where both sides bound it
 * @param most at most so many times its own size, whatever the step says
 * @returns undefined where nothing bounds it
 */
function filling(
  widths: Widths,
  step: Extract<FitStep, { step: 'fill' }>,
  wrap: number,
  room: number | undefined,
  tall: Height | undefined,
  most = step.most,
): { lines: LineRange[]; shrink: number; fits: boolean } | undefined {
  const by = step.by ?? 'width'
  const width = by === 'height' ? undefined : room
  const height = by === 'width' ? undefined : tall
  if (width === undefined && !height) return undefined
  const natural = widths.lines(Number.POSITIVE_INFINITY, unfitted, true)
  const bounded = (wanted: number) => Math.min(step.most, most, Math.max(step.least, wanted))
  const isWithin = (lines: readonly LineRange[], shrink: number, share: number) =>
    (width === undefined || widest(lines) <= share * width + tolerance) &&
    (!height || height.of(lines.length) * shrink <= share * height.room + tolerance)
  // Without more lines widths and heights are linear in the size, tracking too.
  if (width === undefined || !height || wrap <= natural.length) {
    const across = width === undefined ? Number.POSITIVE_INFINITY : (step.share * width) / widest(natural)
    const down = height ? (step.share * height.room) / height.of(natural.length) : Number.POSITIVE_INFINITY
    const shrink = bounded(Math.min(across, down))
    const lines = widths.lines(Number.POSITIVE_INFINITY, { ...unfitted, shrink }, true)
    return { lines, shrink, fits: isWithin(lines, shrink, 1) }
  }
  const at = (shrink: number) => widths.lines(step.share * width, { ...unfitted, lines: wrap, shrink }, false)
  let [low, high] = [bounded(0), bounded(Number.POSITIVE_INFINITY)]
  let best = at(low)
  // Of a range of up to twenty times the size: to a hundred-thousandth of it.
  for (let i = 0; i < 1.5 * halvings; i++) {
    const middle = i === 0 ? high : (low + high) / 2
    const tried = at(middle)
    if (isWithin(tried, middle, step.share)) {
      low = middle
      best = tried
      if (i === 0) break
    } else high = middle
  }
  return { lines: best, shrink: low, fits: isWithin(best, low, 1) }
}

const spacesIn = (text: string): number => text.match(/ /g)?.length ?? 0

/** Lines but the last, and but those that end where it was written so, made as long as the room by their spaces. */
export function justified(lines: readonly LineRange[], text: string, room: number): LineRange[] {
  return lines.map((line, i) => {
    const next = lines[i + 1]
    if (!next || /[\n\u000b\u000c\u0085\u2028\u2029\r]/.test(text.slice(line.end, next.start))) return line
    const spaces = spacesIn(text.slice(line.start, line.end))
    if (spaces === 0) return line
    return { ...line, width: room, spread: (room - line.width) / spaces }
  })
}

/**
 * Runs the fit steps in their order, each only as far as needed: the least use for which the text fits, to half a pixel.
 * `cut` needs other glyphs, so its caller carries it out.
 * @param widthsAt the text's widths with its glyphs at such a share of their own
 */
export function fit(
  widthsAt: (condense: number) => Widths,
  room: number | undefined,
  steps: readonly FitStep[],
  baseTracking: number,
  { height, most }: { height?: Height | undefined; most?: number | undefined } = {},
): Fitted {
  const begun = most === undefined || most >= 1 ? unfitted : { ...unfitted, shrink: most }
  let lines = widthsAt(1).lines(Number.POSITIVE_INFINITY, begun, true)
  let state: FitState = { ...begun, lines: lines.length }
  const uses: FitUse[] = []
  let wraps = false
  const attempt = (next: FitState) => {
    const tried = widthsAt(next.condense).lines(room ?? Number.POSITIVE_INFINITY, next, !wraps)
    const isLow = !height || height.of(tried.length) * next.shrink <= height.room + tolerance
    return {
      tried,
      fits: isLow && tried.length <= next.lines && widest(tried) <= (room ?? Number.POSITIVE_INFINITY) + tolerance,
    }
  }
  let fits = room === undefined || widest(lines) <= room + tolerance
  const fill = steps.find((step) => step.step === 'fill')
  if (fill && widest(lines) > 0) {
    const wrap = steps.find((step) => step.step === 'wrap')
    const filled = filling(widthsAt(1), fill, wrap?.to ?? 1, room, height, most)
    if (filled) {
      lines = filled.lines
      state = { ...unfitted, lines: lines.length, shrink: filled.shrink }
      fits = filled.fits
      // To grow is what it is there for; how small it had to become is told.
      const used = state.shrink < 1 ? (1 - state.shrink) / (1 - Math.min(fill.least, state.shrink)) : 0
      uses.push({ step: 'fill', from: 1, to: state.shrink, bound: fill.least, used })
    }
  }
  for (const step of steps) {
    if (fits || step.step === 'cut') break
    if (step.step === 'fill') continue
    if (step.step === 'wrap') {
      const from = state.lines
      wraps = true
      let result = attempt(state)
      while (!result.fits && state.lines < step.to) {
        state = { ...state, lines: state.lines + 1 }
        result = attempt(state)
      }
      lines = result.tried
      fits = result.fits
      uses.push({
        step: 'wrap',
        from,
        to: lines.length,
        bound: step.to,
        used: step.to > from ? (lines.length - from) / (step.to - from) : 1,
      })
      continue
    }
    const key = step.step === 'tighten' ? 'tracking' : step.step
    const start = state[key]
    const bound = step.step === 'tighten' ? Math.min(0, step.to - baseTracking) : step.to
    if (bound >= start) continue
    const at = (share: number): FitState => ({ ...state, [key]: start + (bound - start) * share })
    let result = attempt(at(1))
    let used = 1
    if (result.fits) {
      // Halving until two neighbours differ by less than half a pixel: 1/2^12 of any step that can fit a frame.
      let low = 0
      for (let i = 0; i < 12; i++) {
        const middle = (low + used) / 2
        const tried = attempt(at(middle))
        if (tried.fits) {
          used = middle
          result = tried
        } else low = middle
      }
    }
    state = at(used)
    lines = result.tried
    fits = result.fits
    const offset = step.step === 'tighten' ? baseTracking : 0
    uses.push({ step: step.step, from: start + offset, to: state[key] + offset, bound: bound + offset, used })
  }
  return { lines, state, steps: uses, fits }
}
