import { cached } from '../cache/index.ts'
import type { Box } from '../geometry/index.ts'
import type {
  AxisTrack,
  CountTrack,
  Frame,
  GrowTrack,
  Keyframe,
  Motion,
  RevealTrack,
  SegmentTracks,
  SettleTrack,
  ShiftTrack,
  SpanName,
  Spans,
  TintTrack,
  Tracks,
  TrimTrack,
} from '../template/index.ts'
import type { AxisValues } from '../text/index.ts'
import { segmentMoment, segmentRanks } from './segments.ts'
import { inSpan, shiftOf } from './shift.ts'
import { timedTracks } from './speed.ts'
import type { Moment } from './timeline.ts'
import { keyMoment, valueAt } from './tracks.ts'

type AnyTracks = Tracks & SegmentTracks

/** How a part stands at a frame, relative to its rest box. */
export interface Pose {
  /** px */
  dx: number
  dy: number
  scale: number
  /** degrees, clockwise */
  turn: number
  /** opacity, 0..1 */
  fade: number
  /** share uncovered, 0..1 */
  reveal: number
  /** share of the size along the track's axis */
  grow: number
  /** px, standard deviation */
  blur: number
  /** share of the track's colour in everything drawn, 0..1 */
  tint: number
  /** thousandths of an em between characters, on top of the text's own */
  track: number
  /** How far a text's fonts stand further on their axes than at rest (`wght`, `wdth` and any other), in the axes' units. */
  axes: AxisValues
  /** share of a path's length that is drawn, 0..1 */
  trim: number
  /** share of the way along which a text runs that it has travelled from where it rests */
  travel: number
  /** share of the way from a number to those that a text says, 0..1 */
  count: number
  /** share of the way to what a letter is, 0..1 */
  settle: number
  /** What reveal, grow, colour, trim, count and settle work by at this moment. */
  by: Pick<AnyTracks, 'reveal' | 'grow' | 'colour' | 'trim' | 'count' | 'settle'>
  segments?: Pose[]
  /** Frames of a span in which its letters have keys: by these they change before they settle, and a caret blinks. */
  at?: number
}

export interface PoseContext {
  frame: Frame
  spans: Spans
  /** Frames of Hold in this title. */
  hold: number
  moment: Moment
}

function shift(track: ShiftTrack | undefined, moment: Moment, start: number, size: number, frame: number): number {
  if (!track || track.keys.length === 0) return 0
  return shiftOf(inSpan(track, moment.span).unit, valueAt(track, moment), start, size, frame)
}

const read = (track: AnyTracks[keyof AnyTracks], moment: Moment, rest: number) =>
  track && track.keys.length > 0 ? valueAt(track, moment) : rest

function poseOf(tracks: AnyTracks, moment: Moment, box: Box, frame: Frame): Pose {
  return {
    dx: shift(tracks.shiftX, moment, box.x, box.width, frame.width),
    dy: shift(tracks.shiftY, moment, box.y, box.height, frame.height),
    scale: read(tracks.scale, moment, 1),
    turn: read(tracks.turn, moment, 0),
    fade: Math.min(1, Math.max(0, read(tracks.fade, moment, 1))),
    reveal: Math.min(1, Math.max(0, read(tracks.reveal, moment, 1))),
    grow: Math.max(0, read(tracks.grow, moment, 1)),
    blur: Math.max(0, read(tracks.blur, moment, 0)),
    tint: Math.min(1, Math.max(0, read(tracks.colour, moment, 0))),
    track: read(tracks.track, moment, 0),
    axes: axesOf(tracks, moment),
    trim: Math.min(1, Math.max(0, read(tracks.trim, moment, 1))),
    travel: read(tracks.travel, moment, 0),
    count: Math.min(1, Math.max(0, read(tracks.count, moment, 1))),
    settle: Math.min(1, Math.max(0, read(tracks.settle, moment, 1))),
    by: moment.span === 'out' ? leavingOf(tracks) : tracks,
  }
}

const still: AxisValues = {}

function axesOf(tracks: Tracks, moment: Moment): AxisValues {
  const { weight, stretch, axis } = tracks
  if (!weight && !stretch && !axis) return still
  const moved: [string, number][] = [
    ['wght', read(weight, moment, 0)],
    ['wdth', read(stretch, moment, 0)],
  ]
  if (axis) moved.push([inSpan<AxisTrack>(axis, moment.span).tag, read(axis, moment, 0)])
  return Object.fromEntries(moved.filter(([, by]) => by !== 0))
}

