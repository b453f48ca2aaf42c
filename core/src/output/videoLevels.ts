/**
 * Levels by EBU R 103 (version 3.0, May 2020): R, G and B may go from -5 to 105 %, luma from -1 to 103 %, and what lies
 * outside counts when it is more than 1 % of the picture.
 */
const component = { least: -0.05, most: 1.05 }
const luma = { least: -0.01, most: 1.03 }
const ignored = 0.01

/** R, G and B (0..1 is black to white) of an 8-bit sample in limited range, by ITU-R BT.709. */
export function rgbOfBt709(y: number, cb: number, cr: number): [r: number, g: number, b: number] {
  const e = (y - 16) / 219
  const b = (cb - 128) / 224
  const r = (cr - 128) / 224
  return [e + 1.5748 * r, e - (0.2126 * 1.5748 * r + 0.0722 * 1.8556 * b) / 0.7152, e + 1.8556 * b]
}

/** What was found about the levels of pictures. */
export interface VideoLevels {
  /** Pictures of which too much lies outside, of how many. */
  outside: number
  pictures: number
  /** Share of the worst one that lies outside, 0..1. */
  worst: number
}

/** The share of a picture's samples that lie outside, 0..1. Planes of 8 bits in limited range, all of one size. */
export function shareOutside(y: Uint8Array, cb: Uint8Array, cr: Uint8Array): number {
  let outside = 0
  for (let i = 0; i < y.length; i++) {
    const e = (y[i]! - 16) / 219
    const isOut =
      e < luma.least ||
      e > luma.most ||
      rgbOfBt709(y[i]!, cb[i]!, cr[i]!).some((value) => value < component.least || value > component.most)
    if (isOut) outside++
  }
  return outside / Math.max(1, y.length)
}

export function judgeLevels(shares: readonly number[]): VideoLevels {
  return {
    outside: shares.filter((share) => share > ignored).length,
    pictures: shares.length,
    worst: Math.max(0, ...shares),
  }
}

/** The warning for a person; undefined when all is well. */
export function levelsWarning(levels: VideoLevels): string | undefined {
  if (levels.outside === 0) return undefined
  const share = `${(levels.worst * 100).toFixed(levels.worst < 0.1 ? 1 : 0)} %`
  return `Levels outside EBU R 103 in ${levels.outside} of ${levels.pictures} pictures looked at, up to ${share} of one; bring the footage within range before it goes out.`
}
