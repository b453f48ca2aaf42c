import { demand } from '../refusal/index.ts'
import {
  type Change,
  type Clipping,
  type Ease,
  findPart,
  type Keyframe,
  type Motion,
  type PartId,
  type PartKind,
  partKinds,
  refuseKeys,
  type Segments,
  sortedKeys,
  type Template,
  type Tracks,
  withinSpans,
} from '../template/index.ts'
import { type Channel, channelsOf, reversedKeys } from './tracks.ts'

/** The keys that bring a part in: those of In alone, from its start. */
export interface Arrival {
  tracks: Tracks
  segments?: Segments
}

/** A ready-made arrival that can be put on a part's In, or backwards on its Out, and then edited. */
export interface Move {
  id: string
  name: string
  /** What it does, in a few words. */
  note: string
  /** Kinds of part it makes sense for. */
  kinds: PartKind[]
  /** Keys over `frames` frames, for a part of a kind. */
  make(frames: number, kind: PartKind): Arrival
}

const moor: Ease = { bezier: [0.16, 1, 0.3, 1] }
const swell: Ease = { bezier: [0.34, 1.5, 0.64, 1] }
const land: Ease = { bezier: [0, 0, 0.3, 1] }
/** From `value` to the rest, between two shares of the frames. */
const from = (value: number, rest: number, frames: number, ease: Ease = moor, begin = 0, end = 1) => ({
  keys: [
    { span: 'in' as const, at: Math.round(frames * begin), value, ease },
    {
      span: 'in' as const,
      at: Math.max(Math.round(frames * begin) + 1, Math.round(frames * end)),
      value: rest,
      ease: 'linear' as const,
    },
  ],
})
const all: PartKind[] = ['text', 'box', 'ellipse', 'path', 'curve', 'picture', 'group']
const surfaces: PartKind[] = ['box', 'ellipse', 'path', 'curve', 'picture']
const tracks = (t: Tracks): Arrival => ({ tracks: t })
const inSegments = (
  by: Segments['by'],
  order: Segments['order'],
  overlap: number,
  t: Segments['tracks'],
  more: Partial<Segments> = {},
): Arrival => ({
  tracks: {},
  segments: { by, order, seed: 7, overlap, ...more, tracks: t },
})
const settle = (as: 'scramble' | 'board', of: 'digits' | 'alphabet' | 'own', n: number) => ({
  as,
  from: of,
  ...from(0, 1, n, 'linear'),
})
const fade = (n: number, end = 1) => from(0, 1, n, 'linear', 0, end)
const px = (value: number, n: number, ease: Ease = moor) => ({ unit: 'px' as const, ...from(value, 0, n, ease) })

