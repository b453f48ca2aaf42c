import { framed, type Packet, streamHeader } from '@hoja/core/formats'
import { runsOf } from '@hoja/core/output'
import { encoded } from './alone.ts'
import type { Encoding } from './codings.ts'
import { bt709, tagged, toYuv } from './colours.ts'
import { muxing } from './containers.ts'
import type { Movie, Writing } from './movie.ts'
import type { AlphaMode } from './pixels.ts'

/** VP9 with a packet a frame: no frames that are not shown, none that wait for later ones. */
const vp9 = (filter: string, ...quality: string[]): Encoding => ({
  filter,
  args: ['-c:v', 'libvpx-vp9', '-auto-alt-ref', '0', '-lag-in-frames', '0', ...quality, ...tagged],
  bits: 8,
})

/** Without loss the quickest search comes as far as the longest one, in a third of its time. */
const keyed = vp9(
  'format=gray,setparams=range=tv,format=yuv420p',
  ...['-lossless', '1', '-deadline', 'realtime', '-cpu-used', '5'],
)
const coloured = vp9(toYuv('yuv420p'), '-crf', '12', '-b:v', '0', '-deadline', 'good', '-cpu-used', '4')

/**
 * VP9 with alpha. Colours and alpha are coded side by side, each by itself, alpha without loss; a held frame is coded once, and
 * what follows says that it is shown again.
 */
export async function withVp9(movie: Movie, file: string, writing: Writing): Promise<void> {
  const { width, height, rate, frames } = movie
  const runs = runsOf(frames)
  const pictures = runs.map(({ picture }) => picture)
  const parts = [0, 0]
  const coded = async (part: 0 | 1, encoding: Encoding, mode: AlphaMode): Promise<Packet[]> => {
    const packets: Packet[] = []
    const onPicture = (done: number, of: number) => {
      parts[part] = done
      writing.onPicture?.(parts[0]! + parts[1]!, 2 * of)
    }
    await encoded(movie, encoding, mode, async (packet) => void packets.push(packet), onPicture, pictures)
    return packets
  }
  const muxer = await muxing(movie, 'webm', file, writing)
  try {
    const [alphas, colours] = await Promise.all([
      coded(0, keyed, { kind: 'key' }),
      coded(1, coloured, { kind: 'drawn on' }),
    ])
    await muxer.feed(streamHeader({ codec: 'V_VP9', width, height, rate, alpha: true, colour: bt709 }))
    for (const [run, { from, count }] of runs.entries()) {
      const [alpha, packet] = [alphas[run]!, colours[run]!]
      await muxer.feed(...framed({ ...packet, alpha: alpha.bytes }, from, rate))
      const again = { bytes: shownAgain(packet), alpha: shownAgain(alpha), key: false }
      for (let frame = from + 1; frame < from + count; frame++) await muxer.feed(...framed(again, frame, rate))
    }
    muxer.close()
    await muxer.ended
  } finally {
    muxer.kill()
  }
}

/**
 * A packet of one byte that shows the frame of another packet again ("VP9 Bitstream & Decoding Process Specification" 0.6,
 * 6.2: show_existing_frame). It names the slot in which the decoder keeps that frame.
 * @throws Error for a frame that is kept nowhere, or not shown: an encoder that was told otherwise
 */
export function shownAgain({ bytes }: Pick<Packet, 'bytes'>): Uint8Array {
  const slot = keptIn(bytes)
  if (slot === undefined) throw new Error('VP9: a frame is not kept to be shown again')
  // frame_marker 2, profile 0, show_existing_frame 1, frame_to_show_map_idx.
  return Uint8Array.of(0x88 | slot)
}

/** The first slot in which the decoder keeps a frame of profile 0. */
function keptIn(bytes: Uint8Array): number | undefined {
  const [head = 0, second = 0, third = 0] = bytes
  const [isShown, isResilient, isInter] = [head & 2, head & 1, head & 4]
  // Marker 2, profile 0, a frame of its own; hidden frames have other fields.
  if (head >> 4 !== 8 || head & 8 || !isShown) return undefined
  // A key frame is kept everywhere.
  if (!isInter) return 0
  // reset_frame_context has two bits unless the frame is error resilient; refresh_frame_flags eight.
  const flags = isResilient ? second : ((second << 2) | (third >> 6)) & 255
  for (let slot = 0; slot < 8; slot++) if (flags & (1 << slot)) return slot
  return undefined
}
