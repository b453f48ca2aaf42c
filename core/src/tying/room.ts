import { alike } from '../layout/index.ts'
import {
  type Change,
  type Edge,
  type FitStep,
  isTurned,
  type Part,
  type Room,
  type Template,
} from '../template/index.ts'
import { type Drawn, edgeOf, lengthOf, overlap, regionLine, type Stretch } from './drawing.ts'
import type { Proposal } from './proposal.ts'

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
  { part, x, shift, isText }: Drawn,
  surface: Drawn | undefined,
  held: Edge,
): RoomAsDrawn | undefined {
  if (!isText || isTurned(part) || part.kind !== 'text' || (part.room && part.room.kind !== 'free') || part.style.crawl)
    return undefined
  const line = regionLine(template, 'title', 'x')
  const at: Edge = held === 'end' ? 'start' : 'end'
  // The surface keeps to it as well: what it has behind the words is taken off.
  const pad = surface && lengthOf(surface.x) < lengthOf(line) ? Math.round(behindOf(all, surface, x, at)) : 0
  const gap = at === 'end' ? -pad : pad
  const limit = edgeOf(line, at) + gap
  // Its room is counted from where its tie holds it: without its own shift.
  const own = { start: x.start - shift.x, end: x.end - shift.x }
  // What was drawn past it was meant to be there.
  const isPast = at === 'end' ? own.end > limit : own.start < limit
  // From its middle it grows to both sides, and has as much room on the other.
  const isWide = held === 'middle' && 2 * (limit - edgeOf(own, 'middle')) < lengthOf(own)
  if (isPast || isWide) return undefined
  const room: Room = { kind: 'limit', to: { region: 'title' }, at, gap }
  const changes: Change[] = [{ kind: 'room', part: part.id, room }]
  const fits = (part.style.fit ?? []).length > 0
  if (!fits) changes.push({ kind: 'style', part: part.id, key: 'fit', value: shrinks })
  return { part, fits, change: { kind: 'several', changes } }
}

/** A text's room, as it was read. */
interface RoomAsDrawn {
  part: Part
  /** It says already what it does where room runs out. */
  fits: boolean
  change: Change
}

/** The rooms of all texts, which are one matter: that titles stay in title-safe. */
export function roomsProposal(rooms: readonly RoomAsDrawn[]): Proposal {
  const [first] = rooms
  const who = rooms.length > 1 ? 'All texts' : first!.part.name
  const s = rooms.length > 1 ? '' : 's'
  const does = rooms.every(({ fits }) => fits) ? `give${s} way` : `shrink${s}`
  const sentence = `${who} ${does} before what ${rooms.length > 1 ? 'they stand' : 'it stands'} on leaves title-safe`
  const change: Change = { kind: 'several', changes: rooms.map((room) => room.change) }
  const targets = rooms.slice(1).map(({ part }) => part.id)
  return { id: 'rooms', about: 'room', part: first!.part.id, options: [{ sentence, change, targets }] }
}
