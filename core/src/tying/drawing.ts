import { alike, dependsOn, type Region, type Rest, regionOf } from '../layout/index.ts'
import {
  type Axis,
  type AxisName,
  type Edge,
  isTurned,
  type Part,
  type PartId,
  type Target,
  type Template,
  type TieOrder,
} from '../template/index.ts'

export const axisNames = ['x', 'y'] as const

export const across = (axis: AxisName): AxisName => (axis === 'x' ? 'y' : 'x')

/** A stretch of an axis; frame px. */
export interface Stretch {
  start: number
  end: number
}
export const lengthOf = ({ start, end }: Stretch) => end - start
export const edgeOf = ({ start, end }: Stretch, edge: Edge) =>
  edge === 'start' ? start : edge === 'end' ? end : (start + end) / 2
export const overlap = (one: Stretch, other: Stretch) => Math.min(one.end, other.end) - Math.max(one.start, other.start)

/** A part where it was drawn. */
export interface Drawn {
  part: Part
  index: number
  /** Where it is seen. */
  x: Stretch
  y: Stretch
  /** px by which its own shift takes it from where its ties hold it. */
  shift: Record<AxisName, number>
  /** Its size comes from its words. */
  isText: boolean
  /** It can stand around others, or under them: a box, an ellipse, a closed path. */
  isSurface: boolean
}

/** Whether a part stands inside another on both axes. */
export const isWithin = (inner: Drawn, outer: Drawn): boolean =>
  axisNames.every(
    (axis) => inner[axis].start >= outer[axis].start - alike && inner[axis].end <= outer[axis].end + alike,
  )
export const areaOf = ({ x, y }: Drawn) => lengthOf(x) * lengthOf(y)

const isClosed = (part: Part) => part.kind === 'path' && part.style.outlines?.every(({ closed }) => closed) === true

/** The parts that were drawn, in painting order; groups are read by what they hold. */
export function drawingOf(rest: Rest): Drawn[] {
  return rest.order.parts.flatMap((part, index): Drawn[] => {
    if (rest.gone[index]) return []
    const stretch = (a: 0 | 1): Stretch => {
      const start = rest.start[a][index]!
      return { start, end: start + rest.size[a][index]! }
    }
    const [x, y] = [stretch(0), stretch(1)]
    // What is as good as nothing has no place that means anything.
    if (lengthOf(x) <= 0 && lengthOf(y) <= 0) return []
    return [
      {
        part,
        index,
        x,
        y,
        shift: { x: rest.shift[0][index]!, y: rest.shift[1][index]! },
        isText: part.kind === 'text' && part.x.size.kind === 'content',
        isSurface: part.kind === 'box' || part.kind === 'ellipse' || isClosed(part),
      },
    ]
  })
}

/** Lines of the frame along an axis, by region. */
export function regionLine(template: Template, region: Exclude<Region, 'group'>, axis: AxisName): Stretch {
  const [start, size] = regionOf(template.frame, region, axis)
  return { start, end: start + size }
}

/** Which axis of which part rests on which others, as a drawing grows ties: asked before each, so that none closes a ring. */
export class Dependencies {
  private readonly on = new Map<string, Set<string>>()
  /** Groups that came to hold to something: what they hold moves with them. */
  private readonly carrying = new Set<string>()

  constructor(
    private readonly order: TieOrder,
    parts: readonly Part[],
  ) {
    parts.forEach((part, i) => {
      for (const axis of axisNames) {
        const own = this.node(part, axis)
        // A text is as high as its width lets it be.
        if (part.kind === 'text' && axis === 'y') this.add(own, this.node(part, 'x'))
        if (part.kind === 'group' && part[axis].size.kind === 'content')
          for (const child of order.children[i]!) this.add(own, this.node(parts[child]!, axis))
        for (const id of dependsOnAlong(part, axis)) for (const node of this.seen(id, axis)) this.add(own, node)
      }
    })
  }

  /** Whether a part may look at others along an axis without looking at itself. */
  allows(part: Part, axis: AxisName, targets: readonly PartId[]): boolean {
    const own = this.node(part, axis)
    const open = targets.flatMap((id) => this.seen(id, axis))
    const met = new Set<string>()
    for (let node = open.pop(); node !== undefined; node = open.pop()) {
      if (node === own) return false
      if (met.has(node)) continue
      met.add(node)
      open.push(...(this.on.get(node) ?? []))
    }
    return true
  }

  tie(part: Part, axis: AxisName, targets: readonly PartId[]): void {
    for (const id of targets) for (const node of this.seen(id, axis)) this.add(this.node(part, axis), node)
  }

  carry(group: PartId, axis: AxisName): void {
    this.carrying.add(`${group}.${axis}`)
  }

  /** What is looked at where a part is: the part, and the groups that carry it. */
  private seen(id: PartId, axis: AxisName): string[] {
    const nodes: string[] = []
    for (let i = this.order.index.get(id) ?? -1; i >= 0; i = this.order.parent[i]!)
      nodes.push(this.node(this.order.parts[i]!, axis))
    // Groups that are only as large as what they hold are looked at through it.
    return nodes.filter((_, n) => n === 0 || this.carries(id, n, axis))
  }

  private carries(id: PartId, up: number, axis: AxisName): boolean {
    let i = this.order.index.get(id)!
    for (let n = 0; n < up; n++) i = this.order.parent[i]!
    const group = this.order.parts[i]!
    return group[axis].ties.length > 0 || this.carrying.has(`${group.id}.${axis}`)
  }

  /** Of a turned part both axes are one: each needs both sizes. */
  private node(part: Part, axis: AxisName): string {
    return isTurned(part) ? part.id : `${part.id}.${axis}`
  }

  private add(node: string, other: string): void {
    const known = this.on.get(node)
    if (known) known.add(other)
    else this.on.set(node, new Set([other]))
  }
}

function dependsOnAlong(part: Part, axis: AxisName): PartId[] {
  const only = (name: AxisName): Axis =>
    name === axis ? part[name] : { ...part[name], ties: [], size: { kind: 'content' } }
  const { room, ...bare } = part
  return dependsOn({ ...bare, x: only('x'), y: only('y'), ...(axis === 'x' && room ? { room } : {}) } as Part)
}

/** The parts that a target names. */
export const partsOf = (target: Target): readonly PartId[] => ('parts' in target ? target.parts : [])
