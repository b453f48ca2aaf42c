import fc from 'fast-check'
import { framed, type Packet, PacketReader, streamHeader } from './index.ts'

const rate = { num: 30000, den: 1001 }
const bytes = fc.uint8Array({ minLength: 1, maxLength: 400 })
const packet: fc.Arbitrary<Packet> = fc.oneof(
  fc.record({ bytes, key: fc.boolean() }),
  fc.record({ bytes, key: fc.boolean(), alpha: bytes }),
)
const track = { width: 64, height: 36, rate }

/** A stream cut at these places, which wrap around. */
function* cut(stream: Uint8Array, lengths: readonly number[]): Generator<Uint8Array> {
  for (let at = 0, n = 0; at < stream.length; n++) {
    const length = lengths[n % lengths.length]!
    yield stream.slice(at, at + length)
    at += length
  }
}

const streamOf = (packets: readonly Packet[], codec = 'V_VP9', own?: Uint8Array) =>
  Buffer.concat([
    streamHeader({ ...track, codec, alpha: true, ...(own ? { private: own } : {}) }),
    ...packets.flatMap((one, frame) => framed(one, frame, rate)),
  ])

test('a stream is read as it was written, wherever the pipe cuts it', () => {
  fc.assert(
    fc.property(
      fc.array(packet, { maxLength: 12 }),
      fc.array(fc.integer({ min: 1, max: 700 }), { minLength: 1, maxLength: 8 }),
      bytes,
      (packets, lengths, own) => {
        const reader = new PacketReader()
        const read = [...cut(streamOf(packets, 'V_PRORES', own), lengths)].flatMap((piece) => reader.add(piece))
        // The last group may wait for what comes behind it.
        const all = [...read, ...reader.add(new Uint8Array())]
        expect(all.map((one) => ({ ...one, bytes: [...one.bytes], alpha: one.alpha && [...one.alpha] }))).toEqual(
          packets.map((one) => ({ ...one, bytes: [...one.bytes], alpha: one.alpha && [...one.alpha] })),
        )
        expect(reader.waiting).toBe(0)
        expect(reader.track.codec).toBe('V_PRORES')
        expect([...reader.track.private!]).toEqual([...own])
      },
    ),
  )
})

test('a packet is given as soon as it is whole, and not before', () => {
  const stream = streamOf([{ bytes: Uint8Array.of(1, 2, 3), key: true }])
  const reader = new PacketReader()
  expect(reader.add(stream.subarray(0, -1))).toEqual([])
  expect(reader.waiting).toBeGreaterThan(0)
  expect(reader.add(stream.subarray(-1)).map((one) => [...one.bytes])).toEqual([[1, 2, 3]])
})

// RFC 8794, 11.2.1 and RFC 9559, 5.1: an EBML header, then one segment; here of unknown size, since a pipe has no end yet.
test('a stream begins with an EBML header and a segment without an end', () => {
  const header = streamHeader({ ...track, codec: 'V_UNCOMPRESSED', pixels: 'RGBA' })
  expect([...header.subarray(0, 4)]).toEqual([0x1a, 0x45, 0xdf, 0xa3])
  const text = Buffer.from(header).toString('latin1')
  expect(text).toContain('matroska')
  const segment = text.indexOf('\x18\x53\x80\x67')
  expect(segment).toBeGreaterThan(0)
  expect([...header.subarray(segment + 4, segment + 12)]).toEqual([1, 255, 255, 255, 255, 255, 255, 255])
  expect(text).toContain('RGBA')
})
