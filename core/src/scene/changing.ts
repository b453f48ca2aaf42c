import { cached } from '../cache/index.ts'
import type { Box } from '../geometry/index.ts'
import { boxOf, type Rest } from '../layout/index.ts'
import {
  type Changeover,
  changeover,
  eased,
  type Moment,
  type PoseContext,
  shownMoment,
  type Timing,
} from '../motion/index.ts'
import { type Motion, type Part, type PartId, type TieOrder, updateOf, type Values } from '../template/index.ts'
import type { Layout } from './layout.ts'
import type { Posed, RunsShown } from './posed.ts'
import { between, type Scene, type Shown } from './scene.ts'

/** What a title is filled with at a frame: the same throughout, or, where a clock stands in it, another thing each second. */
export type Filling = (frame: number) => Values

/** What endless runs show at a frame. */
export type RunsAt = (layout: Layout, frame: number) => RunsShown | undefined

/** How words, pictures or surfaces that are others now take the place of those before. */
type Way =
  /** Out and in, one after the other with a little of both. */
  | 'fade'
  /** The new one comes over the old one, which stays until it is covered: no ground shows through. */
  | 'over'
  /** By their own Out and In. */
  | 'moves'

/** A part that shows something else: what leaves, since when, and until when. */
interface Swap {
  way: Way
  /** Frames of the title. */
  at: number
  ends: number
  /** When it last became something else: what comes sooner than words can come takes their place where they are. */
  last: number
  leaves: Filling
  /** Where everything stood when it began to leave. */
  stood: Rest
}

/** How far a part travels, px; its boxes there and here, frame px. */
export interface Travel {
  part: string
  way: number
  from: Box
  to: Box
}

const clamp = (value: number) => Math.min(1, Math.max(0, value))

/**
 * A title whose filling changes while it is shown: words leave and come, and every part whose box is another one travels
 * from where it stands to its new rest, all by one clock. A change that comes while another is under way begins at the pose
 * of that moment. Every state is a value; the one before is let go when the way is over.
 */
export class ChangingTitle {
  private constructor(
    private readonly scene: Scene,
    readonly fill: Filling,
    /** Frame of the title at which this filling came. */
    readonly at: number,
    /** Where parts stood then, in the order of this filling's parts; absent: nothing was there before. */
    private readonly from: Rest | undefined,
    /** Frames that parts travel. */
    readonly frames: number,
    private readonly swaps: ReadonlyMap<PartId, Swap>,
    /** The part that has the longest way to go; absent: none has any. */
    readonly longest?: Travel,
  ) {}

  static of(scene: Scene, fill: Filling): ChangingTitle {
    return new ChangingTitle(scene, fill, 0, undefined, 0, noSwaps)
  }

  /** The frame from which on the title stands as its filling has it. */
  get arrives(): number {
    return Math.max(this.at + this.frames, ...[...this.swaps.values()].map(({ ends }) => ends))
  }

  /** The filling laid out. */
  layout(frame: number): Layout {
    return this.scene.layout(this.fill(frame))
  }

