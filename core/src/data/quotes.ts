/** Quotation marks by language (CLDR, delimiters; from memory); spaces within them do not break. */
const marks: Record<string, [open: string, close: string]> = {
  en: ['“', '”'],
  de: ['„', '“'],
  'de-CH': ['«', '»'],
  fr: ['«\u202f', '\u202f»'],
  'fr-CH': ['«', '»'],
  es: ['«', '»'],
  ca: ['«', '»'],
  gl: ['«', '»'],
  eu: ['«', '»'],
  pt: ['“', '”'],
  'pt-PT': ['«', '»'],
  it: ['«', '»'],
  nl: ['“', '”'],
  da: ['“', '”'],
  sv: ['”', '”'],
  fi: ['”', '”'],
  nb: ['«', '»'],
  nn: ['«', '»'],
  no: ['«', '»'],
  is: ['„', '“'],
  pl: ['„', '”'],
  cs: ['„', '“'],
  sk: ['„', '“'],
  hu: ['„', '”'],
  ro: ['„', '”'],
  el: ['«', '»'],
  ru: ['«', '»'],
  uk: ['«', '»'],
  tr: ['“', '”'],
  ar: ['”', '“'],
  he: ['”', '”'],
  ja: ['「', '」'],
  zh: ['“', '”'],
  ko: ['“', '”'],
  vi: ['“', '”'],
}

export interface Quotes {
  open: string
  close: string
  /** What stands between the marks where they are shown. */
  words: string
}

/** The marks that a language sets round words; those of English where none are known. */
export function quotesOf(language: string): Quotes {
  const [open, close] = known(language) ?? marks.en!
  return { open, close, words: ' ' }
}

const known = (language: string) => marks[language] ?? marks[language.split('-')[0]!.toLowerCase()]

/**
 * A text with its straight marks set as the language sets them, where that is safe: an apostrophe within a word is one in
 * every language; marks round words need a language that is known, and to stand in pairs.
 */
export function quoteFix(text: string, language: string): { fix?: string } {
  const apostrophes = text.replace(/(?<=\p{L})'(?=\p{L})/gu, '’')
  if (!/["']/.test(apostrophes)) return { fix: apostrophes }
  const own = known(language)
  if (!own || apostrophes.includes("'")) return {}
  const [open, close] = own
  const set = apostrophes.replace(/(^|[\s([])"([^"]*[^"\s])"(?=$|[\s)\].,;:!?])/gu, `$1${open}$2${close}`)
  return set.includes('"') ? {} : { fix: set }
}
