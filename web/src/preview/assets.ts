import type { Pixels } from '@hoja/core/paint'
import type { Assets } from '@hoja/core/scene'
import type { Template } from '@hoja/core/template'
import { Font } from '@hoja/core/text'
import { lendFonts } from './lendFonts.ts'
import { decodePicture } from './workshop.ts'

const fonts = new Map<string, Promise<Font>>()
const pictures = new Map<string, Promise<Pixels>>()

async function bytes(sha256: string): Promise<Response> {
  const response = await fetch(`/api/assets/${sha256}`)
  if (!response.ok) throw new Error('A font or picture of this template could not be read; reload the page.')
  return response
}

function once<T>(map: Map<string, Promise<T>>, key: string, make: () => Promise<T>): Promise<T> {
  let known = map.get(key)
  if (!known) {
    known = make()
    map.set(key, known)
    known.catch(() => map.delete(key))
  }
  return known
}

/** Fetches and decodes what a template carries; each file once. */
export async function loadAssets(template: Pick<Template, 'fonts' | 'fallbacks' | 'media'>): Promise<Assets> {
  const loadedFonts = await Promise.all(
    template.fonts.map(
      async (font) =>
        [
          font.id,
          await once(
            fonts,
            font.sha256,
            async () => new Font(new Uint8Array(await (await bytes(font.sha256)).arrayBuffer()), font.file),
          ),
        ] as const,
    ),
  )
  const loadedPictures = await Promise.all(
    template.media.map(
      async (media) =>
        [
          media.name,
          await once(pictures, media.sha256, async () =>
            decodePicture(await (await bytes(media.sha256)).blob(), media.sha256),
          ),
        ] as const,
    ),
  )
  lendFonts(template)
  const byName = new Map(loadedPictures)
  return { fonts: new Map(loadedFonts), picture: (name) => byName.get(name) }
}
