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
