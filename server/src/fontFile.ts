import { demandFontRoom, unpackWoff, woffKind } from '@hoja/core/formats'
import { Refusal } from '@hoja/core/refusal'
import { decompress } from 'wawoff2'

/** Fonts by the ends of their names. */
export const isFont = (name: string): boolean => /\.(ttf|otf|woff2?)$/i.test(name)

/**
 * A font as TrueType or OpenType, whatever it was wrapped in (W3C WOFF File Format 1.0 and 2.0), and its name with it.
 * @throws Refusal for a damaged one
 */
export async function plainFont(bytes: Uint8Array, name: string): Promise<{ bytes: Uint8Array; name: string }> {
  const kind = woffKind(bytes)
  if (!kind) {
    if (/\.woff2?$/i.test(name))
      throw new Refusal('font.format', `"${name}" is not a WOFF font; choose another file.`, 415)
    return { bytes, name }
  }
  let plain: Uint8Array
  try {
    // What a WOFF 2.0 font says that it unpacks to (4.1, totalSfntSize) is what its unpacker makes room for.
    if (kind === 2 && bytes.length >= 20) demandFontRoom(Buffer.from(bytes).readUInt32BE(16), name)
    plain = kind === 1 ? unpackWoff(bytes, name) : new Uint8Array(await decompress(bytes))
    demandFontRoom(plain.length, name)
  } catch (error) {
    if (error instanceof Refusal) throw error
    throw new Refusal('font.broken', `"${name}" is a damaged WOFF font; save it again.`)
  }
  const isCff = String.fromCharCode(...plain.subarray(0, 4)) === 'OTTO'
  return { bytes: plain, name: name.replace(/\.woff2?$/i, isCff ? '.otf' : '.ttf') }
}
