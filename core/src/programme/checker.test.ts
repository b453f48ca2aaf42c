import { KnownNames, Looks } from '../data/index.ts'
import { Scene } from '../scene/index.ts'
import { allParts, type Template } from '../template/index.ts'
import { resources } from '../testing/raster.ts'
import { assets, speaker } from '../testing/speaker.ts'
import {
  type ClipId,
  emptyProgramme,
  moved,
  type Programme,
  ProgrammeChecker,
  withFootage,
  withMedium,
  withTitles,
} from './index.ts'

const { width, height, rate } = speaker.frame

/** The speaker's words in white, with nothing seen of what they stand on. */
const bare: Template = structuredClone(speaker)
for (const part of allParts(bare.parts)) {
  if (part.kind === 'text') Object.assign(part.style, { colour: '#ffffff', shadows: [] })
  else if (part.kind === 'picture') part.unseen = 'No mark here.'
  else if (part.kind !== 'group') Object.assign(part.style, { opacity: 0 })
}

/** A title over a still, and 500 frames later the same over another one. */
function programmeOver(first: string, second: string) {
  let programme: Programme = emptyProgramme('Thursday', { width, height, rate }, { at: 0, drop: false })
  const track = programme.tracks.find(({ kind }) => kind === 'footage')!.id
  for (const [i, sha256] of [first, second].entries()) {
    const added = withMedium(programme, { kind: 'still', name: sha256, sha256, width, height })
    programme = withFootage(added.programme, added.id, i * 500, track).programme
  }
  const titles = [5, 505].map((at) => ({
    at,
    frames: 100,
    design: '1',
    words: { cells: { name: 'Io Marrec', role: 'Tide-mill keeper' } },
  }))
  const own = { template: 'speaker', name: 'Speaker', number: 1, in: 15, out: 15, frames: 100 }
  const placed = withTitles(programme, titles, { track: 't1', designs: { 1: own } })
  return { programme: placed.programme, ids: placed.ids as [ClipId, ClipId] }
}

const still = (level: number) => new Uint8ClampedArray(width * height * 4).map((_, i) => (i % 4 === 3 ? 255 : level))
const stills: Record<string, Uint8ClampedArray> = { white: still(255), dark: still(20) }

function checked(programme: Programme, ids: readonly ClipId[], template = bare) {
  const checker = new ProgrammeChecker(new KnownNames([]), '2026-05-07T12:00', new Looks(resources), {
    pixelsOf: (sha256) => {
      const rgba = stills[sha256]
      return rgba && { id: sha256, width, height, rgba }
    },
  })
  checker.setScene('1', undefined, new Scene(template, assets))
  for (const id of ids) checker.look(programme, id)
  return {
    checker,
    of: (id: ClipId, own = programme) =>
      (checker.findings(own).get(id) ?? []).filter(({ code }) => code === 'seen' || code === 'faint'),
  }
}

test('a title is looked at over what lies under it in its place', () => {
  const { programme, ids } = programmeOver('white', 'dark')
  const { of, checker } = checked(programme, ids)
  expect(of(ids[0]).map(({ level, message }) => `${level} ${message}`)).toEqual(
    ['Role', 'Name'].map((name) => `stop ${name} and the footage under it are the same colour.`),
  )
  expect(of(ids[1])).toEqual([])
  expect(checker.wants(programme, ids[0]).map(({ medium }) => medium.sha256)).toEqual(['white', 'white', 'white'])
})

test('what stands on a plate of its own is seen over whatever footage', () => {
  const { programme, ids } = programmeOver('white', 'dark')
  const { of } = checked(programme, ids, speaker)
  expect(ids.flatMap((id) => of(id))).toEqual([])
})

test('a title that goes to another place is looked at anew, and one whose footage cannot be had over black, white and grey', () => {
  const { programme, ids } = programmeOver('dark', 'gone')
  const { of, checker } = checked(programme, ids)
  expect(ids.flatMap((id) => of(id))).toEqual([])
  const away = moved(programme, [ids[0]], 200)
  expect(checker.isLooked(programme, ids[0])).toBe(true)
  expect(checker.isLooked(away, ids[0])).toBe(false)
})
