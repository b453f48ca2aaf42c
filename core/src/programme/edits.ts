import { demand, Refusal } from '../refusal/index.ts'
import { clipsIn, endOf, fitsTrack, leastOf, mediumFrames, titlesOf } from './clips.ts'
import type {
  ClipId,
  Design,
  FootageClip,
  Medium,
  Programme,
  ProgrammeClip,
  TitleClip,
  Track,
  Words,
} from './description.ts'
import { firstWords, taken } from './reading.ts'

/** Turns one state of a programme into another. @throws Refusal for what cannot be; nothing has changed then */
export type ProgrammeChange = (programme: Programme) => Programme

type Clips = Programme['clips']

/** Ids that nothing has yet: a letter and the next number. */
function* fresh(of: object, letter: string): Generator<string, never> {
  let n = Object.keys(of).reduce((most, id) => Math.max(most, Number(/^[a-z](\d+)$/.exec(id)?.[1] ?? 0)), 0)
  for (;;) yield `${letter}${++n}`
}
export const freshIn = (of: object, letter: string): string => fresh(of, letter).next().value

function clipOf(programme: Programme, id: ClipId): ProgrammeClip {
  const clip = Object.hasOwn(programme.clips, id) ? programme.clips[id] : undefined
  if (!clip) throw new Refusal('programme.clip', 'That clip is not there any more.')
  return clip
}

export function titleOf(programme: Programme, id: ClipId): TitleClip {
  const clip = clipOf(programme, id)
  if (clip.kind !== 'title') throw new Refusal('programme.title', 'That is footage; only titles have words.')
  return clip
}

/** A programme without what nothing in it names any more. */
function swept(programme: Programme): Programme {
  const used = { words: new Set<string>(), designs: new Set<string>() }
  for (const clip of Object.values(programme.clips))
    if (clip.kind === 'title') {
      used.words.add(clip.words)
      used.designs.add(clip.design)
    }
  const kept = <T>(map: Record<string, T>, ids: ReadonlySet<string>) =>
    Object.keys(map).every((id) => ids.has(id))
      ? map
      : Object.fromEntries(Object.entries(map).filter(([id]) => ids.has(id)))
  const [words, designs] = [kept(programme.words, used.words), kept(programme.designs, used.designs)]
  return words === programme.words && designs === programme.designs ? programme : { ...programme, words, designs }
}

// --- placing

/** A title that is to be placed. */
export interface NewTitle {
  at: number
  frames: number
  design: string
  shape?: string | undefined
  words: Words
}

/** A track with room for a clip: the one that is asked for, else the next one above it that has, else a new one. */
function roomFor(programme: Programme, wanted: string, clip: ProgrammeClip): { programme: Programme; track: string } {
  const at = programme.tracks.findIndex(({ id }) => id === wanted)
  for (let i = at < 0 ? programme.tracks.length - 1 : at; i >= 0; i--) {
    const track = programme.tracks[i]!
    if (fitsTrack(programme, clip, track) && !inTheWay(programme, track.id, clip)) return { programme, track: track.id }
  }
  const kind = clip.kind === 'title' ? 'title' : mediumKind(programme.media[clip.medium]!)
  const first = programme.tracks.findIndex((track) => track.kind === kind)
  const added = newTrack(programme, kind)
  const tracks = programme.tracks.toSpliced(first < 0 ? programme.tracks.length : first, 0, added)
  return { programme: { ...programme, tracks }, track: added.id }
}

const mediumKind = ({ kind }: Medium): Track['kind'] => (kind === 'sound' ? 'sound' : 'footage')

/** The clip of a track that a clip would lie over. */
function inTheWay(
  programme: Pick<Programme, 'clips'>,
  track: string,
  { at, frames }: Pick<ProgrammeClip, 'at' | 'frames'>,
): ProgrammeClip | undefined {
  return clipsIn(programme, track).find(({ clip }) => clip.at < at + frames && endOf(clip) > at)?.clip
}

/**
 * Places titles on a track; one that would lie over another clip goes to the track above it.
 * @param designs those that the programme does not have yet
 * @returns the programme, and the clips in the order of the titles
 */
