import { demand } from '../refusal/index.ts'
import {
  type Change,
  type Ease,
  findPart,
  type Keyframe,
  type Motion,
  type Part,
  type PartId,
  type SpanName,
  sortedKeys,
  stillMotion,
  type Template,
  type Track,
} from '../template/index.ts'
import { type Channel, channels, keyMoment, reversedKeys, valueAt } from './tracks.ts'

/** A channel of a part: its own, or one of its characters', words' or lines'. */
export interface Lane {
  part: PartId
  set: 'tracks' | 'segments'
  channel: Channel
}

/** One key, by where it stands. */
export interface KeyframeRef extends Lane {
  span: SpanName
  at: number
}

export const spanLength = (template: Pick<Template, 'spans'>, span: SpanName): number =>
  span === 'hold' ? template.spans.hold.frames : template.spans[span]

/** The channels of a part that have keys. */
export function lanesOf(part: Part): { lane: Lane; track: Track }[] {
  const sets = [
    ['tracks', part.motion.tracks],
    ['segments', part.motion.segments?.tracks ?? {}],
  ] as const
  return sets.flatMap(([set, tracks]) =>
    (Object.entries(tracks) as [Channel, Track | undefined][]).flatMap(([channel, track]) =>
      track && track.keys.length > 0 ? [{ lane: { part: part.id, set, channel }, track }] : [],
    ),
  )
}

/** Every key of a part. */
export function keysOf(part: Part): KeyframeRef[] {
  return lanesOf(part).flatMap(({ lane, track }) => track.keys.map(({ span, at }) => ({ ...lane, span, at })))
}

const withoutSpeed = ({ speed: _, ...key }: Keyframe): Keyframe => key

const sameLane = (a: Lane, b: Lane) => a.part === b.part && a.set === b.set && a.channel === b.channel
export const sameKey = (a: KeyframeRef, b: KeyframeRef): boolean => sameLane(a, b) && a.span === b.span && a.at === b.at

/** A motion with the keys of each lane mapped; a lane without keys goes. */
function mapLanes(part: Part, map: (keys: Keyframe[], lane: Lane) => Keyframe[]): Motion {
  const mapped = <T extends object>(tracks: T, set: Lane['set']): T =>
    Object.fromEntries(
      Object.entries(tracks).flatMap(([channel, track]) => {
        const keys = map(track.keys as Keyframe[], { part: part.id, set, channel: channel as Channel })
        return keys.length > 0 ? [[channel, { ...track, keys: sortedKeys(keys) }]] : []
      }),
    ) as T
  const { segments, ...rest } = part.motion
  const own = segments && mapped(segments.tracks, 'segments')
  return {
    ...rest,
    tracks: mapped(rest.tracks, 'tracks'),
    ...(segments && own && Object.keys(own).length > 0 ? { segments: { ...segments, tracks: own } } : {}),
  }
}

/** Maps the keys named by `refs`, lane by lane; the others stay, but give way to one that comes to stand on them. */
function mapKeys(
  template: Template,
  refs: readonly KeyframeRef[],
  map: (chosen: Keyframe[], lane: Lane) => Keyframe[],
): Change {
  const changes = [...new Set(refs.map((ref) => ref.part))].map((id): Change => {
    const part = findPart(template, id)!
    const motion = mapLanes(part, (keys, lane) => {
      const mine = refs.filter((ref) => sameLane(ref, lane))
      const isChosen = (key: Keyframe) => mine.some((ref) => ref.span === key.span && ref.at === key.at)
      const chosen = keys.filter(isChosen)
      // A key that is brought somewhere stands there from now on.
      const stood = new Set(chosen.map(({ span, at }) => `${span} ${at}`))
      const moved = map(chosen, lane).map((key) => (stood.has(`${key.span} ${key.at}`) ? key : withoutSpeed(key)))
      const others = keys.filter((key) => !isChosen(key) && !moved.some((m) => m.span === key.span && m.at === key.at))
      return [...others, ...moved]
    })
    return { kind: 'motion', part: id, motion }
  })
  return { kind: 'several', changes }
}

