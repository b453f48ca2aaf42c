import type { Key, Spans, Track, Tracks } from '../template/index.ts'
import { eased } from './easing.ts'
import { holdFrame, type Moment, mirrored } from './timeline.ts'

export type Channel = keyof Tracks

/** The channels of motion: what each is called, what leaves a part as it rests, and the unit people read. */
export const channels: Record<Channel, { label: string; rest: number; unit: string; step: number }> = {
  shiftX: { label: 'Shift across', rest: 0, unit: '', step: 1 },
  shiftY: { label: 'Shift down', rest: 0, unit: '', step: 1 },
  scale: { label: 'Scale', rest: 1, unit: '×', step: 0.05 },
  turn: { label: 'Turn', rest: 0, unit: '°', step: 1 },
  fade: { label: 'Fade', rest: 1, unit: '0–1', step: 0.05 },
  reveal: { label: 'Reveal', rest: 1, unit: '0–1', step: 0.05 },
  grow: { label: 'Grow', rest: 1, unit: '0–1', step: 0.05 },
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
function before(keys: readonly Key[], moment: Moment): Key | undefined {
  const spans = moment.span === 'out' ? ['in', 'hold'] : moment.span === 'hold' ? ['in'] : []
  for (let i = keys.length - 1; i >= 0; i--) if (spans.includes(keys[i]!.span)) return keys[i]
  return undefined
}

function between(keys: readonly Key[], at: number): number {
  if (at <= keys[0]!.at) return keys[0]!.value
  for (let i = 1; i < keys.length; i++) {
    const [from, to] = [keys[i - 1]!, keys[i]!]
    if (at < to.at) return from.value + (to.value - from.value) * eased(from.ease, (at - from.at) / (to.at - from.at))
  }
  return keys[keys.length - 1]!.value
}

const spanRank = { in: 0, hold: 1, out: 2 }

/** Keys in the order of time. Tracks keep them so. */
export function sortedKeys(keys: readonly Key[]): Key[] {
  return [...keys].sort((a, b) => spanRank[a.span] - spanRank[b.span] || a.at - b.at)
}