  /**
   * The same title with another filling from a frame on; itself, when that shows nothing else.
   * @param timing the title's; what comes while it arrives waits until it has
   */
  changed(fill: Filling, frame: number, timing: Timing): ChangingTitle {
    const at = Math.max(frame, timing.in)
    const before = this.layout(at)
    const after = this.scene.layout(fill(at))
    if (before === after) return this
    const stood = this.restAt(at, timing)
    const swaps = new Map([...this.swaps].filter(([, { at: began, ends, last }]) => last + ends - began > at))
    const differing = differingParts(before, after, this.scene.entries(after).inStrips)
    const moved = differing.filter((part) => this.wayOf(part) === 'moves')
    const change = changeover(
      moved.map(({ motion }) => motion),
      after.template.spans,
      0,
      0,
    )
    const { fade } = updateOf(after.template)
    for (const part of differing) {
      const known = swaps.get(part.id)
      if (known) {
        swaps.set(part.id, { ...known, last: at })
        continue
      }
      const way = this.wayOf(part)
      const frames =
        way === 'moves' ? change.frames : way === 'fade' ? Math.max(fade.out, fade.after + fade.in - 1) : fade.in
      swaps.set(part.id, { way, at, ends: at + Math.max(1, frames), last: at, leaves: this.fill, stood })
    }
    const from = inOrderOf(stood, before, after)
    const { start, size, gone, order } = after.rest
    let longest: Travel | undefined
    order.parts.forEach((part, i) => {
      // A group shows nothing by itself: what it holds has ways of its own.
      if (gone[i] || from.gone[i] || part.kind === 'group' || isSet(swaps, part.id)) return
      for (const axis of [0, 1] as const) {
        const near = Math.abs(start[axis][i]! - from.start[axis][i]!)
        const far = Math.abs(start[axis][i]! + size[axis][i]! - from.start[axis][i]! - from.size[axis][i]!)
        const way = Math.max(near, far)
        if (way > (longest?.way ?? 0.01))
          longest = { part: part.name, way, from: boxOf(from, i), to: boxOf(after.rest, i) }
      }
    })
    return new ChangingTitle(this.scene, fill, at, from, this.framesFor(longest?.way ?? 0, after), swaps, longest)
  }

  /** Frames for a longest way, px; not whole ones where a speed says so. */
  private framesFor(longest: number, { template }: Layout): number {
    const { pace } = updateOf(template)
    if (pace.kind === 'time') return pace.frames
    const { num, den } = template.frame.rate
    return Math.max(1, ((longest / pace.speed) * num) / den)
  }

  private wayOf(part: Part): Way {
    if (part.motion.update === 'comes') return 'moves'
    if (part.kind !== 'text' && part.kind !== 'picture') return 'over'
    return updateOf(this.scene.template).words === 'moves' && hasMoves(part.motion) ? 'moves' : 'fade'
  }

  /** Share of the way that parts have gone. */
  private share(frame: number): number {
    if (!this.from || frame >= this.at + this.frames) return 1
    const gone = clamp((frame - this.at) / this.frames)
    return clamp(eased(updateOf(this.scene.template).ease, gone))
  }

  private restAt(frame: number, timing: Timing): Rest {
    const layout = this.layout(frame)
    const context = contextOf(layout, timing, frame)
    return this.travelled(this.scene.restAt(layout, () => context).rest, frame)
  }

  /** A rest as far as its parts have come on their way there. */
  private travelled(rest: Rest, frame: number): Rest {
    const share = this.share(frame)
    if (share === 1) return rest
    return between(rest, this.from!, (i) => (isSet(this.swaps, rest.order.parts[i]!.id) ? 0 : 1 - share))
  }

  /** What the title shows at a frame, counted from where its In began; it need not be a whole one. */
  posed(timing: Timing, frame: number, runs?: RunsAt): Posed {
    const layout = this.layout(frame)
    const shownRuns = runs?.(layout, frame)
    if (frame >= this.arrives) return this.scene.shown(layout, timing, frame, shownRuns)
    const { rest } = layout
    const base = contextOf(layout, timing, frame)
    const contexts = new Map<number, PoseContext>()
    const dims = new Map<number, number>()
    const leaving = new Map<number, Swap>()
    const change = this.changeOf(layout)
    for (const [id, swap] of this.swaps) {
      const i = rest.order.index.get(id)
      if (i === undefined || frame >= swap.ends) continue
      const { coming, leaves } = momentsOf(swap, frame, layout, change)
      if (leaves.dim > 0) leaving.set(i, swap)
      dims.set(i, coming.dim)
      const moment = coming.moment ?? base.moment
      for (const one of holding(rest.order, i)) contexts.set(one, { ...base, moment })
    }
    const contextFor = (i: number) => contexts.get(i) ?? base
    const now = this.scene.restAt(layout, contextFor)
    const stands = this.travelled(now.rest, frame)
    const dim = (i: number) => dims.get(i) ?? 1
    const shown = { ...this.clocks(layout, timing, frame), contextOf: contextFor, runs: shownRuns, dim }
    const own = this.scene.carried(layout, shown, stands, now.drawings)
    const drawn = new Map<number, Posed[]>()
    const made = new Map<string, Posed>()
    const fills = [...new Set([...leaving.values()].map(({ leaves }) => leaves))]
    for (const [i, swap] of leaving) {
      const name = `${fills.indexOf(swap.leaves)} ${swap.way} ${swap.at}`
      const posed = made.get(name) ?? this.leaves(swap, layout, stands, timing, frame, change)
      made.set(name, posed)
      drawn.set(i, [posed, own])
    }
    return own.inChange(drawn)
  }

