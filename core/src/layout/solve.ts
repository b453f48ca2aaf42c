import type { Box } from '../geometry/index.ts'
import {
  type Axis,
  type AxisName,
  fillsHeight,
  isTurned,
  type Part,
  type PartId,
  setsItsPlace,
  type Target,
  type Template,
  type Tie,
  type TieOrder,
  tieOrder,
} from '../template/index.ts'
import type { Rest } from './rest.ts'
import { extentOf, heldBy, type Region, regionOf, shareOf, type TargetView } from './target.ts'

/** What layout asks of contents; sizes in px before a part's own scale and rotation. */
export interface Measure {
  /**
   * Sets a text into its room (px; undefined: free), and into a height where it fills one (px), and says how large the box is
   * that it shows.
   */
  text(index: number, room: number | undefined, height?: number): { width: number; height: number }
  picture(index: number): { width: number; height: number }
  /** px that a text has which runs along a part's outline; undefined: it does not. */
  along?(index: number, way: number, width: number, height: number): number | undefined
}

/** What of a part's own properties decides where it rests. */
interface Moved {
  readonly scale?: number
  readonly shiftX?: number
  readonly shiftY?: number
}

export interface SolveInput {
  template: Template
  gone: Uint8Array
  measure: Measure
  /** What a filling may make of scales and shifts, by part index; absent: as designed. */
  styles?: readonly Moved[]
  /** Animated bounds of a part for ties that follow the movement, from its rest box; frame px. Absent: at rest. */
  moving?: (index: number, rest: Box) => Box
}

const axisNames: [AxisName, AxisName] = ['x', 'y']
/** Works out where every part rests. Linear in parts and ties. */
export function solve(input: SolveInput): Rest {
  return new Solver(input).run()
}

class Solver {
  private readonly rest: Rest
  private readonly order: TieOrder
  /** Absolute start of each group's own coordinates, by axis and group index. */
  private readonly origin: [Float64Array, Float64Array]

  constructor(private readonly input: SolveInput) {
    this.order = tieOrder(input.template)
    const n = this.order.parts.length
    const pair = (): [Float64Array, Float64Array] => [new Float64Array(n), new Float64Array(n)]
    this.origin = pair()
    this.rest = {
      order: this.order,
      start: pair(),
      size: pair(),
      own: pair(),
      shift: pair(),
      gone: input.gone,
      notes: [],
    }
  }

  run(): Rest {
    for (const node of this.order.order) {
      const i = node >> 1
      if (isTurned(this.order.parts[i]!)) this.solveTurned(i)
      else this.solveStraight(i, (node & 1) as 0 | 1)
    }
    // Inside groups that set their own place, boxes were solved from the group's start; now all stand in the frame.
    for (let i = 0; i < this.order.parts.length; i++)
      for (const a of [0, 1] as const) {
        const s = this.order.space[i * 2 + a]!
        if (s >= 0) this.rest.start[a][i]! += this.originOf(s, a)
      }
    return this.rest
  }

  /** Start of a space in frame px; spaces nest. */
  private originOf(space: number, a: 0 | 1): number {
    let sum = 0
    for (let s = space; s >= 0; s = this.order.space[s * 2 + a]!) sum += this.origin[a][s]!
    return sum
  }

  /**
   * What part `i` sees along an axis, in its own coordinates; good until the next one is asked for.
   * @param follow where moving targets are looked for
   */
  private view(i: number, a: 0 | 1, follow: Tie['follow'] = 'settled'): TargetView {
    this.eye.i = i
    this.eye.a = a
    this.eye.isMoving = follow === 'moving' && this.input.moving !== undefined
    return this.eye
  }