/** The moves that ship with Hoja, under its own names. */
export const moves: Move[] = [
  { id: 'still', name: 'Stand still', note: 'no keys at all', kinds: all, make: () => tracks({}) },
  { id: 'surface', name: 'Surface', note: 'fades in', kinds: all, make: (n) => tracks({ fade: fade(n) }) },
  {
    id: 'rise',
    name: 'Rise',
    note: 'rises a little while it fades in',
    kinds: all,
    make: (n) => tracks({ shiftY: px(24, n), fade: fade(n, 0.6) }),
  },
  {
    id: 'sink',
    name: 'Sink',
    note: 'comes down a little while it fades in',
    kinds: all,
    make: (n) => tracks({ shiftY: px(-24, n), fade: fade(n, 0.6) }),
  },
  {
    id: 'drift',
    name: 'Drift in',
    note: 'slides a short way from the left while it fades in',
    kinds: all,
    make: (n) => tracks({ shiftX: px(-60, n), fade: fade(n, 0.5) }),
  },
  {
    id: 'ashore',
    name: 'Come ashore',
    note: 'slides in from behind the left frame edge',
    kinds: all,
    make: (n) => tracks({ shiftX: { unit: 'off', ...from(-1, 0, n) } }),
  },
  {
    id: 'wash-up',
    name: 'Wash up',
    note: 'slides in from the left, a little too far, and settles',
    kinds: all,
    make: (n) => tracks({ shiftX: { unit: 'off', ...from(-1, 0, n, swell) } }),
  },
  {
    id: 'spring',
    name: 'Spring tide',
    note: 'slides up from below the frame, a little too far, and settles',
    kinds: all,
    make: (n) => tracks({ shiftY: { unit: 'off', ...from(1, 0, n, swell) } }),
  },
  {
    id: 'uncover',
    name: 'Uncover',
    note: 'is uncovered from the left by a hard edge',
    kinds: all,
    make: (n) => tracks({ reveal: { from: 'left', soft: 0, slant: 0, ...from(0, 1, n) } }),
  },
  {
    id: 'slant',
    name: 'Uncover on a slant',
    note: 'is uncovered from the left by a leaning edge',
    kinds: all,
    make: (n) => tracks({ reveal: { from: 'left', soft: 0, slant: 18, ...from(0, 1, n) } }),
  },
  {
    id: 'mist',
    name: 'Out of the mist',
    note: 'is uncovered from the left by a soft edge',
    kinds: all,
    make: (n) => tracks({ reveal: { from: 'left', soft: 160, slant: 0, ...from(0, 1, n, land) } }),
  },
  {
    id: 'waterline',
    name: 'Waterline',
    note: 'is uncovered upwards as it rises from behind an edge',
    kinds: all,
    make: (n) =>
      tracks({
        shiftY: { unit: 'own', ...from(1, 0, n) },
        reveal: { from: 'top', soft: 0, slant: 0, ...from(0, 1, n) },
      }),
  },
  {
    id: 'unroll',
    name: 'Unroll',
    note: 'grows from its left edge',
    kinds: surfaces,
    make: (n) => tracks({ grow: { axis: 'x', from: 'start', ...from(0, 1, n) } }),
  },
  {
    id: 'open',
    name: 'Open both ways',
    note: 'grows from its middle to both sides',
    kinds: surfaces,
    make: (n) => tracks({ grow: { axis: 'x', from: 'middle', ...from(0, 1, n) } }),
  },
  {
    id: 'stand-up',
    name: 'Stand up',
    note: 'grows from its foot',
    kinds: surfaces,
    make: (n) => tracks({ grow: { axis: 'y', from: 'end', ...from(0, 1, n) } }),
  },
  {
    id: 'pen',
    name: 'Pen stroke',
    note: 'is drawn on from its first point',
    kinds: ['path', 'curve'],
    make: (n) => tracks({ trim: { from: 'start', ...from(0, 1, n, land) } }),
  },
  {
    id: 'bob',
    name: 'Bob up',
    note: 'grows from nothing, a little too large, and settles',
    kinds: all,
    make: (n) => tracks({ scale: from(0, 1, n, swell) }),
  },
  {
    id: 'come-near',
    name: 'Come near',
    note: 'grows from nine tenths while it fades in',
    kinds: all,
    make: (n) => tracks({ scale: from(0.9, 1, n), fade: fade(n, 0.6) }),
  },
  {
    id: 'weather-vane',
    name: 'Weather vane',
    note: 'turns upright as it grows',
    kinds: all,
    make: (n) => tracks({ turn: from(-90, 0, n, swell), scale: from(0, 1, n) }),
  },
  {
    id: 'focus',
    name: 'Into focus',
    note: 'goes from blurred to sharp while it fades in',
    kinds: all,
    make: (n) => tracks({ blur: from(18, 0, n, land), fade: fade(n, 0.5) }),
  },
  {
    id: 'lamp',
    name: 'Lamp',
    note: 'flashes up white and cools to its own colour',
    kinds: ['text', 'box', 'ellipse', 'path', 'curve', 'group'],
    make: (n) => tracks({ fade: fade(n, 0.15), colour: { to: '#ffffff', ...from(1, 0, n, land) } }),
  },
  {
    id: 'gather',
    name: 'Gather',
    note: 'spaced wide, the letters draw together while they fade in',
    kinds: ['text'],
    make: (n) => tracks({ track: from(260, 0, n), fade: fade(n, 0.6) }),
  },
  {
    id: 'letters',
    name: 'Letter by letter',
    note: 'one character after another rises and fades in',
    kinds: ['text'],
    make: (n) => inSegments('character', 'forward', 0.75, { fade: fade(n), shiftY: px(18, n) }),
  },
  {
    id: 'shingle',
    name: 'Shingle',
    note: 'characters appear in random order',
    kinds: ['text'],
    make: (n) => inSegments('character', 'random', 0.6, { fade: fade(n), scale: from(0.6, 1, n) }),
  },
  {
    id: 'telegraph',
    name: 'Telegraph',
    note: 'typed, one character at a time',
    kinds: ['text'],
    make: (n) => inSegments('character', 'forward', 0, { fade: from(0, 1, n, { steps: 1, jump: 'start' }) }),
  },
  {
    id: 'quill',
    name: 'Quill',
    note: 'typed behind a caret that blinks',
    kinds: ['text'],
    make: (n) =>
      inSegments(
        'character',
        'forward',
        0,
        { fade: from(0, 1, n, { steps: 1, jump: 'start' }, 0.15, 0.9) },
        { caret: true },
      ),
  },
  {
    id: 'static',
    name: 'Static clears',
    note: 'letters change at random until each is itself',
    kinds: ['text'],
    make: (n) =>
      inSegments('character', 'forward', 0.4, { settle: settle('scramble', 'alphabet', n), fade: fade(n, 0.2) }),
  },
  {
    id: 'arrivals',
    name: 'Arrivals',
    note: 'letters fall into place as on a board of flaps',
    kinds: ['text'],
    make: (n) => inSegments('character', 'forward', 0.6, { settle: settle('board', 'alphabet', n) }),
  },
  {
    id: 'tally',
    name: 'Tally',
    note: 'counts up to its number',
    kinds: ['text'],
    make: (n) => tracks({ count: { start: 0, ...from(0, 1, n, land) }, fade: fade(n, 0.2) }),
  },
  {
    id: 'haze',
    name: 'Haze lifts',
    note: 'characters come into focus from the middle outwards',
    kinds: ['text'],
    make: (n) => inSegments('character', 'middle', 0.7, { fade: fade(n), blur: from(10, 0, n, land) }),
  },
  {
    id: 'words',
    name: 'Word by word',
    note: 'one word after another rises and fades in',
    kinds: ['text'],
    make: (n) => inSegments('word', 'forward', 0.5, { fade: fade(n), shiftY: px(18, n) }),
  },
  {
    id: 'lines',
    name: 'Line by line',
    note: 'one line after another drifts in from the left',
    kinds: ['text'],
    make: (n) => inSegments('line', 'forward', 0.5, { fade: fade(n), shiftX: px(-40, n) }),
  },
  {
    id: 'horizon',
    name: 'Horizon',
    note: 'lines grow first, then text rises from behind them',
    kinds: all,
    make: (n, kind) =>
      kind === 'text' || kind === 'picture' || kind === 'group'
        ? tracks({
            shiftY: { unit: 'own', ...from(1, 0, n, moor, 0.35) },
            reveal: { from: 'top', soft: 0, slant: 0, ...from(0, 1, n, moor, 0.35) },
          })
        : tracks({ grow: { axis: 'x', from: 'middle', ...from(0, 1, n, moor, 0, 0.45) } }),
  },
]

