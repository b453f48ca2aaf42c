import { faceOf } from './face.ts'

/** The characters that a family has, as ranges of code points with both ends, in their order. */
export interface Coverage {
  family: string
  ranges: [from: number, to: number][]
}

/** What a font covers, by its cmap. */
export function coverageOf(bytes: Uint8Array, family: string): Coverage {
  const points = [...faceOf(bytes).collectUnicodes()].sort((a, b) => a - b)
  const ranges: [number, number][] = []
  for (const point of points) {
    const last = ranges[ranges.length - 1]
    if (last && point === last[1] + 1) last[1] = point
    else ranges.push([point, point])
  }
  return { family, ranges }
}

/** The first family that has a character. */
export function familyWith(coverages: readonly Coverage[], codePoint: number): string | undefined {
  return coverages.find(({ ranges }) => {
    let [low, high] = [0, ranges.length - 1]
    while (low <= high) {
      const middle = (low + high) >> 1
      const [from, to] = ranges[middle]!
      if (codePoint < from) high = middle - 1
      else if (codePoint > to) low = middle + 1
      else return true
    }
    return false
  })?.family
}
