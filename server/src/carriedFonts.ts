import { readFile } from 'node:fs/promises'
import { basename } from 'node:path'
import type { Template } from '@hoja/core/template'
import type { Jobs } from './jobs/jobs.ts'
import { knownShipped, shippedFile, shippedFonts } from './shippedFonts.ts'
import type { Asset } from './store/assets.ts'
import { hashOf } from './store/files.ts'
import type { Store } from './store/index.ts'

/** Puts a shipped font among the assets. @throws Refusal for one that does not ship. */
export async function addShippedFont(store: Store, jobs: Jobs, id: string): Promise<Asset> {
  const path = shippedFile(knownShipped(id).id)
  const sha256 = hashOf(await readFile(path))
  if (store.assets.find(sha256)) return store.assets.get(sha256)
  const file = { path, name: basename(path) }
  const asset = await jobs.run<'takeFont'>({ kind: 'takeFont', file, files: store.files.folder })
  store.assets.record(asset)
  return asset
}

/** What a new template carries, so that a text in any of the demo's scripts can be written at once. */
export async function firstFonts(store: Store, jobs: Jobs): Promise<Pick<Template, 'fonts' | 'fallbacks'>> {
  const carried = [
    ['semibold', 'barlow-condensed/600SemiBold'],
    ['medium', 'barlow-condensed/500Medium'],
    ['arabic', 'noto-sans-arabic/600SemiBold'],
    ['japanese', 'm-plus-1p/700Bold'],
    ['emoji', 'noto-emoji/600SemiBold'],
  ] as const
  const fonts = await Promise.all(
    carried.map(async ([id, from]) => {
      const asset = await addShippedFont(store, jobs, from)
      const { family, style } = shippedFonts().find((font) => font.id === from)!
      return { id, family, style, file: `fonts/${asset.name}`, sha256: asset.sha256 }
    }),
  )
  return { fonts, fallbacks: ['arabic', 'japanese', 'emoji'] }
}
