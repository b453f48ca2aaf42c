import type { FormatId } from '@hoja/core/output'
import { whileSyncing } from '../syncing.ts'
import { framesAlone } from './alone.ts'
import { stillPixels } from './backdrop.ts'
import { type Coding, codings, type Encoding, fieldsOf } from './codings.ts'
import type { Container } from './containers.ts'
import { withGif } from './gif.ts'
import { withH264 } from './h264.ts'
import type { Movie, Writing } from './movie.ts'
import { type AlphaMode, overStill } from './pixels.ts'
import { framesTogether, h264 } from './together.ts'
import { withVp9 } from './vp9.ts'
import { withWebp } from './webp.ts'

interface Alone {
  coding: Coding
  container: Container
}

/** Formats of one movie with alpha whose frames are coded each by itself. */
const withAlpha: Partial<Record<FormatId, Alone>> = {
  mov: { coding: codings.prores, container: 'mov' },
  'mov-rle': { coding: codings.rle, container: 'mov' },
  'mov-png': { coding: codings.png, container: 'mov' },
  cineform: { coding: codings.cineform, container: 'mov' },
  utvideo: { coding: codings.utvideo, container: 'avi' },
  mkv: { coding: codings.ffv1, container: 'mkv' },
}

/** The same without alpha, over a backdrop. `pixels`: as the codec keeps them. */
const overBackdrop: Partial<Record<FormatId, Alone & { pixels: string }>> = {
  prores422: { coding: codings.prores422, container: 'mov', pixels: 'yuv422p10le' },
  'prores422-mxf': { coding: codings.prores422, container: 'mxf', pixels: 'yuv422p10le' },
  dnxhr: { coding: codings.dnxhr, container: 'mov', pixels: 'yuv422p10le' },
  'dnxhr-mxf': { coding: codings.dnxhr, container: 'mxf', pixels: 'yuv422p10le' },
  dnxhr444: { coding: codings.dnxhr444, container: 'mov', pixels: 'yuv444p10le' },
  'dnxhr444-mxf': { coding: codings.dnxhr444, container: 'mxf', pixels: 'yuv444p10le' },
}

/**
 * Writes a title as a movie: one file, or two of a fill and key pair. Each file is synced when this returns.
 * @throws Refusal when ffmpeg is not there, says that it failed, or can't write
 */
export function writeMovie(format: FormatId, movie: Movie, files: readonly string[], writing: Writing): Promise<void> {
  return whileSyncing(files, () => written(format, movie, files, writing))
}

async function written(format: FormatId, movie: Movie, files: readonly string[], writing: Writing): Promise<void> {
  const file = files[0]!
  const alone = withAlpha[format]
  if (alone) {
    await framesAlone(movie, alone.coding, { kind: writing.alpha ?? 'straight' }, alone.container, file, writing)
    return
  }
  switch (format) {
    case 'pair': {
      const fill: AlphaMode = { kind: 'fill', premultiplied: writing.alpha === 'premultiplied' }
      const half = (before: number): Writing => ({
        ...writing,
        onPicture: (done, of) => writing.onPicture?.(before * of + done, 2 * of),
      })
      await framesAlone(movie, codings.opaque, fill, 'mov', file, half(0))
      await framesAlone(movie, codings.opaque, { kind: 'key' }, 'mov', files[1]!, { ...half(1), sounds: [] })
      return
    }
    case 'webm':
      return withVp9(movie, file, writing)
    case 'webp':
      return withWebp(movie, file, writing)
    case 'gif':
      return withGif(movie, file, writing)
    default:
      return withBackdrop(format, movie, file, writing)
  }
}

/** What lies over a colour, a still or footage. */
async function withBackdrop(format: FormatId, title: Movie, file: string, writing: Writing): Promise<void> {
  const { backdrop } = writing
  const still = backdrop?.kind === 'still' ? await stillPixels(backdrop.file, title) : undefined
  const movie = still ? overStill(title, still) : title
  const opaque = overBackdrop[format]
  const under = backdrop?.kind === 'colour' ? backdrop.colour : '#000000'
  // What lies over a still is opaque already.
  const mode: AlphaMode = still ? { kind: 'straight' } : { kind: 'over', colour: under }
  if (!opaque)
    return backdrop?.kind === 'footage'
      ? framesTogether(movie, h264, backdrop.file, file, writing)
      : withH264(movie, mode, file, writing)
  const { coding, container, pixels } = opaque
  if (backdrop?.kind === 'footage') {
    const { args } = coding.by as Encoding
    return framesTogether(
      movie,
      { pixels, args: [...args, ...fieldsOf(movie).args], container },
      backdrop.file,
      file,
      writing,
    )
  }
  const by = still ? { ...(coding.by as Encoding), deep: true } : coding.by
  return framesAlone(movie, { ...coding, by }, mode, container, file, writing)
}
