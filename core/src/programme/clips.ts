import { cached } from '../cache/index.ts'
import type { Timing } from '../motion/index.ts'
import { type Rate, secondsOf, timecodeOf } from '../time/index.ts'
import type { ClipId, Design, FootageClip, Medium, Programme, ProgrammeClip, TitleClip, Track } from './description.ts'

/** A clip with its id. */
export interface Placed<C extends ProgrammeClip = ProgrammeClip> {
  id: ClipId
  clip: C
}

/** The frame after a clip's last one. */
export const endOf = ({ at, frames }: Pick<ProgrammeClip, 'at' | 'frames'>): number => at + frames

const byTrack = new WeakMap<Programme['clips'], ReadonlyMap<string, readonly Placed[]>>()

/** The clips of each track, in order of time. */
export function clipsByTrack({ clips }: Pick<Programme, 'clips'>): ReadonlyMap<string, readonly Placed[]> {
  return cached(byTrack, clips, () => {
    const tracks = new Map<string, Placed[]>()
    for (const id of Object.keys(clips)) {
      const clip = clips[id]!
      const list = tracks.get(clip.track)
      if (list) list.push({ id, clip })
      else tracks.set(clip.track, [{ id, clip }])
    }
    for (const list of tracks.values()) list.sort((a, b) => a.clip.at - b.clip.at)
    return tracks
  })
}

/** The clips of one track, in order of time. */
export const clipsIn = (programme: Pick<Programme, 'clips'>, track: string): readonly Placed[] =>
  clipsByTrack(programme).get(track) ?? []

const inTime = new WeakMap<Programme['clips'], readonly Placed<TitleClip>[]>()

/** Every title, in order of time. */
export function titlesOf({ clips }: Pick<Programme, 'clips'>): readonly Placed<TitleClip>[] {
  return cached(inTime, clips, () =>
    Object.keys(clips)
      .flatMap((id) => {
        const clip = clips[id]!
        return clip.kind === 'title' ? [{ id, clip }] : []
      })
      .sort((a, b) => a.clip.at - b.clip.at || (a.id < b.id ? -1 : 1)),
  )
}

const switchedOff = new WeakMap<Programme['tracks'], ReadonlySet<string>>()

/** Tracks that are neither seen nor heard. */
export const offTracks = ({ tracks }: Pick<Programme, 'tracks'>): ReadonlySet<string> =>
  cached(switchedOff, tracks, () => new Set(tracks.flatMap(({ id, off }) => (off ? [id] : []))))

const shared = new WeakMap<Programme['clips'], ReadonlySet<string>>()

/** Words that more than one title says. */
export function sharedWords({ clips }: Pick<Programme, 'clips'>): ReadonlySet<string> {
  return cached(shared, clips, () => {
    const [once, twice] = [new Set<string>(), new Set<string>()]
    for (const clip of Object.values(clips)) {
      if (clip.kind !== 'title') continue
      if (once.has(clip.words)) twice.add(clip.words)
      once.add(clip.words)
    }
    return twice
  })
}

/** How many of some clips, in order of time and none over another, begin at a frame or before. */
export function begunBy(clips: readonly Placed[], frame: number): number {
  let [low, high] = [0, clips.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if (clips[middle]!.clip.at <= frame) low = middle + 1
    else high = middle
  }
  return low
}

/** The clip of a track that is seen at a frame. */
export function clipAt(programme: Pick<Programme, 'clips'>, track: string, frame: number): Placed | undefined {
  const clips = clipsIn(programme, track)
  const last = clips[begunBy(clips, frame) - 1]
  return last && frame < endOf(last.clip) ? last : undefined
}

/** The footage that is seen at a frame: of tracks that are on the uppermost one, which hides all below it. */
export function footageAt(programme: Programme, frame: number): Placed<FootageClip> | undefined {
  for (const { id, kind, off } of programme.tracks) {
    const found = kind === 'footage' && !off ? clipAt(programme, id, frame) : undefined
    if (found) return found as Placed<FootageClip>
  }
  return undefined
}

/** What is seen at a frame, from the bottom to the top: footage, and over it the titles of tracks that are on. */
export function seenAt(programme: Programme, frame: number): Placed[] {
  const footage = footageAt(programme, frame)
  const titles = programme.tracks.toReversed().flatMap(({ id, kind, off }) => {
    const found = kind === 'title' && !off ? clipAt(programme, id, frame) : undefined
    return found ? [found] : []
  })
  return footage ? [footage, ...titles] : titles
}

/** The fewest frames of a title by a design: In and Out as they are. */
export const leastOf = (design: Pick<Design, 'in' | 'out'>): number => Math.max(1, design.in + design.out)

export const designOf = (programme: Programme, clip: TitleClip): Design => programme.designs[clip.design]!
export const mediumOf = (programme: Programme, clip: FootageClip): Medium => programme.media[clip.medium]!

/** A title's spans as long as its clip is. */
export function spansOfClip(programme: Programme, clip: TitleClip): Timing {
  const { in: first, out } = designOf(programme, clip)
  return { in: first, hold: clip.frames - first - out, out, total: clip.frames }
}

/** Frames of the programme that a medium has; a still has as many as are wanted. */
export const mediumFrames = (medium: Medium): number =>
  medium.kind === 'still' ? Number.POSITIVE_INFINITY : medium.frames

/** The frame behind the last clip. */
export const lengthOf = ({ clips }: Pick<Programme, 'clips'>): number =>
  Object.values(clips).reduce((end, clip) => Math.max(end, endOf(clip)), 0)

/** A frame of the programme as its timecode, SMPTE ST 12-1. */
export const timecodeIn = ({ picture, start }: Pick<Programme, 'picture' | 'start'>, frame: number): string =>
  timecodeOf(start.at + frame, picture.rate, start.drop)

export const secondsIn = ({ picture }: Pick<Programme, 'picture'>, frames: number): number =>
  secondsOf(frames, picture.rate)

/**
 * The frame of a medium of its own rate that is seen at a frame of the programme: the one that is under way in its middle,
 * so that equal rates are frame for frame and no rounding tips it over.
 */
export const sourceFrame = (frame: number, own: Rate, programme: Rate): number =>
  Math.floor(((frame + 0.5) * own.num * programme.den) / (own.den * programme.num))

const cutsFound = new WeakMap<Programme['clips'], { of: Programme; cuts: readonly number[] }>()

/** Frames at which the footage cuts: where its clips begin and end, where its media do, and where a list says so. */
export function cutsOf(programme: Programme): readonly number[] {
  const known = cutsFound.get(programme.clips)
  if (known && known.of.media === programme.media && known.of.cuts === programme.cuts) return known.cuts
  const cuts = new Set(programme.cuts)
  for (const clip of Object.values(programme.clips)) {
    if (clip.kind !== 'footage') continue
    const medium = mediumOf(programme, clip)
    if (medium.kind === 'sound') continue
    cuts.add(clip.at)
    cuts.add(endOf(clip))
    const own = medium.kind === 'movie' ? medium.cuts : undefined
    for (const cut of own ?? [])
      if (cut > clip.from && cut < clip.from + clip.frames) cuts.add(clip.at + cut - clip.from)
  }
  const sorted = [...cuts].sort((a, b) => a - b)
  cutsFound.set(programme.clips, { of: programme, cuts: sorted })
  return sorted
}

/** Which tracks take a clip. */
export function fitsTrack(programme: Programme, clip: ProgrammeClip, { kind }: Track): boolean {
  if (clip.kind === 'title') return kind === 'title'
  return kind === (mediumOf(programme, clip).kind === 'sound' ? 'sound' : 'footage')
}
