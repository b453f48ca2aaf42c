import type { Packet } from '@hoja/core/formats'

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