  /** One eye for all parts: a drawing has thousands of ties, and a drag solves it at every step. */
  private readonly eye = {
    i: 0,
    a: 0 as 0 | 1,
    isMoving: false,
    region: (region: Region): [number, number] => {
      const { order, rest } = this
      const { i, a } = this.eye
      const mine = order.space[i * 2 + a]!
      const up = order.parent[i]!
      if (region === 'group' && up >= 0)
        return [rest.start[a][up]! - (mine === up ? this.origin[a][up]! : 0), rest.size[a][up]!]
      const [start, size] = regionOf(this.input.template.frame, region === 'group' ? 'frame' : region, axisNames[a])
      return [start - this.originOf(mine, a), size]
    },
    part: (id: PartId): [number, number] => {
      const { order, rest } = this
      const { i, a, isMoving } = this.eye
      const j = order.index.get(id)!
      const shift = this.shift(order.space[j * 2 + a]!, order.space[i * 2 + a]!, a)
      if (!isMoving || rest.gone[j] === 1) return [rest.start[a][j]! + shift, rest.size[a][j]!]
      const [start, size] = this.movingExtent(j, a)
      return [start + shift, size]
    },
    isGone: (id: PartId): boolean => this.rest.gone[this.order.index.get(id)!] === 1,
  }

  private shift(from: number, to: number, a: 0 | 1): number {
    return from === to ? 0 : this.originOf(from, a) - this.originOf(to, a)
  }

  private movingExtent(j: number, a: 0 | 1): [number, number] {
    const [ox, oy] = [this.originOf(this.order.space[j * 2]!, 0), this.originOf(this.order.space[j * 2 + 1]!, 1)]
    const box = {
      x: this.rest.start[0][j]! + ox,
      y: this.rest.start[1][j]! + oy,
      width: this.rest.size[0][j]!,
      height: this.rest.size[1][j]!,
    }
    const moved = this.input.moving!(j, box)
    return a === 0 ? [moved.x - ox, moved.width] : [moved.y - oy, moved.height]
  }

  /** Where a tie holds its edge, in the coordinates of part `i`. */
  private held(tie: Tie, i: number, a: 0 | 1): number {
    return heldBy(tie, this.view(i, a, tie.follow))
  }

  private style(i: number): Moved {
    return this.input.styles?.[i] ?? this.order.parts[i]!.style
  }

  private solveStraight(i: number, a: 0 | 1): void {
    const part = this.order.parts[i]!
    const axis = part[axisNames[a]]
    const scale = this.style(i).scale ?? 1
    const held = axis.ties.map((tie) => this.held(tie, i, a))
    const free = held.length === 2 ? this.between(axis, held, part, a) : undefined
    const size = this.clamp(free ?? this.ownSize(i, a, held) * scale, axis, part, a)
    if (held.length === 2 && part.kind === 'text' && a === 0) this.setInto(i, size / scale)
    this.place(i, a, size, size / scale, held)
  }

  /** Upright box of a turned part: w' = w|cos| + h|sin|, h' = w|sin| + h|cos|, w and h after scale. */
  private solveTurned(i: number): void {
    const part = this.order.parts[i]!
    const scale = this.style(i).scale ?? 1
    const angle = ((part.style.rotation ?? 0) * Math.PI) / 180
    const [c, s] = [Math.abs(Math.cos(angle)), Math.abs(Math.sin(angle))]
    const held = [part.x, part.y].map((axis, a) => axis.ties.map((tie) => this.held(tie, i, a as 0 | 1))) as [
      number[],
      number[],
    ]
    const upright = [part.x, part.y].map((axis, a) =>
      held[a]!.length === 2 ? this.between(axis, held[a]!, part, a as 0 | 1) : undefined,
    ) as [number | undefined, number | undefined]
    let [w, h] = [0, 0]
    if (upright[0] === undefined) w = this.ownSize(i, 0, held[0]) * scale
    if (upright[1] === undefined) h = this.ownSize(i, 1, held[1]) * scale
    if (upright[0] !== undefined && upright[1] !== undefined) {
      const det = c * c - s * s
      // At 45 degrees width and height cannot be told apart; they are taken as equal.
      if (Math.abs(det) < 1e-9) w = h = upright[0] / (c + s)
      else [w, h] = [(c * upright[0] - s * upright[1]) / det, (c * upright[1] - s * upright[0]) / det]
    } else if (upright[0] !== undefined) w = c > 1e-9 ? (upright[0] - h * s) / c : h
    else if (upright[1] !== undefined) h = c > 1e-9 ? (upright[1] - w * s) / c : w
    ;[w, h] = [Math.max(0, w), Math.max(0, h)]
    const sizes = [w * c + h * s, w * s + h * c]
    for (const a of [0, 1] as const) {
      const axis = part[axisNames[a]]
      this.place(i, a, this.clamp(sizes[a]!, axis, part, a), (a === 0 ? w : h) / scale, held[a])
    }
  }

