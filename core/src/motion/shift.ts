import type { ShiftUnit, SpanName } from '../template/index.ts'

/** A channel with what it works by in a span: Out may have settings of its own. */
export function inSpan<T extends { leaving?: object }>(track: T, span: SpanName): T {
  return span === 'out' && track.leaving ? { ...track, ...track.leaving } : track
}

/**
 * A shift in px. `off` counts to just outside the frame on that side.
 * @param start px of the part's rest box along the axis, as `size`; `frame`: the frame's size
 */
export function shiftOf(unit: ShiftUnit, value: number, start: number, size: number, frame: number): number {
  switch (unit) {
    case 'px':
      return value
    case 'own':
      return value * size
    case 'frame':
      return value * frame
    case 'off':
      return value >= 0 ? value * (frame - start) : value * (start + size)
  }
}
