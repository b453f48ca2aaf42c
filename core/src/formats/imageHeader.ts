import { disableTypes, imageSize, types } from 'image-size'
import { limits, most } from '../limits/index.ts'
import { demand, Refusal } from '../refusal/index.ts'

export interface ImageHeader {
  kind: 'png' | 'jpeg' | 'webp'
  width: number
  height: number
}

const kinds: Record<string, ImageHeader['kind']> = { png: 'png', jpg: 'jpeg', webp: 'webp' }
// What Hoja does not take is not looked into either.
disableTypes(types.filter((type) => !(type in kinds)))

function headerOf(bytes: Uint8Array): ImageHeader | undefined {
  try {
    const { type, width, height } = imageSize(bytes)
    const kind = kinds[type!]
    return kind && { kind, width, height }
  } catch {
    return undefined
  }
}

/** Kind and size of a picture from its first bytes, without decoding it. @throws Refusal for anything else, or one too large. */
export function readImageHeader(bytes: Uint8Array, name: string): ImageHeader {
  const header = headerOf(bytes)
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
