import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import * as fontkit from 'fontkit'
import { coverageOf, familyWith } from './index.ts'

const require = createRequire(import.meta.url)
const file = (path: string) => new Uint8Array(readFileSync(require.resolve(`@expo-google-fonts/${path}`)))
const fonts = {
  Barlow: file('barlow/500Medium/Barlow_500Medium.ttf'),
  'Noto Sans Arabic': file('noto-sans-arabic/600SemiBold/NotoSansArabic_600SemiBold.ttf'),
  'M PLUS 1p': file('m-plus-1p/700Bold/MPLUS1p_700Bold.ttf'),
}
const coverages = Object.entries(fonts).map(([family, bytes]) => coverageOf(bytes, family))

// fontkit, an independent implementation, reads the same cmap.
test.each(Object.entries(fonts))('%s covers what fontkit finds in it, in ranges that do not touch', (family, bytes) => {
  const other = fontkit.create(Buffer.from(bytes)) as unknown as { characterSet: number[] }
  const { ranges } = coverageOf(bytes, family)
  const points = ranges.flatMap(([from, to]) => Array.from({ length: to - from + 1 }, (_, i) => from + i))
  // The end of a cmap of format 4 is marked by U+FFFF, which is no character.
  const theirs = other.characterSet.filter((point) => point !== 0xffff)
  expect(points).toEqual([...new Set(theirs)].sort((a, b) => a - b))
  for (let i = 1; i < ranges.length; i++) expect(ranges[i]![0]).toBeGreaterThan(ranges[i - 1]![1] + 1)
})

test('a character is found in the first family that has it, or in none', () => {
  const found = (character: string) => familyWith(coverages, character.codePointAt(0)!)
  expect(['A', 'Đ', 'م', '海', '\u{1319D}'].map(found)).toEqual([
    'Barlow',
    'Barlow',
    'Noto Sans Arabic',
    'M PLUS 1p',
    undefined,
  ])
  expect(familyWith([], 65)).toBeUndefined()
})
