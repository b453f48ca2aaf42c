import type { Box } from '../geometry/index.ts'
import {
  type Change,
  findPart,
  type Keyframe,
  type Motion,
  type Part,
  type PartId,
  type ShiftTrack,
  type SpanName,
  sortedKeys,
  type Template,
} from '../template/index.ts'
import { spanLength } from './keyframeEdits.ts'
import { pose } from './pose.ts'
import { inSpan } from './shift.ts'
import { valueAt } from './tracks.ts'

/** Where a part's anchor is at one frame of a span, frame px. */
export interface WayPoint {
  at: number
  x: number
  y: number
  /** Keys of its shift stand here. */
  keyed: boolean
}

const axes = [
  ['shiftX', 'x', 'width'],
  ['shiftY', 'y', 'height'],
] as const

/**
 * The way of a part through a span, a point for each frame and one for the first after it; empty where nothing of its own
 * shifts it there: an Out that mirrors has In's way.
 * @param box where it rests, frame px
 */
export function wayOf(template: Template, part: Part, box: Box, span: SpanName): WayPoint[] {
  const { motion } = part
  const keys = axes.flatMap(([channel]) => motion.tracks[channel]?.keys.filter((key) => key.span === span) ?? [])
  if (keys.length === 0 || (span === 'out' && motion.out === 'mirror')) return []
  const keyed = new Set(keys.map((key) => key.at))
  const [x, y] = [box.x + box.width * motion.anchor.x, box.y + box.height * motion.anchor.y]
  const { frame, spans } = template
  return Array.from({ length: spanLength(template, span) + 1 }, (_, at) => {
    const { dx, dy } = pose(motion, box, { frame, spans, hold: spans.hold.frames, moment: { span, at } })
    return { at, x: x + dx, y: y + dy, keyed: keyed.has(at) }
  })
}

/** A shift in px as a value of its track: the other way round than a pose reads it. */
function valueFor(track: ShiftTrack, span: SpanName, px: number, start: number, size: number, frame: number): number {
  switch (inSpan(track, span).unit) {
    case 'px':
      return px
    case 'own':
      return size === 0 ? 0 : px / size
    case 'frame':
      return px / frame
    case 'off': {
      const whole = px >= 0 ? frame - start : start + size
      return whole === 0 ? 0 : px / whole
    }
  }
}

/** A shift that begins where the other one has its keys, and moves nothing yet. */
function begun({ tracks }: Motion, channel: 'shiftX' | 'shiftY'): ShiftTrack {
  const other = tracks[channel === 'shiftX' ? 'shiftY' : 'shiftX']
  return { unit: 'px', keys: (other?.keys ?? []).map((key) => ({ ...key, value: 0 })) }
}

/**
 * Moves a keyed point of a part's way. A channel without a key there gets one when the way is moved along it; one that has
 * no keys at all gets them where the other has its own, so that only this point moves.
 * @param dx px of the frame, as `dy`
 */
export function moveWayPoint(
  template: Template,
  id: PartId,
  box: Box,
  span: SpanName,
  at: number,
  dx: number,
  dy: number,
): Change {
  const part = findPart(template, id)!
  const { motion } = part
  const { frame, spans } = template
  const now = pose(motion, box, { frame, spans, hold: spans.hold.frames, moment: { span, at } })
  const tracks = { ...motion.tracks }
  for (const [channel, axis, side] of axes) {
    const by = axis === 'x' ? dx : dy
    if (by === 0) continue
    const track = tracks[channel]?.keys.length ? tracks[channel] : begun(motion, channel)
    const px = (axis === 'x' ? now.dx : now.dy) + by
    const value = valueFor(track, span, px, box[axis], box[side], frame[side])
    const old = track.keys.find((key) => key.span === span && key.at === at)
    const before = track.keys.filter((key) => key.span === span && key.at < at).pop()
    const moved: Keyframe = old
      ? { ...old, value }
      : { span, at, value: valueAt(track, { span, at }), ease: before?.ease ?? 'linear' }
    const fresh = { ...moved, value: Number(value.toFixed(4)) }
    tracks[channel] = { ...track, keys: sortedKeys([...track.keys.filter((key) => key !== old), fresh]) }
  }
  return { kind: 'motion', part: id, motion: { ...motion, tracks } }
}
