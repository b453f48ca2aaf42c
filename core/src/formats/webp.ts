import type { Box } from '../geometry/index.ts'
import { demand } from '../refusal/index.ts'
import { joined } from './png.ts'

/** The chunks of a RIFF file, and files behind one another: each begins with its length. */
export function riffFiles(bytes: Uint8Array): Uint8Array[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const files: Uint8Array[] = []
  for (let at = 0; at + 12 <= bytes.length; ) {
    const size = 8 + view.getUint32(at + 4, true)
    demand(at + size <= bytes.length, 'webp.broken', 'A WebP breaks off before its end; render it again.')
    files.push(bytes.subarray(at, at + size))
    at += size + (size & 1)
  }
  return files
}

/** What a WebP of one picture is coded in: its chunks of alpha and colour, as they stand. */
function coded(webp: Uint8Array): Uint8Array {
  const view = new DataView(webp.buffer, webp.byteOffset, webp.byteLength)
  const kept: Uint8Array[] = []
  for (let at = 12; at + 8 <= webp.length; ) {
    const type = String.fromCharCode(...webp.subarray(at, at + 4))
    const size = 8 + view.getUint32(at + 4, true)
    if (['ALPH', 'VP8 ', 'VP8L'].includes(type)) kept.push(chunk(type, webp.subarray(at + 8, at + size)))
    at += size + (size & 1)
  }
  return joined(kept)
}

function chunk(type: string, data: Uint8Array): Uint8Array {
  const out = new Uint8Array(8 + data.length + (data.length & 1))
  out.set([...type].map((c) => c.charCodeAt(0)))
  new DataView(out.buffer).setUint32(4, data.length, true)
  out.set(data, 8)
  return out
}

const three = (value: number) => [value & 255, (value >> 8) & 255, (value >> 16) & 255]

/** Longest that one picture may stand: 24 bits. */
const longest = 0xffffff

/**
 * Puts WebP pictures of one region together as an animation (WebP Container Specification, Google; RFC 9649, 2.7): each takes
 * the place of the one before, nothing lies around them, and it plays over and over.
 * @param region in px of the canvas, beginning at even numbers
 */
export function animatedWebp(
  canvas: { width: number; height: number },
  region: Box,
  pictures: readonly { webp: Uint8Array; milliseconds: number }[],
): Uint8Array {
  demand(region.x % 2 === 0 && region.y % 2 === 0, 'webp.region', 'A picture in a WebP begins at even pixels.')
  // Animation and alpha.
  const header = Uint8Array.from([0x12, 0, 0, 0, ...three(canvas.width - 1), ...three(canvas.height - 1)])
  const frames = pictures.map(({ webp, milliseconds }) => {
    const head = [
      ...[...three(region.x / 2), ...three(region.y / 2), ...three(region.width - 1), ...three(region.height - 1)],
      // Not blended with what lies there.
      ...[...three(Math.min(longest, milliseconds)), 0x02],
    ]
    return chunk('ANMF', joined([Uint8Array.from(head), coded(webp)]))
  })
  // No background, and no end.
  const animation = chunk('ANIM', Uint8Array.from([0, 0, 0, 0, 0, 0]))
  const body = joined([
    Uint8Array.from([...'WEBP'].map((c) => c.charCodeAt(0))),
    chunk('VP8X', header),
    animation,
    ...frames,
  ])
  return chunk('RIFF', body)
}