/** A designer's own move, as it is kept: the In keys of a part and the frames they took. */
export interface SavedMove {
  id: string
  name: string
  note: string
  kinds: PartKind[]
  frames: number
  arrival: Arrival
}

/** Reads a move that came from outside. @throws Refusal in one sentence. */
export function readSavedMove(value: unknown): Omit<SavedMove, 'id'> {
  const { name, note, kinds, frames, arrival } = (value ?? {}) as Partial<SavedMove>
  const named = typeof name === 'string' ? name.trim() : ''
  demand(named.length > 0 && named.length <= 80, 'move.shape', 'A move needs a name of 1 to 80 letters; give it one.')
  demand(
    Array.isArray(kinds) && kinds.length > 0 && kinds.every((kind) => partKinds.includes(kind)),
    'move.shape',
    `The move "${named}" does not say what kinds of part it is for; save it again.`,
  )
  demand(
    Number.isInteger(frames) && frames! > 0 && frames! < 10000,
    'move.shape',
    `The move "${named}" does not say how many frames it takes; save it again.`,
  )
  const why = refuseKeys(arrival)
  demand(!why, 'move.shape', `The move "${named}" has keys that are not right: ${why}.`)
  return { name: named, note: String(note ?? '').slice(0, 200), kinds, frames: frames!, arrival: arrival! }
}

