import { address } from '@hoja/core/api'
import { readMovie } from '@hoja/core/formats'
import type { Pixels } from '@hoja/core/paint'
import type { Assets, MovingPicture } from '@hoja/core/scene'
import { carriedBy, partedLanguages, type Template } from '@hoja/core/template'
import { type Coverage, Font, familyWith, hyphenatedLanguages, loadHyphens } from '@hoja/core/text'
import { lendFonts } from './lendFonts.ts'
import { decodePicture } from './rasterBackend.ts'

const fonts = new Map<string, Promise<Font>>()
const pictures = new Map<string, Promise<Pixels>>()
const coverages = new Map<string, Promise<Coverage[]>>()
const movies = new Map<string, Promise<MovingPicture>>()

async function bytes(sha256: string): Promise<Response> {
  const response = await fetch(address.asset({ sha256 }))
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

/** Differs when what a template carries, or the languages whose words it parts, are others. */
export const assetsKey = (template: Template): string =>
  JSON.stringify([
    carriedBy(template).map(({ id, sha256 }) => [id, sha256]),
    template.media.map(({ name }) => name),
    partedLanguages(template, hyphenatedLanguages),
  ])

/** Fetches and decodes what a template carries; each file once. */
export async function loadAssets(template: Template): Promise<Assets> {
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
  const coverage = await once(coverages, 'shipped', async () => (await fetch(address.fontCoverage())).json())
  const byName = new Map<string, Pixels>()
  const moving = new Map<string, MovingPicture>()
  await Promise.all(
    template.media.map(async ({ name, sha256, movie }) => {
      if (movie) {
        const read = async () =>
          readMovie(new Uint8Array(await (await bytes(sha256)).arrayBuffer()), sha256, name, movie.rate)
        const loaded = await once(movies, sha256, read)
        moving.set(name, loaded)
        byName.set(name, loaded.frame(0))
      } else
        byName.set(
          name,
          await once(pictures, sha256, async () => decodePicture(await (await bytes(sha256)).blob(), sha256)),
        )
    }),
  )
  lendFonts(template)
  return {
    fonts: new Map(loadedFonts),
    picture: (name) => byName.get(name),
    movie: (name) => moving.get(name),
    hyphenate: await loadHyphens(partedLanguages(template, hyphenatedLanguages)),
    familyWith: (codePoint) => familyWith(coverage, codePoint),
  }
}
