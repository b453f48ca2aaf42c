import { type Box, extentAlong } from '../geometry/index.ts'
import { demand } from '../refusal/index.ts'
import {
  type Axis,
  type AxisName,
  type Change,
  type Edge,
  findPart,
  type Guide,
  type Part,
  type PartId,
  type Template,
} from '../template/index.ts'
import { boxOf, type Rest } from './rest.ts'
import { regionOf, shareOf } from './target.ts'

/** Moves an axis by px: its gaps when it is tied, its place when it stands free. */
function moved(axis: Axis, by: number): Axis {
  return axis.ties.length > 0
    ? { ...axis, ties: axis.ties.map((tie) => ({ ...tie, gap: tie.gap + by })) }
    : { ...axis, place: axis.place + by }
}

/** The change that moves a part by px in the frame, whatever holds it. */
export function moveBy(part: Part, dx: number, dy: number): Change {
  const changes: Change[] = []
  for (const [axis, by] of [
    ['x', dx],
    ['y', dy],
  ] as [AxisName, number][])
    if (by !== 0) changes.push({ kind: 'axis', part: part.id, axis, value: moved(part[axis], by) })
  return { kind: 'several', changes }
}

/** Whether a part's ties along an axis lead to one of some parts, by however many steps. */
function leadsTo(template: Template, part: Part, axis: AxisName, ids: readonly PartId[], seen: Set<PartId>): boolean {
  return part[axis].ties.some(
    (tie) =>
      'parts' in tie.to &&
      tie.to.parts.some((id) => {
        if (ids.includes(id)) return true
        if (seen.has(id)) return false
        const other = findPart(template, id)
        return !!other && leadsTo(template, other, axis, ids, seen.add(id))
      }),
  )
}

/** Moves parts together by px: a part that is tied to another of them comes along with it and is not moved twice. */
export function moveAll(template: Template, ids: readonly PartId[], dx: number, dy: number): Change {
  const changes = ids.flatMap((id): Change[] => {
    const part = findPart(template, id)
    if (!part || part.locked) return []
    const follows = (axis: AxisName) => leadsTo(template, part, axis, ids, new Set([id]))
    return [moveBy(part, follows('x') ? 0 : dx, follows('y') ? 0 : dy)]
  })
  return { kind: 'several', changes }
}

/** The change that moves one edge of a part by px and leaves the opposite one: by its tie's gap, or by size and place. */
export function resizeBy(part: Part, box: Box, axis: AxisName, edge: 'start' | 'end', by: number): Change {
  const spec = part[axis]
  const size = axis === 'x' ? box.width : box.height
  const own = spec.ties.find((tie) => tie.edge === edge)
  const put = (value: Axis): Change => ({ kind: 'axis', part: part.id, axis, value })
  if (own && spec.ties.length === 2)
    return put({ ...spec, ties: spec.ties.map((tie) => (tie === own ? { ...tie, gap: tie.gap + by } : tie)) })
  const scale = part.style.scale ?? 1
  const value = Math.max(0, (size + (edge === 'end' ? by : -by)) / scale)
  const fixed: Axis = { ...spec, size: { kind: 'fixed', value } }
  const tie = spec.ties[0]
  // What holds the part stays; the rest of it moves so that the other edge stands still.
  if (!tie) return put(edge === 'start' ? { ...fixed, place: spec.place + by } : fixed)
  const shift = shareOf(tie.edge) * by
  const stays = edge === 'end' ? shift : by - shift
  return put(stays === 0 ? fixed : { ...fixed, ties: [{ ...tie, gap: tie.gap + stays }] })
}

/** What parts are lined up with. */
export type AlignTo = 'frame' | 'title' | 'action' | 'each other'

