import { readFileSync, writeFileSync } from 'node:fs'
import { framed, setGifDelays, streamHeader } from '@hoja/core/formats'
import { gifPictures } from '@hoja/core/output'
import { Ffmpeg } from '../ffmpeg.ts'
import { padded } from './alone.ts'
import { type Movie, rawTrack, type Writing } from './movie.ts'
import { type AlphaMode, inAlphaMode } from './pixels.ts'

/** For the encoder pictures come one after another, at a rate that GIF has. */
const piped = { num: 25, den: 1 }

/** A GIF of pictures that each stand for hundredths of a second; the times are set in the file that ffmpeg has written. */
export async function withGif(movie: Movie, file: string, writing: Writing): Promise<void> {
  const { rate, region } = movie
  const { backdrop } = writing
  const mode: AlphaMode = backdrop?.kind === 'colour' ? { kind: 'over', colour: backdrop.colour } : { kind: 'straight' }
  const pictures = gifPictures(movie.frames, rate)
  const graph = `${padded(movie, mode)},split[a][b];[a]palettegen[p];[b][p]paletteuse=alpha_threshold=128:diff_mode=rectangle`
  const encoder = new Ffmpeg([
    ...['-f', 'matroska', '-i', 'pipe:0', '-filter_complex', graph],
    ...['-threads', '1', '-fps_mode', 'passthrough', file],
  ])
  try {
    await encoder.feed(streamHeader(rawTrack({ ...movie, rate: piped })))
    for (const [i, { picture }] of pictures.entries()) {
      await encoder.feed(
        ...framed({ bytes: inAlphaMode(movie.draw(picture), mode, region.width), key: true }, i, piped),
      )
      writing.onPicture?.(i + 1, pictures.length)
    }
    encoder.close()
    await encoder.ended
  } finally {
    encoder.kill()
  }
  const bytes = readFileSync(file)
  setGifDelays(
    bytes,
    pictures.map(({ delay }) => delay),
  )
  writeFileSync(file, bytes)
}
