import { assets } from '../testing/speaker.ts'
import { hanFormsIn } from './han.ts'
import { type Font, hanFormOf, shapeText } from './index.ts'

/** An OS/2 table of a version with some code pages (OpenType 1.9.1, ulCodePageRange1). */
function os2(version: number, bits: number[]): Uint8Array {
  const bytes = new Uint8Array(96)
  const view = new DataView(bytes.buffer)
  view.setUint16(0, version)
  view.setUint32(
    78,
    bits.reduce((sum, bit) => sum + 2 ** bit, 0),
  )
  return bytes
}

test('a font says by its code pages whose Han letters it has; without other forms by language, the first alone', () => {
  expect(hanFormsIn(os2(4, [17]), false)).toEqual(['ja'])
  expect(hanFormsIn(os2(4, [17, 20]), false)).toEqual(['ja'])
  expect(hanFormsIn(os2(4, [17, 18, 19, 20]), true)).toEqual(['ja', 'zh-Hans', 'ko', 'zh-Hant'])
  expect(hanFormsIn(os2(4, [21]), false)).toEqual(['ko'])
  expect(hanFormsIn(os2(4, [0, 1]), true)).toEqual([])
  expect(hanFormsIn(os2(0, [17]), true)).toEqual([])
  expect(hanFormsIn(undefined, true)).toEqual([])
})

// CLDR, likely subtags (from memory).
test.each([
  ['ja', 'ja'],
  ['ko-KR', 'ko'],
  ['zh', 'zh-Hans'],
  ['zh-CN', 'zh-Hans'],
  ['zh-Hant', 'zh-Hant'],
  ['zh-TW', 'zh-Hant'],
  ['zh-Hans-HK', 'zh-Hans'],
  ['yue', 'zh-Hant'],
  ['yue-CN', 'zh-Hans'],
  ['en', undefined],
  ['und', undefined],
] as const)('%s wants %s', (language, form) => {
  expect(hanFormOf(language)).toBe(form)
})

test('Han letters take the fallback of their language, whatever its place; others take the first that has them', () => {
  const fonts = [...assets.fonts.values()]
  const latin = fonts.find((font) => !font.covers(0x738b))!
  const japanese = fonts.find((font) => font.covers(0x738b))!
  expect(japanese.hanForms).toEqual(['ja'])
  const chinese = Object.create(japanese, { hanForms: { value: ['zh-Hans'] } }) as Font
  const used = (language: string | undefined, own: Font, ...fallbacks: Font[]) => {
    const run = { text: '王', font: own, size: 40, tracking: 0, colour: '#000000', ...(language ? { language } : {}) }
    return shapeText([run], fallbacks).shaped.items.map(({ font }) => font.hanForms[0])
  }
  expect(used('zh', latin, japanese, chinese)).toEqual(['zh-Hans'])
  expect(used('ja', latin, chinese, japanese)).toEqual(['ja'])
  expect(used('en', latin, japanese, chinese)).toEqual(['ja'])
  expect(used(undefined, latin, chinese, japanese)).toEqual(['zh-Hans'])
  // What the text's own font has in its language stays; in another's, the fallback of the language is taken.
  expect(used('ja', japanese, chinese)).toEqual(['ja'])
  expect(used('zh', japanese, chinese)).toEqual(['zh-Hans'])
  expect(used('ko', latin, japanese, chinese)).toEqual(['ja'])
})
