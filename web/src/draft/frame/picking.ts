import { extentAlong } from '@hoja/core/geometry'
import { regionOf, shareOf } from '@hoja/core/layout'
import { type Change, type Edge, findPart, type Target, type Template, type Tie } from '@hoja/core/template'
import type { Pick } from '../desk.ts'
import type { Placed } from './placed.ts'

type EdgePick = Extract<Pick, { for: 'edge' }>

const edges: Edge[] = ['start', 'middle', 'end']

/** Ties the waiting edge to a line at `there` (frame px), keeping it where it is now: the gap is what lies between. */
function holdTo(
  template: Template,
  placed: readonly Placed[],
  { part: id, axis: name, edge }: EdgePick,
  to: Target,
  at: Edge,
  there: number,
): Change {
  const axis = findPart(template, id)![name]
  const [start, size] = extentAlong(placed.find((p) => p.part.id === id)!.box, name)
  const old = axis.ties.find((tie) => tie.edge === edge)
  const gap = Math.round(start + size * shareOf(edge) - there)
  const fresh: Tie = { follow: 'settled', gone: 'collapse', ...old, edge, to, at, gap }
  const ties = old ? axis.ties.map((tie) => (tie === old ? fresh : tie)) : [...axis.ties.slice(0, 1), fresh]
  return { kind: 'axis', part: id, axis: name, value: { ...axis, ties } }
}

/**
 * The tie that a click at a point of the frame means: the nearest third of a part decides which of its edges holds, with
 * `adding` the part joins those the edge holds to already; beside all parts it is the nearest line of the frame or its
 * safe areas.
 */
export function pickedTie(
  template: Template,
  placed: readonly Placed[],
  pick: EdgePick,
  found: Placed | undefined,
  x: number,
  y: number,
  adding: boolean,
): Change {
  const position = pick.axis === 'x' ? x : y
  if (!found) {
    const lines = (['title', 'action', 'frame'] as const).flatMap((region) => {
      const [start, length] = regionOf(template.frame, region, pick.axis)
      return edges.map((at) => ({ region, at, there: start + length * shareOf(at) }))
    })
    const best = lines.reduce((a, b) => (Math.abs(b.there - position) < Math.abs(a.there - position) ? b : a))
    return holdTo(template, placed, pick, { region: best.region }, best.at, best.there)
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
  return holdTo(template, placed, pick, { parts: [found.part.id] }, at, start + length * shareOf(at))
}
