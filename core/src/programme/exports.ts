import {
  type EditEvent,
  editLists,
  subRip,
  type TimelineTrack,
  timelineText,
  webVtt,
  writeCsv,
} from '../formats/index.ts'
import type { Template } from '../template/index.ts'
import { clipsIn, endOf, offTracks, secondsIn, spansOfClip, timecodeIn, titlesOf } from './clips.ts'
import type { ClipId, Programme, TitleClip } from './description.ts'
import { firstWords } from './reading.ts'
import { wordsOf } from './rows.ts'

/** A rendered title's file: its way from the list, and its frames before the title's first one. */
export interface RenderedClip {
  file: string
  before: number
  frames: number
  /** Frame of day of its first frame. */
  start: number
}

/** The files of titles that are rendered as they are now. */
export type Rendered = ReadonlyMap<ClipId, RenderedClip>

/** The template of a design. */
export type TemplateOf = (design: string) => Template

/** The titles that are seen, in order of time. */
const seenTitles = (programme: Programme) => {
  const off = offTracks(programme)
  return titlesOf(programme).filter(({ clip }) => !off.has(clip.track))
}

/**
 * The programme as an OpenTimelineIO timeline: its tracks from below, titles with their spans as markers, each with the
 * file that it was rendered to, or missing media before that.
 */
export function programmeOtio(programme: Programme, rendered: Rendered): string {
  const { picture, start, name, markers } = programme
  const tracks = programme.tracks.toReversed().map((track): TimelineTrack => {
    const clips = clipsIn(programme, track.id).map(({ id, clip }) => {
      const { frames } = clip
      const at = start.at + clip.at
      if (clip.kind === 'footage') {
        const medium = programme.media[clip.medium]!
        const count = medium.kind === 'still' ? frames : medium.frames
        const media =
          medium.kind === 'shot' ? { start: 0, frames: count } : { file: medium.name, start: 0, frames: count }
        return { name: medium.name, at, frames, from: clip.from, media, marks: [] }
      }
      const file = rendered.get(id)
      const from = file ? file.start + file.before : 0
      const spans = spansOfClip(programme, clip)
      let begin = from
      const marks = (['in', 'hold', 'out'] as const).flatMap((span) => {
        begin += spans[span]
        return spans[span] > 0 ? [{ name: span, from: begin - spans[span], count: spans[span] }] : []
      })
      const media = file ? { file: file.file, start: file.start, frames: file.frames } : { start: 0, frames }
      const metadata = { hoja: { words: programme.words[clip.words]!.cells } }
      return { name: firstWords(programme, clip), at, frames, from, media, marks, metadata }
    })
    return {
      name: track.name,
      kind: track.kind === 'sound' ? 'Audio' : 'Video',
      clips,
      ...(track.off ? { off: true } : {}),
    }
  })
  const marks = Object.values(markers)
    .sort((a, b) => a.at - b.at)
    .map((marker) => ({ name: marker.name, from: start.at + marker.at, count: 0 }))
  return timelineText({ name, rate: picture.rate, start: start.at, marks }, tracks)
}

/** Titles as edit decision lists, one for every track that has some; markers are locators of the first. */
export function programmeEdls(programme: Programme, rendered: Rendered): string[] {
  const { picture, start, name, markers } = programme
  const lanes = programme.tracks.toReversed().flatMap((track) => {
    if (track.kind !== 'title' || track.off) return []
    const events = clipsIn(programme, track.id).map(({ id, clip }): EditEvent => {
      const file = rendered.get(id)
      return {
        clip: file?.file ?? firstWords(programme, clip as TitleClip),
        from: file ? file.start + file.before : 0,
        at: start.at + clip.at,
        frames: clip.frames,
      }
    })
    return events.length > 0 ? [events] : []
  })
  const locators = Object.values(markers).map((marker) => ({ at: start.at + marker.at, name: marker.name }))
  return editLists({ name, rate: picture.rate, drop: start.drop }, lanes, locators)
}

const columns = ['Timecode', 'Frame', 'Name', 'Kind', 'Length']

/** Markers, and titles with their words, as a table: what a list of markers holds anywhere. */
export function markerCsv(programme: Programme, templateOf: TemplateOf): string {
  const markers = Object.values(programme.markers).map(({ at, name }) => ({ at, frames: 0, name, kind: 'marker' }))
  const titles = seenTitles(programme).map(({ clip }) => ({
    at: clip.at,
    frames: clip.frames,
    name: wordsOf(programme, clip, templateOf(clip.design)).join(' · '),
    kind: programme.designs[clip.design]!.name,
  }))
  const rows = [...markers, ...titles]
    .sort((a, b) => a.at - b.at)
    .map(({ at, frames, name, kind }) => [
      timecodeIn(programme, at),
      String(at),
      name,
      kind,
      frames > 0 ? secondsIn(programme, frames).toFixed(2) : '',
    ])
  return `\ufeff${writeCsv(columns, rows)}`
}

const cuesOf = (programme: Programme, templateOf: TemplateOf) =>
  seenTitles(programme).flatMap(({ clip }) => {
    const text = wordsOf(programme, clip, templateOf(clip.design)).join('\n')
    return text === '' ? [] : [{ at: clip.at, frames: clip.frames, text }]
  })

/** All words with their times, from the programme's first frame. */
export const programmeSrt = (programme: Programme, templateOf: TemplateOf): string =>
  subRip(cuesOf(programme, templateOf), programme.picture.rate)
export const programmeVtt = (programme: Programme, templateOf: TemplateOf): string =>
  webVtt(cuesOf(programme, templateOf), programme.picture.rate)

/** All words, for a person to read. */
export function textList(programme: Programme, templateOf: TemplateOf): string {
  const lines = seenTitles(programme).map(({ clip }) => {
    const words = wordsOf(programme, clip, templateOf(clip.design))
      .join(' · ')
      .replace(/\s*\n\s*/g, ' / ')
    return `${timecodeIn(programme, clip.at)}  ${timecodeIn(programme, endOf(clip))}  ${words}`
  })
  return `${[programme.name, '', ...lines].join('\r\n')}\r\n`
}
