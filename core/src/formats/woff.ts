import { unzlibSync } from 'fflate'
import { limits, most } from '../limits/index.ts'
import { demand, Refusal } from '../refusal/index.ts'

/** Whether bytes are a WOFF 1.0 file, a WOFF 2.0 file, or neither, by their first four. */
export function woffKind(bytes: Uint8Array): 1 | 2 | undefined {
  const tag = String.fromCharCode(...bytes.subarray(0, 4))
  return tag === 'wOFF' ? 1 : tag === 'wOF2' ? 2 : undefined
}

/** @throws Refusal for a font that unpacks to more than Hoja takes */
export function demandFontRoom(bytes: number, name: string): void {
  demand(
    bytes <= limits.fontBytes.most,
    'font.large',
    `"${name}" unpacks to more than ${most('fontBytes')}; choose a smaller font.`,
  )
}

/**
 * Unpacks a WOFF 1.0 font (W3C WOFF File Format 1.0) to the TrueType or OpenType font that it wraps.
 * @throws Refusal for a damaged one
 */
export function unpackWoff(bytes: Uint8Array, name: string): Uint8Array {
  const broken = (): never => {
    throw new Refusal('font.broken', `"${name}" is a damaged WOFF font; save it again.`)
  }
  if (bytes.length < 44) broken()
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const count = view.getUint16(12)
  const total = view.getUint32(16)
  demandFontRoom(total, name)
  if (bytes.length < 44 + count * 20 || total < 12 + count * 16) broken()
  const sfnt = new Uint8Array(total)
  const out = new DataView(sfnt.buffer)
  out.setUint32(0, view.getUint32(4))
  out.setUint16(4, count)
  const power = 2 ** Math.floor(Math.log2(Math.max(1, count)))
  out.setUint16(6, power * 16)
  out.setUint16(8, Math.log2(power))
  out.setUint16(10, count * 16 - power * 16)
  let at = 12 + count * 16
  for (let i = 0; i < count; i++) {
    const entry = 44 + i * 20
    const [tag, offset, packed, length, sum] = [0, 4, 8, 12, 16].map((n) => view.getUint32(entry + n)) as [
      number,
      number,
      number,
      number,
      number,
    ]
    if (offset + packed > bytes.length || packed > length || at + length > total) broken()
    const data = bytes.subarray(offset, offset + packed)
    try {
      sfnt.set(packed < length ? unzlibSync(data, { out: new Uint8Array(length) }) : data, at)
    } catch {
      broken()
    }
    const record = 12 + i * 16
    out.setUint32(record, tag)
    out.setUint32(record + 4, sum)
    out.setUint32(record + 8, at)
    out.setUint32(record + 12, length)
    at += (length + 3) & ~3
  }
  return sfnt
}
