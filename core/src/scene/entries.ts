import { cached, LastFew } from '../cache/index.ts'
import type { Box } from '../geometry/index.ts'
import {
  type Changeover,
  changeover,
  distanceOf,
  framesOfRun,
  type Pace,
  readingFrames,
  type Stands,
  type Strip,
  stepOf,
} from '../motion/index.ts'
import { type Item, translation } from '../paint/index.ts'
import { type EntryPart, entryCount, entryParts, type Part, pageBreak, type StyleValues } from '../template/index.ts'
import { characterCount } from '../text/index.ts'
import { framesOf } from '../time/index.ts'
import type { Layout } from './layout.ts'
import { styleOf } from './resolve.ts'
import { boxPath } from './shapes.ts'

/** What a filling's lists are laid out with: the same filling showing other entries of them. */
export interface EntrySource {
  entry(turn: number, item: number): Layout
  /** The parts of a group as an entry's layout draws them, in frame px. */
  drawn(layout: Layout, parts: readonly Part[]): Item[]
}

/** Where the clock stands for what runs: frames since Hold began, how many it has, and which text in turn stands. */
export interface RunClock {
  frame: number
  hold: number
  turn: number
}

/** Entries that are kept drawn: those in sight, and some that come next. */
const keepDrawn = 96

/** Characters of all texts of some parts in a layout, as they are read. */
export function charactersOf({ blocks, rest }: Layout, indices: readonly number[]): number {
  return indices.reduce((sum, i) => {
    const block = rest.gone[i] ? undefined : blocks[i]
    return sum + (block ? characterCount(block.text.replaceAll('\u00ad', '')) : 0)
  }, 0)
}

/** Entries as they lie in a row, which entry each is, and how its drawing has to be shifted to begin at 0. */
interface StripEntry {
  at: number
  size: number
  item: number
  from: number
}

/** One part that goes through all of its lists' entries in a strip or page by page. */
export class EntryStrip implements Strip {
  readonly window: number
  readonly length: number
  readonly entries: readonly StripEntry[]
  readonly characters: number
  /** Indices of `entries` by page, and the characters on each. */
  readonly pages: readonly { entries: readonly number[]; characters: number }[]
  private readonly axis: 0 | 1
  private readonly windowStart: number
  private readonly drawn = new LastFew<number, Item[]>(keepDrawn)

  constructor(
    private readonly source: EntrySource,
    readonly layout: Layout,
    readonly of: EntryPart,
  ) {
    const { rest, template, content } = layout
    this.axis = of.way === 'crawl' ? 0 : 1
    const axis = of.part[this.axis === 0 ? 'x' : 'y']
    const isGiven = axis.ties.length === 2 || axis.size.kind !== 'content'
    const { width, height } = template.frame
    this.windowStart = isGiven ? rest.start[this.axis][of.index]! : 0
    this.window = isGiven ? rest.size[this.axis][of.index]! : this.axis === 0 ? width : height
    const gap = this.style.entryGap
    const entries: StripEntry[] = []
    const pages: { entries: number[]; characters: number }[] = [{ entries: [], characters: 0 }]
    let [at, characters, blank, pageStart] = [0, 0, gap, 0]
    const newPage = () => {
      pages.push({ entries: [], characters: 0 })
      // What is on the last page has left when the next one comes.
      if (of.way !== 'pages') at += this.window - gap
      pageStart = at
    }
    const count = entryCount(of, content.fields)
    const { children } = rest.order
    for (let item = 0; item < count; item++) {
      if (this.isBreak(item)) {
        if (pages.at(-1)!.entries.length > 0) newPage()
        continue
      }
      const own = source.entry(0, item)
      const [from, to] = extent(own, children[of.index]!, this.axis)
      const size = to > from ? to - from : blank
      if (to > from) blank = size
      if (of.way === 'pages' && at + size - pageStart > this.window + 0.5 && pages.at(-1)!.entries.length > 0) newPage()
      const read = charactersOf(own, of.holds)
      pages.at(-1)!.entries.push(entries.length)
      pages.at(-1)!.characters += read
      characters += read
      entries.push({ at, size, item, from: to > from ? from : 0 })
      at += size + gap
    }
    this.entries = entries
    this.pages = pages.filter((page) => page.entries.length > 0)
    this.length = entries.length > 0 ? entries.at(-1)!.at + entries.at(-1)!.size : 0
    this.characters = characters
  }

  /** Where it is seen: its window along the way it runs, and across that what it was drawn with; frame px. */
  get area(): Box {
    const { rest } = this.layout
    const { index } = this.of
    const [across, length] =
      this.axis === 0 ? [rest.start[1][index]!, rest.size[1][index]!] : [rest.start[0][index]!, rest.size[0][index]!]
    return this.axis === 0
      ? { x: this.windowStart, y: across, width: this.window, height: length }
      : { x: across, y: this.windowStart, width: length, height: this.window }
  }

