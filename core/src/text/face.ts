import { Blob, Face } from 'harfbuzzjs'

let bytesSoFar = 0

/**
 * A font's bytes as the shaper has them: copied to its own memory, which the garbage collector does not see and which is
 * freed some time after nobody refers to the face any more. The one place where that is taken.
 */
export function faceOf(bytes: Uint8Array): Face {
  bytesSoFar += bytes.length
  return new Face(new Blob(bytes))
}

/** Bytes of fonts that were ever copied to the shaper's memory: who has copied many since should collect the garbage. */
export const copiedBytes = (): number => bytesSoFar

/**
 * A table of a font (OpenType 1.9, "Organization of an OpenType Font"), or undefined where there is none, or it lies outside.
 * Read here: the shaper keeps the whole font for ever when it is asked for a table's bytes.
 */
export function tableIn(bytes: Uint8Array, tag: string): Uint8Array | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (bytes.length < 12) return undefined
  const count = view.getUint16(4)
  for (let at = 12; at < 12 + 16 * count && at + 16 <= bytes.length; at += 16) {
    if (String.fromCharCode(...bytes.subarray(at, at + 4)) !== tag) continue
    const [offset, length] = [view.getUint32(at + 8), view.getUint32(at + 12)]
    return offset + length <= bytes.length && length > 0 ? bytes.subarray(offset, offset + length) : undefined
  }
  return undefined
}
