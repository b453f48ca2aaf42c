import type { Ease, Keyframe, PartKind, SegmentTracks, Spans, Track, Tracks } from '../template/index.ts'
import { eased } from './easing.ts'
import { holdFrame, type Moment, mirrored } from './timeline.ts'

export type Channel = keyof Tracks | keyof SegmentTracks

/**
 * The channels of motion: what each is called, the value that leaves a part as it rests and one from which it may come,
 * the unit people read, the kinds of part that have it (absent: all; none: letters alone), and what a new track works by.
 */
export const channels: Record<
  Channel,
  { label: string; rest: number; away: number; unit: string; step: number; kinds?: PartKind[]; settings: object }
> = {
  shiftX: { label: 'Shift across', rest: 0, away: -40, unit: '', step: 1, settings: { unit: 'px' } },
  shiftY: { label: 'Shift down', rest: 0, away: 40, unit: '', step: 1, settings: { unit: 'px' } },
  scale: { label: 'Scale', rest: 1, away: 0, unit: '×', step: 0.05, settings: {} },
  turn: { label: 'Turn', rest: 0, away: -10, unit: '°', step: 1, settings: {} },
  fade: { label: 'Fade', rest: 1, away: 0, unit: '0–1', step: 0.05, settings: {} },
  reveal: {
    label: 'Reveal',
    rest: 1,
    away: 0,
    unit: '0–1',
    step: 0.05,
    settings: { from: 'left', soft: 0, slant: 0 },
  },
  grow: { label: 'Grow', rest: 1, away: 0, unit: '0–1', step: 0.05, settings: { axis: 'x', from: 'start' } },
  blur: { label: 'Blur', rest: 0, away: 12, unit: 'px', step: 1, settings: {} },
  colour: {
    label: 'Colour',
    rest: 0,
    away: 1,
    unit: '0–1',
    step: 0.05,
    kinds: ['text', 'box', 'ellipse', 'path', 'group'],
    settings: { to: '#ffffff' },
  },
  track: { label: 'Tracking', rest: 0, away: 200, unit: 'em/1000', step: 5, kinds: ['text'], settings: {} },
  weight: { label: 'Weight', rest: 0, away: -300, unit: '', step: 10, kinds: ['text'], settings: {} },
  stretch: { label: 'Stretch', rest: 0, away: -25, unit: '%', step: 1, kinds: ['text'], settings: {} },
  axis: { label: 'Axis', rest: 0, away: 10, unit: '', step: 1, kinds: ['text'], settings: { tag: 'slnt' } },
  trim: {
    label: 'Drawn on',
    rest: 1,
    away: 0,
    unit: '0–1',
    step: 0.05,
    kinds: ['path', 'curve'],
    settings: { from: 'start' },
  },
  travel: { label: 'Travel along', rest: 0, away: -1, unit: '× way', step: 0.05, kinds: ['text'], settings: {} },
  count: { label: 'Counted', rest: 1, away: 0, unit: '0–1', step: 0.05, kinds: ['text'], settings: { start: 0 } },
  settle: {
    label: 'Settled',
    rest: 1,
    away: 0,
    unit: '0–1',
    step: 0.05,
    kinds: [],
    settings: { as: 'scramble', from: 'alphabet' },
  },
}

/** Channels that a part's characters, words or lines can have by themselves. */
export const segmentChannels = ['shiftX', 'shiftY', 'scale', 'turn', 'fade', 'blur', 'settle'] as const

/** The channels that a kind of part has. */
export function channelsOf(kind: PartKind): Channel[] {
  return (Object.keys(channels) as Channel[]).filter((channel) => channels[channel].kinds?.includes(kind) ?? true)
}

/** The moment whose keys are read: Out that mirrors reads In's, a Hold that gives reads the frame it shows. */
export function keyMoment(spans: Spans, hold: number, moment: Moment, out: 'mirror' | 'own'): Moment {
  if (moment.span === 'out' && out === 'mirror') return mirrored(spans, moment.at)
  if (moment.span !== 'hold') return moment
  const frame = holdFrame(spans, hold, moment.at)
  return frame === undefined ? { span: 'hold', at: -1 } : { span: 'hold', at: frame }
}

/**
 * A track's value at a moment. Keys of one span never reach into another: after a span's last key its value stands, before
 * its first key stands what came before, so retiming one span changes no frame of the others.
 */
export function valueAt(track: Track, moment: Moment): number {
  const { keys } = track
  const inside = keys.filter((key) => key.span === moment.span && !(key.span === 'hold' && moment.at < 0))
  if (inside.length > 0 && (moment.at >= inside[0]!.at || before(keys, moment) === undefined))
    return between(inside, moment.at)
  const earlier = before(keys, moment)
  return (earlier ?? keys[0]!).value
}

/** The last key of the spans before a moment's own. A frozen Hold has no keys of its own. */
function before(keys: readonly Keyframe[], moment: Moment): Keyframe | undefined {
  const spans = moment.span === 'out' ? ['in', 'hold'] : moment.span === 'hold' ? ['in'] : []
  for (let i = keys.length - 1; i >= 0; i--) if (spans.includes(keys[i]!.span)) return keys[i]
  return undefined
}

function between(keys: readonly Keyframe[], at: number): number {
  if (at <= keys[0]!.at) return keys[0]!.value
  for (let i = 1; i < keys.length; i++) {
    const [from, to] = [keys[i - 1]!, keys[i]!]
    if (at < to.at) return from.value + (to.value - from.value) * eased(from.ease, (at - from.at) / (to.at - from.at))
  }
  return keys[keys.length - 1]!.value
}

/** An easing seen from its end: what it does backwards in time. */
export function reversedEase(ease: Ease): Ease {
  if (ease === 'linear') return ease
  if ('bezier' in ease) {
    const [x1, y1, x2, y2] = ease.bezier
    return { bezier: [1 - x2, 1 - y2, 1 - x1, 1 - y1] }
  }
  if ('steps' in ease) {
    const jump = ease.jump === 'start' ? 'end' : ease.jump === 'end' ? 'start' : ease.jump
    return { steps: ease.steps, jump }
  }
  return { points: ease.points.map(([x, y]): [number, number] => [1 - x, 1 - y]).reverse() }
}

/** Keys in the order they come backwards, each with the easing of the way that leads from it then. Times stay, as drawn. */
export function reversedKeys(keys: readonly Keyframe[]): Keyframe[] {
  return keys
    .map(({ speed: _, ...key }, i) => ({ ...key, ease: i > 0 ? reversedEase(keys[i - 1]!.ease) : ('linear' as const) }))
    .reverse()
}
