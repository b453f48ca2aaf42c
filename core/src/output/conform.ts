import { nominalRate, type Rate, timecodeOf } from '../time/index.ts'
import { framesIn, type Stretches, spansOf } from './pieces.ts'

/** A rendered file as an edit takes it. */
export interface ConformClip {
  /** What it is called in the edit. */
  name: string
  /** Its way from the list. */
  file: string
  /** Frames of the file, and of them the title's own, handles aside. */
  frames: number
  stretches: Stretches
  /** Frame of the edit at which it begins, from midnight; absent: behind the one before. */
  from?: number
}

export interface Conform {
  name: string
  rate: Rate
  /** Frame of day of each file's first frame, and whether timecode drops numbers. */
  start: number
  drop: boolean
  clips: readonly ConformClip[]
}

/** Clips in the order of the edit, in lanes in which none lies over another. */
interface Placed extends ConformClip {
  at: number
  own: number
}

/** Where an edit begins that says nothing else: one hour (common practice). */
const editStart = (rate: Rate, drop: boolean) => 3600 * nominalRate(rate) - (drop ? 108 * (nominalRate(rate) / 30) : 0)

/** @returns lanes, each in order; what would lie over another clip goes to the next lane */
function lanesOf({ clips, rate, drop }: Conform): Placed[][] {
  const placed: Placed[] = []
  const isTimed = clips.some(({ from }) => from !== undefined)
  let end = isTimed ? 0 : editStart(rate, drop)
  for (const clip of clips) {
    const own = framesIn(clip.stretches)
    const at = clip.from ?? end
    placed.push({ ...clip, at, own })
    end = at + own
  }
  const lanes: Placed[][] = []
  for (const clip of [...placed].sort((a, b) => a.at - b.at)) {
    const lane = lanes.find((one) => one.at(-1)!.at + one.at(-1)!.own <= clip.at)
    if (lane) lane.push(clip)
    else lanes.push([clip])
  }
  return lanes
}

const time = (value: number, { num, den }: Rate) => ({ OTIO_SCHEMA: 'RationalTime.1', rate: num / den, value })
const range = (start: number, duration: number, rate: Rate) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: time(start, rate),
  duration: time(duration, rate),
})

/** Spans of a title as markers, the first frame of its file being 0. */
const spanMarkers = (stretches: Stretches, start: number, rate: Rate) =>
  spansOf(stretches).map(({ name, from, count }) => ({
    OTIO_SCHEMA: 'Marker.2',
    name,
    color: 'GREEN',
    marked_range: range(start + from, count, rate),
    metadata: {},
  }))

const reference = (file: string, start: number, frames: number, rate: Rate) => ({
  OTIO_SCHEMA: 'ExternalReference.1',
  target_url: file.split('/').map(encodeURIComponent).join('/'),
  available_range: range(start, frames, rate),
  metadata: {},
})

const clipOf = (name: string, media: object, source: object, markers: object[]) => ({
  OTIO_SCHEMA: 'Clip.2',
  name,
  enabled: true,
  source_range: source,
  media_references: { DEFAULT_MEDIA: media },
  active_media_reference_key: 'DEFAULT_MEDIA',
  effects: [],
  markers,
  metadata: {},
})

const timeline = (name: string, start: object, tracks: object[]) =>
  `${JSON.stringify(
    {
      OTIO_SCHEMA: 'Timeline.1',
      name,
      global_start_time: start,
      tracks: {
        OTIO_SCHEMA: 'Stack.1',
        name: 'tracks',
        enabled: true,
        source_range: null,
        effects: [],
        markers: [],
        children: tracks,
        metadata: {},
      },
      metadata: {},
    },
    null,
    2,
  )}\n`

const track = (name: string, children: object[]) => ({
  OTIO_SCHEMA: 'Track.1',
  name,
  kind: 'Video',
  enabled: true,
  source_range: null,
  effects: [],
  markers: [],
  children,
  metadata: {},
})

/** The files of an output in their places, as OpenTimelineIO has a timeline in JSON (Timeline.1, Clip.2). */
export function conformOtio(conform: Conform): string {
  const { name, rate, start } = conform
  const lanes = lanesOf(conform)
  const first = Math.min(...lanes.map(([clip]) => clip!.at))
  const tracks = lanes.map((lane, n) => {
    const children: object[] = []
    let end = first
    for (const clip of lane) {
      if (clip.at > end)
        children.push({
          OTIO_SCHEMA: 'Gap.1',
          name: '',
          enabled: true,
          source_range: range(0, clip.at - end, rate),
          effects: [],
          markers: [],
          metadata: {},
        })
      const media = reference(clip.file, start, clip.frames, rate)
      const source = range(start + clip.stretches.before, clip.own, rate)
      children.push(clipOf(clip.name, media, source, spanMarkers(clip.stretches, start, rate)))
      end = clip.at + clip.own
    }
    return track(`V${n + 1}`, children)
  })
  return timeline(name, time(first, rate), tracks)
}

/** The three spans of one file as clips, one behind another: a sidecar that marks where Hold gives. */
export function spansOtio(clip: ConformClip, rate: Rate, start: number): string {
  const media = reference(clip.file, start, clip.frames, rate)
  const clips = spansOf(clip.stretches).map(({ name, from, count }) =>
    clipOf(name, media, range(start + from, count, rate), []),
  )
  return timeline(clip.name, time(start, rate), [track('V1', clips)])
}

/** Events that a list of three digits holds. */
const mostEvents = 999

/**
 * The same as edit decision lists by CMX 3600, one for every lane and every 999 events. Columns: event, reel (`AX`: a file
 * without a reel), track, cut, and the source's and the edit's in and out; the name of the file follows as a comment.
 */
export function conformEdls(conform: Conform): { name: string; text: string }[] {
  const { name, rate, start, drop } = conform
  const lists = lanesOf(conform).flatMap((lane) =>
    Array.from({ length: Math.ceil(lane.length / mostEvents) }, (_, i) =>
      lane.slice(i * mostEvents, (i + 1) * mostEvents),
    ),
  )
  return lists.map((clips, n) => {
    const events = clips.flatMap((clip, i) => {
      const source = start + clip.stretches.before
      const codes = [source, source + clip.own, clip.at, clip.at + clip.own].map((frame) =>
        timecodeOf(frame, rate, drop),
      )
      const event = String(i + 1).padStart(3, '0')
      return [
        `${event}  AX       V     C        ${codes.join(' ')}`,
        `* FROM CLIP NAME: ${clip.file.replace(/[\r\n]+/g, ' ')}`,
        '',
      ]
    })
    const head = [`TITLE: ${name.replace(/[\r\n]+/g, ' ').slice(0, 70)}`, `FCM: ${drop ? '' : 'NON-'}DROP FRAME`, '']
    return { name: n === 0 ? 'conform.edl' : `conform_${n + 1}.edl`, text: `${[...head, ...events].join('\r\n')}\r\n` }
  })
}
