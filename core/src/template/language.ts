import type { Field, Template } from './types.ts'
import { allParts } from './walk.ts'

/** No language in particular: Unicode's own rules, no locale's. */
export const noLanguage = 'und'

/** Whether a text is a language tag that is well formed by BCP 47 (RFC 5646), as ECMA-402 reads it. */
export function isLanguage(tag: string): boolean {
  try {
    return tag.length <= 35 && new Intl.Locale(tag).language !== ''
  } catch {
    return false
  }
}

/** The primary language of a tag, lower case: `pt` of `pt-BR`. */
export const primaryOf = (tag: string): string => tag.split('-')[0]!.toLowerCase()

/** The language of a template's texts where nothing else is said. */
export const languageOf = (template: Pick<Template, 'language'>): string => template.language ?? noLanguage

/** The field that says the language of the whole title, where rows differ: it drives no part. */
export const languageFieldOf = (template: Pick<Template, 'fields'>): Field | undefined =>
  template.fields.find(({ type, targets }) => type === 'language' && targets.length === 0)

/** The language that a field's own words are in. */
export const fieldLanguage = (template: Pick<Template, 'language'>, field: Field): string =>
  field.language ?? languageOf(template)

/** First digit of the numbering systems that languages write with (CLDR, supplemental numberingSystems.xml; from memory). */
const zeros: Record<string, number> = {
  arab: 0x660,
  arabext: 0x6f0,
  beng: 0x9e6,
  deva: 0x966,
  mymr: 0x1040,
  tibt: 0xf20,
  latn: 0x30,
}

/**
 * The numbering system of a language where it is not that of Latin digits (CLDR, defaultNumberingSystem; from memory).
 * A table of our own, because engines carry CLDR in different versions and the same title must be the same everywhere.
 */
const systems: Record<string, string> = {
  ar: 'arab',
  'ar-AE': 'latn',
  'ar-DZ': 'latn',
  'ar-EH': 'latn',
  'ar-LY': 'latn',
  'ar-MA': 'latn',
  'ar-TN': 'latn',
  as: 'beng',
  bn: 'beng',
  ckb: 'arab',
  dz: 'tibt',
  fa: 'arabext',
  ks: 'arabext',
  mr: 'deva',
  my: 'mymr',
  ne: 'deva',
  ps: 'arabext',
}

/** A number or a date as written, in the digits of a language; `-u-nu-` of BCP 47 (UTS #35) says otherwise. */
export function withDigits(text: string, language: string | undefined): string {
  if (language === undefined) return text
  const asked = /-nu-([a-z]{3,8})/i.exec(language)?.[1]?.toLowerCase()
  const plain = language.replace(/-u-.*$/i, '')
  const zero = zeros[asked ?? systems[plain] ?? systems[primaryOf(language)] ?? 'latn'] ?? zeros.latn!
  return zero === zeros.latn ? text : text.replace(/\d/g, (digit) => String.fromCodePoint(zero + Number(digit)))
}

/** The languages in which texts of a template may part words; none where no text does. */
export function partedLanguages(
  template: Pick<Template, 'language' | 'parts' | 'fields'>,
  all: readonly string[],
): string[] {
  const texts = allParts(template.parts).flatMap((part) => (part.kind === 'text' ? [part] : []))
  const sets = template.fields.flatMap(({ options }) => (options ?? []).flatMap((option) => option.sets))
  const parts = texts.some((part) => part.style.hyphenate) || sets.some(({ property }) => property === 'hyphenate')
  if (!parts) return []
  // What a row says its language is may be any.
  if (template.fields.some(({ type }) => type === 'language')) return [...all]
  return [
    ...new Set([
      languageOf(template),
      ...texts.flatMap((part) => part.style.language || []),
      ...template.fields.flatMap((field) => field.language ?? []),
    ]),
  ]
}
