import { edgeWord } from '../layout/index.ts'
import { type Change, type Edge, type FitStep, isTurned, type Room, type Template } from '../template/index.ts'
import { alike, type Drawn, edgeOf, lengthOf, overlap, regionLine, type Stretch } from './drawing.ts'
import type { Proposal } from './tieAsDrawn.ts'

/** As far as a text may shrink where nothing else was said. */
const shrinks: FitStep[] = [{ step: 'shrink', to: 0.6 }]

/** How far (px) the surface of a text, and what was drawn at its side, ends behind the words. */
function behindOf(all: readonly Drawn[], surface: Drawn | undefined, x: Stretch, at: Edge): number {
  if (!surface) return 0
  const touching = all.filter(
    (one) => overlap(one.y, surface.y) > 0 && Math.abs(edgeOf(one.x, opposite(at)) - edgeOf(surface.x, at)) <= alike,
  )
  return Math.max(...[surface, ...touching].map((one) => Math.abs(edgeOf(one.x, at) - edgeOf(x, at))))
}
const opposite = (at: Edge): Edge => (at === 'end' ? 'start' : 'end')

/**
 * That a text keeps to title-safe, with what it stands on: it is given its room, and shrinks before it leaves it.
 * @param surface what it stands on, which ends behind it
 * @param held the edge that its tie holds: it grows from there
 */
export function roomAsDrawn(
  template: Template,
  all: readonly Drawn[],
  { part, x, isText }: Drawn,
  surface: Drawn | undefined,
  held: Edge,
): Proposal | undefined {
  if (!isText || isTurned(part) || part.kind !== 'text' || (part.room && part.room.kind !== 'free') || part.style.crawl)
    return undefined
  const line = regionLine(template, 'title', 'x')
  const at: Edge = held === 'end' ? 'start' : 'end'
  // The surface keeps to it as well: what it has behind the words is taken off.
  const pad = surface && lengthOf(surface.x) < lengthOf(line) ? Math.round(behindOf(all, surface, x, at)) : 0
  const gap = at === 'end' ? -pad : pad
  const limit = edgeOf(line, at) + gap
  // What was drawn past it was meant to be there.
  const isPast = at === 'end' ? x.end > limit : x.start < limit
  // From its middle it grows to both sides, and has as much room on the other.
  const isWide = held === 'middle' && 2 * (limit - edgeOf(x, 'middle')) < lengthOf(x)
  if (isPast || isWide) return undefined
  const room: Room = { kind: 'limit', to: { region: 'title' }, at, gap }
  const changes: Change[] = [{ kind: 'room', part: part.id, room }]
  const fits = (part.style.fit ?? []).length > 0
  if (!fits) changes.push({ kind: 'style', part: part.id, key: 'fit', value: shrinks })
  const before = pad > 0 ? `${pad} before title-safe’s ${edgeWord('x', at)}` : `title-safe’s ${edgeWord('x', at)}`
  const sentence = fits ? `${part.name} has room up to ${before}` : `${part.name} shrinks before it passes ${before}`
  return {
    id: `room ${part.id}`,
    part: part.id,
    options: [{ sentence, change: { kind: 'several', changes }, targets: [] }],
  }
}