export function withTitles(
  programme: Programme,
  titles: readonly NewTitle[],
  { track, designs }: { track: string; designs: Record<string, Design> },
): { programme: Programme; ids: ClipId[] } {
  let next: Programme = { ...programme, designs: { ...programme.designs, ...designs } }
  const [ids, words] = [fresh(programme.clips, 'c'), fresh(programme.words, 'w')]
  const made: ClipId[] = []
  // Many at once are sorted into lanes without a new programme for each.
  const ends = new Map<string, number>()
  const order = titles.map((_, i) => i).sort((a, b) => titles[a]!.at - titles[b]!.at)
  const clips: Clips = { ...next.clips }
  const spoken = { ...next.words }
  for (const i of order) {
    const { at, frames, design, shape, words: own } = titles[i]!
    const clip: TitleClip = {
      kind: 'title',
      track,
      at,
      frames: Math.max(frames, leastOf(next.designs[design]!)),
      design,
      words: words.next().value,
      ...(shape === undefined ? {} : { shape }),
    }
    const lane = laneFor(next, track, clip, ends)
    next = lane.programme
    ends.set(lane.track, endOf(clip))
    const id = ids.next().value
    clips[id] = { ...clip, track: lane.track }
    spoken[clip.words] = own
    made[i] = id
  }
  return { programme: { ...next, clips, words: spoken }, ids: made }
}

/** As `roomFor`, of titles that come in order of time. @param ends by track, where the last of them ends */
function laneFor(programme: Programme, wanted: string, clip: TitleClip, ends: ReadonlyMap<string, number>) {
  const at = programme.tracks.findIndex(({ id }) => id === wanted)
  for (let i = at; i >= 0; i--) {
    const track = programme.tracks[i]!
    if (track.kind === 'title' && (ends.get(track.id) ?? 0) <= clip.at && !inTheWay(programme, track.id, clip))
      return { programme, track: track.id }
  }
  const added = newTrack(programme, 'title')
  return { programme: { ...programme, tracks: [added, ...programme.tracks] }, track: added.id }
}

/** Adds a medium, unless the same is there. */
export function withMedium(programme: Programme, medium: Medium): { programme: Programme; id: string } {
  const text = JSON.stringify(medium)
  const same = Object.entries(programme.media).find(([, one]) => JSON.stringify(one) === text)
  if (same) return { programme, id: same[0] }
  const id = freshIn(programme.media, 'm')
  return { programme: { ...programme, media: { ...programme.media, [id]: medium } }, id }
}

/** Places a medium, all of it; a still lasts five seconds. */
export function withFootage(
  programme: Programme,
  medium: string,
  at: number,
  wanted: string,
): { programme: Programme; id: ClipId } {
  const { num, den } = programme.picture.rate
  const all = mediumFrames(programme.media[medium]!)
  const frames = Number.isFinite(all) ? all : Math.max(1, Math.round((5 * num) / den))
  const clip: FootageClip = { kind: 'footage', track: wanted, at, frames, medium, from: 0 }
  const { programme: roomy, track } = roomFor(programme, wanted, clip)
  const id = freshIn(programme.clips, 'c')
  return { programme: { ...roomy, clips: { ...roomy.clips, [id]: { ...clip, track } } }, id }
}

/** Where a movie cuts, in frames of its own rate, as it was found; the timeline draws them wherever it lies. */
export function withMovieCuts(programme: Programme, medium: string, found: readonly number[]): Programme {
  const own = programme.media[medium]
  demand(own?.kind === 'movie', 'programme.cuts', 'Only a movie has cuts that can be found.')
  const { num, den } = programme.picture.rate
  const at = (cut: number) => Math.round((cut * own.rate.den * num) / (own.rate.num * den))
  const cuts = [...new Set(found.map(at))].filter((cut) => cut > 0 && cut < own.frames)
  return { ...programme, media: { ...programme.media, [medium]: { ...own, cuts } } }
}

// --- moving

/**
 * Moves clips together: so many frames later, so many tracks down.
 * @throws Refusal where something is in the way, or a track does not take them
 */
export function moved(programme: Programme, ids: readonly ClipId[], frames: number, tracks = 0): Programme {
  const own = new Set(ids)
  const first = Math.min(...ids.map((id) => clipOf(programme, id).at))
  const by = Math.max(-first, frames)
  const clips: Clips = { ...programme.clips }
  for (const id of own) {
    const clip = programme.clips[id]!
    const at = programme.tracks.findIndex((track) => track.id === clip.track) + tracks
    const track = programme.tracks[at]
    demand(track && fitsTrack(programme, clip, track), 'programme.track', 'There is no track for it that way.')
    clips[id] = { ...clip, at: clip.at + by, track: track.id }
  }
  const next = { ...programme, clips }
  demandRoom(next, own)
  return next
}

