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