/**
 * Gives parts the motion of a clipping's first part: to each the channels that its kind has; what moves characters, words or
 * lines goes to texts alone.
 * @throws Refusal for an empty clipping
 */
export function pasteMotion(template: Template, clipping: Clipping, ids: readonly PartId[]): Change {
  const [copied] = clipping.parts
  demand(copied, 'paste.none', 'No motion was copied; choose a part in Draft and copy it.')
  const { segments, tracks, ...motion } = withinSpans(copied.motion, template.spans)
  return {
    kind: 'several',
    changes: ids.flatMap((id): Change[] => {
      const part = findPart(template, id)
      if (!part) return []
      const has = new Set<string>(channelsOf(part.kind))
      const own = Object.fromEntries(Object.entries(tracks).filter(([channel]) => has.has(channel)))
      const parted = part.kind === 'text' && segments ? { segments } : {}
      return [{ kind: 'motion', part: id, motion: { ...motion, tracks: own, ...parted } }]
    }),
  }
}

type KeyMap = (key: Keyframe) => Keyframe | undefined

/** An arrival with its keys mapped; channels that keep none go. */
function mapArrival(arrival: Arrival, map: KeyMap): Arrival {
  const mapped = <T extends object>(all: T): T =>
    Object.fromEntries(
      Object.entries(all)
        .map(([channel, track]) => [
          channel,
          { ...track, keys: sortedKeys((track.keys as Keyframe[]).flatMap((key) => map(key) ?? [])) },
        ])
        .filter(([, track]) => (track as { keys: Keyframe[] }).keys.length > 0),
    ) as T
  const own = arrival.segments && mapped(arrival.segments.tracks)
  return {
    tracks: mapped(arrival.tracks),
    ...(arrival.segments && own && Object.keys(own).length > 0
      ? { segments: { ...arrival.segments, tracks: own } }
      : {}),
  }
}

/** The In keys of a part as a move of the designer's own. @throws Refusal when the part has none. */
export function saveMove(template: Template, part: PartId, id: string, name: string): SavedMove {
  const { motion, kind, name: partName } = findPart(template, part)!
  const arrival = mapArrival(motion, (key) => (key.span === 'in' ? key : undefined))
  demand(
    Object.keys(arrival.tracks).length > 0 || arrival.segments,
    'move.empty',
    `"${partName}" has no keys in In; set some before saving them as a move.`,
  )
  const only =
    arrival.segments || arrival.tracks.track ? ['text' as const] : arrival.tracks.trim ? ['path' as const] : all
  return { id, name, note: `as ${partName} (${kind}) came in`, kinds: only, frames: template.spans.in, arrival }
}

/** A saved move as one to put on parts: its keys stretched to the frames there are. */
export function moveOf(saved: SavedMove): Move {
  const { id, name, note, kinds, frames, arrival } = saved
  return {
    id,
    name,
    note,
    kinds,
    make: (n) => mapArrival(arrival, (key) => ({ ...key, at: Math.round((key.at * n) / Math.max(1, frames)) })),
  }
}

/** The channels of two sets of keys as one; where both have a channel, its keys join and Out works by `leaving`. */
function joined<T extends object>(staying: T, going: T): T {
  const result = { ...staying } as Record<string, { keys: Keyframe[] }>
  for (const [channel, track] of Object.entries(going) as [Channel, { keys: Keyframe[] }][]) {
    const own = result[channel]
    if (!own) {
      result[channel] = track
      continue
    }
    const { keys: _, leaving: __, ...settings } = track as { keys: Keyframe[]; leaving?: object }
    result[channel] = {
      ...own,
      keys: sortedKeys([...own.keys, ...track.keys]),
      ...(Object.keys(settings).length > 0 ? { leaving: settings } : {}),
    }
  }
  return result as T
}