/** Lines up an edge (or the middle) of parts with that of the frame, a safe area, or the box around all of them. */
export function align(
  template: Template,
  rest: Rest,
  ids: readonly PartId[],
  axis: AxisName,
  edge: Edge,
  to: AlignTo,
): Change {
  const boxes = ids.map((id) => boxOf(rest, rest.order.index.get(id)!))
  let [start, size] = to === 'each other' ? [0, 0] : regionOf(template.frame, to, axis)
  if (to === 'each other') {
    start = Math.min(...boxes.map((box) => extentAlong(box, axis)[0]))
    size = Math.max(...boxes.map((box) => extentAlong(box, axis)[0] + extentAlong(box, axis)[1])) - start
  }
  const line = start + size * shareOf(edge)
  return {
    kind: 'several',
    changes: ids.map((id, i) => {
      const [from, length] = extentAlong(boxes[i]!, axis)
      const by = line - (from + length * shareOf(edge))
      return moveBy(findPart(template, id)!, axis === 'x' ? by : 0, axis === 'y' ? by : 0)
    }),
  }
}

/** Moves parts so that the gaps between them along an axis are the same; the outermost two stay. @throws Refusal */
export function distribute(template: Template, rest: Rest, ids: readonly PartId[], axis: AxisName): Change {
  demand(ids.length > 2, 'distribute.few', 'Even gaps need three parts or more; choose them first.')
  const sorted = ids
    .map((id) => ({ id, extent: extentAlong(boxOf(rest, rest.order.index.get(id)!), axis) }))
    .sort((a, b) => a.extent[0] - b.extent[0])
  const first = sorted[0]!.extent[0]
  const last = sorted[sorted.length - 1]!
  const filled = sorted.reduce((sum, { extent: [, length] }) => sum + length, 0)
  const gap = (last.extent[0] + last.extent[1] - first - filled) / (sorted.length - 1)
  let at = first
  const changes = sorted.map(({ id, extent: [from, length] }) => {
    const by = at - from
    at += length + gap
    return moveBy(findPart(template, id)!, axis === 'x' ? by : 0, axis === 'y' ? by : 0)
  })
  return { kind: 'several', changes }
}

/** A line that a moved part can snap to. */
export interface SnapLine {
  axis: AxisName
  /** px in the frame */
  at: number
}

/** Every line worth snapping to: frame, safe areas, guides, and the edges and middles of the parts not being moved. */
export function snapLines(
  template: Template,
  rest: Rest,
  moving: readonly PartId[],
  guides: readonly Guide[],
): SnapLine[] {
  const lines: SnapLine[] = [...guides]
  const edges = (axis: AxisName, [start, size]: [number, number]) => {
    for (const share of [0, 0.5, 1]) lines.push({ axis, at: start + size * share })
  }
  for (const axis of ['x', 'y'] as AxisName[]) {
    for (const region of ['frame', 'title', 'action'] as const) edges(axis, regionOf(template.frame, region, axis))
    rest.order.parts.forEach((part, i) => {
      if (!rest.gone[i] && !moving.includes(part.id)) edges(axis, extentAlong(boxOf(rest, i), axis))
    })
  }
  return lines
}

/** The nearest snap of a box moved by px, within `reach` px: the move to make, and the lines it then stands on. */
export function snapped(
  box: Box,
  dx: number,
  dy: number,
  lines: readonly SnapLine[],
  reach: number,
): { dx: number; dy: number; lines: SnapLine[] } {
  const result = { dx, dy, lines: [] as SnapLine[] }
  for (const axis of ['x', 'y'] as AxisName[]) {
    const [start, size] = extentAlong(box, axis)
    const by = axis === 'x' ? dx : dy
    let best: { off: number; line: SnapLine } | undefined
    for (const line of lines) {
      if (line.axis !== axis) continue
      for (const share of [0, 0.5, 1]) {
        const off = line.at - (start + by + size * share)
        if (Math.abs(off) <= reach && (!best || Math.abs(off) < Math.abs(best.off))) best = { off, line }
      }
    }
    if (!best) continue
    if (axis === 'x') result.dx += best.off
    else result.dy += best.off
    result.lines.push(best.line)
  }
  return result
}
