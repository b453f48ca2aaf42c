import { framed, HeldFrames, type Packet, type PacketReader, streamHeader } from '@hoja/core/formats'
import { type Run, runsOf } from '@hoja/core/output'
import { encoded } from './alone.ts'
import type { Encoding } from './codings.ts'
import { bt709, tagged, toYuv } from './colours.ts'
import { muxing } from './containers.ts'
import type { Movie, Writing } from './movie.ts'
import type { AlphaMode } from './pixels.ts'

/** Most frames from one that is decoded by itself to the next: a player jumps to those. */
const mostBetween = 250

/** Runs that are no longer than that. */
function stretches(frames: readonly number[]): Run[] {
  return runsOf(frames).flatMap(({ picture, from, count }) =>
    Array.from({ length: Math.ceil(count / mostBetween) }, (_, i) => ({
      picture,
      from: from + i * mostBetween,
      count: Math.min(mostBetween, count - i * mostBetween),
    })),
  )
}

/** Which of them begin with a frame by itself: the first, and those that come too long after the last such one. */
function keysOf(runs: readonly Run[]): number[] {
  let last = 0
  return runs.flatMap(({ from, count }, i) => {
    if (i > 0 && from + count - last <= mostBetween) return []
    last = from
    return [i]
  })
}

/**
 * H.264 over a colour or a still: each picture is coded once a run, every frame by the one before alone, and a held frame says
 * that nothing has changed.
 */
export async function withH264(movie: Movie, mode: AlphaMode, file: string, writing: Writing): Promise<void> {
  const { width, height, rate, frames, fields } = movie
  // Of two fields no frame is skipped whole: each is coded.
  const runs = fields ? frames.map((picture, from) => ({ picture, from, count: 1 })) : stretches(frames)
  const muxer = await muxing(movie, 'mp4', file, writing)
  const order = fields ? (fields === 'top' ? ':tff=1' : ':bff=1') : ''
  const encoding: Encoding = {
    filter: toYuv('yuv420p', fields !== undefined),
    args: [
      ...[
        '-c:v',
        'libx264',
        '-crf',
        '16',
        '-preset',
        'fast',
        '-bf',
        '0',
        '-refs',
        '1',
        '-x264-params',
        `weightp=0${order}`,
      ],
      ...[
        '-flags',
        `+global_header${fields ? '+ilme' : ''}`,
        '-force_key_frames',
        keyTimes(keysOf(runs), rate),
        ...tagged,
      ],
    ],
    bits: 8,
  }
  let held: HeldFrames | undefined
  let run = 0
  const emit = async (packet: Packet, track: PacketReader['track']) => {
    if (run === 0) {
      if (!fields) held = new HeldFrames(track.private!, width, height)
      const coded = { codec: 'V_MPEG4/ISO/AVC', private: held?.private ?? track.private! }
      const scan = fields ? { fields } : {}
      await muxer.feed(streamHeader({ ...coded, ...scan, width, height, rate, colour: bt709 }))
    }
    const { from, count } = runs[run++]!
    await muxer.feed(...framed(held?.coded(packet) ?? packet, from, rate))
    if (!held) return
    for (let frame = from + 1; frame < from + count; frame++) await muxer.feed(...framed(held.again(), frame, rate))
  }
  try {
    const pictures = runs.map(({ picture }) => picture)
    await encoded(movie, encoding, mode, emit, writing.onPicture, pictures)
    muxer.close()
    await muxer.ended
  } finally {
    muxer.kill()
  }
}

/** Moments in the pipe, in which each picture stands for one frame: a little early, however they are rounded. */
function keyTimes(keys: readonly number[], { num, den }: { num: number; den: number }): string {
  return keys.map((key) => (Math.max(0, key - 0.25) * (den / num)).toFixed(6)).join(',')
}
