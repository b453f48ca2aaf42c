import type { Spans } from '@hoja/core/template'

export interface Ruler {
  /** px of a frame's start. */
  x(frame: number): number
  /** The time at a px, in frames and parts of them. */
  time(px: number): number
  /** The frame under a px. */
  frame(px: number): number
  inWidth: number
  outWidth: number
  holdWidth: number
}

/**
 * Frames to px: In and Out keep a share of the width however long Hold is, because that is where one works; Hold is
 * folded into the rest.
 */
export function ruler(spans: Spans, width: number): Ruler {
  const { in: a, out: c } = spans
  const b = spans.hold.frames
  const edge = Math.min(0.34, (a + c) / (a + b + c) + 0.24)
  const inWidth = a === 0 ? 0 : width * edge * (a / Math.max(1, a + c)) * 1.4
  const outWidth = c === 0 ? 0 : width * edge * (c / Math.max(1, a + c)) * 1.4
  const holdWidth = Math.max(1, width - inWidth - outWidth)
  const x = (frame: number) =>
    frame <= a
      ? a
        ? (frame / a) * inWidth
        : 0
      : frame <= a + b
        ? inWidth + ((frame - a) / b) * holdWidth
        : inWidth + holdWidth + ((frame - a - b) / c) * outWidth
  const time = (px: number) =>
    px < inWidth
      ? (px / inWidth) * a
      : px < inWidth + holdWidth
        ? a + ((px - inWidth) / holdWidth) * b
        : a + b + ((px - inWidth - holdWidth) / Math.max(1, outWidth)) * c
  return { x, time, frame: (px) => Math.floor(time(px)), inWidth, outWidth, holdWidth }
}
