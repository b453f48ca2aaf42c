import type { Box } from '../geometry/index.ts'
import { type Change, findPart, type Part, type PartId, propertyOf, type Template } from '../template/index.ts'
import { begunTrack, setKeyAt } from './keyframeEdits.ts'
import { pose } from './pose.ts'
import type { Moment } from './timeline.ts'

/** How a part stands on the frame at a moment. */
export interface Stance {
  /** What it turns and grows about, frame px. */
  anchor: { x: number; y: number }
  /** Besides what it has at rest. */
  scale: number
  /** Degrees clockwise, besides what it has at rest. */
  turn: number
}

const round = (value: number, digits: number) => Number(value.toFixed(digits))
const contextOf = ({ frame, spans }: Template, moment: Moment) => ({ frame, spans, hold: spans.hold.frames, moment })

/** @param box where it rests, frame px */
export function stanceOf(template: Template, { motion }: Part, box: Box, moment: Moment): Stance {
  const { dx, dy, scale, turn } = pose(motion, box, contextOf(template, moment))
  const { x, y } = motion.anchor
  return { anchor: { x: box.x + box.width * x + dx, y: box.y + box.height * y + dy }, scale, turn }
}

/** A point of a part's rest box where it is in a stance; frame px. */
export function standingAt({ motion }: Part, box: Box, { anchor, scale, turn }: Stance, x: number, y: number) {
  const [fx, fy] = [x - box.x - box.width * motion.anchor.x, y - box.y - box.height * motion.anchor.y]
  const angle = (turn * Math.PI) / 180
  const [c, s] = [Math.cos(angle) * scale, Math.sin(angle) * scale]
  return { x: anchor.x + fx * c - fy * s, y: anchor.y + fx * s + fy * c }
}

/** Whether a moment is the rest, where no movement can be changed: a Hold that freezes. */
export const isRest = ({ spans }: Template, { span }: Moment): boolean =>
  span === 'hold' && spans.hold.gives === 'freeze'

/**
 * Turns or scales a part by hand at a moment: its movement while it comes or goes, as a key there, and itself at rest.
 * @param by degrees clockwise more than it has there; a factor
 * @throws Refusal where no key can stand
 */
export function turnedBy(template: Template, id: PartId, moment: Moment, by: number): Change {
  return given(template, id, moment, 'turn', 'rotation', (value) => round(value + by, 1))
}

/** See `turnedBy`. */
export function scaledBy(template: Template, id: PartId, moment: Moment, by: number): Change {
  return given(template, id, moment, 'scale', 'scale', (value) => round(value * by, 3))
}

function given(
  template: Template,
  id: PartId,
  moment: Moment,
  channel: 'turn' | 'scale',
  property: 'rotation' | 'scale',
  to: (value: number) => number,
): Change {
  const part = findPart(template, id)!
  if (isRest(template, moment)) {
    const { default: standing, min, max } = propertyOf(part.kind, property)!
    const own = ((part.style as Record<string, unknown>)[property] as number | undefined) ?? (standing as number)
    const value = Math.min(max!, Math.max(min!, to(own)))
    return { kind: 'style', part: id, key: property, value: value === standing ? undefined : value }
  }
  const at = Math.round(moment.at)
  const own = pose(part.motion, { x: 0, y: 0, width: 0, height: 0 }, contextOf(template, moment))[channel]
  const value = to(own)
  const keyed = setKeyAt(template, { part: id, set: 'tracks', channel }, moment.span, at, value)
  // Where nothing moves yet a key by itself would hold through all of the title.
  if (keyed.kind !== 'motion' || part.motion.tracks[channel]?.keys.length) return keyed
  const tracks = { ...keyed.motion.tracks, [channel]: begunTrack(template, channel, moment.span, at, value) }
  return { ...keyed, motion: { ...keyed.motion, tracks } }
}

/**
 * Moves what a part turns and grows about; at rest nothing else moves with it.
 * @param dx frame px, as `dy`
 */
export function anchorBy(
  template: Template,
  id: PartId,
  box: Box,
  { scale, turn }: Stance,
  dx: number,
  dy: number,
): Change {
  const { motion } = findPart(template, id)!
  const angle = (-turn * Math.PI) / 180
  const least = Math.max(Math.abs(scale), 0.01)
  const [x, y] = [
    (dx * Math.cos(angle) - dy * Math.sin(angle)) / least,
    (dx * Math.sin(angle) + dy * Math.cos(angle)) / least,
  ]
  const share = (own: number, by: number, size: number) =>
    size === 0 ? own : Math.min(10, Math.max(-10, round(own + by / size, 3)))
  const anchor = { x: share(motion.anchor.x, x, box.width), y: share(motion.anchor.y, y, box.height) }
  return { kind: 'motion', part: id, motion: { ...motion, anchor } }
}