/** @throws Refusal where some clips lie over another */
function demandRoom(programme: Programme, ids: ReadonlySet<ClipId>): void {
  for (const track of new Set([...ids].map((id) => programme.clips[id]!.track))) {
    const list = clipsIn(programme, track)
    // Where any lie over one another, two that are neighbours do.
    for (let i = 1; i < list.length; i++) {
      const [before, after] = [list[i - 1]!, list[i]!]
      if (endOf(before.clip) <= after.clip.at) continue
      const { clip } = ids.has(before.id) ? after : before
      throw new Refusal('programme.taken', `There is no room: ${taken(programme, clip)}.`)
    }
  }
}

/** Of clips that go along with a length: on the same track, or, of footage, on all of them, with markers and cuts. */
function rippled(programme: Programme, track: string, from: number, by: number, but: ReadonlySet<ClipId>): Programme {
  const isAll = programme.tracks.find(({ id }) => id === track)?.kind === 'footage'
  const clips = Object.fromEntries(
    Object.entries(programme.clips).map(([id, clip]) =>
      clip.at >= from && !but.has(id) && (isAll || clip.track === track)
        ? [id, { ...clip, at: Math.max(0, clip.at + by) }]
        : [id, clip],
    ),
  )
  const next = { ...programme, clips }
  // What would lie over what stays is in the way.
  if (by < 0) demandRoom(next, new Set(Object.keys(clips).filter((id) => clips[id] !== programme.clips[id])))
  if (!isAll) return next
  return {
    ...next,
    markers: Object.fromEntries(
      Object.entries(next.markers).map(([id, marker]) =>
        marker.at >= from ? [id, { ...marker, at: Math.max(0, marker.at + by) }] : [id, marker],
      ),
    ),
    cuts: next.cuts.map((cut) => (cut >= from ? Math.max(0, cut + by) : cut)),
  }
}

// --- trimming

export type TrimEdge = 'start' | 'end'

/** How far one edge of a clip goes, in frames of the programme, and what stops it at either end. */
export interface TrimRoom {
  least: number
  most: number
  /** In a sentence. */
  why: { least: string; most: string }
}

/** @param ripple what is behind it goes along, so that it is not in the way */
export function trimRoom(programme: Programme, id: ClipId, edge: TrimEdge, ripple = false): TrimRoom {
  const clip = clipOf(programme, id)
  const beside = clipsIn(programme, clip.track)
  const i = beside.findIndex((one) => one.id === id)
  const [before, after] = [beside[i - 1]?.clip, beside[i + 1]?.clip]
  const design = clip.kind === 'title' ? programme.designs[clip.design]! : undefined
  const shortest = design ? leastOf(design) : 1
  const whole = design
    ? `In and Out stay whole: ${shortest} ${shortest === 1 ? 'frame is' : 'frames are'} the least.`
    : 'One frame is the least.'
  if (edge === 'end') {
    const end = Number.MAX_SAFE_INTEGER
    const media = clip.kind === 'footage' ? clip.at + mediumFrames(programme.media[clip.medium]!) - clip.from : end
    const next = after && !ripple ? after.at : end
    return {
      least: clip.at + shortest,
      most: Math.min(media, next),
      why: { least: whole, most: media < next ? 'The footage ends here.' : after ? `${taken(programme, after)}.` : '' },
    }
  }
  const media = clip.kind === 'footage' ? clip.at - clip.from : 0
  const last = before && !ripple ? endOf(before) : 0
  return {
    // What ripples keeps its place, and what is behind it comes closer: nothing before it is in the way.
    least: Math.max(ripple ? Number.MIN_SAFE_INTEGER : 0, media, last),
    most: endOf(clip) - shortest,
    why: {
      least:
        before && last >= media
          ? `${taken(programme, before)}.`
          : media > 0
            ? 'The footage begins here.'
            : 'The programme begins here.',
      most: whole,
    },
  }
}

/**
 * Moves one edge of a clip; of a title only Hold gives.
 * @param to frame of the programme: the first one of the clip, or the one behind its last
 * @throws Refusal where it can't go
 */
