import type { Ease, Template, Update } from './types.ts'

/** How what stands round words goes from one size to the next where nothing else is said: off at once, and gently there. */
export const travelEase: Ease = { bezier: [0.4, 0, 0.1, 1] }

/**
 * How a title changes while it is up when its designer said nothing: words are out in 6 frames and in within 9, from frame 4
 * on, so that a plate is never empty (common practice), and what stands round them travels for 12.
 */
export const plainUpdate: Update = {
  pace: { kind: 'time', frames: 12 },
  ease: travelEase,
  words: 'fade',
  fade: { out: 6, after: 4, in: 9 },
}

export const updateOf = ({ update }: Pick<Template, 'update'>): Update => update ?? plainUpdate
