import { type ClipId, cutsOf, endOf, type Programme } from '@hoja/core/programme'

/** Frames that edges are drawn to, in order: where clips begin and end, cuts, markers, the playhead, the beginning. */
export function snapTargets(programme: Programme, playhead: number, but: ReadonlySet<ClipId>): number[] {
  const targets = new Set<number>([0, playhead, ...cutsOf(programme)])
  for (const [id, clip] of Object.entries(programme.clips)) {
    if (but.has(id)) continue
    targets.add(clip.at)
    targets.add(endOf(clip))
  }
  for (const { at } of Object.values(programme.markers)) targets.add(at)
  return [...targets].sort((a, b) => a - b)
}

/** The target that is nearest to a frame. */
function nearest(targets: readonly number[], frame: number): number {
  let [low, high] = [0, targets.length - 1]
  while (low < high) {
    const middle = (low + high) >> 1
    if (targets[middle]! < frame) low = middle + 1
    else high = middle
  }
  const [above, below] = [targets[low]!, targets[Math.max(0, low - 1)]!]
  return Math.abs(above - frame) < Math.abs(frame - below) ? above : below
}

/**
 * How far edges go that were to go `by` frames: as far, or so that one of them lies on a target within `reach` frames.
 * @returns and that target, if there is one
 */
export function snapped(
  targets: readonly number[],
  edges: readonly number[],
  by: number,
  reach: number,
): { by: number; to?: number } {
  let best: { by: number; to?: number } = { by }
  let least = reach + 0.5
  for (const edge of edges) {
    const to = nearest(targets, edge + by)
    const off = Math.abs(to - edge - by)
    if (off < least) {
      least = off
      best = { by: to - edge, to }
    }
  }
  return best
}
