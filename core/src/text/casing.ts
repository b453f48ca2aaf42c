/**
 * Case by language. Never by the machine's: the same words are the same letters on every machine.
 *
 * The rules are Unicode's (SpecialCasing.txt; for Turkish, Azeri, Lithuanian and Greek as CLDR tailors them, which both
 * engines carry), with two that CLDR leaves out: the German capital of ß, which the rules of spelling of 2024 give as ẞ
 * beside SS (§ 25 E3; from memory), and the Dutch IJ, which is one letter at the head of a word (common practice).
 */

const und = 'und'

/** Lower case letters as capitals. @param has whether the font has a character; a capital ß that it lacks becomes SS */
export function upperCase(text: string, language = und, has?: (codePoint: number) => boolean): string {
  const sharp = isGerman(language) && (has?.(0x1e9e) ?? true) ? text.replaceAll('ß', 'ẞ') : text
  return sharp.toLocaleUpperCase(language)
}

export function lowerCase(text: string, language = und): string {
  return text.toLocaleLowerCase(language)
}

/** The first letter of a word as a capital, the rest as it is. */
export function headCase(word: string, language = und): string {
  if (/^ij/i.test(word) && primary(language) === 'nl') return `IJ${word.slice(2)}`
  return word.replace(/^\p{L}/u, (first) => {
    // A digraph of one character has a form of its own at the head of a word: ǆ is ǅ there, not Ǆ.
    const title = titles[first.toLowerCase()]
    return title ?? upperCase(first, language)
  })
}

/** Letters whose form at the head of a word is not their capital (UnicodeData.txt, simple titlecase mapping). */
const titles: Record<string, string> = { ǆ: 'ǅ', ǉ: 'ǈ', ǌ: 'ǋ', ǳ: 'ǲ', ß: 'Ss' }

const primary = (language: string) => language.split('-')[0]!.toLowerCase()
const isGerman = (language: string) => primary(language) === 'de'
