import { keysOf, lanesOf, sortedKeys } from '@hoja/core/motion'
import {
  allParts,
  type Change,
  type Key,
  type Part,
  type SpanName,
  type Spans,
  type Template,
} from '@hoja/core/template'

/** Where a frame of the title as designed lies. */
export function spanAt(spans: Spans, frame: number): { span: SpanName; at: number } {
  if (frame < spans.in) return { span: 'in', at: frame }
  if (frame < spans.in + spans.hold.frames) return { span: 'hold', at: frame - spans.in }
  return { span: 'out', at: frame - spans.in - spans.hold.frames }
}

/** New spans; keys past the end of a shorter one are brought to its end, so that everything still arrives within it. */
export function clippedSpans(template: Template, spans: Spans): Change {
  const length = { in: spans.in, hold: spans.hold.frames, out: spans.out }
  const clipped = allParts(template.parts)
    .filter((part) => keysOf(part).some((key) => key.at > length[key.span]))
    .map((part): Change => ({ kind: 'motion', part: part.id, motion: clippedMotion(part, length) }))
  // A poster that showed the settled pose still does.
  const { poster } = template
  const moved: Change[] =
    poster.frame === template.spans.in ? [{ kind: 'poster', poster: { ...poster, frame: spans.in } }] : []
  return { kind: 'several', changes: [{ kind: 'spans', spans }, ...moved, ...clipped] }
}

function clippedMotion(part: Part, length: Record<SpanName, number>): Part['motion'] {
  const clip = (keys: readonly Key[]): Key[] => {
    const brought = keys.map((key) => ({ ...key, at: Math.min(key.at, length[key.span]) }))
    // Of keys that come to stand on one frame the last is what the part arrives at.
    return sortedKeys(
      brought.filter((key, i) => !brought.some((k, n) => n > i && k.span === key.span && k.at === key.at)),
    )
  }
  const motion = { ...part.motion, tracks: { ...part.motion.tracks } }
  if (motion.units) motion.units = { ...motion.units, tracks: { ...motion.units.tracks } }
  for (const { lane, track } of lanesOf(part)) {
    const tracks = (lane.set === 'units' ? motion.units!.tracks : motion.tracks) as Record<string, unknown>
    tracks[lane.channel] = { ...track, keys: clip(track.keys) }
  }
  return motion
}