  /** A title as parts of it leave that are swapped alike. */
  private leaves(swap: Swap, layout: Layout, stands: Rest, timing: Timing, frame: number, change: Changeover): Posed {
    const old = this.scene.layout(swap.leaves(frame))
    const { leaves } = momentsOf(swap, frame, layout, change)
    const context = contextOf(old, timing, frame)
    const moment = leaves.moment ?? context.moment
    const roots = new Set(
      [...this.swaps].flatMap(([id, { way }]) => (way === swap.way ? [old.rest.order.index.get(id)] : [])),
    )
    const shown = {
      ...this.clocks(old, timing, frame),
      contextOf: () => ({ ...context, moment }),
      dim: (i: number) => (roots.has(i) ? leaves.dim : 1),
    }
    // A surface leaves where the one that covers it is; words stay where they stood.
    const rest = swap.way === 'over' ? inOrderOf(stands, layout, old) : swap.stood
    return this.scene.carried(old, shown, rest, this.scene.drawings(old))
  }

  /** What runs by the clock; while words change, what comes in turn stands at its first. */
  private clocks(layout: Layout, timing: Timing, frame: number): Pick<Shown, 'seconds' | 'entries' | 'clock'> {
    const { template } = layout
    const { num, den } = template.frame.rate
    const hold = timing.open ? template.spans.hold.frames : timing.hold
    return {
      seconds: (frame * den) / num,
      entries: this.scene.entries(layout),
      clock: { frame: frame - timing.in, hold, turn: 0 },
    }
  }

  private changeOf({ template, rest }: Layout): Changeover {
    const moved = [...this.swaps].flatMap(([id, { way }]) => {
      const i = rest.order.index.get(id)
      return way === 'moves' && i !== undefined ? [rest.order.parts[i]!.motion] : []
    })
    return changeover(moved, template.spans, 0, 0)
  }
}

/** Whether a part comes where it will rest; it does not travel there. */
const isSet = (swaps: ReadonlyMap<PartId, Swap>, part: PartId): boolean => {
  const way = swaps.get(part)?.way
  return way !== undefined && way !== 'over'
}

const noSwaps: ReadonlyMap<PartId, Swap> = new Map()

function contextOf({ template }: Layout, timing: Timing, frame: number): PoseContext {
  const hold = timing.open ? Number.POSITIVE_INFINITY : timing.hold
  return { frame: template.frame, spans: template.spans, hold, moment: shownMoment(template.spans, timing, frame) }
}

interface Shows {
  /** How much of it is seen, 0..1. */
  dim: number
  /** By which moment it stands; absent: by the title's. */
  moment?: Moment
}