const leavings = new WeakMap<AnyTracks, Pose['by']>()

/** The channels as they work in Out. */
function leavingOf(tracks: AnyTracks): Pose['by'] {
  return cached(leavings, tracks, () => {
    const { reveal, grow, colour, trim, count, settle } = tracks
    return {
      ...(reveal ? { reveal: inSpan<RevealTrack>(reveal, 'out') } : {}),
      ...(grow ? { grow: inSpan<GrowTrack>(grow, 'out') } : {}),
      ...(colour ? { colour: inSpan<TintTrack>(colour, 'out') } : {}),
      ...(trim ? { trim: inSpan<TrimTrack>(trim, 'out') } : {}),
      ...(count ? { count: inSpan<CountTrack>(count, 'out') } : {}),
      ...(settle ? { settle: inSpan<SettleTrack>(settle, 'out') } : {}),
    }
  })
}

const hasKeys = (tracks: SegmentTracks, span: SpanName) =>
  Object.values(tracks).some((track: { keys: Keyframe[] }) => track.keys.some((key) => key.span === span))

/** A part's pose at a frame. `unitBoxes`: rest boxes of its characters, words or lines when its motion asks for them. */
export function pose(motion: Motion, box: Box, context: PoseContext, unitBoxes: readonly Box[] = []): Pose {
  const moment = keyMoment(context.spans, context.hold, context.moment, motion.out)
  const result = poseOf(timedTracks(motion.tracks, box, context), moment, box, context.frame)
  const { segments } = motion
  if (segments && unitBoxes.length > 0) {
    const ranks = segmentRanks(segments, unitBoxes.length)
    if ((segments.tracks.settle || segments.caret) && hasKeys(segments.tracks, moment.span)) result.at = moment.at
    result.segments = unitBoxes.map((unit, i) =>
      poseOf(segments.tracks, segmentMoment(segments, ranks[i]!, unitBoxes.length, moment), unit, context.frame),
    )
  }
  return result
}

/** Upright bounds (frame px) of a part as it stands in a pose; segments that are not yet there don't count. */
export function animatedBounds(motion: Motion, box: Box, p: Pose, unitBoxes: readonly Box[] = []): Box {
  let area = box
  if (p.segments && unitBoxes.length > 0) {
    const seen = unitBoxes.filter((_, i) => p.segments![i]!.fade > 0)
    const left = Math.min(...seen.map((u) => u.x))
    const right = Math.max(...seen.map((u) => u.x + u.width))
    area = seen.length > 0 ? { ...box, x: left, width: right - left } : { ...box, width: 0 }
  }
  area = uncovered(area, p)
  const angle = (p.turn * Math.PI) / 180
  const [c, s] = [Math.abs(Math.cos(angle)) * p.scale, Math.abs(Math.sin(angle)) * p.scale]
  const [width, height] = [area.width * c + area.height * s, area.width * s + area.height * c]
  const [ax, ay] = [box.x + motion.anchor.x * box.width, box.y + motion.anchor.y * box.height]
  const [fx, fy] = [area.x + area.width / 2 - ax, area.y + area.height / 2 - ay]
  const cx = ax + (fx * Math.cos(angle) - fy * Math.sin(angle)) * p.scale + p.dx
  const cy = ay + (fx * Math.sin(angle) + fy * Math.cos(angle)) * p.scale + p.dy
  return { x: cx - width / 2, y: cy - height / 2, width, height }
}

/** What growth and a wipe leave of a box, before it moves. */
export function uncovered(box: Box, p: Pose): Box {
  let area = box
  const { grow, reveal } = p.by
  if (grow) area = partOf(area, grow.axis, grow.from === 'start' ? 0 : grow.from === 'end' ? 1 : 0.5, p.grow)
  if (reveal)
    area = partOf(
      area,
      reveal.from === 'left' || reveal.from === 'right' ? 'x' : 'y',
      reveal.from === 'left' || reveal.from === 'top' ? 0 : 1,
      p.reveal,
    )
  return area
}

function partOf(box: Box, axis: 'x' | 'y', from: number, share: number): Box {
  return axis === 'x'
    ? { ...box, x: box.x + box.width * (1 - share) * from, width: box.width * share }
    : { ...box, y: box.y + box.height * (1 - share) * from, height: box.height * share }
}