  get style(): StyleValues<'group'> {
    return styleOf(this.layout.content, this.of.index, 'group')
  }

  get pace(): Pace {
    const { runPace, runSpeed, runSteps } = this.style
    const by = runPace === 'over and over' ? 'endless' : runPace === 'to end on time' ? 'time' : 'speed'
    return { by, speed: runSpeed, steady: runSteps === 'steady' }
  }

  /** Frames of Hold that it takes; undefined: as many as there are. */
  get frames(): number | undefined {
    return this.of.way === 'pages' ? undefined : framesOfRun(this, this.pace, this.layout.template.frame.rate)
  }

  /** px a frame. @param hold frames of Hold */
  step(hold: number): number {
    return stepOf(this, this.pace, this.layout.template.frame.rate, hold)
  }

  /** What of it is in its window; frame px. */
  items(clock: RunClock): Item[] {
    const placed = this.of.way === 'pages' ? this.page(clock.turn) : this.running(clock)
    const items = placed.flatMap(({ entry, at }): Item[] => {
      const own = this.drawnEntry(entry.item)
      if (own.length === 0) return []
      const by = at - entry.from
      return [
        { kind: 'layer', matrix: this.axis === 0 ? translation(by, 0) : translation(0, by), opacity: 1, items: own },
      ]
    })
    return this.of.way === 'pages' ? items : this.clipped(items)
  }

  /** px a frame that it goes on while nobody knows how long it will be up. */
  get openStep(): number {
    return stepOf(this, { ...this.pace, by: 'endless' }, this.layout.template.frame.rate, 1)
  }

  /** Whether it comes in from the left. */
  get isBack(): boolean {
    return this.style.runSpeed < 0
  }

  /** What its one entry draws when its leading end is so far in from the edge, px; as the items of a run that others make up. */
  entryAlong(along: number, size: number): Item[] {
    const [entry] = this.entries
    const own = entry ? this.drawnEntry(entry.item) : []
    if (!entry || own.length === 0) return []
    const at = this.windowStart + (this.isBack ? along - size : this.window - along) - entry.from
    return [{ kind: 'layer', matrix: translation(at, 0), opacity: 1, items: own }]
  }

  /** Cuts what runs to its window. */
  clipped(items: Item[]): Item[] {
    return items.length === 0 ? [] : [{ kind: 'layer', matrix: translation(0, 0), opacity: 1, clip: this.clip, items }]
  }

  private page(turn: number): { entry: StripEntry; at: number }[] {
    const entries = (this.pages[turn]?.entries ?? []).map((i) => this.entries[i]!)
    return entries.map((entry) => ({ entry, at: this.windowStart + entry.at - entries[0]!.at }))
  }

  /** The entries in sight, each with where it begins. */
  private running({ frame, hold }: RunClock): { entry: StripEntry; at: number }[] {
    if (frame <= 0 || this.entries.length === 0) return []
    const gone = frame * this.step(hold)
    const period = this.length + this.style.entryGap
    // Over and over: as many rounds as have begun and have not passed yet.
    const rounds =
      this.pace.by === 'endless' && period > 0
        ? { first: Math.max(0, Math.floor((gone - distanceOf(this)) / period)), last: Math.floor(gone / period) }
        : { first: 0, last: 0 }
    const found: { entry: StripEntry; at: number }[] = []
    for (let round = rounds.first; round <= rounds.last; round++)
      for (const entry of this.entries) {
        // From the edge at which it comes in.
        const along = gone - entry.at - round * period
        // Letters reach a little out of their lines.
        if (along < -entry.size || along > this.window + 2 * entry.size) continue
        const at = this.isBack ? along - entry.size : this.window - along
        found.push({ entry, at: this.windowStart + at })
      }
    return found
  }

  private drawnEntry(item: number): Item[] {
    return cached(this.drawn, item, () => this.source.drawn(this.source.entry(0, item), this.of.part.parts ?? []))
  }

  /** The window along the way it runs, and all there is across it. */
  private get clip(): string {
    const far = 1e5
    const box: Box =
      this.axis === 0
        ? { x: this.windowStart, y: -far, width: this.window, height: 2 * far }
        : { x: -far, y: this.windowStart, width: 2 * far, height: this.window }
    return boxPath(box.x, box.y, box.width, box.height, [0, 0, 0, 0])
  }

  private isBreak(item: number): boolean {
    const { fields } = this.layout.content
    return [...this.of.lists].some((id) => (fields.get(id) as unknown[] | undefined)?.[item] === pageBreak)
  }
}

/** From where to where some parts reach along an axis, px of the frame; those that are gone left out. */
function extent({ rest }: Layout, indices: readonly number[], axis: 0 | 1): [number, number] {
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY]
  for (const i of indices) {
    if (rest.gone[i]) continue
    low = Math.min(low, rest.start[axis][i]!)
    high = Math.max(high, rest.start[axis][i]! + rest.size[axis][i]!)
  }
  return high >= low ? [low, high] : [0, 0]
}

