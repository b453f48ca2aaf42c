import {
  allParts,
  type Keyframe,
  type Part,
  type PartId,
  type Spans,
  type Template,
  type Track,
} from '../template/index.ts'
import { type Channel, channels, channelsOf } from './tracks.ts'

/** Keys of a channel that never play, why, and what would make them. */
export interface DeadKeys {
  part: PartId
  channel: Channel
  /** Of the part's letters, words or lines. */
  segments: boolean
  keys: readonly Keyframe[]
  /** As the end of a sentence about the keys. */
  why: string
  remedy: string
}

const spanNames = { in: 'In', hold: 'Hold', out: 'Out' } as const

/** All keys of a template that can never play, part by part. */
export const deadKeys = ({ spans, parts }: Pick<Template, 'spans' | 'parts'>): DeadKeys[] =>
  allParts(parts).flatMap((part) => deadKeysOf(spans, part))

/** Those of one part. */
export function deadKeysOf(spans: Spans, part: Part): DeadKeys[] {
  const { tracks, segments } = part.motion
  const of = (all: object, isSegments: boolean) =>
    Object.entries(all as Record<string, Track>).flatMap(([channel, track]) =>
      ofTrack(spans, part, channel as Channel, isSegments, track.keys),
    )
  return [...of(tracks, false), ...of(segments?.tracks ?? {}, true)]
}

function ofTrack(spans: Spans, part: Part, channel: Channel, segments: boolean, all: readonly Keyframe[]): DeadKeys[] {
  const of = { part: part.id, channel, segments }
  const undrawn = all.length > 0 ? undrawnBecause(part, channel, segments) : undefined
  if (undrawn) return [{ ...of, keys: all, ...undrawn }]
  const byWhy = new Map<string, { keys: Keyframe[]; remedy: string }>()
  for (const key of all) {
    const dead = deadBecause(spans, part, key)
    if (!dead) continue
    const known = byWhy.get(dead.why) ?? { keys: [], remedy: dead.remedy }
    known.keys.push(key)
    byWhy.set(dead.why, known)
  }
  return [...byWhy].map(([why, { keys, remedy }]) => ({ ...of, keys, why, remedy }))
}

/** Why nothing of a channel is drawn. */
function undrawnBecause(part: Part, channel: Channel, segments: boolean): { why: string; remedy: string } | undefined {
  const { label } = channels[channel]
  if (segments && part.kind !== 'text') return { why: `${part.name} has no letters`, remedy: 'take them away' }
  if (!segments && !channelsOf(part.kind).includes(channel))
    return { why: `${label} changes nothing of this kind of part`, remedy: 'take them away' }
  if (channel === 'travel' && part.kind === 'text' && !part.style.along)
    return { why: `${part.name} runs along no path`, remedy: 'let it run along one, or take them away' }
  return undefined
}

/** Why a key is never come to. */
function deadBecause(
  spans: Spans,
  { motion }: Part,
  { span, at }: Keyframe,
): { why: string; remedy: string } | undefined {
  if (span === 'hold' && spans.hold.gives === 'freeze')
    return { why: 'Hold is frozen', remedy: 'let Hold loop or stretch, or put them into In' }
  if (span === 'out' && motion.out === 'mirror')
    return { why: 'Out is In run backwards here', remedy: 'give the part an Out of its own' }
  const { loop, frames } = spans.hold
  const length = span === 'hold' ? (spans.hold.gives === 'loop' ? (loop?.to ?? frames) : frames) : spans[span]
  if (at > length)
    return {
      why: `${spanNames[span]} ends at frame ${length}${span === 'hold' && loop && spans.hold.gives === 'loop' ? ', where it begins again' : ''}`,
      remedy: `put them at frame ${length} or before, or make ${spanNames[span]} longer`,
    }
  return undefined
}

/** The same as a sentence. @param name of the part */
export function deadKeysWords(name: string, { channel, keys, why, remedy }: DeadKeys): string {
  const count = keys.length === 1 ? 'One key' : `${keys.length} keys`
  return `${count} of ${name}, ${channels[channel].label.toLowerCase()}, never ${keys.length === 1 ? 'plays' : 'play'}: ${why}; ${remedy}.`
}
