import { demand, Refusal } from '@hoja/core/refusal'
import type { FontFile } from '@hoja/core/template'
import type { Stand } from '../jobs/tasks.ts'
import type { Store } from '../store/index.ts'

/** A package lacks fonts, and nobody has said yet what takes their place. */
export class MissingFonts extends Refusal {
  constructor(
    name: string,
    readonly missing: Pick<FontFile, 'id' | 'family' | 'style'>[],
  ) {
    const fonts = missing.map(({ family, style }) => `${family} ${style}`).join(', ')
    super(
      'package.fonts',
      `"${name}" lacks ${fonts}; choose what takes ${missing.length === 1 ? 'its' : 'their'} place.`,
    )
  }
}

/** What a person chose for each missing font: font id to the SHA-256 of a font in the store. */
export type Chosen = ReadonlyMap<string, string>

/** @throws Refusal for what is no choice of fonts */
export function readChosen(text: string | undefined): Chosen {
  if (!text) return new Map()
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    value = undefined
  }
  const isChosen =
    typeof value === 'object' && !!value && Object.values(value).every((sha256) => typeof sha256 === 'string')
  demand(isChosen, 'package.instead', 'The choice of fonts could not be read; choose them again.')
  return new Map(Object.entries(value as Record<string, string>))
}

/** The fonts that take the place of missing ones: those chosen now, then those remembered from the last time. */
export function fontsInstead(
  store: Store,
  missing: readonly FontFile[],
  chosen: Chosen,
): { instead: Record<string, Stand>; words: string[] } {
  // A font may have an id that every object has something by.
  const instead: Record<string, Stand> = Object.create(null)
  const words: string[] = []
  for (const { id, family, style } of missing) {
    const asset = chosen.has(id) ? store.assets.get(chosen.get(id)!) : store.assets.fontInstead(family, style)
    if (asset?.kind !== 'font') continue
    instead[id] = { sha256: asset.sha256, name: asset.name }
    words.push(`${asset.family} ${asset.style} stands for ${family} ${style}`)
  }
  return { instead, words }
}

/** Keeps what was chosen, for the next package that lacks the same font. */
export function rememberFonts(store: Store, missing: readonly FontFile[], chosen: Chosen): void {
  for (const { id, family, style } of missing)
    if (chosen.has(id)) store.assets.rememberFont(family, style, store.assets.get(chosen.get(id)!).sha256)
}