/** How far keys can be moved by up to `by` frames without one leaving its span. */
export function room(template: Template, refs: readonly KeyframeRef[], by: number): number {
  let [least, most] = [by, by]
  for (const ref of refs) {
    least = Math.max(least, -ref.at)
    most = Math.min(most, spanLength(template, ref.span) - ref.at)
  }
  return by < 0 ? Math.min(0, least) : Math.max(0, most)
}

/** Moves keys by frames, together, as far as their spans let all of them go. */
export function moveKeys(template: Template, refs: readonly KeyframeRef[], by: number): Change {
  const step = room(template, refs, by)
  return mapKeys(template, refs, (keys) => keys.map((key) => ({ ...key, at: key.at + step })))
}

/** Brings one key to a place in its span and to a value. @param at frames from the start of the span */
export function putKey(template: Template, ref: KeyframeRef, at: number, value: number): Change {
  return mapKeys(template, [ref], (keys) => keys.map((key) => ({ ...key, at, value })))
}

export function removeKeys(template: Template, refs: readonly KeyframeRef[]): Change {
  return mapKeys(template, refs, () => [])
}

/** Gives keys a value or an easing. */
export function setKeys(
  template: Template,
  refs: readonly KeyframeRef[],
  more: Partial<Pick<Keyframe, 'value' | 'ease'>>,
): Change {
  return mapKeys(template, refs, (keys) => keys.map((key) => ({ ...key, ...more })))
}

/** Turns keys round in time between the first and the last of them, span by span, over all parts together. */
export function reverseKeys(template: Template, refs: readonly KeyframeRef[]): Change {
  const ends = new Map<SpanName, [number, number]>()
  for (const { span, at } of refs) {
    const [low, high] = ends.get(span) ?? [at, at]
    ends.set(span, [Math.min(low, at), Math.max(high, at)])
  }
  return mapKeys(template, refs, (keys) =>
    reversedKeys(keys).map((key) => {
      const [low, high] = ends.get(key.span)!
      return { ...key, at: low + high - key.at }
    }),
  )
}

/**
 * Spreads keys over `frames`: the first stays, the last comes that many frames after it, the others between in
 * proportion; span by span, over all parts together.
 * @throws Refusal when a span has not that many frames left.
 */
export function spreadKeys(template: Template, refs: readonly KeyframeRef[], frames: number): Change {
  const firsts = new Map<SpanName, { low: number; high: number }>()
  for (const { span, at } of refs) {
    const known = firsts.get(span) ?? { low: at, high: at }
    firsts.set(span, { low: Math.min(known.low, at), high: Math.max(known.high, at) })
  }
  for (const [span, { low }] of firsts)
    demand(
      low + frames <= spanLength(template, span),
      'keys.spread',
      `${frames} frames from frame ${low} run past the end of ${span}, which has ${spanLength(template, span)}; take fewer.`,
    )
  return mapKeys(template, refs, (keys) =>
    keys.map((key) => {
      const { low, high } = firsts.get(key.span)!
      return { ...key, at: high > low ? low + Math.round(((key.at - low) * frames) / (high - low)) : low }
    }),
  )
}

/** Puts each part's chosen keys `apart` frames after those of the part before it. */
export function offsetKeys(template: Template, refs: readonly KeyframeRef[], apart: number): Change {
  const order = [...new Set(refs.map((ref) => ref.part))]
  for (const ref of refs) {
    const at = ref.at + order.indexOf(ref.part) * apart
    demand(
      at >= 0 && at <= spanLength(template, ref.span),
      'keys.offset',
      `${apart} frames apart, the keys of ${findPart(template, ref.part)!.name} run past ${ref.span}; take fewer frames or make ${ref.span} longer.`,
    )
  }
  return mapKeys(template, refs, (keys, lane) =>
    keys.map((key) => ({ ...key, at: key.at + order.indexOf(lane.part) * apart })),
  )
}

