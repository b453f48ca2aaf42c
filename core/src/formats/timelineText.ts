import type { Rate } from '../time/index.ts'

/** A file that a clip is of: from which frame on it counts, and how many it has. */
export interface ClipMedia {
  /** A relative path, or an address; absent: there is none yet. */
  file?: string
  start: number
  frames: number
}

/** Something named that lies on frames of a clip's medium, or of the timeline. */
export interface TimedMark {
  name: string
  from: number
  count: number
}

/** A clip as a timeline has it. */
export interface TimelineClip {
  name: string
  /** Frame of the timeline, counted like the timeline's own start. */
  at: number
  frames: number
  /** Frame of its medium, counted like that's start. */
  from: number
  media: ClipMedia
  marks: readonly TimedMark[]
  metadata?: object
}

export interface TimelineTrack {
  name: string
  kind: 'Video' | 'Audio'
  /** In order, none over another. */
  clips: readonly TimelineClip[]
  off?: boolean
}

const time = (value: number, { num, den }: Rate) => ({ OTIO_SCHEMA: 'RationalTime.1', rate: num / den, value })
const range = (start: number, duration: number, rate: Rate) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: time(start, rate),
  duration: time(duration, rate),
})

const marker = ({ name, from, count }: TimedMark, rate: Rate) => ({
  OTIO_SCHEMA: 'Marker.2',
  name,
  color: 'GREEN',
  marked_range: range(from, count, rate),
  metadata: {},
})

const referenceOf = ({ file, start, frames }: ClipMedia, rate: Rate) =>
  file === undefined
    ? {
        OTIO_SCHEMA: 'MissingReference.1',
        name: '',
        available_range: null,
        metadata: {},
      }
    : {
        OTIO_SCHEMA: 'ExternalReference.1',
        target_url: file.split('/').map(encodeURIComponent).join('/'),
        available_range: range(start, frames, rate),
        metadata: {},
      }

const clipOf = ({ name, frames, from, media, marks, metadata = {} }: TimelineClip, rate: Rate) => ({
  OTIO_SCHEMA: 'Clip.2',
  name,
  enabled: true,
  source_range: range(from, frames, rate),
  media_references: { DEFAULT_MEDIA: referenceOf(media, rate) },
  active_media_reference_key: 'DEFAULT_MEDIA',
  effects: [],
  markers: marks.map((mark) => marker(mark, rate)),
  metadata,
})

const gapOf = (frames: number, rate: Rate) => ({
  OTIO_SCHEMA: 'Gap.1',
  name: '',
  enabled: true,
  source_range: range(0, frames, rate),
  effects: [],
  markers: [],
  metadata: {},
})

function trackOf({ name, kind, clips, off = false }: TimelineTrack, first: number, rate: Rate) {
  const children: object[] = []
  let end = first
  for (const clip of clips) {
    if (clip.at > end) children.push(gapOf(clip.at - end, rate))
    children.push(clipOf(clip, rate))
    end = clip.at + clip.frames
  }
  return {
    OTIO_SCHEMA: 'Track.1',
    name,
    kind,
    enabled: !off,
    source_range: null,
    effects: [],
    markers: [],
    children,
    metadata: {},
  }
}

/**
 * A timeline as OpenTimelineIO has it in JSON (Timeline.1, Clip.2).
 * @param start frame of day of its first frame @param tracks from below
 */
export function timelineText(
  { name, rate, start, marks = [] }: { name: string; rate: Rate; start: number; marks?: readonly TimedMark[] },
  tracks: readonly TimelineTrack[],
): string {
  return `${JSON.stringify(
    {
      OTIO_SCHEMA: 'Timeline.1',
      name,
      global_start_time: time(start, rate),
      tracks: {
        OTIO_SCHEMA: 'Stack.1',
        name: 'tracks',
        enabled: true,
        source_range: null,
        effects: [],
        markers: marks.map((mark) => marker(mark, rate)),
        children: tracks.map((track) => trackOf(track, start, rate)),
        metadata: {},
      },
      metadata: {},
    },
    null,
    2,
  )}\n`
}
