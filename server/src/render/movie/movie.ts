import type { PictureTrack } from '@hoja/core/formats'
import type { Box } from '@hoja/core/geometry'
import type { OutputSettings } from '@hoja/core/output'
import type { Rate } from '@hoja/core/time'
import type { Played } from './sounds.ts'

/** A title as an encoder takes it. */
export interface Movie {
  width: number
  height: number
  rate: Rate
  /** What any frame touches. */
  region: Box
  /** How many pictures differ; each is asked for once, in order, when its first frame comes. */
  pictures: number
  /** By frame: the picture it shows. A picture's first frame comes after those of the pictures before it. */
  frames: readonly number[]
  /** Which field of a frame comes first, where its pictures are woven of two. */
  fields?: OutputSettings['fields']
  /** The region of a picture as straight RGBA, valid until the next call. */
  draw: (picture: number) => Uint8ClampedArray
  /** The same with 16 bits a channel, drawn in more than 8. */
  deep: (picture: number) => Uint16Array
  /** A picture as a whole PNG. */
  png: (picture: number) => Uint8Array
}

/** A stretch of a title's file that is marked, frames. */
export interface Mark {
  name: string
  from: number
  count: number
}

/** How a movie is written, beside its format. */
export interface Writing {
  alpha?: OutputSettings['alpha']
  /** `file`: where the still or the footage lies. */
  backdrop?: { kind: 'colour'; colour: string } | { kind: 'still' | 'footage'; file: string }
  timecode?: string
  sounds?: readonly Played[]
  /** Marked as chapters, where the container has them. */
  marks?: readonly Mark[]
  /** Hears how many pictures of how many have been handed over, or frames of how many written. */
  onPicture?: (done: number, of: number) => void
}

/** Some frames of a movie, one behind the other, with their pictures numbered anew. */
export function partOf(movie: Movie, from: number, count: number): Movie {
  const numbers = new Map<number, number>()
  const frames = movie.frames.slice(from, from + count).map((picture) => {
    const known = numbers.get(picture)
    if (known !== undefined) return known
    numbers.set(picture, numbers.size)
    return numbers.size - 1
  })
  const own = [...numbers.keys()]
  return {
    ...movie,
    pictures: own.length,
    frames,
    draw: (picture) => movie.draw(own[picture]!),
    deep: (picture) => movie.deep(own[picture]!),
    png: (picture) => movie.png(own[picture]!),
  }
}

/** Uncompressed pixels of a movie's region in a pipe. */
export const rawTrack = ({ region, rate }: Movie, bits: 8 | 16 = 8): PictureTrack => ({
  codec: 'V_UNCOMPRESSED',
  // ffmpeg's four characters for rgba64le: R, B, A and 64.
  pixels: bits === 16 ? 'RBA@' : 'RGBA',
  width: region.width,
  height: region.height,
  rate,
})
