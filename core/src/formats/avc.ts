import type { Packet } from './matroska.ts'
import { joined } from './png.ts'

/**
 * Held frames of H.264 (ITU-T H.264, 08/2021): a frame that only says that every macroblock is skipped shows the one before
 * again, in some bytes and without an encoder. The stream it is put into has every frame refer to the one before alone
 * (`pic_order_cnt_type` 2, one reference frame), and its frames numbered anew.
 */
class Bits {
  private at = 0
  constructor(private readonly bytes: Uint8Array) {}

  get position(): number {
    return this.at
  }

  /** An unsigned number of so many bits (`u(n)`). */
  take(count: number): number {
    let value = 0
    for (let i = 0; i < count; i++, this.at++)
      value = value * 2 + ((this.bytes[this.at >> 3]! >> (7 - (this.at & 7))) & 1)
    return value
  }

  /** An Exp-Golomb number (9.1). */
  golomb(): number {
    let zeros = 0
    while (this.take(1) === 0) if (++zeros > 31) throw new Error('H.264: a header breaks off')
    return 2 ** zeros - 1 + this.take(zeros)
  }
}

/** Bits as text, put together: short headers are all that is written. */
const fixed = (value: number, count: number) => value.toString(2).padStart(count, '0')
const golomb = (value: number) => {
  const code = (value + 1).toString(2)
  return '0'.repeat(code.length - 1) + code
}

/** A unit from its header and the bits behind it, ended (7.3.2.11) and with emulation prevention (7.4.1). */
function unit(header: number, bits: string): Uint8Array {
  const whole = `${bits}1`.padEnd(Math.ceil((bits.length + 1) / 8) * 8, '0')
  const payload = Uint8Array.from({ length: whole.length / 8 }, (_, i) =>
    Number.parseInt(whole.slice(8 * i, 8 * i + 8), 2),
  )
  return escaped(Uint8Array.of(header, ...payload))
}

/** With a 3 between two zeros and what would pass for a start code (7.4.1). */
function escaped(bytes: Uint8Array): Uint8Array {
  const out: number[] = []
  let zeros = 0
  for (const byte of bytes) {
    if (zeros >= 2 && byte <= 3) {
      out.push(3)
      zeros = 0
    }
    out.push(byte)
    zeros = byte === 0 ? zeros + 1 : 0
  }
  return Uint8Array.from(out)
}

function unescaped(bytes: Uint8Array): Uint8Array {
  const out = new Uint8Array(bytes.length)
  let [length, zeros] = [0, 0]
  for (const byte of bytes) {
    if (zeros >= 2 && byte === 3) {
      zeros = 0
      continue
    }
    out[length++] = byte
    zeros = byte === 0 ? zeros + 1 : 0
  }
  return out.subarray(0, length)
}

/** Number of the picture parameter set that skipped frames refer to; the encoder's own is 0. */
const ownSet = 1

/** Entropy coding by CAVLC, in which a run of skipped macroblocks is a number; deblocking can be switched off (7.3.2.2). */
const skippedSet = unit(
  0x68,
  [
    golomb(ownSet),
    golomb(0),
    '0',
    '0',
    golomb(0),
    golomb(0),
    golomb(0),
    '0',
    '00',
    golomb(0),
    golomb(0),
    golomb(0),
    '1',
    '0',
    '0',
  ].join(''),
)

/** Frames of a stream of the kind above, as an encoder gives them with `avcC` (ISO/IEC 14496-15) and lengths of four bytes. */
export class HeldFrames {
  /** `avcC` with the set that held frames refer to. */
  readonly private: Uint8Array
  private readonly numberBits: number
  private readonly macroblocks: number
  private number = 0

  /** @throws Error for a stream of another kind: an encoder that was told otherwise */
  constructor(avcC: Uint8Array, width: number, height: number) {
    const view = new DataView(avcC.buffer, avcC.byteOffset, avcC.byteLength)
    const sps = avcC.subarray(8, 8 + view.getUint16(6))
    this.numberBits = frameNumberBits(sps)
    this.macroblocks = Math.ceil(width / 16) * Math.ceil(height / 16)
    const sets = 8 + sps.length
    const first = sets + 3 + view.getUint16(sets + 1)
    if ((avcC[4]! & 3) !== 3 || avcC[sets] !== 1) throw new Error('H.264: another kind of stream than was asked for')
    const size = Uint8Array.of(skippedSet.length >> 8, skippedSet.length & 255)
    this.private = joined([
      avcC.subarray(0, sets),
      Uint8Array.of(2),
      avcC.subarray(sets + 1, first),
      size,
      skippedSet,
      avcC.subarray(first),
    ])
  }

  /** A frame of the encoder, numbered as it stands among the others. */
  coded(packet: Packet): Packet {
    const { bytes } = packet
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
    const units: Uint8Array[] = []
    for (let at = 0; at + 4 <= bytes.length; ) {
      const size = view.getUint32(at)
      const own = bytes.subarray(at + 4, at + 4 + size)
      const type = own[0]! & 31
      if (type === 5) this.number = 0
      units.push(type === 1 ? this.numbered(own) : own)
      at += 4 + size
    }
    this.number++
    return { ...packet, bytes: withLengths(units) }
  }

  /** The frame before once more. */
  again(): Packet {
    const slice = [
      // From the first macroblock; P, as all slices of the picture.
      golomb(0),
      golomb(5),
      golomb(ownSet),
      fixed(this.number % 2 ** this.numberBits, this.numberBits),
      // The default number and order of references, no marking, no change of the quantiser, no deblocking.
      '0',
      '0',
      '0',
      golomb(0),
      golomb(1),
      golomb(this.macroblocks),
    ]
    this.number++
    return { bytes: withLengths([unit(0x41, slice.join(''))]), key: false }
  }

  /** A slice with the number that its frame has here. */
  private numbered(slice: Uint8Array): Uint8Array {
    const raw = unescaped(slice)
    const bits = new Bits(raw.subarray(1))
    for (let i = 0; i < 3; i++) bits.golomb()
    const from = 8 + bits.position
    const value = this.number % 2 ** this.numberBits
    for (let i = 0; i < this.numberBits; i++) {
      const at = from + i
      const mask = 0x80 >> (at & 7)
      const isSet = (value >> (this.numberBits - 1 - i)) & 1
      raw[at >> 3] = isSet ? raw[at >> 3]! | mask : raw[at >> 3]! & ~mask
    }
    return escaped(raw)
  }
}

function withLengths(units: readonly Uint8Array[]): Uint8Array {
  return joined(
    units.flatMap((own) => {
      const size = new Uint8Array(4)
      new DataView(size.buffer).setUint32(0, own.length)
      return [size, own]
    }),
  )
}

/** Bits of `frame_num`, from a sequence parameter set (7.3.2.1.1). */
function frameNumberBits(sps: Uint8Array): number {
  const bits = new Bits(unescaped(sps).subarray(1))
  const profile = bits.take(8)
  bits.take(16)
  bits.golomb()
  // High and above say how colour is kept first; 4:2:0 of 8 bits without matrices of its own.
  const isPlain = profile < 100 || (bits.golomb() === 1 && bits.golomb() + bits.golomb() + bits.take(2) === 0)
  const count = bits.golomb() + 4
  if (!isPlain || bits.golomb() !== 2 || bits.golomb() !== 1)
    throw new Error('H.264: frames do not refer to the one before alone')
  return count
}
