import { framed, streamHeader } from '@hoja/core/formats'
import { runsOf } from '@hoja/core/output'
import { secondsOf } from '@hoja/core/time'
import { Ffmpeg } from '../ffmpeg.ts'
import { movieInput } from '../movieIn.ts'
import { overFootage } from './backdrop.ts'
import { tagged } from './colours.ts'
import { type Container, chapters, soundEncoders, wrapped } from './containers.ts'
import { type Movie, rawTrack, type Writing } from './movie.ts'
import { inAlphaMode } from './pixels.ts'
import { sounding } from './sounds.ts'

/** H.264, which codes frames by what changed since the last. */
export const h264 = {
  pixels: 'yuv420p',
  args: ['-c:v', 'libx264', '-crf', '16', '-preset', 'fast', ...tagged],
  container: 'mp4',
} as const

/**
 * A title over footage, of which every frame is another: all of them through one encoder into its file. Pictures of the title
 * are handed over once a run, and repeated inside.
 */
export async function framesTogether(
  movie: Movie,
  { pixels, args, container }: { pixels: string; args: readonly string[]; container: Container },
  footage: string,
  file: string,
  writing: Writing,
): Promise<void> {
  const { rate, frames, region } = movie
  const sounds = writing.sounds ?? []
  const sound = await sounding(sounds, secondsOf(frames.length, rate), 2)
  const marks = chapters(writing.marks, rate)
  const graph = await overFootage(movie, footage, pixels)
  // A long hold is written long after its last picture was handed over.
  const onFrame = (done: number) => writing.onPicture?.(done, frames.length)
  const encoder = new Ffmpeg(
    [
      ...['-f', 'matroska', '-i', 'pipe:0', ...movieInput(footage, 'the footage'), ...sound.inputs, ...marks],
      ...['-filter_complex', [...graph, ...sound.graph].join(';'), '-map', '[v]'],
      ...(sound.graph.length > 0 ? ['-map', '[sound]', ...soundEncoders[container]] : []),
      ...['-map_chapters', marks.length > 0 ? String(2 + sounds.length) : '-1'],
      ...[...args, '-threads', '1', '-fps_mode', 'passthrough', ...wrapped(container, rate, writing.timecode), file],
    ],
    onFrame,
  )
  try {
    await encoder.feed(streamHeader(rawTrack(movie)))
    const runs = runsOf(frames)
    let bytes: Uint8Array = new Uint8Array()
    for (const { picture, from } of runs) {
      bytes = inAlphaMode(movie.draw(picture), { kind: 'straight' }, region.width)
      await encoder.feed(...framed({ bytes, key: true }, from, rate))
    }
    // The last frame by itself: nothing else tells how long the last run is.
    const last = runs.at(-1)!
    if (last.count > 1) await encoder.feed(...framed({ bytes, key: true }, frames.length - 1, rate))
    encoder.close()
    await encoder.ended
  } finally {
    encoder.kill()
  }
}
