import { extentAlong } from '@hoja/core/geometry'
import { edgeWord, regionOf, shareOf, targetWords } from '@hoja/core/layout'
import {
  type AxisName,
  allParts,
  type Change,
  type Edge,
  findPart,
  type PartId,
  type Target,
  type Template,
  type Tie,
} from '@hoja/core/template'
import type { Placed } from './placed.ts'

/** A line that an edge can hold to: of a part, or of the frame and its safe areas. Places are frame px. */
export interface EdgeLine {
  axis: AxisName
  to: Target
  at: Edge
  there: number
  /** From where to where it runs, on the other axis. */
  from: number
  until: number
}

/** An edge of a part that is to be tied. */
export interface OwnEdge {
  part: PartId
  axis: AxisName
  edge: Edge
}

const edges: Edge[] = ['start', 'middle', 'end']
const across = (axis: AxisName): AxisName => (axis === 'x' ? 'y' : 'x')

/** The lines of the frame and its safe areas. */
export function regionLines({ frame }: Template, axis: AxisName): EdgeLine[] {
  return (['title', 'action', 'frame'] as const).flatMap((region) => {
    const [start, length] = regionOf(frame, region, axis)
    const [from, size] = regionOf(frame, region, across(axis))
    return edges.map((at) => ({
      axis,
      to: { region },
      at,
      there: start + length * shareOf(at),
      from,
      until: from + size,
    }))
  })
}

/** Every line that an edge of a part could hold to: of other parts that are there, of the frame and its safe areas. */
export function edgeLines(template: Template, placed: readonly Placed[], id: PartId, axes: AxisName[]): EdgeLine[] {
  const inside = new Set(allParts([findPart(template, id)!]).map((part) => part.id))
  const others = placed.filter(
    ({ part, gone }) => !gone && !inside.has(part.id) && !allParts(part.parts ?? []).some((inner) => inner.id === id),
  )
  return axes.flatMap((axis) => [
    ...others.flatMap(({ part, box }) => {
      const [start, length] = extentAlong(box, axis)
      const [from, size] = extentAlong(box, across(axis))
      return edges.map((at): EdgeLine => {
        const there = start + length * shareOf(at)
        return { axis, to: { parts: [part.id] }, at, there, from, until: from + size }
      })
    }),
    ...regionLines(template, axis),
  ])
}

/** The line that is nearest to a point of the frame (px), if one is within `reach` of it. */
export function lineAt(lines: readonly EdgeLine[], x: number, y: number, reach: number): EdgeLine | undefined {
  let best: EdgeLine | undefined
  let least = reach
  for (const line of lines) {
    const [along, beside] = line.axis === 'x' ? [x, y] : [y, x]
    const past = Math.max(0, line.from - beside, beside - line.until)
    // Edges are seen and middles are not, so these have to be met closer; of lines that are as near, a part's come first.
    const unlikely = (line.at === 'middle' ? reach / 2 : 0) + ('region' in line.to ? 0.01 : 0)
    const far = Math.hypot(line.there - along, past) + unlikely
    if (far > least) continue
    best = line
    least = far
  }
  return best
}

/** The edge of a part that is nearest to a line: its middle only where it lies on that. */
export function nearestEdge({ part, box }: Placed, line: EdgeLine): OwnEdge {
  const [start, size] = extentAlong(box, line.axis)
  const far = (edge: Edge) => Math.abs(start + size * shareOf(edge) - line.there)
  const edge = far('middle') < 1 ? 'middle' : far('start') <= far('end') ? 'start' : 'end'
  return { part: part.id, axis: line.axis, edge }
}

/** Ties an edge to a line, keeping it where it is now: the gap is what lies between. */
export function holdTo(
  template: Template,
  placed: readonly Placed[],
  { part: id, edge }: OwnEdge,
  { axis: name, to, at, there }: Pick<EdgeLine, 'axis' | 'to' | 'at' | 'there'>,
): Change {
  const axis = findPart(template, id)![name]
  const old = axis.ties.find((tie) => tie.edge === edge)
  const fresh: Tie = {
    follow: 'settled',
    gone: 'collapse',
    ...old,
    edge,
    to,
    at,
    gap: gapTo(placed, id, edge, name, there),
  }
  const ties = old ? axis.ties.map((tie) => (tie === old ? fresh : tie)) : [...axis.ties.slice(0, 1), fresh]
  return { kind: 'axis', part: id, axis: name, value: { ...axis, ties } }
}

function gapTo(placed: readonly Placed[], id: PartId, edge: Edge, axis: AxisName, there: number): number {
  const [start, size] = extentAlong(placed.find(({ part }) => part.id === id)!.box, axis)
  return Math.round(100 * (start + size * shareOf(edge) - there)) / 100
}

/** `Role's top holds to the bottom of Name, 3 px apart` */
export function holdWords(template: Template, placed: readonly Placed[], own: OwnEdge, line: EdgeLine): string {
  const gap = Math.abs(gapTo(placed, own.part, own.edge, line.axis, line.there))
  const to = `${edgeWord(line.axis, line.at)} of ${targetWords(template, allParts(template.parts), line.to)}`
  const apart = gap === 0 ? 'on it' : `${Number(gap.toFixed(1))} px apart`
  return `${findPart(template, own.part)!.name}'s ${edgeWord(line.axis, own.edge)} holds to the ${to}, ${apart}`
}
