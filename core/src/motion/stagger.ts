import { demand } from '../refusal/index.ts'
import {
  type Change,
  findPart,
  type Key,
  type Motion,
  type PartId,
  type Template,
  type Tracks,
} from '../template/index.ts'

/** Applies `move` to every In key of a motion. */
function mapInKeys(motion: Motion, move: (at: number) => number): Motion {
  const mapped = <T extends Tracks>(tracks: T): T =>
    Object.fromEntries(
      Object.entries(tracks).map(([channel, track]) => [
        channel,
        track && {
          ...track,
          keys: (track.keys as Key[]).map((key: Key) => (key.span === 'in' ? { ...key, at: move(key.at) } : key)),
        },
      ]),
    ) as T
  return {
    ...motion,
    tracks: mapped(motion.tracks),
    ...(motion.units ? { units: { ...motion.units, tracks: mapped(motion.units.tracks) } } : {}),
  }
}

function inKeyTimes(motion: Motion): number[] {
  return [...Object.values(motion.tracks), ...Object.values(motion.units?.tracks ?? {})].flatMap((track) =>
    ((track?.keys ?? []) as Key[]).filter((key) => key.span === 'in').map((key) => key.at),
  )
}

/**
 * Starts the In of several parts `apart` frames after one another, in the order given, from the earliest of their first keys.
 * @throws Refusal when the last would not arrive within In, with the frames it needs.
 */
export function stagger(template: Template, ids: readonly PartId[], apart: number): Change {
  const parts = ids.map((id) => findPart(template, id)!).filter((part) => inKeyTimes(part.motion).length > 0)
  const firsts = parts.map((part) => Math.min(...inKeyTimes(part.motion)))
  demand(parts.length > 1, 'stagger.few', 'A stagger needs two parts or more that arrive with keys; choose them first.')
  const start = Math.min(...firsts)
  const changes = parts.map(
    (part, n): Change => ({
      kind: 'motion',
      part: part.id,
      motion: mapInKeys(part.motion, (at) => at - firsts[n]! + start + n * apart),
    }),
  )
  const last = Math.max(0, ...changes.flatMap((change) => (change.kind === 'motion' ? inKeyTimes(change.motion) : [])))
  demand(
    last <= template.spans.in,
    'stagger.long',
    `That stagger needs ${last} frames and In has ${template.spans.in}; make In longer or the steps smaller.`,
  )
  return { kind: 'several', changes }
}
