import { editLists, type TimelineClip, timelineText } from '../formats/index.ts'
import { nominalRate, type Rate } from '../time/index.ts'
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

/** A file in its place. @param start frame of day of each file's first frame */
function clipIn(clip: ConformClip, { at, from, frames }: { at: number; from: number; frames: number }, start: number) {
  return { name: clip.name, at, frames, from: start + from, media: { file: clip.file, start, frames: clip.frames } }
}

/** The files of an output in their places, as an OpenTimelineIO timeline. */
export function conformOtio(conform: Conform): string {
  const { name, rate, start } = conform
  const lanes = lanesOf(conform)
  const tracks = lanes.map((lane, n) => ({
    name: `V${n + 1}`,
    kind: 'Video' as const,
    clips: lane.map((clip): TimelineClip => {
      const { stretches, at, own } = clip
      // Spans of a title as markers, the first frame of its file being 0.
      const marks = spansOf(stretches).map((span) => ({ ...span, from: start + span.from }))
      return { ...clipIn(clip, { at, from: stretches.before, frames: own }, start), marks }
    }),
  }))
  return timelineText({ name, rate, start: Math.min(...lanes.map(([clip]) => clip!.at)) }, tracks)
}

/** The three spans of one file as clips, one behind another: a sidecar that marks where Hold gives. */
export function spansOtio(clip: ConformClip, rate: Rate, start: number): string {
  let at = start
  const clips = spansOf(clip.stretches).map(({ name, from, count }) => {
    at += count
    return { ...clipIn(clip, { at: at - count, from, frames: count }, start), name, marks: [] }
  })
  return timelineText({ name: clip.name, rate, start }, [{ name: 'V1', kind: 'Video', clips }])
}

/** The same as edit decision lists. */
export function conformEdls(conform: Conform): { name: string; text: string }[] {
  const { start } = conform
  const lanes = lanesOf(conform).map((lane) =>
    lane.map(({ file, stretches, at, own }) => ({ clip: file, from: start + stretches.before, at, frames: own })),
  )
  return editLists(conform, lanes).map((text, n) => ({
    name: n === 0 ? 'conform.edl' : `conform_${n + 1}.edl`,
    text,
  }))
}
