import type { Region } from '../layout/index.ts'
import { alike } from '../layout/index.ts'
import type { AxisName, Edge, PartId, Target, Template, Tie } from '../template/index.ts'
import { across, areaOf, type Drawn, edgeOf, isWithin, lengthOf, overlap, regionLine, type Stretch } from './drawing.ts'

/** What a drawing seems to say of one axis of a part, with the ties that say it. */
export interface Reading {
  how: 'around' | 'fills' | 'beside' | 'line' | 'region' | 'inside'
  ties: Tie[]
  /** The lower, the likelier. */
  doubt: number
}

const edges: Edge[] = ['start', 'middle', 'end']
/** Exact places are likelier than distances; among distances, the shorter. */
const exact = 0
/** A surface goes with the words on it, wherever it stands; only what is as long as the frame does not. */
const plate = -0.5
const tie = (edge: Edge, to: Target, at: Edge, gap: number): Tie => ({
  edge,
  to,
  at,
  // Finer than any text's room tells, so that nothing moves by what is rounded.
  gap: Math.round(gap * 1e9) / 1e9,
  follow: 'settled',
  gone: 'collapse',
})
const both = (to: Target, own: Stretch, other: Stretch): Tie[] => [
  tie('start', to, 'start', own.start - other.start),
  tie('end', to, 'end', own.end - other.end),
]

/** What stands on a surface, by its part id: the surface's own, not that of a surface on it. */
export type Content = ReadonlyMap<PartId, readonly Drawn[]>

/** The surface that each part stands on, the smallest of several, and what stands on each. */
export function contentOf(parts: readonly Drawn[]): { on: ReadonlyMap<PartId, Drawn>; content: Content } {
  const on = new Map<PartId, Drawn>()
  const content = new Map<PartId, Drawn[]>()
  parts.forEach((part, n) => {
    // What lies above something of the same size stands on it, not the other way round.
    const under = parts.filter(
      (other, m) =>
        other !== part && other.isSurface && isWithin(part, other) && (m < n || areaOf(other) > areaOf(part) + 1),
    )
    const surface = under.sort((a, b) => areaOf(a) - areaOf(b))[0]
    if (!surface) return
    on.set(part.part.id, surface)
    const known = content.get(surface.part.id)
    if (known) known.push(part)
    else content.set(surface.part.id, [part])
  })
  return { on, content }
}

const unionOf = (parts: readonly Drawn[], axis: AxisName): Stretch => ({
  start: Math.min(...parts.map((part) => part[axis].start)),
  end: Math.max(...parts.map((part) => part[axis].end)),
})

/** Whether a surface has words on it, on a surface of its own or not. */
export function holdsWords(part: Drawn, content: Content): boolean {
  return (content.get(part.part.id) ?? []).some((one) => one.isText || holdsWords(one, content))
}

/** A surface that goes with the words on it: its edges, at their distances from all that stands on it. */
export function aroundOf(template: Template, part: Drawn, axis: AxisName, held: readonly Drawn[]): Reading | undefined {
  if (held.length === 0) return undefined
  const inner = unionOf(held, axis)
  const own = part[axis]
  const [before, behind] = [inner.start - own.start, own.end - inner.end]
  const most = Math.max(before, behind)
  const isUneven = most > 0.4 * lengthOf(own) && most > 3 * Math.min(before, behind)
  // Words at one end of a bar across the frame: it was drawn as long as it is, whatever they say.
  const isBar = isUneven && lengthOf(own) > 0.6 * lengthOf(regionLine(template, 'frame', axis))
  const to = { parts: held.map(({ part: { id } }) => id) }
  return { how: 'around', ties: both(to, own, inner), doubt: isBar ? 6 : plate + (isUneven ? 0.5 : 0) }
}

/** The same extent as another part's, or the same distance inside of it on both sides. */
export function fillsOf(part: Drawn, axis: AxisName, others: readonly Drawn[]): Reading[] {
  const own = part[axis]
  return others.flatMap((other): Reading[] => {
    const there = other[axis]
    const [before, behind] = [own.start - there.start, there.end - own.end]
    const isSame = Math.abs(before) <= alike && Math.abs(behind) <= alike
    const isInset =
      Math.abs(before - behind) <= alike && before > 0 && before < lengthOf(there) / 6 && isWithin(part, other)
    if (!isSame && !isInset) return []
    const away = Math.max(0, -overlap(part[across(axis)], other[across(axis)]))
    return [
      {
        how: 'fills',
        ties: both({ parts: [other.part.id] }, own, there),
        doubt: exact + (isInset ? 0.5 : 0) + away / 1000,
      },
    ]
  })
}