const keysOfSpans = (motion: Arrival, spans: Keyframe['span'][]): Arrival =>
  mapArrival(motion, (key) => (spans.includes(key.span) ? key : undefined))

/** Puts a move on a part's In, or backwards on its Out; the keys of the other spans stay. */
export function withMove(
  motion: Motion,
  move: Move,
  kind: PartKind,
  spans: Template['spans'],
  where: 'in' | 'out',
): Motion {
  const { segments: _, tracks: __, ...rest } = motion
  const frames = where === 'in' ? spans.in : spans.out
  const arrival = move.make(frames, kind)
  const kept = keysOfSpans(
    motion,
    where === 'in' ? (motion.out === 'own' ? ['hold', 'out'] : ['hold']) : ['in', 'hold'],
  )
  if (where === 'in') {
    const own = joined(arrival.tracks, kept.tracks)
    const segmentTracks = arrival.segments ?? kept.segments
    return { ...rest, tracks: own, ...(segmentTracks ? { segments: withSegments(segmentTracks, kept.segments) } : {}) }
  }
  const going = mapArrival(backwards(arrival, frames), (key) => key)
  const segmentTracks = kept.segments ?? going.segments
  return {
    ...rest,
    out: 'own',
    tracks: joined(kept.tracks, going.tracks),
    ...(segmentTracks ? { segments: withSegments(segmentTracks, kept.segments ? going.segments : undefined) } : {}),
  }
}

function withSegments(segments: Segments, more: Segments | undefined): Segments {
  return more && more !== segments ? { ...segments, tracks: joined(segments.tracks, more.tracks) } : segments
}

/** An arrival over `frames` frames played backwards in Out. */
function backwards(arrival: Arrival, frames: number): Arrival {
  const reversed = <T extends object>(tracksOf: T): T =>
    Object.fromEntries(
      Object.entries(tracksOf).map(([channel, track]) => [
        channel,
        {
          ...track,
          keys: reversedKeys(track.keys as Keyframe[]).map((key) => ({
            ...key,
            span: 'out' as const,
            at: frames - key.at,
          })),
        },
      ]),
    ) as T
  return {
    tracks: reversed(arrival.tracks),
    ...(arrival.segments ? { segments: { ...arrival.segments, tracks: reversed(arrival.segments.tracks) } } : {}),
  }
}

/** Puts a move on several parts. @throws Refusal for a kind of part that the move is not for. */
export function putMove(template: Template, ids: readonly PartId[], move: Move, where: 'in' | 'out'): Change {
  const changes = ids.map((id): Change => {
    const part = findPart(template, id)!
    demand(
      move.kinds.includes(part.kind),
      'move.kind',
      `"${move.name}" is for ${move.kinds.join(', ')}; "${part.name}" is a ${part.kind}.`,
    )
    return { kind: 'motion', part: id, motion: withMove(part.motion, move, part.kind, template.spans, where) }
  })
  return { kind: 'several', changes }
}

/** A part's Out let go from In: it gets keys of its own that look the same; or linked again, its own keys dropped. */
export function withOut(motion: Motion, spans: Template['spans'], out: Motion['out']): Motion {
  if (motion.out === out) return motion
  const { segments: _, ...rest } = motion
  const kept = keysOfSpans(motion, ['in', 'hold'])
  if (out === 'mirror') return { ...rest, ...kept, out }
  const inKeys = keysOfSpans(motion, ['in'])
  const share = spans.in > 0 ? spans.out / spans.in : 0
  const going = mapArrival(backwards(inKeys, spans.in), (key) => ({
    ...key,
    at: Math.min(spans.out, Math.max(0, Math.round(key.at * share) - (spans.in === spans.out ? 1 : 0))),
  }))
  return {
    ...rest,
    out,
    tracks: joined(kept.tracks, going.tracks),
    ...(kept.segments ? { segments: withSegments(kept.segments, going.segments) } : {}),
  }
}
