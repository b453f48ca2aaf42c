import { demand } from '../refusal/index.ts'
import type { SoundFile, SpanName, Spans, Template } from '../template/index.ts'
import type { Turn } from './turns.ts'

/** One title's time: In and Out as drawn, Hold what is left. Frames. */
export interface Timing {
  in: number
  hold: number
  out: number
  total: number
  /** Where in Hold texts stand that come in turn; absent: none do. */
  turns?: readonly Turn[]
  /** It was not known when it began how long it would be held: what Hold gives goes by no end, and turns go round. */
  open?: true
}

/** A frame, told by its span and the frames since that span began. */
export interface Moment {
  span: SpanName
  at: number
}

/** The fewest frames a title can last: In and Out untouched and nothing held. */
export function shortestDuration(spans: Spans): number {
  return spans.in + spans.out
}

/**
 * Retimes to `duration` frames (undefined: as designed). In and Out keep their frames, Hold gives.
 * @throws Refusal when the duration is shorter than In + Out, with that number.
 */
export function timingOf(template: Template, duration?: number): Timing {
  const { spans } = template
  const total = duration ?? spans.in + spans.hold.frames + spans.out
  const least = shortestDuration(spans)
  demand(
    Number.isInteger(total) && total >= Math.max(1, least),
    'duration.short',
    `${total} frames are too few for "${template.name}": In and Out need ${least}; give it ${Math.max(1, least)} or more.`,
  )
  return { in: spans.in, hold: total - least, out: spans.out, total }
}

/**
 * A title that is up until it is told to leave. Its frames need not be whole: it may be shown at another rate.
 * @param out the frame at which Out begins; absent: nobody has said so yet
 */
export function openTiming({ in: first, out: last }: Spans, out = Number.POSITIVE_INFINITY): Timing {
  const begins = Math.max(out, first)
  return { in: first, hold: begins - first, out: last, total: begins + last, open: true }
}

/** The frame at which a span begins. */
export function spanStart(timing: Timing, span: SpanName): number {
  return span === 'in' ? 0 : span === 'hold' ? timing.in : timing.in + timing.hold
}

/** The frame at which each sound of a template begins; those that would begin behind the end are left out. */
export function soundStarts(template: Template, timing: Timing): { sound: SoundFile; frame: number }[] {
  return template.sounds
    .map((sound) => ({ sound, frame: spanStart(timing, sound.span) + sound.at }))
    .filter(({ frame }) => frame < timing.total)
}

/**
 * Where a frame (from 0) lies. Where nothing is held the first frame behind In still shows what has arrived, which an Out
 * that mirrors In would leave out.
 */
export function momentAt(timing: Timing, frame: number): Moment {
  if (frame < timing.in) return { span: 'in', at: frame }
  if (timing.hold === 0 && frame === timing.in) return { span: 'hold', at: 0 }
  if (frame < timing.in + timing.hold) return { span: 'hold', at: frame - timing.in }
  return { span: 'out', at: frame - timing.in - timing.hold }
}

/** A frame's moment with frames that must look the same told the same: a frozen Hold is one moment however long it is. */
export function shownMoment(spans: Spans, timing: Timing, frame: number): Moment {
  const moment = momentAt(timing, frame)
  return moment.span === 'hold' && spans.hold.gives === 'freeze' ? { span: 'hold', at: 0 } : moment
}

/** The frame at which every part has arrived: the first of Hold (or of Out, when nothing is held). */
export function restFrame(timing: Timing): number {
  return Math.min(timing.in, timing.total - 1)
}

/**
 * The frame of Hold, as designed, that a frame of a retimed Hold shows: frozen (undefined: the settled pose), the marked
 * stretch repeated, or stretched in time.
 */
export function holdFrame(spans: Spans, hold: number, at: number): number | undefined {
  const { gives, frames, loop } = spans.hold
  if (gives === 'freeze') return undefined
  // Held nobody knows how long: as designed, and then it stands.
  if (gives === 'stretch') return !Number.isFinite(hold) ? Math.min(at, frames) : hold > 0 ? (at * frames) / hold : 0
  const { from, to } = loop ?? { from: 0, to: frames }
  return at < to || to <= from ? at : from + ((at - from) % (to - from))
}

/**
 * The moment of In that an Out mirroring it shows: frame for frame backwards when both are as long, so that the last
 * frame of a title is its first; else In's frames spread over Out's.
 */
export function mirrored(spans: Spans, at: number): Moment {
  const back = spans.out - 1 - at
  return { span: 'in', at: spans.in === spans.out ? back : (back * spans.in) / Math.max(1, spans.out) }
}
