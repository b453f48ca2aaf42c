import { KnownNames, plain } from '../data/index.ts'
import type { Box } from '../geometry/index.ts'
import { cutsOf, endOf, offTracks, type Placed, secondsIn, timecodeIn, titlesOf } from './clips.ts'
import type { ClipId, Programme, TitleClip } from './description.ts'
import { firstWords } from './reading.ts'

/** Something found about a title in its place in time. */
export interface TimeFinding {
  clip: ClipId
  level: 'stop' | 'look'
  code: TimeCheck
  message: string
  /** Another title that it is about. */
  with?: ClipId
}

export type TimeCheck = 'place' | 'overCut' | 'long' | 'apart' | 'outside' | 'person'

/** What the checks have to be told. */
export interface Along {
  /** What a title touches when it stands, px of the picture; undefined: nothing, or not known. */
  regionOf(id: ClipId): Box | undefined
  /** Keys of a design's fields whose words are texts, in order; the first names a person, or whatever it is about. */
  textsOf(design: string): readonly string[]
}

/**
 * What is wrong with titles beside one another, and with where they lie: in order of time. Titles on tracks that are off
 * are not seen, and say nothing.
 */
export function checkAlong(programme: Programme, along: Along): TimeFinding[] {
  const off = offTracks(programme)
  const titles = titlesOf(programme).filter(({ clip }) => !off.has(clip.track))
  return [
    ...inOnePlace(programme, titles, along),
    ...overCuts(programme, titles),
    ...lengths(programme, titles),
    ...outside(programme, titles, off),
    ...persons(programme, titles, along),
  ]
}

const at = timecodeIn

const meet = (a: Box, b: Box) =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height

function inOnePlace(programme: Programme, titles: readonly Placed<TitleClip>[], { regionOf }: Along): TimeFinding[] {
  const findings: TimeFinding[] = []
  let up: Placed<TitleClip>[] = []
  for (const title of titles) {
    up = up.filter(({ clip }) => endOf(clip) > title.clip.at)
    for (const other of up) {
      const [own, its] = [regionOf(title.id), regionOf(other.id)]
      if (!own || !its || !meet(own, its)) continue
      const frames = Math.min(endOf(title.clip), endOf(other.clip)) - title.clip.at
      const long = `for ${frames} ${frames === 1 ? 'frame' : 'frames'}; one of them has to wait.`
      const both = { level: 'stop', code: 'place' } as const
      findings.push(
        {
          ...both,
          clip: title.id,
          with: other.id,
          message: `It lies over "${firstWords(programme, other.clip)}" ${long}`,
        },
        {
          ...both,
          clip: other.id,
          with: title.id,
          message: `"${firstWords(programme, title.clip)}" lies over it ${long}`,
        },
      )
    }
    up.push(title)
  }
  return findings
}

function overCuts(programme: Programme, titles: readonly Placed<TitleClip>[]): TimeFinding[] {
  const cuts = cutsOf(programme)
  const findings: TimeFinding[] = []
  let from = 0
  for (const { id, clip } of titles) {
    while (from < cuts.length && cuts[from]! <= clip.at) from++
    const within = []
    for (let i = from; i < cuts.length && cuts[i]! < endOf(clip); i++) within.push(cuts[i]!)
    if (within.length === 0) continue
    const [first] = within
    findings.push({
      clip: id,
      level: 'look',
      code: 'overCut',
      message: `It stands over ${within.length === 1 ? 'a cut' : `${within.length} cuts, the first`} at ${at(programme, first!)}.`,
    })
  }
  return findings
}

function lengths(programme: Programme, titles: readonly Placed<TitleClip>[]): TimeFinding[] {
  const { longest, apart } = programme.rules
  const findings: TimeFinding[] = []
  let last: Placed<TitleClip> | undefined
  const seconds = (frames: number) => secondsIn(programme, frames).toFixed(1)
  for (const title of titles) {
    const { id, clip } = title
    if (longest > 0 && clip.frames > longest)
      findings.push({
        clip: id,
        level: 'look',
        code: 'long',
        message: `It stands for ${seconds(clip.frames)} s; ${seconds(longest)} s is the most that this programme wants.`,
      })
    const between = last && clip.at - endOf(last.clip)
    if (last && between !== undefined && between >= 0 && between < apart)
      findings.push({
        clip: id,
        with: last.id,
        level: 'look',
        code: 'apart',
        message: `It comes ${between} ${between === 1 ? 'frame' : 'frames'} after "${firstWords(programme, last.clip)}"; ${apart} are wanted.`,
      })
    if (!last || endOf(clip) > endOf(last.clip)) last = title
  }
  return findings
}

