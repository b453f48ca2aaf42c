import { cached } from '../cache/index.ts'
import { checkKnown, checkRow, type Finding, type KnownNames, type Looks, weighed, wordKeysOf } from '../data/index.ts'
import type { Box } from '../geometry/index.ts'
import { type Scene, touchedBy } from '../scene/index.ts'
import { checkAlong } from './checks.ts'
import { footageAt, offTracks, spansOfClip, titlesOf } from './clips.ts'
import { footageUnder, mediumFrame, type Stored, type StoredFrame, storedUnder, valuesOfClip } from './composite.ts'
import type { ClipId, Programme, TitleClip, Words } from './description.ts'
import { clipMatch, clipRow } from './rows.ts'

/** Something found about a title: by itself, or in its place in time. */
export type ClipFinding = Pick<Finding, 'level' | 'message' | 'field' | 'fix'> & {
  code: string
  /** Another title that it is about. */
  with?: ClipId
}

/** What was found about words in a template at a length, over what lies under them, and what they touch. */
interface Looked {
  findings: ClipFinding[]
  region: Box
}

const keyOf = (design: string, shape: string | undefined) => `${design} ${shape ?? ''}`

const lookKey = (programme: Programme, id: ClipId, clip: TitleClip) =>
  `${keyOf(clip.design, clip.shape)} ${clip.frames} ${underWords(programme, id, clip)}`

/** Moments of a title's Hold at which it is looked at over its footage. */
const moments = 3

/** Frames of the programme at which a title is looked at: as far apart as can be while it holds. */
function momentsOf(programme: Programme, clip: TitleClip): number[] {
  const { in: first, hold } = spansOfClip(programme, clip)
  return Array.from(
    { length: moments },
    (_, n) => clip.at + first + Math.floor(((n + 0.5) * Math.max(1, hold)) / moments),
  )
}

const under = new WeakMap<Programme, Map<ClipId, string>>()

/** What lies under a title at those moments, as words. */
function underWords(programme: Programme, id: ClipId, clip: TitleClip): string {
  const known = cached(under, programme, () => new Map<ClipId, string>())
  return cached(known, id, () =>
    momentsOf(programme, clip)
      .map((frame) => {
        const footage = footageAt(programme, frame)?.clip
        return footage ? `${footage.medium} ${mediumFrame(programme, footage, frame)}` : '-'
      })
      .join(),
  )
}

/**
 * Looks at the titles of a programme: each by itself, once for its words, its template, its length and what lies under it,
 * and all of them beside one another.
 */
export class ProgrammeChecker {
  private readonly scenes = new Map<string, Scene>()
  private readonly looked = new WeakMap<Words, Map<string, Looked>>()

  /**
   * @param known how names are spelled
   * @param now what *now* is in titles, local, as ISO 8601 has it
   * @param looks looks at the titles' pictures
   * @param stored what lies under them
   */
  constructor(
    private readonly known: KnownNames,
    private readonly now: string,
    private readonly looks: Looks,
    private readonly stored: Stored,
  ) {}

  /** The scene of a design in a shape, for the programme's picture. */
  setScene(design: string, shape: string | undefined, scene: Scene): void {
    this.scenes.set(keyOf(design, shape), scene)
  }

  /** Whether a title can be looked at: what draws it is there. */
  can(programme: Programme, id: ClipId): boolean {
    const clip = programme.clips[id]
    return clip?.kind === 'title' && this.scenes.has(keyOf(clip.design, clip.shape))
  }

  isLooked(programme: Programme, id: ClipId): boolean {
    return this.lookedAt(programme, id) !== undefined
  }

  /** The stored stills, and frames of movies, over which a title is looked at. */
  wants(programme: Programme, id: ClipId): StoredFrame[] {
    const clip = programme.clips[id]
    return clip?.kind === 'title'
      ? momentsOf(programme, clip).flatMap((frame) => storedUnder(programme, frame) ?? [])
      : []
  }

  /** Looks at a title by itself, over what of its footage is there. */
  look(programme: Programme, id: ClipId): void {
    const clip = programme.clips[id]
    const scene = clip?.kind === 'title' ? this.scenes.get(keyOf(clip.design, clip.shape)) : undefined
    if (clip?.kind !== 'title' || !scene) return
    const { template } = scene
    const match = clipMatch(template)
    const row = clipRow(programme, clip)
    const slips = weighed(template, checkKnown(this.known, template, match, row, 1))
    const grounds = momentsOf(programme, clip).flatMap((frame) => {
      const items = footageUnder(programme, frame, this.stored)
      return items ? [items] : []
    })
    const looking = grounds.length === moments ? this.looks.over(grounds) : this.looks
    const findings = [...checkRow(scene, match, row, 1, undefined, looking).findings, ...slips].map(
      ({ level, code, message, field, fix }): ClipFinding => ({
        level,
        code,
        message,
        ...(field === undefined ? {} : { field }),
        ...(fix === undefined ? {} : { fix }),
      }),
    )
    const region = touchedBy(scene, valuesOfClip(scene, programme, { id, clip }, this.now))
    const words = programme.words[clip.words]!
    const of = this.looked.get(words) ?? new Map<string, Looked>()
    this.looked.set(words, of.set(lookKey(programme, id, clip), { findings, region }))
  }

  /** What is found by now, by title; nothing of those on tracks that are off. */
  findings(programme: Programme): Map<ClipId, ClipFinding[]> {
    const all = new Map<ClipId, ClipFinding[]>()
    const off = offTracks(programme)
    for (const { id, clip } of titlesOf(programme)) {
      const found = off.has(clip.track) ? undefined : this.lookedAt(programme, id)
      if (found && found.findings.length > 0) all.set(id, [...found.findings])
    }
    const keys = new Map<string, string[]>()
    for (const [key, { template }] of this.scenes) keys.set(key.split(' ')[0]!, wordKeysOf(template))
    const along = checkAlong(programme, {
      regionOf: (id) => this.lookedAt(programme, id)?.region,
      textsOf: (design) => keys.get(design) ?? [],
    })
    for (const { clip, ...finding } of along) all.set(clip, [...(all.get(clip) ?? []), finding])
    return all
  }

  private lookedAt(programme: Programme, id: ClipId): Looked | undefined {
    const clip = programme.clips[id]
    if (clip?.kind !== 'title') return undefined
    return this.looked.get(programme.words[clip.words]!)?.get(lookKey(programme, id, clip))
  }
}
