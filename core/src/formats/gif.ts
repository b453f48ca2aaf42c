import { demand } from '../refusal/index.ts'

/** Of a GIF's pictures, how many hundredths of a second each stands, in order (GIF89a, 23: graphic control extension). */
export function gifDelays(bytes: Uint8Array): number[] {
  return delayPlaces(bytes).map((at) => bytes[at]! + 256 * bytes[at + 1]!)
}

/** Sets how long each picture of a GIF stands, hundredths of a second, in place. @throws Refusal for another number of them */
export function setGifDelays(bytes: Uint8Array, delays: readonly number[]): void {
  const places = delayPlaces(bytes)
  demand(
    places.length === delays.length,
    'gif.broken',
    `The GIF has ${places.length} pictures instead of ${delays.length}; render it again.`,
  )
  for (const [i, at] of places.entries()) {
    bytes[at] = delays[i]! & 255
    bytes[at + 1] = delays[i]! >> 8
  }
}

/** Where the delays lie, of a file whose every picture has one. */
function delayPlaces(bytes: Uint8Array): number[] {
  const places: number[] = []
  const tableBytes = (packed: number) => (packed & 0x80 ? 3 << ((packed & 7) + 1) : 0)
  let at = 13 + tableBytes(bytes[10] ?? 0)
  const skipBlocks = () => {
    while (at < bytes.length && bytes[at] !== 0) at += 1 + bytes[at]!
    at++
  }
  while (at < bytes.length && bytes[at] !== 0x3b) {
    if (bytes[at] === 0x21) {
      if (bytes[at + 1] === 0xf9) places.push(at + 4)
      at += 2
    } else at += 11 + tableBytes(bytes[at + 9] ?? 0)
    skipBlocks()
  }
  return places
}