/** How what leaves and what comes is seen at a frame. */
function momentsOf(
  { way, at }: Swap,
  frame: number,
  { template }: Layout,
  { leaves, comes, frames }: Changeover,
): { leaves: Shows; coming: Shows } {
  const { fade } = updateOf(template)
  const gone = frame - at
  if (way === 'over') return { leaves: { dim: 1 }, coming: { dim: clamp(gone / Math.max(1, fade.in)) } }
  if (way === 'fade')
    return {
      leaves: { dim: fade.out > 0 ? clamp(1 - gone / fade.out) : 0 },
      // The first frame of what comes already shows some of it.
      coming: { dim: clamp((gone - fade.after + 1) / Math.max(1, fade.in)) },
    }
  const [leaving, coming] = [leaves[1] - leaves[0], comes[1] - comes[0]]
  const start = frames - coming
  return {
    leaves: { dim: Number(gone <= leaving && leaving > 0), moment: { span: 'out', at: leaves[0] + gone } },
    coming: { dim: Number(gone >= start), moment: { span: 'in', at: comes[0] + gone - start } },
  }
}

const hasMoves = ({ tracks, segments }: Motion): boolean =>
  [...Object.values(tracks), ...Object.values(segments?.tracks ?? {})].some(
    (track: { keys: unknown[] } | undefined) => (track?.keys.length ?? 0) > 0,
  )

/** A part and all that it holds. */
function holding(order: TieOrder, i: number): number[] {
  return [i, ...order.children[i]!.flatMap((child) => holding(order, child))]
}

/**
 * Parts that show something else in another filling, each by itself; one that comes anew is one with all that it holds, and
 * does so when its box is another one too. What stands in a run is not among them.
 */
function differingParts(before: Layout, after: Layout, inRuns: ReadonlySet<number>): Part[] {
  const { order, gone } = after.rest
  const was = (i: number) => before.rest.order.index.get(order.parts[i]!.id)
  const differs = (i: number): boolean => {
    const old = was(i)
    if (old === undefined || inRuns.has(i)) return false
    const wasGone = before.rest.gone[old] === 1
    if (gone[i] && wasGone) return false
    return gone[i] !== Number(wasGone) || looks(before, old) !== looks(after, i)
  }
  const visit = (i: number): Part[] => {
    const part = order.parts[i]!
    if (part.motion.update === 'comes' && was(i) !== undefined) {
      const [a, b] = [boxOf(before.rest, was(i)!), boxOf(after.rest, i)]
      const isElsewhere = (['x', 'y', 'width', 'height'] as const).some((key) => Math.abs(a[key] - b[key]) > 0.5)
      return isElsewhere || holding(order, i).some(differs) ? [part] : []
    }
    return part.kind === 'group' ? order.children[i]!.flatMap(visit) : differs(i) ? [part] : []
  }
  return order.parts.flatMap((_, i) => (order.parent[i]! < 0 ? visit(i) : []))
}

const known = new WeakMap<Layout, Map<number, string>>()

/** What a part shows, whatever its place and the size of its box. */
function looks(layout: Layout, i: number): string {
  return cached(
    cached(known, layout, () => new Map<number, string>()),
    i,
    () => {
      const block = layout.blocks[i]
      const set = block && [block.text, block.size, block.condense, block.tracking, block.lines.map(({ end }) => end)]
      const { shiftX: _x, shiftY: _y, ...style } = layout.content.styles[i]!
      return JSON.stringify([style, set])
    },
  )
}

/** A rest with its parts in the order in which another filling's template has them. */
function inOrderOf(rest: Rest, own: Layout, other: Layout): Rest {
  const { order } = other.rest
  if (own.rest.order === order) return rest
  const places = order.parts.map(({ id }) => own.rest.order.index.get(id))
  if (places.every((place, i) => place === i)) return { ...rest, order }
  const moved = (from: Float64Array, instead: Float64Array) =>
    instead.map((value, i) => (places[i] === undefined ? value : from[places[i]!]!))
  const both = (of: 'start' | 'size' | 'own' | 'shift'): [Float64Array, Float64Array] => [
    moved(rest[of][0], other.rest[of][0]),
    moved(rest[of][1], other.rest[of][1]),
  ]
  const gone = other.rest.gone.map((value, i) => (places[i] === undefined ? value : rest.gone[places[i]!]!))
  return { ...rest, order, start: both('start'), size: both('size'), own: both('own'), shift: both('shift'), gone }
}
