import type { Keyframe, Segments } from '../template/index.ts'
import type { Moment } from './timeline.ts'

/** A small seeded generator (mulberry32): the same order on every machine. */
function random(seed: number): () => number {
  let state = seed | 0
  return () => {
    state = (state + 0x6d2b79f5) | 0
    let t = Math.imul(state ^ (state >>> 15), 1 | state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
}

/** When each of `count` segments has its turn: rank by segment, 0 first. */
export function segmentRanks(segments: Segments, count: number): number[] {
  const order = Array.from({ length: count }, (_, i) => i)
  if (segments.order === 'backward') order.reverse()
  if (segments.order === 'middle') {
    const middle = (count - 1) / 2
    order.sort((a, b) => Math.abs(a - middle) - Math.abs(b - middle) || a - b)
  }
  if (segments.order === 'random') {
    const next = random(segments.seed)
    for (let i = count - 1; i > 0; i--) {
      const j = Math.floor(next() * (i + 1))
      ;[order[i], order[j]] = [order[j]!, order[i]!]
    }
  }
  const ranks = new Array<number>(count)
  order.forEach((unit, rank) => {
    ranks[unit] = rank
  })
  return ranks
}

/**
 * The moment a unit shows. The tracks' keys of a span mark a window; all units share it, each playing the whole of the
 * tracks in its part of it, so that the longest text still arrives within In.
 */
export function segmentMoment(segments: Segments, rank: number, count: number, moment: Moment): Moment {
  let first = Number.POSITIVE_INFINITY
  let last = Number.NEGATIVE_INFINITY
  for (const track of Object.values(segments.tracks))
    for (const key of track?.keys ?? ([] as Keyframe[]))
      if (key.span === moment.span) {
        first = Math.min(first, key.at)
        last = Math.max(last, key.at)
      }
  if (!(last > first)) return moment
  const window = last - first
  const own = window / (1 + (count - 1) * (1 - segments.overlap))
  const delay = rank * own * (1 - segments.overlap)
  const progress = Math.min(1, Math.max(0, (moment.at - first - delay) / own))
  return { span: moment.span, at: first + progress * window }
}
