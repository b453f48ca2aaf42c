import { limits, most } from '../limits/index.ts'
import { demand, Refusal } from '../refusal/index.ts'

export interface ImageHeader {
  kind: 'png' | 'jpeg' | 'webp'
  width: number
  height: number
}

/** Kind and size of a picture from its first bytes, without decoding it. @throws Refusal for anything else, or one too large. */
export function readImageHeader(bytes: Uint8Array, name: string): ImageHeader {
  const header = png(bytes) ?? jpeg(bytes) ?? webp(bytes)
  if (!header)
    throw new Refusal('picture.kind', `"${name}" is not a PNG, JPEG or WebP picture; save it as one of these.`, 415)
  demand(
    header.width > 0 && header.height > 0,
    'picture.broken',
    `"${name}" is a picture without a size; save it again.`,
  )
  demand(
    Math.max(header.width, header.height) <= limits.pictureSide.most &&
      header.width * header.height <= limits.picturePixels.most,
    'picture.large',
    `"${name}" is ${header.width} x ${header.height} px; make it at most ${most('pictureSide')} on its longer side, and ${most('picturePixels')} in all.`,
  )
  demand(isWhole(bytes, header.kind), 'picture.broken', `"${name}" breaks off before its end; save it again.`)
  return header
}

/** Whether a picture's last bytes are there: decoders fill up what is missing and say nothing. */
function isWhole(b: Uint8Array, kind: ImageHeader['kind']): boolean {
  if (kind === 'webp') return b.length >= 8 + (b[4]! | (b[5]! << 8) | (b[6]! << 16)) + b[7]! * 2 ** 24
  const end = kind === 'png' ? 'IEND' : '\u00ff\u00d9'
  // Some programs add a little behind the end.
  return new TextDecoder('latin1').decode(b.subarray(-65536)).includes(end)
}

const u16 = (b: Uint8Array, at: number) => b[at]! * 256 + b[at + 1]!
const u32 = (b: Uint8Array, at: number) => u16(b, at) * 65536 + u16(b, at + 2)
const ascii = (b: Uint8Array, at: number, length: number) => String.fromCharCode(...b.subarray(at, at + length))

/** PNG specification (3rd edition), 5.2 and 11.2.1. */
function png(b: Uint8Array): ImageHeader | undefined {
  if (b.length < 24 || b[0] !== 0x89 || ascii(b, 1, 3) !== 'PNG' || ascii(b, 12, 4) !== 'IHDR') return undefined
  return { kind: 'png', width: u32(b, 16), height: u32(b, 20) }
}

/** ITU-T T.81: segments up to the frame header. */
function jpeg(b: Uint8Array): ImageHeader | undefined {
  if (b[0] !== 0xff || b[1] !== 0xd8) return undefined
  for (let at = 2; at + 9 < b.length; ) {
    if (b[at] !== 0xff) return undefined
    const marker = b[at + 1]!
    if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker))
      return { kind: 'jpeg', height: u16(b, at + 5), width: u16(b, at + 7) }
    at += 2 + u16(b, at + 2)
  }
  return undefined
}

/** WebP container specification: VP8, VP8L and VP8X chunks. */
function webp(b: Uint8Array): ImageHeader | undefined {
  if (b.length < 30 || ascii(b, 0, 4) !== 'RIFF' || ascii(b, 8, 4) !== 'WEBP') return undefined
  const chunk = ascii(b, 12, 4)
  if (chunk === 'VP8 ')
    return { kind: 'webp', width: (b[26]! | (b[27]! << 8)) & 0x3fff, height: (b[28]! | (b[29]! << 8)) & 0x3fff }
  if (chunk === 'VP8L')
    return {
      kind: 'webp',
      width: 1 + (b[21]! | ((b[22]! & 0x3f) << 8)),
      height: 1 + ((b[22]! >> 6) | (b[23]! << 2) | ((b[24]! & 0x0f) << 10)),
    }
  return {
    kind: 'webp',
    width: 1 + b[24]! + b[25]! * 256 + b[26]! * 65536,
    height: 1 + b[27]! + b[28]! * 256 + b[29]! * 65536,
  }
}