  /** Size between two held edges. */
  private between(axis: Axis, held: number[], part: Part, a: 0 | 1): number {
    const [one, two] = axis.ties as [Tie, Tie]
    const size = (held[1]! - held[0]!) / (shareOf(two.edge) - shareOf(one.edge))
    if (size < 0) this.rest.notes.push({ part: part.id, axis: axisNames[a], kind: 'inside-out' })
    return Math.max(0, size)
  }

  private clamp(size: number, axis: Axis, part: Part, a: 0 | 1): number {
    if (axis.min !== undefined && axis.max !== undefined && axis.min > axis.max)
      this.rest.notes.push({ part: part.id, axis: axisNames[a], kind: 'min-over-max' })
    const most = axis.max === undefined ? size : Math.min(size, axis.max)
    return axis.min === undefined ? most : Math.max(most, axis.min)
  }

  /** Size by the axis's own rule, before scale. */
  private ownSize(i: number, a: 0 | 1, held: number[]): number {
    const part = this.order.parts[i]!
    const axis = part[axisNames[a]]
    const scale = this.style(i).scale ?? 1
    if (axis.size.kind !== 'content') {
      const size = axis.size.kind === 'fixed' ? axis.size.value : this.share(axis.size, i, a) / scale
      if (part.kind === 'text' && a === 0) this.setInto(i, size)
      return size
    }
    if (part.kind === 'text') return a === 0 ? this.setInto(i, this.room(i, held)).width : this.textHeight(i)
    if (part.kind === 'picture')
      return a === 0 ? this.input.measure.picture(i).width : this.input.measure.picture(i).height
    return part.kind === 'group' ? this.union(i, a)[1] / scale : 0
  }

  /** Sets a text in so many px, or in as many as the way has along which it runs. */
  private setInto(i: number, room: number | undefined): { width: number; height: number } {
    return this.input.measure.text(i, this.alongRoom(i) ?? room, this.heightOf(i))
  }

  private alongRoom(i: number): number | undefined {
    const part = this.order.parts[i]!
    const way = part.kind === 'text' && part.style.along ? this.order.index.get(part.style.along) : undefined
    if (way === undefined) return undefined
    return this.input.measure.along?.(i, way, this.rest.own[0][way]!, this.rest.own[1][way]!)
  }

  /** px before its own scale of the height that a text fills; undefined: none. */
  private heightOf(i: number): number | undefined {
    return fillsHeight(this.order.parts[i]!) ? this.rest.own[1][i]! : undefined
  }

  /** Height of a text as set by its x axis: the measure remembers the room it was last set in. */
  private textHeight(i: number): number {
    const part = this.order.parts[i]!
    const known = this.rest.own[0][i]!
    const fixed = part.x.ties.length === 2 || part.x.size.kind !== 'content'
    const room = () =>
      this.room(
        i,
        part.x.ties.map((tie) => this.held(tie, i, 0)),
      )
    return this.input.measure.text(i, this.alongRoom(i) ?? (fixed ? known : room())).height
  }

