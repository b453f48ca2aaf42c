import { type Rate, rateText, secondsOf } from '@hoja/core/time'
import { Ffmpeg } from '../ffmpeg.ts'
import type { Mark, Movie, Writing } from './movie.ts'
import { sounding } from './sounds.ts'

export type Container = 'mov' | 'mkv' | 'webm' | 'mp4' | 'mxf' | 'avi'

export const soundEncoders: Record<Container, string[]> = {
  webm: ['-c:a', 'libopus', '-b:a', '160k'],
  mov: ['-c:a', 'pcm_s16le'],
  mkv: ['-c:a', 'flac'],
  mp4: ['-c:a', 'aac', '-b:a', '192k'],
  mxf: ['-c:a', 'pcm_s16le'],
  avi: ['-c:a', 'pcm_s16le'],
}

/** What a container is told of its clock and its timecode. */
export function wrapped(container: Container, rate: Rate, timecode: string | undefined): string[] {
  // Both clocks count in parts of a frame: an edit in milliseconds would end between two frames.
  const clock = ['-video_track_timescale', String(rate.num), '-movie_timescale', String(rate.num)]
  switch (container) {
    case 'mov':
      return [...clock, ...(timecode ? ['-timecode', timecode] : []), '-movflags', '+write_colr']
    case 'mp4':
      return [...clock, ...(timecode ? ['-timecode', timecode] : []), '-movflags', '+faststart']
    case 'mxf':
      return ['-timecode', timecode ?? '00:00:00:00']
    case 'avi':
      return []
    default:
      return timecode ? ['-metadata', `timecode=${timecode}`] : []
  }
}

/** Marks as ffmpeg's metadata has chapters, as an input of their own. */
export function chapters(marks: readonly Mark[] | undefined, { num, den }: Rate): string[] {
  if (!marks || marks.length === 0) return []
  const lines = marks.flatMap(({ name, from, count }) => [
    '[CHAPTER]',
    `TIMEBASE=${den}/${num}`,
    `START=${from}`,
    `END=${from + count}`,
    `title=${name}`,
  ])
  const text = [';FFMETADATA1', ...lines, ''].join('\n')
  return ['-f', 'ffmetadata', '-i', `data:text/plain;base64,${Buffer.from(text).toString('base64')}`]
}

/** Puts packets that are fed to it into a file, with the sounds and the marks. */
export async function muxing(
  { rate, frames }: Movie,
  container: Container,
  file: string,
  writing: Writing,
): Promise<Ffmpeg> {
  const sound = await sounding(writing.sounds ?? [], secondsOf(frames.length, rate), 1)
  const marks = chapters(writing.marks, rate)
  const marksInput = 1 + (writing.sounds?.length ?? 0)
  // The pipe counts milliseconds, as Matroska does; QuickTime's times are exact fractions.
  const exact = `setts=pts=N*${rate.den}:dts=N*${rate.den}:duration=${rate.den}:time_base=1/${rate.num}`
  // MXF and AVI count frames, and take the rate from the stream.
  const counted = container === 'mxf' || container === 'avi' ? ['-r', rateText(rate)] : []
  return new Ffmpeg([
    ...['-f', 'matroska', ...counted, '-i', 'pipe:0', ...sound.inputs, ...marks],
    ...(sound.graph.length > 0 ? ['-filter_complex', sound.graph.join(';')] : []),
    ...[
      '-map',
      '0:v',
      '-c:v',
      'copy',
      ...counted,
      ...(container === 'mov' || container === 'mp4' ? ['-bsf:v', exact] : []),
    ],
    ...(sound.graph.length > 0 ? ['-map', '[sound]', ...soundEncoders[container]] : []),
    // Not those of a sound.
    ...['-map_chapters', marks.length > 0 ? String(marksInput) : '-1'],
    ...wrapped(container, rate, writing.timecode),
    file,
  ])
}
