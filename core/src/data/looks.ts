import { cached, LastFew } from '../cache/index.ts'
import type { PaintResources } from '../paint/index.ts'
import type { Scene } from '../scene/index.ts'
import { seenKey } from './alike.ts'
import type { Finding } from './finding.ts'
import { apartFindings, hasCloseTexts, type LookedAt, lookAtTitle } from './seenChecks.ts'

/** How many kinds of title are remembered as seen. */
const keep = 4096

/** Somebody who looks at titles; undefined: at this one nobody has looked. */
export interface Looking {
  at(at: LookedAt): Finding[] | undefined
}

/**
 * Looks at titles. One that is alike in all that matters to one that was seen well is seen as well: thousands of rows of a
 * sheet come to few that have to be painted.
 */
export class Looks implements Looking {
  private readonly seen = new WeakMap<Scene, LastFew<string, true>>()
  /** The same without painting anything: says what is known by now. */
  readonly known: Looking = { at: (at) => (this.isKnown(at) ? [] : undefined) }

  constructor(private readonly raster: PaintResources) {}

  /** Looks at a title, unless one like it was seen well. */
  at(at: LookedAt): Finding[] {
    const key = keyOf(at)
    const known = this.of(at.scene)
    const apart = apartFindings(at, this.raster)
    if (key !== undefined && known.get(key)) return apart
    const { findings, isClear } = lookAtTitle(at, this.raster)
    if (key !== undefined && isClear) known.set(key, true)
    return [...findings, ...apart]
  }

  private isKnown(at: LookedAt): boolean {
    const key = keyOf(at)
    return key !== undefined && this.of(at.scene).get(key) === true && !hasCloseTexts(at)
  }

  private of(scene: Scene): LastFew<string, true> {
    return cached(this.seen, scene, () => new LastFew<string, true>(keep))
  }
}

/** Of texts in turn each is looked at by itself. */
const keyOf = ({ scene, layout, own }: LookedAt) => (own === layout ? seenKey(scene, layout) : undefined)
