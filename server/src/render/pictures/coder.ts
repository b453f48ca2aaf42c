import type { FormatId, OutputSettings } from '@hoja/core/output'
import type { Movie } from '../movie/movie.ts'
import { inAlphaMode, inAlphaModeDeep } from '../movie/pixels.ts'
import { exr } from './exr.ts'
import { FramePng } from './png.ts'
import { tga } from './tga.ts'
import { TiffWriter } from './tiff.ts'

/** How the pictures of a sequence are coded, one by one. */
export function pictureCoder(
  format: FormatId,
  movie: Movie,
  alpha: OutputSettings['alpha'],
): (picture: number) => Uint8Array {
  const { width, height, region } = movie
  const premultiplied = alpha === 'premultiplied'
  const mode = { kind: premultiplied ? ('premultiplied' as const) : ('straight' as const) }
  switch (format) {
    case 'png16': {
      const png = new FramePng(width, height, region, 3, 16)
      return (picture) => png.encode(movie.deep(picture))
    }
    case 'tiff': {
      const tiff = new TiffWriter(width, height, region, 8, premultiplied)
      return (picture) => tiff.encode(inAlphaMode(movie.draw(picture), mode, region.width))
    }
    case 'tiff16': {
      const tiff = new TiffWriter(width, height, region, 16, premultiplied)
      return (picture) => tiff.encode(inAlphaModeDeep(movie.deep(picture), mode))
    }
    case 'tga':
      return (picture) =>
        tga(width, height, region, inAlphaMode(movie.draw(picture), mode, region.width), premultiplied)
    case 'exr':
      return (picture) => exr(width, height, region, movie.deep(picture))
    default:
      return movie.png
  }
}
