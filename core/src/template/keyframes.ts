import type { Keyframe, Motion, SpanName, Spans } from './types.ts'

const spanRank: Record<SpanName, number> = { in: 0, hold: 1, out: 2 }

/** Keys in the order of time. Tracks keep them so. */
export function sortedKeys(keys: readonly Keyframe[]): Keyframe[] {
  return [...keys].sort((a, b) => spanRank[a.span] - spanRank[b.span] || a.at - b.at)
}

/**
 * Keys in the order of their time, those past the end of their span brought to its end; of several on one frame the last
 * stays, which is what the part arrives at.
 */
export function orderedKeys(keys: readonly Keyframe[], spans: Spans): Keyframe[] {
  const lengths = { in: spans.in, hold: spans.hold.frames, out: spans.out }
  const brought = keys.map((key) => (key.at > lengths[key.span] ? { ...key, at: lengths[key.span] } : key))
  return sortedKeys(
    brought.filter((key, i) => !brought.some((other, n) => n > i && other.span === key.span && other.at === key.at)),
  )
}

/** A motion whose every key stands within spans; itself where all do. */
export function withinSpans(motion: Motion, spans: Spans): Motion {
  const inOrder = <T extends object>(tracks: T): T =>
    Object.fromEntries(
      Object.entries(tracks).map(([channel, track]) => [
        channel,
        track && Array.isArray(track.keys) ? { ...track, keys: orderedKeys(track.keys, spans) } : track,
      ]),
    ) as T
  return {
    ...motion,
    tracks: inOrder(motion.tracks),
    ...(motion.segments ? { segments: { ...motion.segments, tracks: inOrder(motion.segments.tracks) } } : {}),
  }
}