export function trimmed(programme: Programme, id: ClipId, edge: TrimEdge, to: number, ripple = false): Programme {
  const clip = clipOf(programme, id)
  const { least, most, why } = trimRoom(programme, id, edge, ripple)
  demand(to >= least, 'programme.trim', why.least)
  demand(to <= most, 'programme.trim', why.most)
  if (edge === 'end') {
    const next = { ...programme, clips: { ...programme.clips, [id]: { ...clip, frames: to - clip.at } } }
    return ripple ? rippled(next, clip.track, endOf(clip), to - endOf(clip), new Set([id])) : next
  }
  const by = to - clip.at
  const shorter = {
    ...clip,
    at: ripple ? clip.at : to,
    frames: clip.frames - by,
    ...(clip.kind === 'footage' ? { from: clip.from + by } : {}),
  }
  const next = { ...programme, clips: { ...programme.clips, [id]: shorter } }
  return ripple ? rippled(next, clip.track, endOf(clip), -by, new Set([id])) : next
}

/** Shows other frames of the footage in the same place; as far as it goes. @param by frames later */
export function slipped(programme: Programme, id: ClipId, by: number): Programme {
  const clip = clipOf(programme, id)
  demand(clip.kind === 'footage', 'programme.slip', 'A title has nothing to slip; only footage has.')
  const most = mediumFrames(programme.media[clip.medium]!) - clip.frames
  const from = Math.max(0, Math.min(Number.isFinite(most) ? most : 0, clip.from + by))
  return { ...programme, clips: { ...programme.clips, [id]: { ...clip, from } } }
}

/** Splits clips at a frame; of a title both have their In and Out, and words of their own. */
export function split(
  programme: Programme,
  ids: readonly ClipId[],
  at: number,
): { programme: Programme; ids: ClipId[] } {
  const clips: Clips = { ...programme.clips }
  const words = { ...programme.words }
  const [own, spoken] = [fresh(programme.clips, 'c'), fresh(programme.words, 'w')]
  const made: ClipId[] = []
  for (const id of ids) {
    const clip = clipOf(programme, id)
    if (at <= clip.at || at >= endOf(clip)) continue
    const [first, second] = [at - clip.at, endOf(clip) - at]
    const other = own.next().value
    if (clip.kind === 'title') {
      const design = programme.designs[clip.design]!
      const least = leastOf(design)
      demand(
        first >= least && second >= least,
        'programme.split',
        `"${firstWords(programme, clip)}" can't be split there: each half needs ${least} frames for its In and Out.`,
      )
      const said = spoken.next().value
      words[said] = programme.words[clip.words]!
      clips[other] = { ...clip, at, frames: second, words: said }
    } else clips[other] = { ...clip, at, frames: second, from: clip.from + first }
    clips[id] = { ...clip, frames: first }
    made.push(other)
  }
  demand(made.length > 0, 'programme.split', 'Nothing chosen lies there; put the playhead inside a clip.')
  return { programme: { ...programme, clips, words }, ids: made }
}

/** @param ripple what is behind goes to where they began */
export function without(programme: Programme, ids: readonly ClipId[], ripple = false): Programme {
  const gone = new Set(ids)
  let next: Programme = programme
  for (const id of [...ids].sort((a, b) => clipOf(programme, b).at - clipOf(programme, a).at)) {
    const { [id]: clip, ...clips } = next.clips
    next = { ...next, clips }
    if (ripple && clip) next = rippled(next, clip.track, endOf(clip), -clip.frames, gone)
  }
  return swept(next)
}

// --- copies and words

/**
 * Copies of clips, so many frames later and so many tracks down. Their words are their own, unless they are linked: then
 * what one says all say.
 */
export function copied(
  programme: Programme,
  ids: readonly ClipId[],
  { frames, tracks = 0, linked = false }: { frames: number; tracks?: number; linked?: boolean },
): { programme: Programme; ids: ClipId[] } {
  const clips: Clips = { ...programme.clips }
  const words = { ...programme.words }
  const [own, spoken] = [fresh(programme.clips, 'c'), fresh(programme.words, 'w')]
  const made = ids.map((id) => {
    const clip = clipOf(programme, id)
    const copy = own.next().value
    if (clip.kind === 'title' && !linked) {
      const said = spoken.next().value
      words[said] = programme.words[clip.words]!
      clips[copy] = { ...clip, words: said }
    } else clips[copy] = clip
    return copy
  })
  return { programme: moved({ ...programme, clips, words }, made, frames, tracks), ids: made }
}

