import { demand } from '../refusal/index.ts'
import type { Keyframe, Motion, Spans } from '../template/index.ts'
import type { Rate } from '../time/index.ts'

/** Frames of Hold, from its start, in which one of the texts that come in turn stands whole: from, and up to. */
export interface Turn {
  from: number
  to: number
}

/**
 * Characters a second that a viewer reads with ease: the BBC Subtitle Guidelines' 160 to 180 words a minute, taken at 170
 * words of 6 characters with their space.
 */
export const readingSpeed = (170 * 6) / 60

/** Frames that so many characters take to read. */
export function readingFrames(characters: number, rate: Rate): number {
  return Math.ceil(((characters / readingSpeed) * rate.num) / rate.den)
}

/** How one text in turn gives way to the next, in frames. */
export interface Changeover {
  /** Of Out, in which a text leaves, and of In, in which the next comes: from the first of its keys to the last. */
  leaves: readonly [from: number, to: number]
  comes: readonly [from: number, to: number]
  /** How long it takes: what stands round the texts travels all the while. */
  frames: number
}

/** From the first to the last key that some parts have in a span; nothing where they have none. */
function reach(motions: readonly Motion[], span: 'in' | 'out'): [number, number] {
  const keys = motions.flatMap(({ tracks, segments }) =>
    [...Object.values(tracks), ...Object.values(segments?.tracks ?? {})].flatMap(
      (track: { keys: Keyframe[] } | undefined) => track?.keys.filter((key) => key.span === span) ?? [],
    ),
  )
  const times = keys.map(({ at }) => at)
  return times.length === 0 ? [0, 0] : [Math.min(...times), Math.max(...times)]
}

/**
 * How texts in turn change, by the movement they have.
 * @param overlap frames by which the next comes before the last has left
 * @param travel frames that the change takes at least
 */
export function changeover(motions: readonly Motion[], spans: Spans, overlap: number, travel: number): Changeover {
  const comes = reach(motions, 'in')
  const mirrored = motions.filter(({ out }) => out === 'mirror')
  const scale = spans.in === 0 ? 0 : spans.out / spans.in
  const back = reach(mirrored, 'in')
  const own = reach(
    motions.filter(({ out }) => out === 'own'),
    'out',
  )
  const turned: [number, number] = [spans.out - 1 - back[1] * scale, spans.out - 1 - back[0] * scale]
  const all = [...(back[1] > back[0] ? [turned] : []), ...(own[1] > own[0] ? [own] : [])]
  const leaves: [number, number] =
    all.length === 0 ? [0, 0] : [Math.min(...all.map(([a]) => a)), Math.max(...all.map(([, b]) => b))]
  const length = leaves[1] - leaves[0] + comes[1] - comes[0] - overlap
  return { leaves, comes, frames: Math.max(Math.ceil(length), travel, 1) }
}

/** How long each of some texts in turn stands: frames that it needs, and whether Hold is as long as they take. */
export interface Stands {
  needs: readonly number[]
  follows: boolean
}

/**
 * Deals Hold out to texts in turn.
 * @param hold frames that Hold is to have; absent: as long as they take, or as designed where they share it
 * @throws Refusal when not even a frame would be left for each, with what is needed
 */
export function turnsIn({ needs, follows }: Stands, change: number, designed: number, hold?: number): Turn[] {
  const count = needs.length
  const changes = (count - 1) * change
  const wanted = hold ?? (follows ? needs.reduce((sum, one) => sum + one, 0) + changes : designed)
  const room = wanted - changes
  demand(
    room >= count,
    'turns.short',
    `${count} texts in turn need ${changes + count} frames of Hold and have ${wanted}; make the title longer, or take some out.`,
  )
  const total = needs.reduce((sum, one) => sum + one, 0)
  const turns: Turn[] = []
  let before = 0
  needs.forEach((need, i) => {
    // Rounded up to here each time, so that nothing is lost; and a frame is left for each of those to come.
    const asked = Math.round((room * (before + need)) / total) - Math.round((room * before) / total)
    const from = i === 0 ? 0 : turns[i - 1]!.to + change
    const most = wanted - from - (count - 1 - i) * (change + 1)
    turns.push({ from, to: from + (i === count - 1 ? most : Math.min(most, Math.max(1, asked))) })
    before += need
  })
  return turns
}

/** The same while nobody knows how long Hold is: after the last one the first comes again. */
export function turnRound(turns: readonly Turn[], change: number, at: number): { turn: number; changing?: number } {
  const last = turns.at(-1)!
  if (at < 0 || turns.length === 1) return turnAt(turns, at)
  const within = at % (last.to + change)
  return within < last.to ? turnAt(turns, within) : { turn: turns.length - 1, changing: within - last.to }
}

/** Where a frame of Hold lies among turns: one that stands, or the change to the next and the frames since it began. */
export function turnAt(turns: readonly Turn[], at: number): { turn: number; changing?: number } {
  const i = turns.findIndex(({ to }) => at < to)
  if (i < 0) return { turn: turns.length - 1 }
  if (at >= turns[i]!.from || i === 0) return { turn: i }
  return { turn: i - 1, changing: at - turns[i - 1]!.to }
}
