import { cached, LastFew } from '../cache/index.ts'
import type { Item, PaintResources } from '../paint/index.ts'
import type { Scene } from '../scene/index.ts'
import { seenKeys } from './alike.ts'
import type { Finding } from './finding.ts'
import { apartFindings, hasCloseTexts, type LookedAt, lookAtTitle, wantedParts } from './seenChecks.ts'

/** How many kinds of part are remembered as seen. */
const keep = 4096

/** Somebody who looks at titles; undefined: at this one nobody has looked. */
export interface Looking {
  at(at: LookedAt): Finding[] | undefined
}

/**
 * Looks at titles. A part that is alike in all that matters to one that was seen well is seen as well: thousands of rows of
 * a sheet come to few that have to be painted.
 */
export class Looks implements Looking {
  private readonly seen = new WeakMap<Scene, LastFew<string, true>>()
  /** The same without painting anything: says what is known by now. */
  readonly known: Looking = { at: (at) => (this.isKnown(at) ? [] : undefined) }

  constructor(private readonly raster: PaintResources) {}

  /** Looks at a title: at what of it is not like something that was seen well. */
  at(at: LookedAt): Finding[] {
    const keys = keysOf(at)
    const known = this.of(at.scene)
    const left = wantedParts(at).filter(({ index }) => !keys || known.get(keys.get(index)!) === undefined)
    const { findings, clear } = lookAtTitle(at, this.raster, left)
    if (keys) for (const index of clear) known.set(keys.get(index)!, true)
    return [...findings, ...apartFindings(at, this.raster)]
  }

  private isKnown(at: LookedAt): boolean {
    const known = this.of(at.scene)
    // Before anything was looked at nothing is known, and what would be asked need not be worked out.
    const keys = known.size > 0 ? keysOf(at) : undefined
    if (!keys) return false
    for (const key of keys.values()) if (known.get(key) === undefined) return false
    return !hasCloseTexts(at)
  }

  /** The same over what lies under a title, px of its frame, at moments of its Hold that are evenly apart. */
  over(grounds: readonly (readonly Item[])[]): Looking {
    return { at: (at) => this.at({ ...at, grounds }) }
  }

  private of(scene: Scene): LastFew<string, true> {
    return cached(this.seen, scene, () => new LastFew<string, true>(keep))
  }
}

/** Of texts in turn each is looked at by itself, and so is what is looked at over a picture of its own. */
function keysOf(at: LookedAt): Map<number, string> | undefined {
  if (at.own !== at.layout || at.grounds) return undefined
  return seenKeys(
    at.scene,
    at.layout,
    wantedParts(at).map(({ index }) => index),
  )
}
