import type { Table } from '../data/index.ts'
import { demand } from '../refusal/index.ts'
import { clockOf } from './clock.ts'
import { filledTable } from './tableRoom.ts'

type Json = Record<string, unknown>
type Row = Record<string, string>

const secondsOf = (time: unknown): number => {
  const { value = 0, rate = 1 } = (time ?? {}) as { value?: number; rate?: number }
  return Number(value) / (Number(rate) || 1)
}
interface Range {
  start: number
  duration: number
}
const rangeOf = (range: unknown): Range | undefined =>
  range ? { start: secondsOf((range as Json).start_time), duration: secondsOf((range as Json).duration) } : undefined
const kindOf = (item: Json) => String(item.OTIO_SCHEMA ?? '').replace(/\.\d+$/, '')
const childrenOf = (item: Json) => (item.children as Json[] | undefined) ?? []

/** What of a clip's media there is (Clip.2 names one of several, Clip.1 has one). */
function available(clip: Json): Range | undefined {
  const key = String(clip.active_media_reference_key ?? 'DEFAULT_MEDIA')
  const media = ((clip.media_references as Json | undefined)?.[key] ?? clip.media_reference) as Json | undefined
  return rangeOf(media?.available_range)
}

/** Seconds of its own time that an item has: what is taken of it, or all of it. */
function ownRange(item: Json): Range {
  const given = rangeOf(item.source_range)
  if (given) return given
  const kind = kindOf(item)
  if (kind === 'Clip') return available(item) ?? { start: 0, duration: 0 }
  const lengths = childrenOf(item).map((child) => (kindOf(child) === 'Transition' ? 0 : ownRange(child).duration))
  return { start: 0, duration: kind === 'Stack' ? Math.max(0, ...lengths) : lengths.reduce((sum, one) => sum + one, 0) }
}

/** A stretch of the timeline in which an item is seen, and where in it the item's own time 0 lies; seconds. */
interface Seen {
  from: number
  to: number
  zero: number
}

/** The clips and markers of a timeline, each where it is in it: those of stacks inside tracks too. */
class Places {
  readonly clips: Row[] = []
  readonly markers: Row[] = []

  visit(item: Json, seen: Seen, track: string): void {
    const kind = kindOf(item)
    const from = Math.max(0, seen.from)
    if (kind === 'Clip' && seen.to > seen.from)
      this.clips.push({ Start: clockOf(from), End: clockOf(seen.to), Clip: String(item.name ?? ''), Track: track })
    for (const marker of (item.markers as Json[] | undefined) ?? []) {
      const at = rangeOf(marker.marked_range) ?? { start: 0, duration: 0 }
      const start = seen.zero + at.start
      if (start < seen.from - 1e-9 || start > seen.to + 1e-9) continue
      this.markers.push({
        Start: clockOf(start),
        ...(at.duration > 0 ? { End: clockOf(start + at.duration) } : {}),
        Text: String(marker.name ?? ''),
        Comment: String((marker.comment as string | undefined) ?? ''),
        Colour: String(marker.color ?? '').toLowerCase(),
        Clip: kind === 'Clip' ? String(item.name ?? '') : '',
        Track: track,
      })
    }
    let at = seen.zero
    for (const child of childrenOf(item)) {
      if (kindOf(child) === 'Transition') continue
      const own = ownRange(child)
      const begin = kind === 'Stack' ? seen.zero : at
      const [start, end] = [Math.max(begin, seen.from), Math.min(begin + own.duration, seen.to)]
      if (end > start)
        this.visit(
          child,
          { from: start, to: end, zero: begin - own.start },
          kindOf(child) === 'Track' ? String(child.name ?? track) : track,
        )
      at += own.duration
    }
  }
}

const byStart = (a: Row, b: Row) => a.Start!.length - b.Start!.length || (a.Start! < b.Start! ? -1 : 1)

/**
 * The clips and markers of an OpenTimelineIO file (Timeline.1) as rows, in the timeline's own time.
 * @throws Refusal for what is no timeline, and one without a clip or a marker
 */
export function readTimeline(value: unknown, name: string): { name: string; table: Table }[] {
  const timeline = (value ?? {}) as Json
  demand(
    kindOf(timeline) === 'Timeline',
    'otio.kind',
    `"${name}" is no OpenTimelineIO timeline; export the timeline itself.`,
  )
  const stack = (timeline.tracks ?? {}) as Json
  const own = ownRange(stack)
  const begin = secondsOf(timeline.global_start_time)
  const places = new Places()
  places.visit(stack, { from: begin, to: begin + own.duration, zero: begin - own.start }, '')
  const clips = places.clips.sort(byStart)
  const markers = places.markers.sort(byStart)
  demand(clips.length + markers.length > 0, 'otio.none', `"${name}" holds neither clips nor markers.`)
  return [
    ...(clips.length > 0 ? [{ name: 'Clips', table: filledTable(clips, ['Start', 'End', 'Clip'], name) }] : []),
    ...(markers.length > 0 ? [{ name: 'Markers', table: filledTable(markers, ['Start', 'Text'], name) }] : []),
  ]
}