/** The other titles that say what a title says, because they share its words. */
export const linkedTo = (programme: Programme, id: ClipId): ClipId[] => {
  const clip = programme.clips[id]
  if (clip?.kind !== 'title') return []
  return titlesOf(programme).flatMap((other) => (other.id !== id && other.clip.words === clip.words ? [other.id] : []))
}

/** Titles with words of their own from now on, as they are. */
export function unlinked(programme: Programme, ids: readonly ClipId[]): Programme {
  const clips: Clips = { ...programme.clips }
  const words = { ...programme.words }
  const spoken = fresh(programme.words, 'w')
  for (const id of ids) {
    const clip = titleOf(programme, id)
    const said = spoken.next().value
    words[said] = words[clip.words]!
    clips[id] = { ...clip, words: said }
  }
  return swept({ ...programme, clips, words })
}

/** A title that shares the words of another from now on. */
export function linked(programme: Programme, id: ClipId, to: ClipId): Programme {
  const [clip, other] = [titleOf(programme, id), titleOf(programme, to)]
  return swept({ ...programme, clips: { ...programme.clips, [id]: { ...clip, words: other.words } } })
}

/** Sets texts of a title, and so of all that share them. */
export function withCells(programme: Programme, id: ClipId, cells: Record<string, string>): Programme {
  const { words } = titleOf(programme, id)
  const own = programme.words[words]!
  return { ...programme, words: { ...programme.words, [words]: { ...own, cells: { ...own.cells, ...cells } } } }
}

/** Says which row of a sheet a title's words are, with what it says. */
export function fromRow(
  programme: Programme,
  id: ClipId,
  row: NonNullable<Words['row']>,
  cells: Record<string, string>,
): Programme {
  const { words } = titleOf(programme, id)
  return { ...programme, words: { ...programme.words, [words]: { cells, row } } }
}

// --- tracks and markers

function newTrack({ tracks }: Programme, kind: Track['kind']): Track {
  const count = tracks.filter((track) => track.kind === kind).length
  const names = { title: 'Titles', footage: 'Footage', sound: 'Sound' }
  const name = `${names[kind]} ${count + 1}`
  return { id: freshIn(Object.fromEntries(tracks.map(({ id }) => [id, 0])), kind[0]!), name, kind }
}

/** A track more: of titles on top, of footage above the footage, of sounds below. */
export function withTrack(programme: Programme, kind: Track['kind']): Programme {
  const { tracks } = programme
  const first = tracks.findIndex((track) => track.kind === kind)
  const at = kind === 'title' ? 0 : kind === 'footage' && first >= 0 ? first : tracks.length
  return { ...programme, tracks: tracks.toSpliced(at, 0, newTrack(programme, kind)) }
}

export function changedTrack(programme: Programme, id: string, change: { name?: string; off?: boolean }): Programme {
  const tracks = programme.tracks.map((track) => {
    if (track.id !== id) return track
    const { off: _, ...rest } = { ...track, ...change }
    return (change.off ?? track.off) ? { ...rest, off: true } : rest
  })
  return { ...programme, tracks }
}

/** @throws Refusal for one with clips on it, and the last one */
export function withoutTrack(programme: Programme, id: string): Programme {
  demand(
    clipsIn(programme, id).length === 0,
    'programme.track',
    'There are clips on that track; move or remove them first.',
  )
  demand(programme.tracks.length > 1, 'programme.track', 'It is the last track; a programme has one.')
  return { ...programme, tracks: programme.tracks.filter((track) => track.id !== id) }
}

export function withMarker(programme: Programme, at: number, name: string): { programme: Programme; id: string } {
  const id = freshIn(programme.markers, 'k')
  return { programme: { ...programme, markers: { ...programme.markers, [id]: { at, name } } }, id }
}

/** Changes a marker; null takes it away. */
export function changedMarker(
  programme: Programme,
  id: string,
  change: { at?: number; name?: string } | null,
): Programme {
  const { [id]: marker, ...rest } = programme.markers
  demand(marker, 'programme.marker', 'That marker is not there any more.')
  return { ...programme, markers: change ? { ...rest, [id]: { ...marker, ...change } } : rest }
}
