/**
 * Han letters have other forms in other languages at the same code points (Unicode 16, chapter 18.1, Han unification): which
 * ones a language wants, and which a font says that it has.
 */
export type HanForm = 'ja' | 'ko' | 'zh-Hans' | 'zh-Hant'

/** Bits of OS/2 ulCodePageRange1 (OpenType 1.9.1): 932 JIS, 936 simplified, 949 and 1361 Korean, 950 traditional. */
const codePages: readonly [HanForm, number][] = [
  ['ja', 1 << 17],
  ['zh-Hans', 1 << 18],
  ['ko', (1 << 19) | (1 << 21)],
  ['zh-Hant', 1 << 20],
]

/**
 * The Han forms that a font has, by what its OS/2 table says that it is for; none: it says nothing.
 * @param isLocal whether it has other forms by language (OpenType feature `locl`): without, the first of them is all it has
 */
export function hanFormsIn(os2: Uint8Array | undefined, isLocal: boolean): HanForm[] {
  // Code pages came with version 1 of the table.
  if (!os2 || os2.length < 82) return []
  const view = new DataView(os2.buffer, os2.byteOffset, os2.byteLength)
  if (view.getUint16(0) < 1) return []
  const pages = view.getUint32(78)
  const forms = codePages.flatMap(([form, bits]) => (pages & bits ? [form] : []))
  return isLocal ? forms : forms.slice(0, 1)
}

/** The Han forms that a language (BCP 47) wants; undefined: it has none of its own. */
export function hanFormOf(language: string | undefined): HanForm | undefined {
  if (language === undefined) return undefined
  const primary = language.split('-')[0]!.toLowerCase()
  if (primary === 'ja' || primary === 'ko') return primary
  if (primary !== 'zh' && primary !== 'yue') return undefined
  // CLDR, likely subtags: Taiwan, Hong Kong and Macao write traditional forms, and so is Cantonese written elsewhere.
  const isSimplified = /-hans\b/i.test(language) || (primary === 'yue' && /-cn\b/i.test(language))
  const isTraditional = !isSimplified && (primary === 'yue' || /-(hant|tw|hk|mo)\b/i.test(language))
  return isTraditional ? 'zh-Hant' : 'zh-Hans'
}

const han = /\p{Script=Han}/u
/** Whether some of a text is written in Han letters. */
export const hasHan = (text: string): boolean => han.test(text)
