import type { Rate } from '../time/index.ts'

/** Frames that look the same and follow one another. */
export interface Run {
  /** Index of the picture. */
  picture: number
  /** Its first frame, from 0. */
  from: number
  count: number
}

/** The frames of a file with the first and the last one held before and behind. */
export function withHandles(
  frames: readonly number[],
  handles: { before: number; after: number } | undefined,
): readonly number[] {
  if (!handles || frames.length === 0) return frames
  return [
    ...new Array<number>(handles.before).fill(frames[0]!),
    ...frames,
    ...new Array<number>(handles.after).fill(frames.at(-1)!),
  ]
}

/** Frames, each told by its picture, as runs of the same one. */
export function runsOf(frames: readonly number[]): Run[] {
  const runs: Run[] = []
  frames.forEach((picture, frame) => {
    const last = runs.at(-1)
    if (last?.picture === picture) last.count++
    else runs.push({ picture, from: frame, count: 1 })
  })
  return runs
}

/** Least that a picture of a GIF stands, hundredths of a second: what is told to stand less, viewers show for ten (common practice). */
const leastDelay = 2
/** Most that one can stand, by the 16 bits of its delay. */
const mostDelay = 65535

/** Of how many frames a GIF shows one: rates above 50 are thinned evenly. */
export function gifThinning({ num, den }: Rate): number {
  return Math.ceil((num / den) * (leastDelay / 100))
}

/**
 * What a GIF shows, in order, and for how long: each picture begins and ends at the hundredth of a second that is nearest
 * to its frame's time, so that nothing adds up.
 */
export function gifPictures(frames: readonly number[], rate: Rate): { picture: number; delay: number }[] {
  const every = gifThinning(rate)
  const time = (frame: number) => Math.round((100 * frame * rate.den) / rate.num)
  const shown: { picture: number; delay: number }[] = []
  for (let frame = 0; frame < frames.length; frame += every) {
    const picture = frames[frame]!
    const delay = time(Math.min(frame + every, frames.length)) - time(frame)
    const last = shown.at(-1)
    // The rest of a length that thinning does not divide may be too short to stand by itself.
    if (last && (last.picture === picture || delay < leastDelay) && last.delay + delay <= mostDelay) last.delay += delay
    else shown.push({ picture, delay })
  }
  return shown
}
