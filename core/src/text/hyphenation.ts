import createHyphenator, { type PatternsDefinition } from 'hyphen'

/**
 * Hyphenation by Liang's patterns (F. M. Liang, *Word Hy-phen-a-tion by Com-put-er*, 1983), those that TeX uses for each
 * language; read when a template asks for them.
 */
const patterns: Record<string, () => Promise<{ default: PatternsDefinition }>> = {
  en: () => import('hyphen/patterns/en-us.js'),
  'en-GB': () => import('hyphen/patterns/en-gb.js'),
  ca: () => import('hyphen/patterns/ca.js'),
  cs: () => import('hyphen/patterns/cs.js'),
  da: () => import('hyphen/patterns/da.js'),
  de: () => import('hyphen/patterns/de-1996.js'),
  el: () => import('hyphen/patterns/el-monoton.js'),
  es: () => import('hyphen/patterns/es.js'),
  eu: () => import('hyphen/patterns/eu.js'),
  fi: () => import('hyphen/patterns/fi.js'),
  fr: () => import('hyphen/patterns/fr.js'),
  gl: () => import('hyphen/patterns/gl.js'),
  hr: () => import('hyphen/patterns/hr.js'),
  is: () => import('hyphen/patterns/is.js'),
  it: () => import('hyphen/patterns/it.js'),
  la: () => import('hyphen/patterns/la.js'),
  nb: () => import('hyphen/patterns/nb.js'),
  nl: () => import('hyphen/patterns/nl.js'),
  no: () => import('hyphen/patterns/nb.js'),
  pl: () => import('hyphen/patterns/pl.js'),
  pt: () => import('hyphen/patterns/pt.js'),
  ro: () => import('hyphen/patterns/ro.js'),
  ru: () => import('hyphen/patterns/ru.js'),
  sv: () => import('hyphen/patterns/sv.js'),
  tr: () => import('hyphen/patterns/tr.js'),
  uk: () => import('hyphen/patterns/uk.js'),
}

/** Every language whose words can be parted. */
export const hyphenatedLanguages: readonly string[] = Object.keys(patterns)

const known = (tag: string): string | undefined => {
  const plain = tag.replace(/-u-.*$/i, '')
  const primary = plain.split('-')[0]!.toLowerCase()
  return patterns[plain] ? plain : patterns[primary] ? primary : undefined
}

/** A text with a soft hyphen (U+00AD) wherever a word may be parted; as it is where its language is not known. */
export type Hyphenate = (text: string, language: string) => string

/** Reads what it takes to part words in some languages, by their BCP 47 tags. */
export async function loadHyphens(languages: readonly string[]): Promise<Hyphenate> {
  const names = [...new Set(languages.flatMap((tag) => known(tag) ?? []))]
  const all = new Map(
    await Promise.all(
      names.map(async (name) => {
        const { default: own } = await patterns[name]!()
        return [name, createHyphenator(own, { async: false, hyphenChar: '\u00ad' })] as const
      }),
    ),
  )
  return (text, language) => {
    const own = all.get(known(language) ?? '')
    // Where somebody has said how a word is parted, that holds for the whole text.
    return own && !text.includes('\u00ad') ? (own(text) as string) : text
  }
}
