import { checkKnown, checkRow, type Finding, type KnownNames, type Looks, weighed, wordKeysOf } from '../data/index.ts'
import type { Box } from '../geometry/index.ts'
import { type Scene, touchedBy } from '../scene/index.ts'
import { checkAlong } from './checks.ts'
import { offTracks, titlesOf } from './clips.ts'
import { valuesOfClip } from './composite.ts'
import type { ClipId, Programme, Words } from './description.ts'
import { clipMatch, clipRow } from './rows.ts'

/** Something found about a title: by itself, or in its place in time. */
export type ClipFinding = Pick<Finding, 'level' | 'message' | 'field' | 'fix'> & {
  code: string
  /** Another title that it is about. */
  with?: ClipId
}

/** What was found about words in a template at a length, and what they touch. */
interface Looked {
  findings: ClipFinding[]
  region: Box
}

const keyOf = (design: string, shape: string | undefined) => `${design} ${shape ?? ''}`

/**
 * Looks at the titles of a programme: each by itself, once for its words, its template and its length, and all of them
 * beside one another.
 */
export class ProgrammeChecker {
  private readonly scenes = new Map<string, Scene>()
  private readonly looked = new WeakMap<Words, Map<string, Looked>>()

  /**
   * @param known how names are spelled
   * @param now what *now* is in titles, local, as ISO 8601 has it
   * @param looks looks at the titles' pictures
   */
  constructor(
    private readonly known: KnownNames,
    private readonly now: string,
    private readonly looks: Looks,
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

  /** Looks at a title by itself. */
  look(programme: Programme, id: ClipId): void {
    const clip = programme.clips[id]
    const scene = clip?.kind === 'title' ? this.scenes.get(keyOf(clip.design, clip.shape)) : undefined
    if (clip?.kind !== 'title' || !scene) return
    const { template } = scene
    const match = clipMatch(template)
    const row = clipRow(programme, clip)
    const slips = weighed(template, checkKnown(this.known, template, match, row, 1))
    const findings = [...checkRow(scene, match, row, 1, undefined, this.looks).findings, ...slips].map(
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
    this.looked.set(words, of.set(`${keyOf(clip.design, clip.shape)} ${clip.frames}`, { findings, region }))
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
    return this.looked.get(programme.words[clip.words]!)?.get(`${keyOf(clip.design, clip.shape)} ${clip.frames}`)
  }
}
