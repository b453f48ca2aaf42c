import { readFileSync } from 'node:fs'
import {
  designFrom,
  emptyProgramme,
  linked,
  type Programme,
  readProgramme,
  shotNames,
  withMarker,
  withMedium,
  withTitles,
} from '@hoja/core/programme'
import type { Template } from '@hoja/core/template'
import { frameOfTimecode, framesOf, isDropFrame } from '@hoja/core/time'

/** The demo's programme as its file has it: times in seconds from its first frame. */
interface DemoProgramme {
  name: string
  picture: Programme['picture']
  start: string
  shots: { scene: number; seconds: number; from?: number }[]
  markers: { at: number; name: string }[]
  /** `sharesWith`: the index of the title whose words it says. */
  titles: ({ template: string; at: number; seconds: number } & (
    | { cells: Record<string, string> }
    | { sharesWith: number }
  ))[]
}

/** A published version of a demo template. */
export interface DemoVersion {
  id: number
  number: number
  template: string
  document: Template
}

/** Titles over drawn shots, with what a first look at checks finds something in. */
export function demoProgramme(file: string, versionOf: (template: string) => DemoVersion): Programme {
  const { name, picture, start, shots, markers, titles } = JSON.parse(readFileSync(file, 'utf8')) as DemoProgramme
  const { rate } = picture
  const frames = (seconds: number) => framesOf(seconds, rate)
  let programme = emptyProgramme(name, picture, { at: frameOfTimecode(start, rate), drop: isDropFrame(start) })
  let at = 0
  shots.forEach(({ scene, seconds, from = 0 }, i) => {
    const medium = { kind: 'shot' as const, name: shotNames[scene]!, frames: frames(600), scene }
    const { programme: next, id } = withMedium(programme, medium)
    const clip = { kind: 'footage' as const, track: 'f1', at, frames: frames(seconds), medium: id, from: frames(from) }
    programme = { ...next, clips: { ...next.clips, [`c${i + 1}`]: clip } }
    at += clip.frames
  })
  for (const marker of markers) programme = withMarker(programme, frames(marker.at), marker.name).programme
  const designs = Object.fromEntries(
    titles.map(({ template }) => {
      const version = versionOf(template)
      return [String(version.id), designFrom(programme, version, version.document)]
    }),
  )
  const placed = withTitles(
    programme,
    titles.map((title) => ({
      at: frames(title.at),
      frames: frames(title.seconds),
      design: String(versionOf(title.template).id),
      words: { cells: 'cells' in title ? title.cells : {} },
    })),
    { track: 't1', designs },
  )
  return readProgramme(
    titles.reduce(
      (own, title, i) => ('sharesWith' in title ? linked(own, placed.ids[i]!, placed.ids[title.sharesWith]!) : own),
      placed.programme,
    ),
  )
}