/** Moves the In keys of parts so that the first of each comes to `to(n)`, n counting the parts. @throws Refusal */
function bringInKeys(template: Template, ids: readonly PartId[], code: string, to: (n: number) => number): Change {
  const changes = ids.map((id, n): Change => {
    const part = findPart(template, id)!
    const keys = keysOf(part).filter((key) => key.span === 'in')
    const by = to(n) - firstOf(keys)
    const last = Math.max(...keys.map((key) => key.at)) + by
    demand(
      last <= template.spans.in,
      code,
      `${part.name} would need ${last} frames to arrive and In has ${template.spans.in}; make In longer or the steps smaller.`,
    )
    return mapKeys(template, keys, (chosen) => chosen.map((key) => ({ ...key, at: key.at + by })))
  })
  return { kind: 'several', changes }
}

const firstOf = (keys: readonly KeyframeRef[]) => Math.min(...keys.map((key) => key.at))
const arriving = (template: Template, ids: readonly PartId[]) =>
  ids.filter((id) => keysOf(findPart(template, id)!).some((key) => key.span === 'in'))

/** Brings the first In key of each part to one frame, the others of that part after it as before. */
export function gatherFirstKeys(template: Template, ids: readonly PartId[], at: number): Change {
  return bringInKeys(template, arriving(template, ids), 'keys.gather', () => at)
}

/**
 * Starts the In of several parts `apart` frames after one another, in the order given, from the earliest of their first
 * keys.
 * @throws Refusal when the last would not arrive within In, with the frames it needs.
 */
export function stagger(template: Template, ids: readonly PartId[], apart: number): Change {
  const parts = arriving(template, ids)
  demand(parts.length > 1, 'stagger.few', 'A stagger needs two parts or more that arrive with keys; choose them first.')
  const start = Math.min(
    ...parts.map((id) => firstOf(keysOf(findPart(template, id)!).filter((key) => key.span === 'in'))),
  )
  return bringInKeys(template, parts, 'stagger.long', (n) => start + n * apart)
}

/** Takes all keys off parts; the anchor stays. */
export function resetMotion(template: Template, ids: readonly PartId[]): Change {
  const changes = ids.map((id): Change => {
    const { anchor } = findPart(template, id)!.motion
    return { kind: 'motion', part: id, motion: { ...stillMotion(), anchor } }
  })
  return { kind: 'several', changes }
}

/** Sets a key on a channel at a place in time: a given value, or the one the channel has there. @throws Refusal */
export function setKeyAt(
  template: Template,
  lane: Lane,
  span: SpanName,
  at: number,
  value: number | undefined,
  hold = template.spans.hold.frames,
): Change {
  const part = findPart(template, lane.part)!
  const { motion } = part
  demand(
    span !== 'hold' || template.spans.hold.gives !== 'freeze',
    'keys.freeze',
    'Hold freezes, so keys in it would never be seen; let Hold loop or stretch, or go to In.',
  )
  demand(
    span !== 'out' || motion.out === 'own',
    'keys.mirror',
    `The Out of ${part.name} mirrors its In; unlink it to set keys there, or go to In.`,
  )
  const tracks = (lane.set === 'segments' ? (motion.segments?.tracks ?? {}) : motion.tracks) as Record<string, Track>
  const track = tracks[lane.channel] ?? ({ ...channels[lane.channel].settings, keys: [] } as Track)
  const moment = keyMoment(template.spans, hold, { span, at }, motion.out)
  const now = track.keys.length > 0 ? valueAt(track, moment) : channels[lane.channel].rest
  const before = track.keys.filter((key) => key.span === span && key.at < at).pop()
  const fresh: Keyframe = { span, at, value: value ?? now, ease: before?.ease ?? { bezier: [0.16, 1, 0.3, 1] } }
  const old = track.keys.find((key) => key.span === span && key.at === at)
  const keys = sortedKeys([...track.keys.filter((key) => key !== old), old ? { ...old, value: fresh.value } : fresh])
  const next = { ...tracks, [lane.channel]: { ...track, keys } }
  const segments = motion.segments ?? {
    by: 'character' as const,
    order: 'forward' as const,
    seed: 1,
    overlap: 0.7,
    tracks: {},
  }
  return {
    kind: 'motion',
    part: lane.part,
    motion:
      lane.set === 'segments' ? { ...motion, segments: { ...segments, tracks: next } } : { ...motion, tracks: next },
  }
}

