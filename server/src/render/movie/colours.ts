import type { PictureTrack } from '@hoja/core/formats'

/** ITU-T H.273 numbers: BT.709 throughout. The same for RGB, so that a title looks the same from every movie. */
export const bt709 = {
  matrix: 1,
  range: 'broadcast',
  transfer: 1,
  primaries: 1,
} as const satisfies PictureTrack['colour']
export const rgb709 = { matrix: 0, range: 'full', transfer: 1, primaries: 1 } as const satisfies PictureTrack['colour']
export const tagged = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv']

/** Full-range RGB to limited-range BT.709, without shortcuts. `woven`: of frames of two fields, each field by itself. */
export const toYuv = (pixels: string, woven = false) =>
  `scale=in_range=pc:out_range=tv:out_color_matrix=bt709:flags=accurate_rnd+full_chroma_int+bicubic${woven ? ':interl=1' : ''},format=${pixels},setparams=range=tv:color_primaries=bt709:color_trc=bt709:colorspace=bt709`
