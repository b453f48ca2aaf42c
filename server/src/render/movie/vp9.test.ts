import { execFileSync } from 'node:child_process'
import { type Packet, PacketReader } from '@hoja/core/formats'
import { shownAgain } from './vp9.ts'

/** Packets of a moving picture, as the encoder makes them when it is told so. */
function coded(...args: string[]): Packet[] {
  const stream = execFileSync('ffmpeg', [
    ...['-v', 'error', '-f', 'lavfi', '-i', 'testsrc=size=64x36:rate=25:duration=0.4', '-pix_fmt', 'yuv420p'],
    ...['-c:v', 'libvpx-vp9', '-deadline', 'realtime', '-cpu-used', '8', ...args, '-f', 'matroska', 'pipe:1'],
  ])
  const reader = new PacketReader()
  return [...reader.add(stream), ...reader.add(new Uint8Array())]
}

// "VP9 Bitstream & Decoding Process Specification" 0.6, 6.2 and 7.2: frame_marker 2, then profile bits, then show_existing_frame.
test('one byte shows a frame again, of a key frame from any slot, of others from one that they were kept in', () => {
  const packets = coded('-auto-alt-ref', '0', '-lag-in-frames', '0')
  expect(packets.map(({ key }) => key)).toEqual([true, ...new Array(9).fill(false)])
  for (const packet of packets) {
    const again = shownAgain(packet)
    expect(again).toHaveLength(1)
    expect(again[0]! >> 6).toBe(2)
    expect(again[0]! & 0x38).toBe(0x08)
  }
  expect([...shownAgain(packets[0]!)]).toEqual([0x88])
})

test('a frame that is not shown, kept nowhere, or of another profile is refused, not shown wrongly', () => {
  // A hidden frame is packed behind others by the encoder: made by hand here, from a shown one.
  const [key, inter] = coded('-auto-alt-ref', '0', '-lag-in-frames', '0', '-error-resilient', '1')
  const changed = ({ bytes }: Packet, at: number, to: (byte: number) => number) => {
    const own = bytes.slice()
    own[at] = to(own[at]!)
    return { bytes: own }
  }
  expect(shownAgain(inter!)).toHaveLength(1)
  const not = 'not kept'
  expect(() => shownAgain(changed(key!, 0, (byte) => byte & ~2))).toThrow(not)
  expect(() => shownAgain(changed(key!, 0, (byte) => byte | 0x20))).toThrow(not)
  expect(() => shownAgain(changed(key!, 0, (byte) => byte | 8))).toThrow(not)
  // Error resilient: refresh_frame_flags are the second byte.
  expect(() => shownAgain(changed(inter!, 1, () => 0))).toThrow(not)
  expect([...shownAgain(changed(inter!, 1, () => 0b1010_0000))]).toEqual([0x88 | 5])
})
