import { type FrameSettings, templateFor } from '../output/index.ts'
import { demand, Refusal } from '../refusal/index.ts'
import { faultIn } from '../schema/index.ts'
import { refusalOf, type Template } from '../template/index.ts'
import { clipsByTrack, endOf, fitsTrack, leastOf, mediumFrames, timecodeIn } from './clips.ts'
import { currentProgramme, type Design, type Programme, programmeSchema, type TitleClip } from './description.ts'

/** A programme without anything in it: a track for titles over one for footage, at one hour (common practice). */
export function emptyProgramme(name: string, picture: Programme['picture'], start: Programme['start']): Programme {
  return {
    schema: currentProgramme,
    name,
    picture,
    start,
    rules: { longest: 0, apart: 0, end: 0 },
    designs: {},
    media: {},
    tracks: [
      { id: 't1', name: 'Titles 1', kind: 'title' },
      { id: 'f1', name: 'Footage', kind: 'footage' },
    ],
    clips: {},
    words: {},
    markers: {},
    cuts: [],
  }
}

/**
 * Reads a programme's document: its shape, that everything it names is there, that no clip lies over another of its track,
 * and that no title is shorter than its In and Out.
 * @param known one that is right, of which this one was made: what the two share is not looked at again
 * @throws Refusal with one sentence naming the place
 */
export function readProgramme(value: unknown, known?: Programme): Programme {
  const schema = (value as { schema?: unknown } | null)?.schema
  demand(
    !(typeof schema === 'number' && schema > currentProgramme),
    'programme.newer',
    `This programme was written by a newer Hoja (schema ${schema}, this one reads up to ${currentProgramme}); update Hoja to open it.`,
  )
  const fault = faultIn(programmeSchema, value, known)
  if (fault) throw new Refusal('programme.shape', refusalOf(value, fault, 'The programme is not right: '))
  const programme = value as Programme
  // Clips that were right stay so while all that they name stays as it was.
  const isSame = (key: 'tracks' | 'designs' | 'words' | 'media') => programme[key] === known?.[key]
  const right = isSame('tracks') && isSame('designs') && isSame('words') && isSame('media') ? known!.clips : {}
  checkNames(programme, right)
  checkPlaces(programme, right)
  return programme
}

const has = (map: object, key: string) => Object.hasOwn(map, key)

function checkNames(programme: Programme, right: Programme['clips']): void {
  const { tracks, clips, designs, words, media } = programme
  const byId = new Map(tracks.map((track) => [track.id, track]))
  demand(byId.size === tracks.length, 'programme.track', 'Two tracks have the same id; give each its own.')
  for (const id of Object.keys(clips)) {
    const clip = clips[id]!
    if (right[id] === clip) continue
    const track = byId.get(clip.track)
    demand(track, 'programme.track', `The clip "${id}" lies on a track "${clip.track}" that is not there.`)
    if (clip.kind === 'title') {
      demand(has(designs, clip.design), 'programme.design', `The title "${id}" is of a version that is not told.`)
      demand(has(words, clip.words), 'programme.words', `The words of the title "${id}" are not there.`)
    } else demand(has(media, clip.medium), 'programme.medium', `The footage of the clip "${id}" is not there.`)
    demand(
      fitsTrack(programme, clip, track),
      'programme.track',
      clip.kind === 'title'
        ? `"${track.name}" takes no titles; put it on a track of titles.`
        : `"${track.name}" does not take that; footage and sounds have tracks of their own.`,
    )
  }
}

/** Lengths that can be, and clips of a track beside one another. */
function checkPlaces(programme: Programme, right: Programme['clips']): void {
  for (const id of Object.keys(programme.clips)) {
    const clip = programme.clips[id]!
    if (right[id] === clip) continue
    if (clip.kind === 'title') {
      const design = programme.designs[clip.design]!
      demand(clip.frames >= leastOf(design), 'programme.short', tooShort(design, clip.frames))
    } else {
      const medium = programme.media[clip.medium]!
      demand(
        clip.from + clip.frames <= mediumFrames(medium),
        'programme.medium',
        `"${medium.name}" has no more frames than ${mediumFrames(medium)}; the clip "${id}" wants ${clip.from + clip.frames}.`,
      )
    }
  }
  for (const list of clipsByTrack(programme).values())
    for (let i = 1; i < list.length; i++) {
      const [before, { clip }] = [list[i - 1]!.clip, list[i]!]
      // The sentence takes longer than all else: it is made when it is needed.
      if (endOf(before) > clip.at)
        throw new Refusal('programme.taken', `${taken(programme, before)}; put it beside that.`)
    }
}

/** Why a title can't be so short. */
export const tooShort = (design: Design, frames: number): string =>
  `${frames} ${frames === 1 ? 'frame is' : 'frames are'} too few for "${design.name}": its In of ${design.in} and its Out of ${design.out} stay whole, so it needs ${leastOf(design)}.`

/** What lies where something else was to go. */
export function taken(programme: Programme, clip: Programme['clips'][string]): string {
  const name = clip.kind === 'title' ? firstWords(programme, clip) : programme.media[clip.medium]!.name
  return `"${name}" is there from ${timecodeIn(programme, clip.at)} to ${timecodeIn(programme, endOf(clip))}`
}

/** What a title is called among others: the first of its words, else its template. */
export function firstWords(programme: Programme, clip: TitleClip): string {
  const cells = Object.values(programme.words[clip.words]!.cells)
  return cells.find((cell) => cell.trim() !== '')?.trim() ?? programme.designs[clip.design]!.name
}

/** How a programme draws its titles: for its picture, at its rate. */
export const drawnFor = ({ picture }: Pick<Programme, 'picture'>, shape?: string): FrameSettings => ({
  size: { width: picture.width, height: picture.height },
  rate: picture.rate,
  ...(shape === undefined ? {} : { shape }),
})

/** What a programme's timeline needs of a published version of a template. */
export function designFrom(
  { picture }: Pick<Programme, 'picture'>,
  { template, number }: { template: string; number: number },
  designed: Template,
): Design {
  const { spans } = templateFor({ rate: picture.rate }, designed)
  const { in: first, out, hold } = spans
  return { template, name: designed.name, number, in: first, out, frames: Math.max(1, first + hold.frames + out) }
}
