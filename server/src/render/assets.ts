import { cached, LastFew } from '@hoja/core/cache'
import { readMovie } from '@hoja/core/formats'
import type { Pixels } from '@hoja/core/paint'
import type { Assets, MovingPicture } from '@hoja/core/scene'
import { partedLanguages, type Template } from '@hoja/core/template'
import { Font, familyWith, hyphenatedLanguages, loadHyphens } from '@hoja/core/text'
import { shippedCoverage } from '../shippedFonts.ts'
import { decodePicture } from './raster.ts'

const keep = 60
const fonts = new LastFew<string, Font>(keep)
const pictures = new LastFew<string, Promise<Pixels>>(keep)
const movies = new LastFew<string, MovingPicture>(keep)

/** Loads what a template carries; equal files are decoded once in a thread. `read` gives a carried file's bytes. */
export async function loadAssets(
  template: Template,
  read: (entry: { file: string; sha256: string }) => Uint8Array,
): Promise<Assets> {
  const byName = new Map<string, Pixels>()
  const moving = new Map<string, MovingPicture>()
  for (const media of template.media) {
    const { name, sha256, movie } = media
    if (movie) {
      moving.set(
        name,
        cached(movies, sha256, () => readMovie(read(media), sha256, name, movie.rate)),
      )
      byName.set(name, moving.get(name)!.frame(0))
    } else byName.set(name, await cached(pictures, sha256, () => decodePicture(read(media), name, sha256)))
  }
  return {
    fonts: new Map(
      template.fonts.map((font) => [font.id, cached(fonts, font.sha256, () => new Font(read(font), font.file))]),
    ),
    picture: (name) => byName.get(name),
    movie: (name) => moving.get(name),
    hyphenate: await loadHyphens(partedLanguages(template, hyphenatedLanguages)),
    familyWith: (codePoint) => familyWith(shippedCoverage(), codePoint),
  }
}