const regions: Exclude<Region, 'group'>[] = ['title', 'action', 'frame']

/** Lines of the frame and its safe areas: those that the part stands on, and the nearest one at its distance. */
export function regionsOf(template: Template, part: Drawn, axis: AxisName): Reading[] {
  const own = part[axis]
  const found: Reading[] = []
  const full = regions.find((region) => {
    const line = regionLine(template, region, axis)
    return Math.abs(own.start - line.start) <= alike && Math.abs(own.end - line.end) <= alike
  })
  if (full && !part.isText)
    found.push({ how: 'fills', ties: both({ region: full }, own, regionLine(template, full, axis)), doubt: 2 * plate })
  for (const region of regions)
    for (const edge of edges) {
      const line = regionLine(template, region, axis)
      const gap = edgeOf(own, edge) - edgeOf(line, edge)
      const isOn = Math.abs(gap) <= alike
      // The middle is a place one has to mean; title-safe is what titles keep to.
      if (edge === 'middle' && (!isOn || region !== 'frame')) continue
      const doubt = isOn
        ? exact + (edge === 'middle' ? 0.6 : 0.2)
        : 4 + Math.abs(gap) / lengthOf(line) + (region === 'title' ? 0 : 2)
      found.push({ how: 'region', ties: [tie(edge, { region }, edge, gap)], doubt })
    }
  return found
}

/** The nearest neighbour on either side, at its distance. */
export function besideOf(part: Drawn, axis: AxisName, others: readonly Drawn[]): Reading[] {
  const own = part[axis]
  const reach = Math.max(lengthOf(part.y), 24) * (axis === 'x' ? 3 : 1)
  return others.flatMap((other): Reading[] => {
    if (overlap(part[across(axis)], other[across(axis)]) <= 0) return []
    const there = other[axis]
    const after = own.start - there.end
    const before = there.start - own.end
    // Lines of text overlap a little as they are set.
    const least = part.isText && other.isText ? -0.4 * Math.min(lengthOf(own), lengthOf(there)) : -alike
    const to = { parts: [other.part.id] }
    if (after >= least && after <= reach)
      return [
        { how: 'beside', ties: [tie('start', to, 'end', after)], doubt: 2 + Math.abs(after) / 1000 - touch(after) },
      ]
    if (before >= least && before <= reach)
      return [
        {
          how: 'beside',
          ties: [tie('end', to, 'start', -before)],
          doubt: 2.05 + Math.abs(before) / 1000 - touch(before),
        },
      ]
    return []
  })
}

/** Two that touch belong to one another. */
const touch = (gap: number) => (Math.abs(gap) <= alike ? 1.5 : 0)

/** An edge or middle in line with that of a neighbour. */
export function linesOf(part: Drawn, axis: AxisName, others: readonly Drawn[]): Reading[] {
  const own = part[axis]
  const other = across(axis)
  return others.flatMap((one): Reading[] => {
    const apart = Math.max(0, -overlap(part[other], one[other]))
    if (apart > 1.5 * Math.max(lengthOf(part[other]), lengthOf(one[other]))) return []
    return edges.flatMap((edge): Reading[] => {
      const gap = edgeOf(own, edge) - edgeOf(one[axis], edge)
      if (Math.abs(gap) > alike) return []
      const likeness = one.isText === part.isText ? 0 : 0.5
      return [
        {
          how: 'line',
          ties: [tie(edge, { parts: [one.part.id] }, edge, gap)],
          doubt: 0.8 + likeness + (edge === 'middle' ? 0.3 : 0) + apart / 1000,
        },
      ]
    })
  })
}

/** At a distance from the nearer edge of the surface that it stands on. */
export function insideOf(part: Drawn, axis: AxisName, surface: Drawn): Reading[] {
  const own = part[axis]
  const to = { parts: [surface.part.id] }
  return edges.flatMap((edge): Reading[] => {
    const gap = edgeOf(own, edge) - edgeOf(surface[axis], edge)
    if (edge === 'middle' && Math.abs(gap) > alike) return []
    return [
      {
        how: 'inside',
        ties: [tie(edge, to, edge, gap)],
        doubt: edge === 'middle' ? 0.7 : 2.5 + Math.abs(gap) / 1000,
      },
    ]
  })
}