/**
 * The first keys of a channel: In comes from a value to the rest, Out goes from the rest to it; a key by itself would hold
 * through all of the title.
 * @param at frames from the start of the span, in which the value stands
 */
export function begunTrack(
  { spans }: Template,
  channel: Channel,
  span: SpanName,
  at: number,
  value: number,
  settings: object = channels[channel].settings,
): Track {
  const { rest } = channels[channel]
  const ease = { bezier: [0.16, 1, 0.3, 1] } as Ease
  const from = span === 'in' ? Math.min(at, spans.in - 1) : at
  const keys: Keyframe[] =
    span === 'in'
      ? [
          { span, at: Math.max(0, from), value, ease },
          { span, at: spans.in, value: rest, ease: 'linear' },
        ]
      : [
          at > 0 ? { span, at: 0, value: rest, ease } : { span: 'in', at: 0, value: rest, ease: 'linear' },
          { span, at, value, ease: 'linear' },
        ]
  return { ...settings, keys }
}

/** Keys taken along, with what their channels work by. */
export interface KeyframeClip {
  set: Lane['set']
  channel: Channel
  settings: object
  segments?: object
  key: Keyframe
}

export function copyKeys(template: Template, refs: readonly KeyframeRef[]): KeyframeClip[] {
  return refs.flatMap((ref) => {
    const { motion } = findPart(template, ref.part)!
    const tracks = (ref.set === 'segments' ? motion.segments?.tracks : motion.tracks) as
      | Record<string, Track>
      | undefined
    const track = tracks?.[ref.channel]
    const key = track?.keys.find((k) => k.span === ref.span && k.at === ref.at)
    if (!track || !key) return []
    const { keys: _, ...settings } = track
    const { tracks: __, ...segments } = motion.segments ?? { tracks: {} }
    return [{ set: ref.set, channel: ref.channel, settings, key, ...(ref.set === 'segments' ? { segments } : {}) }]
  })
}

/** Puts copied keys on a part, the earliest at frame `at` of a span. @throws Refusal when they don't fit there. */
export function pasteKeys(
  template: Template,
  clip: readonly KeyframeClip[],
  id: PartId,
  span: SpanName,
  at: number,
): Change {
  demand(clip.length > 0, 'keys.none', 'No keys were copied; choose some in the time view and copy them.')
  const part = findPart(template, id)!
  const first = Math.min(...clip.map(({ key }) => key.at))
  const last = Math.max(...clip.map(({ key }) => key.at))
  demand(
    last - first + at <= spanLength(template, span),
    'keys.paste',
    `From frame ${at}, the keys run past the end of ${span}, which has ${spanLength(template, span)} frames; go further back.`,
  )
  demand(
    span !== 'out' || part.motion.out === 'own',
    'keys.mirror',
    `The Out of ${part.name} mirrors its In; unlink it to set keys there, or go to In.`,
  )
  const motion: Motion = { ...part.motion, tracks: { ...part.motion.tracks } }
  for (const { set, channel, settings, segments, key } of clip) {
    const moved = { ...key, span, at: key.at - first + at }
    if (set === 'segments') motion.segments ??= { ...(segments as NonNullable<Motion['segments']>), tracks: {} }
    if (set === 'segments') motion.segments = { ...motion.segments!, tracks: { ...motion.segments!.tracks } }
    const tracks = (set === 'segments' ? motion.segments!.tracks : motion.tracks) as Record<string, Track>
    const own = tracks[channel] ?? ({ ...settings, keys: [] } as Track)
    const others = own.keys.filter((k) => k.span !== span || k.at !== moved.at)
    tracks[channel] = { ...own, keys: sortedKeys([...others, moved]) }
  }
  return { kind: 'motion', part: id, motion }
}