/** How a filling goes through the lists in its texts: worked out once for all of its frames. */
export class Entries {
  /** By part index: what rolls, crawls or goes by pages. */
  readonly strips: ReadonlyMap<number, EntryStrip>
  /** Texts (or pages) that stand one after another, one at least. */
  readonly turns: number
  /** Indices of parts that show them, each with all that it holds, and of those alone that hold the others. */
  readonly turning: ReadonlySet<number>
  readonly turningRoots: ReadonlySet<number>
  readonly change: Changeover
  private readonly inTurn: readonly EntryPart[]
  private known: (Stands & { reads: number[] }) | undefined

  constructor(
    private readonly source: EntrySource,
    private readonly layout: Layout,
  ) {
    const { template, content, rest } = layout
    const all = entryParts(template).filter(({ index }) => !rest.gone[index] || content.styles[index]!.visible)
    this.strips = new Map(
      all.flatMap((of) => (of.way === 'turn' ? [] : [[of.index, new EntryStrip(source, layout, of)] as const])),
    )
    this.inTurn = all.filter(({ way }) => way === 'turn' || way === 'pages')
    const counts = this.inTurn.map((of) =>
      of.way === 'pages' ? this.strips.get(of.index)!.pages.length : entryCount(of, content.fields),
    )
    this.turns = Math.max(1, ...counts)
    this.turningRoots = new Set(this.inTurn.map(({ index }) => index))
    this.turning = new Set(this.inTurn.flatMap(({ holds }) => holds))
    const styles = this.inTurn.map(({ index }) => styleOf(content, index, 'text', 'group'))
    this.change = changeover(
      [...this.turning].map((i) => rest.order.parts[i]!.motion),
      template.spans,
      Math.max(0, ...styles.map(({ entryOverlap }) => entryOverlap)),
      Math.max(0, ...styles.map(({ entryTravel }) => entryTravel)),
    )
  }

  /** Whether anything of it is another one at every frame. */
  get runs(): boolean {
    return [...this.strips.values()].some(({ of }) => of.way !== 'pages')
  }

  /** The same of what does not go by items of its own. */
  runsBeside(own: ReadonlyMap<number, unknown> | undefined): boolean {
    return [...this.strips].some(([index, { of }]) => of.way !== 'pages' && !own?.has(index))
  }

  /** How long each text in turn has to stand. */
  get stands(): Stands {
    this.known ??= this.work()
    return this.known
  }

  /** Frames that each text in turn takes to read. */
  get reads(): readonly number[] {
    this.known ??= this.work()
    return this.known.reads
  }

  private work(): Stands & { reads: number[] } {
    const { template, content } = this.layout
    const { rate } = template.frame
    const needs = new Array<number>(this.turns).fill(1)
    const reads = new Array<number>(this.turns).fill(0)
    let follows = false
    for (const { index, way, holds } of this.inTurn) {
      const { entryTime, entrySeconds } = styleOf(content, index, 'text', 'group')
      const least = framesOf(entrySeconds, rate)
      if (entryTime !== 'its share of Hold') follows = true
      for (let turn = 0; turn < this.turns; turn++) {
        const characters =
          way === 'pages'
            ? (this.strips.get(index)!.pages[turn]?.characters ?? 0)
            : charactersOf(this.source.entry(turn, -1), holds)
        reads[turn]! += readingFrames(characters, rate)
        const need =
          entryTime === 'a set time' ? least : entryTime === 'its share of Hold' ? 1 : Math.max(least, reads[turn]!)
        needs[turn] = Math.max(needs[turn]!, need)
      }
    }
    return { needs, follows, reads }
  }

  /** Frames that Hold takes for all of it; undefined: as designed. */
  get hold(): number | undefined {
    const taken: number[] = []
    if (this.turns > 1 && this.stands.follows)
      taken.push(this.stands.needs.reduce((sum, one) => sum + one, 0) + (this.turns - 1) * this.change.frames)
    for (const strip of this.strips.values()) if (strip.frames !== undefined) taken.push(strip.frames)
    return taken.length > 0 ? Math.max(...taken) : undefined
  }

  /** Frames of Hold without which not even a frame is left for each text in turn. */
  get least(): number {
    return this.turns > 1 ? (this.turns - 1) * this.change.frames + this.turns : 0
  }

  /** Indices of parts that stand in what rolls, crawls or goes by pages: they rest elsewhere than they are drawn. */
  get inStrips(): ReadonlySet<number> {
    return new Set([...this.strips.values()].flatMap(({ of }) => of.holds.slice(1)))
  }

  /** Indices of parts that are read as they stand in turn or run by, not all at once. */
  get read(): ReadonlySet<number> {
    return new Set([...this.turning, ...[...this.strips.values()].flatMap(({ of }) => of.holds)])
  }
}
