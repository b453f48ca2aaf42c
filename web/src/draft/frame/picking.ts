import { extentAlong } from '@hoja/core/geometry'
import { shareOf } from '@hoja/core/layout'
import { type Change, type Edge, findPart, type Template } from '@hoja/core/template'
import type { Pick } from '../desk.ts'
import { holdTo, regionLines } from './edgeLines.ts'
import type { Placed } from './placed.ts'

/**
 * The tie that a click at a point of the frame means: the nearest third of a part decides which of its edges holds, with
 * `adding` the part joins those the edge holds to already; beside all parts it is the nearest line of the frame or its
 * safe areas.
 */
export function pickedTie(
  template: Template,
  placed: readonly Placed[],
  pick: Extract<Pick, { for: 'edge' }>,
  found: Placed | undefined,
  x: number,
  y: number,
  adding: boolean,
): Change {
  const position = pick.axis === 'x' ? x : y
  if (!found) {
    const far = ({ there }: { there: number }) => Math.abs(there - position)
    const best = regionLines(template, pick.axis).reduce((a, b) => (far(b) < far(a) ? b : a))
    return holdTo(template, placed, pick, best)
  }
  const axis = findPart(template, pick.part)![pick.axis]
  const tie = axis.ties.find((t) => t.edge === pick.edge)
  if (adding && tie && 'parts' in tie.to) {
    const joined = { ...tie, to: { parts: [...new Set([...tie.to.parts, found.part.id])] } }
    const ties = axis.ties.map((t) => (t === tie ? joined : t))
    return { kind: 'axis', part: pick.part, axis: pick.axis, value: { ...axis, ties } }
  }
  const [start, length] = extentAlong(found.box, pick.axis)
  const third = (position - start) / Math.max(1, length)
  const at: Edge = third < 1 / 3 ? 'start' : third > 2 / 3 ? 'end' : 'middle'
  const line = { axis: pick.axis, to: { parts: [found.part.id] }, at, there: start + length * shareOf(at) }
  return holdTo(template, placed, pick, line)
}