/** Stretches in which there is a picture under the titles, in order and none touching another. */
function footed(programme: Programme, off: ReadonlySet<string>): [number, number][] {
  const seen = Object.values(programme.clips)
    .filter((clip) => clip.kind === 'footage' && !off.has(clip.track) && programme.media[clip.medium]!.kind !== 'sound')
    .sort((a, b) => a.at - b.at)
  const stretches: [number, number][] = []
  for (const clip of seen) {
    const last = stretches.at(-1)
    if (last && clip.at <= last[1]) last[1] = Math.max(last[1], endOf(clip))
    else stretches.push([clip.at, endOf(clip)])
  }
  return stretches
}

function outside(programme: Programme, titles: readonly Placed<TitleClip>[], off: ReadonlySet<string>): TimeFinding[] {
  const { end } = programme.rules
  const stretches = footed(programme, off)
  const findings: TimeFinding[] = []
  let i = 0
  for (const { id, clip } of titles) {
    if (end > 0 && endOf(clip) > end) {
      findings.push({
        clip: id,
        level: 'stop',
        code: 'outside',
        message: `It runs past the end of the programme at ${at(programme, end)}.`,
      })
      continue
    }
    if (stretches.length === 0) continue
    while (i < stretches.length && stretches[i]![1] <= clip.at) i++
    const stretch = stretches[i]
    if (stretch && stretch[0] <= clip.at && endOf(clip) <= stretch[1]) continue
    const bare =
      !stretch || stretch[0] >= endOf(clip) ? 'There is no footage under it' : 'Part of it has no footage under it'
    findings.push({ clip: id, level: 'look', code: 'outside', message: `${bare}; move it, or add footage.` })
  }
  return findings
}

/** What of one person's words differs from title to title, and persons that are nearly called the same. */
function persons(programme: Programme, titles: readonly Placed<TitleClip>[], { textsOf }: Along): TimeFinding[] {
  const findings: TimeFinding[] = []
  /** By template and person: the title that said it first, and its texts. */
  const said = new Map<string, { title: Placed<TitleClip>; texts: readonly string[] }>()
  const names: { title: Placed<TitleClip>; name: string }[] = []
  const looked = new Set<string>()
  for (const title of titles) {
    const { clip, id } = title
    if (looked.has(clip.words)) continue
    looked.add(clip.words)
    const [first, ...rest] = textsOf(clip.design)
    if (first === undefined) continue
    const { cells } = programme.words[clip.words]!
    const name = cells[first]?.trim() ?? ''
    if (name === '') continue
    const texts = rest.map((key) => cells[key]?.trim() ?? '')
    const key = `${programme.designs[clip.design]!.template}\n${plain(name)}`
    const before = said.get(key)
    if (!before) {
      said.set(key, { title, texts })
      names.push({ title, name })
      continue
    }
    const differs = texts.findIndex((text, i) => plain(text) !== plain(before.texts[i] ?? ''))
    if (differs >= 0)
      findings.push({
        clip: id,
        with: before.title.id,
        level: 'look',
        code: 'person',
        message: `"${name}" is "${texts[differs]}" here and "${before.texts[differs] ?? ''}" at ${at(programme, before.title.clip.at)}.`,
      })
  }
  // A name is told as a slip of one that came before it.
  const known = new KnownNames([])
  const first = new Map<string, ClipId>()
  for (const { title, name } of names) {
    const near = known.meant(name)
    if (near !== undefined)
      findings.push({
        clip: title.id,
        with: first.get(plain(near))!,
        level: 'look',
        code: 'person',
        message: `"${name}" is nearly "${near}", who comes before; a slip?`,
      })
    known.add(name)
    if (!first.has(plain(name))) first.set(plain(name), title.id)
  }
  return findings
}
