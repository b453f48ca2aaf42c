import { demand, Refusal } from '../refusal/index.ts'

export interface SoundHeader {
  kind: 'wav' | 'mp3' | 'ogg'
  seconds: number
}

const ascii = (b: Uint8Array, at: number, length: number) => String.fromCharCode(...b.subarray(at, at + length))
const view = (b: Uint8Array) => new DataView(b.buffer, b.byteOffset, b.byteLength)

/** The longest sound a template may carry, seconds. */
export const longestSound = 600

/**
 * Kind and length of a sound from its bytes, without decoding it. Ours, because a kept library takes half of a file for a
 * whole one, in 7 times the time and more (`npm run bench sounds`).
 * @throws Refusal for anything else, or a broken one
 */
export function readSoundHeader(bytes: Uint8Array, name: string): SoundHeader {
  const header = wav(bytes, name) ?? ogg(bytes, name) ?? mp3(bytes)
  if (!header)
    throw new Refusal('sound.kind', `"${name}" is not a WAV, MP3 or Ogg sound; save it as one of these.`, 415)
  demand(header.seconds > 0, 'sound.broken', `"${name}" is a sound without a length; save it again.`)
  demand(
    header.seconds <= longestSound,
    'sound.long',
    `"${name}" lasts ${Math.round(header.seconds)} s; cut it to at most ${longestSound} s.`,
  )
  return header
}

/** RIFF WAVE (Microsoft and IBM, Multimedia Programming Interface 1.0): `fmt ` tells bytes a second, `data` how many. */
function wav(b: Uint8Array, name: string): SoundHeader | undefined {
  if (b.length < 12 || ascii(b, 0, 4) !== 'RIFF' || ascii(b, 8, 4) !== 'WAVE') return undefined
  let rate = 0
  for (let at = 12; at + 8 <= b.length; ) {
    const id = ascii(b, at, 4)
    const length = view(b).getUint32(at + 4, true)
    if (id === 'fmt ') rate = view(b).getUint32(at + 16, true)
    if (id === 'data') {
      demand(at + 8 + length <= b.length, 'sound.broken', `"${name}" breaks off before its end; save it again.`)
      return { kind: 'wav', seconds: rate > 0 ? length / rate : 0 }
    }
    at += 8 + length + (length & 1)
  }
  return { kind: 'wav', seconds: 0 }
}

/** Ogg (RFC 3533): the last page of the first stream tells how many samples went before; Vorbis I and Opus (RFC 7845). */
function ogg(b: Uint8Array, name: string): SoundHeader | undefined {
  if (b.length < 58 || ascii(b, 0, 4) !== 'OggS') return undefined
  const head = 27 + b[26]!
  const vorbis = b[head] === 1 && ascii(b, head + 1, 6) === 'vorbis'
  const opus = ascii(b, head, 8) === 'OpusHead'
  demand(
    vorbis || opus,
    'sound.kind',
    `"${name}" is an Ogg file without Vorbis or Opus sound; save it as one of these.`,
  )
  const rate = vorbis ? view(b).getUint32(head + 12, true) : 48000
  const skip = opus ? view(b).getUint16(head + 10, true) : 0
  for (let at = b.length - 27; at >= 0; at--)
    if (b[at] === 0x4f && ascii(b, at, 4) === 'OggS') {
      const ends = (b[at + 5]! & 4) !== 0
      demand(ends, 'sound.broken', `"${name}" breaks off before its end; save it again.`)
      const samples = Number(view(b).getBigInt64(at + 6, true)) - skip
      return { kind: 'ogg', seconds: rate > 0 ? samples / rate : 0 }
    }
  return { kind: 'ogg', seconds: 0 }
}

/** kbit/s by version (1; 2 and 2.5) for layer III: ISO/IEC 11172-3, 2.4.2.3 and ISO/IEC 13818-3, 2.4.2.3. */
const bitRates = [
  [32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320],
  [8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160],
] as const
const sampleRates = [44100, 48000, 32000] as const

/** One layer III frame: its bytes and its seconds; undefined where none begins. */
function mp3Frame(b: Uint8Array, at: number): { length: number; seconds: number } | undefined {
  if (at + 4 > b.length || b[at] !== 0xff || (b[at + 1]! & 0xe6) !== 0xe2) return undefined
  const version = (b[at + 1]! >> 3) & 3
  const rateIndex = (b[at + 2]! >> 4) - 1
  const sampleIndex = (b[at + 2]! >> 2) & 3
  if (version === 1 || rateIndex < 0 || rateIndex > 13 || sampleIndex === 3) return undefined
  const isOne = version === 3
  const samples = isOne ? 1152 : 576
  const sampleRate = sampleRates[sampleIndex]! / (isOne ? 1 : version === 2 ? 2 : 4)
  const bits = bitRates[isOne ? 0 : 1][rateIndex]! * 1000
  return {
    length: Math.floor(((samples / 8) * bits) / sampleRate) + ((b[at + 2]! >> 1) & 1),
    seconds: samples / sampleRate,
  }
}

/** MP3: every frame counted, behind an ID3v2 tag if there is one. Three frames in a row are what makes it one. */
function mp3(b: Uint8Array): SoundHeader | undefined {
  let at = 0
  if (ascii(b, 0, 3) === 'ID3' && b.length > 10)
    at = 10 + ((b[6]! << 21) | (b[7]! << 14) | (b[8]! << 7) | b[9]!) + (b[5]! & 0x10 ? 10 : 0)
  let [seconds, count] = [0, 0]
  for (let frame = mp3Frame(b, at); frame; frame = mp3Frame(b, at)) {
    seconds += frame.seconds
    count++
    at += frame.length
  }
  return count >= 3 ? { kind: 'mp3', seconds } : undefined
}
