import { writeFileSync } from 'node:fs'
import { animatedWebp, framed, riffFiles, streamHeader } from '@hoja/core/formats'
import { runsOf } from '@hoja/core/output'
import { Ffmpeg } from '../ffmpeg.ts'
import { type Movie, rawTrack, type Writing } from './movie.ts'

const lossless = ['-c:v', 'libwebp', '-lossless', '1', '-compression_level', '4', '-f', 'image2pipe']

/** A movie's pictures, each as a lossless WebP of its region. */
async function pictures(movie: Movie, onPicture: Writing['onPicture']): Promise<Uint8Array[]> {
  const encoder = new Ffmpeg([
    ...['-f', 'matroska', '-i', 'pipe:0', '-vf', 'format=bgra', '-fps_mode', 'passthrough', ...lossless, 'pipe:1'],
  ])
  const pieces: Uint8Array[] = []
  try {
    const reading = (async () => {
      for await (const piece of encoder.output) pieces.push(piece)
    })()
    reading.catch(() => encoder.kill())
    await encoder.feed(streamHeader(rawTrack(movie)))
    for (let picture = 0; picture < movie.pictures; picture++) {
      // The pipe hands bytes on as they are; the next picture is drawn over them.
      await encoder.feed(...framed({ bytes: new Uint8Array(movie.draw(picture)), key: true }, picture, movie.rate))
      onPicture?.(picture + 1, movie.pictures)
    }
    encoder.close()
    await Promise.all([encoder.ended, reading])
  } finally {
    encoder.kill()
  }
  return riffFiles(Buffer.concat(pieces))
}

/** An animated WebP: each distinct picture is coded once a run, and stands for as long as the run. */
export async function withWebp(movie: Movie, file: string, writing: Writing): Promise<void> {
  const { width, height, region, rate, frames } = movie
  const coded = await pictures(movie, writing.onPicture)
  const time = (frame: number) => Math.round((1000 * frame * rate.den) / rate.num)
  const shown = runsOf(frames).map(({ picture, from, count }) => ({
    webp: coded[picture]!,
    milliseconds: time(from + count) - time(from),
  }))
  writeFileSync(file, animatedWebp({ width, height }, region, shown))
}

/** One picture that fills its frame, as lossless WebP. */
export async function webpOf(movie: Movie): Promise<Uint8Array> {
  return (await pictures(movie, undefined))[0]!
}
