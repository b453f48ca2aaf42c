import type { Layout, PartStyle } from '../scene/index.ts'
import { noLanguage, type Part, primaryOf } from '../template/index.ts'
import { type HanForm, hanFormOf, hasHan, upperCase } from '../text/index.ts'

type Add = (level: 'look', code: string, message: string) => void

/**
 * Letters that only one language's Han writing has beside it (UAX #24 scripts): by them a title says which it is in.
 */
const telling: [HanForm, RegExp][] = [
  ['ja', /[\p{Script=Hiragana}\p{Script=Katakana}]/u],
  ['ko', /\p{Script=Hangul}/u],
  ['zh-Hant', /\p{Script=Bopomofo}/u],
]

const formNames: Record<HanForm, string> = {
  ja: 'Japanese',
  ko: 'Korean',
  'zh-Hans': 'simplified Chinese',
  'zh-Hant': 'traditional Chinese',
}

/** All that a title says, as it stands in its texts. */
const wordsOf = ({ blocks, rest }: Layout): string =>
  blocks.flatMap((block, i) => (block && !rest.gone[i] ? [block.text] : [])).join('\n')

/** What a text's language should be, and by its letters may not be what it is drawn in. */
export function checkLanguage(layout: Layout, i: number, part: Part, add: Add): void {
  const style = layout.content.styles[i] as PartStyle<'text'>
  const block = layout.blocks[i]!
  checkHan(layout, style, block.text, part, i, add)
  checkCapitals(layout, style, part, add)
}

/** The language that a run of a text is known to have; undefined: nobody said. */
function saidOf(layout: Layout, style: PartStyle<'text'>, run: { language?: string | undefined }): string | undefined {
  const { template, content } = layout
  const said = run.language ?? (style.language || undefined)
  if (said !== undefined) return said
  // What a row says itself is known; the template's own language is that of its designer.
  return content.language !== (template.language ?? noLanguage) ? content.language : undefined
}

function checkHan(layout: Layout, style: PartStyle<'text'>, text: string, part: Part, i: number, add: Add): void {
  if (!hasHan(text)) return
  const said = style.content.map((run) => saidOf(layout, style, run) ?? layout.content.language).map(hanFormOf)
  const wanted =
    said.find((form) => form !== undefined) ?? telling.find(([, letters]) => letters.test(wordsOf(layout)))?.[0]
  const { glyphs } = layout.blocks[i]!
  const fonts = new Set(
    glyphs.flatMap((glyph) =>
      hasHan(String.fromCodePoint(text.codePointAt(glyph.start) ?? 0x20)) ? [glyph.font] : [],
    ),
  )
  for (const font of fonts) {
    const forms = font.hanForms
    // A font that says nothing of itself may be any.
    if (forms.length === 0 || (wanted && forms.includes(wanted))) continue
    const drawn = forms.map((form) => formNames[form]).join(' and ')
    add(
      'look',
      'language',
      wanted
        ? `${part.name} is ${formNames[wanted]}, and ${font.family} has the ${drawn} forms of its letters; add a font of its language among the fallbacks.`
        : `${part.name} has Han letters in ${drawn} forms, and nobody says which language it is; say the row's language (${forms[0]}, if that is meant).`,
    )
    return
  }
}

/** Letters by which a text is likely of a language whose capitals are others (orthographies; from memory). */
const capitals: [language: string, name: string, letters: RegExp][] = [
  ['az', 'Azeri', /[əƏ]/u],
  ['tr', 'Turkish', /[ğışĞİŞ]/u],
  ['lt', 'Lithuanian', /[ąęėįųĄĘĖĮŲ]|\u0307/u],
  ['el', 'Greek', /\p{Script=Greek}/u],
  ['nl', 'Dutch', /[íÍ]j\u0301|ĳ/u],
]

function checkCapitals(layout: Layout, style: PartStyle<'text'>, part: Part, add: Add): void {
  if (style.case !== 'upper') return
  const all = style.content.map(({ text }) => text ?? '').join('')
  const title = layout.content.styles
    .flatMap((own) => (own.kind === 'text' ? own.content.map(({ text }) => text ?? '') : []))
    .join('\n')
  for (const [language, name, letters] of capitals) {
    if (!letters.test(title)) continue
    const run = style.content.find(
      (one) => saidOf(layout, style, one) === undefined && primaryOf(layout.content.language) !== language,
    )
    if (!run) continue
    const [drawn, meant] = [upperCase(all, layout.content.language), upperCase(all, language)]
    if (drawn === meant) continue
    const [one, other] = differing(drawn, meant)
    add(
      'look',
      'language',
      `${part.name} is set in capitals, and in ${name} they are others (${other}, not ${one}); say the row's language (${language}, if that is meant).`,
    )
    return
  }
}

/** The first words in which two texts differ. */
function differing(one: string, other: string): [string, string] {
  const [a, b] = [one.split(/\s+/), other.split(/\s+/)]
  const at = Math.max(
    0,
    a.findIndex((word, i) => word !== b[i]),
  )
  return [a[at] ?? one, b[at] ?? other]
}