  private share(size: { of: Target; factor: number; plus: number }, i: number, a: 0 | 1): number {
    return Math.max(0, extentOf(size.of, this.view(i, a)).size * size.factor + size.plus)
  }

  /** px a text may take before its own scale: from its room, and from the most its axis allows. */
  private room(i: number, held: number[]): number | undefined {
    const part = this.order.parts[i]!
    const scale = this.style(i).scale ?? 1
    let room = part.x.max
    const rule = part.room
    if (rule?.kind === 'width') room = Math.min(room ?? rule.value, rule.value)
    if (rule?.kind === 'limit') {
      const { start, size } = extentOf(rule.to, this.view(i, 0))
      const limit = start + size * shareOf(rule.at) + rule.gap
      const tie = part.x.ties[0]
      const from = held[0] ?? part.x.place
      const edge = tie?.edge ?? 'start'
      const most = Math.max(
        0,
        edge === 'start' ? limit - from : edge === 'end' ? from - limit : 2 * Math.abs(limit - from),
      )
      room = Math.min(room ?? most, most)
    }
    return room === undefined ? undefined : room / scale
  }

  /** Union of a group's members that are not gone: start and size in the space they are solved in. */
  private union(i: number, a: 0 | 1): [number, number] {
    let low = Number.POSITIVE_INFINITY
    let high = Number.NEGATIVE_INFINITY
    for (const child of this.order.children[i]!) {
      if (this.rest.gone[child]) continue
      low = Math.min(low, this.rest.start[a][child]!)
      high = Math.max(high, this.rest.start[a][child]! + this.rest.size[a][child]!)
    }
    return high >= low ? [low, high - low] : [0, 0]
  }

  /** px that a part is shifted by: by itself, and by the groups round it that are where their parts are. */
  private shiftOf(i: number, a: 0 | 1): number {
    const { parts, parent } = this.order
    const own = (j: number) => this.style(j)[a === 0 ? 'shiftX' : 'shiftY'] ?? 0
    let shift = own(i)
    for (let up = parent[i]!; up >= 0 && !setsItsPlace(parts[up]![axisNames[a]]); up = parent[up]!) {
      const by = own(up)
      // What is tied to another part of the group comes along with that.
      if (by !== 0 && !this.isHeldInside(i, up, a)) shift += by
    }
    return shift
  }

  private isHeldInside(i: number, group: number, a: 0 | 1): boolean {
    const { parts, parent, index } = this.order
    const isInside = (id: PartId) => {
      for (let up = parent[index.get(id)!]!; up >= 0; up = parent[up]!) if (up === group) return true
      return false
    }
    return parts[i]![axisNames[a]].ties.some((tie) => 'parts' in tie.to && tie.to.parts.some(isInside))
  }

  private place(i: number, a: 0 | 1, size: number, own: number, held: number[]): void {
    const part = this.order.parts[i]!
    const axis = part[axisNames[a]]
    const tie = axis.ties[0]
    let start = tie ? held[0]! - size * shareOf(tie.edge) : axis.place
    // A group without a place of its own is where its parts are, and these are shifted by as much.
    const isCarrying = part.kind === 'group' && !setsItsPlace(axis)
    const shift = isCarrying ? 0 : this.shiftOf(i, a)
    if (part.kind === 'group') {
      const isSpace = this.order.children[i]!.some((child) => this.order.space[child * 2 + a] === i)
      if (!isSpace && axis.size.kind === 'content') start = this.union(i, a)[0]
      else
        this.origin[a][i] =
          shift +
          (axis.size.kind === 'content' && axis.ties.length < 2 ? start - (tie ? this.union(i, a)[0] : 0) : start)
      if (isSpace && !tie && axis.size.kind === 'content') start = axis.place + this.union(i, a)[0]
    }
    this.rest.shift[a][i] = shift
    this.rest.start[a][i] = start + shift
    this.rest.size[a][i] = size
    this.rest.own[a][i] = own
  }
}
