import { targetsOf } from './naming.ts'
import type { Axis, AxisName, Part, PartId, Target, Template } from './types.ts'

/**
 * Which axis of which part must be known before which: the graph that ties draw. It depends on the drawing alone, never
 * on a filling, so it is worked out once per drawing and a ring is found the moment it is tied.
 *
 * A node is `part index * 2 + axis` (x 0, y 1). A part turned off the upright needs both its sizes for either axis; its
 * two axes are one node, the even one.
 */
export interface TieOrder {
  parts: Part[]
  index: Map<PartId, number>
  /** Index of the group that holds a part, -1 for none. */
  parent: Int32Array
  /** Indices of the parts a group holds. */
  children: number[][]
  /**
   * By node: the nearest enclosing group that sets its own place on that axis, -1 for the frame. Parts inside are solved
   * in its coordinates and moved along with it.
   */
  space: Int32Array
  /** Nodes in an order in which each stands after all it depends on. Empty when there is a ring. */
  order: number[]
  ring?: PartId[]
}

const axes: AxisName[] = ['x', 'y']

/** Turned by something else than a half turn: the upright box mixes width and height. */
export function isTurned(part: Part): boolean {
  return (part.style.rotation ?? 0) % 180 !== 0
}

/** Whether a group says itself where it stands along an axis; else it is where its parts are. */
export function setsItsPlace(axis: Axis): boolean {
  return axis.ties.length > 0 || axis.size.kind !== 'content' || axis.place !== 0
}

/** Whether a text is as large as the height of its box makes it, which is given then. */
export function fillsHeight(part: Part): boolean {
  if (part.kind !== 'text' || isTurned(part)) return false
  const isGiven = part.y.ties.length === 2 || part.y.size.kind !== 'content'
  return isGiven && (part.style.fit ?? []).some((step) => step.step === 'fill' && (step.by ?? 'width') !== 'width')
}

function flatten(list: Part[], parent: number, parts: Part[], parents: number[]): void {
  for (const part of list) {
    const at = parts.push(part) - 1
    parents.push(parent)
    if (part.parts) flatten(part.parts, at, parts, parents)
  }
}

const cache = new WeakMap<Part[], TieOrder>()

/** The order in which a drawing's axes are solved, or the ring that prevents one. Linear in parts and ties. */
export function tieOrder(template: Template): TieOrder {
  const known = cache.get(template.parts)
  if (known) return known
  const parts: Part[] = []
  const parents: number[] = []
  flatten(template.parts, -1, parts, parents)
  const parent = Int32Array.from(parents)
  const index = new Map(parts.map((part, i) => [part.id, i]))
  const space = new Int32Array(parts.length * 2).fill(-1)
  for (let i = 0; i < parts.length; i++)
    for (const a of [0, 1]) {
      const up = parent[i]!
      if (up >= 0) space[i * 2 + a] = setsItsPlace(parts[up]![axes[a]!]) ? up : space[up * 2 + a]!
    }
  const children = childrenOf(parent)
  const result: TieOrder = { parts, index, parent, children, space, order: [] }
  const nodes = parts.flatMap((part, i) => (isTurned(part) ? [i * 2] : [i * 2, i * 2 + 1]))
  const depends = new Map(
    nodes.map((node) => [
      node,
      [...new Set(dependenciesOf(node, result))].filter((d) => d !== node || isOwnLoop(node, result)),
    ]),
  )
  sort(nodes, depends, result)
  cache.set(template.parts, result)
  return result
}

/** A turned part tied to itself would hide in its joined node; a straight one shows as a plain loop. */
function isOwnLoop(node: number, { parts, index }: TieOrder): boolean {
  const part = parts[node >> 1]!
  return [part.x, part.y].some((axis) =>
    axis.ties.some((tie) => 'parts' in tie.to && tie.to.parts.some((id) => index.get(id) === node >> 1)),
  )
}

function childrenOf(parent: Int32Array): number[][] {
  const children: number[][] = Array.from(parent, () => [])
  parent.forEach((up, i) => {
    if (up >= 0) children[up]!.push(i)
  })
  return children
}

function dependenciesOf(node: number, o: TieOrder): number[] {
  const i = node >> 1
  const part = o.parts[i]!
  const list: number[] = []
  const nodeOf = (j: number, a: number) => (isTurned(o.parts[j]!) ? j * 2 : j * 2 + a)
  for (const a of isTurned(part) ? [0, 1] : [node & 1]) {
    const axis = part[axes[a]!]
    // The groups whose place decides where one space lies in another; what both are inside of moves both alike.
    const spaces = (from: number, other: number) => {
      const shared = new Set<number>()
      for (let s = other; s >= 0; s = o.space[s * 2 + a]!) shared.add(s)
      for (let s = from; s >= 0 && !shared.has(s); s = o.space[s * 2 + a]!) list.push(nodeOf(s, a))
    }
    const lookAt = (target: Target) => {
      const mine = o.space[i * 2 + a]!
      if ('parts' in target) {
        for (const id of target.parts) {
          const j = o.index.get(id)
          if (j === undefined) continue
          list.push(nodeOf(j, a))
          const other = o.space[j * 2 + a]!
          if (other !== mine) {
            spaces(mine, other)
            spaces(other, mine)
          }
        }
      } else if (target.region === 'group' && o.parent[i]! >= 0) {
        list.push(nodeOf(o.parent[i]!, a))
      } else spaces(mine, -1)
    }
    for (const target of targetsOf(axis)) lookAt(target)
    if (a === 0 && part.room?.kind === 'limit') lookAt(part.room.to)
    // A text has the room that the way has along which it runs.
    if (a === 0 && part.kind === 'text' && part.style.along) {
      const way = o.index.get(part.style.along)
      if (way !== undefined) list.push(nodeOf(way, 0), nodeOf(way, 1))
    }
    // How high a text is hangs on how it is set across; how large one is that fills its height, on how high that is.
    if (part.kind === 'text' && !isTurned(part) && fillsHeight(part) === (a === 0)) list.push(node ^ 1)
    // Between two ties a group is as large as these make it, whatever it holds.
    if (part.kind === 'group' && axis.size.kind === 'content' && axis.ties.length < 2)
      for (const child of o.children[i]!) list.push(nodeOf(child, a))
  }
  return list
}

/** Depth-first topological order without recursion; fills `order` or `ring`. */
function sort(nodes: number[], depends: Map<number, number[]>, result: TieOrder): void {
  const state = new Map<number, 'open' | 'done'>()
  for (const root of nodes) {
    if (state.has(root)) continue
    const path: { node: number; next: number }[] = [{ node: root, next: 0 }]
    state.set(root, 'open')
    while (path.length > 0) {
      const top = path[path.length - 1]!
      const below = depends.get(top.node)![top.next++]
      if (below === undefined) {
        state.set(top.node, 'done')
        result.order.push(top.node)
        path.pop()
      } else if (state.get(below) === 'open') {
        const start = path.findIndex((p) => p.node === below)
        const ids = path.slice(start).map((p) => result.parts[p.node >> 1]!.id)
        result.ring = [...ids.filter((id, n) => n === 0 || ids[n - 1] !== id), result.parts[below >> 1]!.id]
        result.order = []
        return
      } else if (!state.has(below)) {
        state.set(below, 'open')
        path.push({ node: below, next: 0 })
      }
    }
  }
}

/** The parts of a ring of ties, the first named again at the end; undefined when there is none. */
export function ringIn(template: Template): PartId[] | undefined {
  return tieOrder(template).ring
}
