import { isValid } from 'date-fns/isValid'
import { parse } from 'date-fns/parse'
import { pattern, refusePatternText } from '../pattern/index.ts'
import { isLanguage, languages, refusePattern, writeMoment } from '../template/index.ts'
import { headCase, lowerCase, upperCase } from '../text/index.ts'

/** One step from a text as data has it to the text that a field takes. */
export type Conversion =
  /** No spaces at the ends, none twice. */
  | { kind: 'trim' }
  /** By the rules of a language (BCP 47); absent: of none in particular. */
  | { kind: 'case'; to: 'upper' | 'lower' | 'words' | 'sentence'; language?: string }
  /** A number with this decimal mark, its groups parted by anything else, becomes a plain one. */
  | { kind: 'number'; mark: '.' | ',' }
  /** A date written by a pattern of UTS #35 becomes one of ISO 8601, or is written by another pattern. */
  | { kind: 'date'; as: string; language: string; to: string }
  /** Whole texts in place of others, whatever their case. */
  | { kind: 'words'; pairs: [from: string, to: string][] }
  | { kind: 'unit'; from: string; to: string; decimals: number }
  /** One of the lines of a text, or of what stands between its dashes or commas, from 1; `rest`: with all that follow. */
  | { kind: 'piece'; by: Divider; at: number; rest?: boolean }
  /** Every occurrence; a pattern is one of RE2, and `$1` in what is put as in ECMAScript. */
  | { kind: 'replace'; find: string; put: string; pattern: boolean }

/** What parts a text into pieces: its lines, dashes with a space on either side, or commas. */
export type Divider = 'line' | 'dash' | 'comma'

export type ConversionKind = Conversion['kind']

/** Units by what they measure, each with how many of the first one it is; degrees also have a zero of their own. */
const units: Record<string, Record<string, [factor: number, zero?: number]>> = {
  // Exact by definition: the international yard and pound agreement (1959), the international nautical mile (1929).
  length: { m: [1], km: [1000], cm: [0.01], ft: [0.3048], mi: [1609.344], nmi: [1852] },
  speed: { 'm/s': [1], 'km/h': [1 / 3.6], mph: [0.44704], kn: [1852 / 3600] },
  mass: { kg: [1], g: [0.001], t: [1000], lb: [0.45359237] },
  temperature: { '°C': [1], '°F': [5 / 9, 32], K: [1, 273.15] },
}

/** The units that one can become, itself among them; empty for none that is known. */
export function kindredUnits(unit: string): string[] {
  return Object.keys(Object.values(units).find((group) => Object.hasOwn(group, unit)) ?? {})
}

export const allUnits = Object.values(units).flatMap((group) => Object.keys(group))

function inUnit(value: number, from: string, to: string): number {
  const group = Object.values(units).find((own) => Object.hasOwn(own, from) && Object.hasOwn(own, to))
  if (!group) return Number.NaN
  const [[a, zeroA = 0], [b, zeroB = 0]] = [group[from]!, group[to]!]
  return ((value - zeroA) * a) / b + zeroB
}

/** A conversion as people choose it: what it is called, how it begins, and a text that shows what it does. */
export const conversionKinds: Record<ConversionKind, { label: string; first: Conversion; example: string }> = {
  trim: { label: 'No spare spaces', first: { kind: 'trim' }, example: '  Io   Marrec ' },
  case: { label: 'Capitals', first: { kind: 'case', to: 'words' }, example: 'JEAN-BAPTISTE DE LA RÍA' },
  number: { label: 'Number', first: { kind: 'number', mark: ',' }, example: '1.204,5' },
  date: {
    label: 'Date',
    first: { kind: 'date', as: 'd/M/yyyy', language: 'en', to: '' },
    example: '26/11/2026',
  },
  words: {
    label: 'Words for words',
    first: { kind: 'words', pairs: [['in service', 'yes']] },
    example: 'In service',
  },
  unit: { label: 'Unit', first: { kind: 'unit', from: 'ft', to: 'm', decimals: 1 }, example: '12 ft' },
  piece: {
    label: 'One line or part',
    first: { kind: 'piece', by: 'line', at: 1 },
    example: 'Io Marrec\nTide-mill keeper',
  },
  replace: {
    label: 'Find and replace',
    first: { kind: 'replace', find: ' - ', put: ' – ', pattern: false },
    example: 'Line 3 - night',
  },
}

/** Each with what stands between two pieces where they are put together again. */
const dividers: Record<Divider, { pattern: RegExp; between: string }> = {
  line: { pattern: /[ \t]*\r?\n[ \t]*/, between: '\n' },
  dash: { pattern: /\s+[-–—]\s+/, between: ' – ' },
  comma: { pattern: /\s*[,，、]\s*/, between: ', ' },
}

/** The pieces of a text that say something. */
export const piecesBy = (text: string, by: Divider): string[] =>
  text
    .trim()
    .split(dividers[by].pattern)
    .filter((piece) => piece !== '')

/** Parts of names that stay small within a name, as their own languages write them: common practice. */
const small = new Set('von van der den de da do dos das del della di la las los y e und zu af av of the'.split(' '))

const sentenceCase = (text: string, language: string) =>
  lowerCase(text, language).replace(/^(\P{L}*)(\p{L}.*)/su, (_, before: string, rest: string) => {
    return before + headCase(rest, language)
  })

/** Every word with one capital, the small ones within a name without. */
function wordCase(text: string, language: string): string {
  let n = 0
  return lowerCase(text, language).replace(/\p{L}[\p{L}\p{M}]*/gu, (word, at: number, all: string) => {
    const afterApostrophe = /['’]/.test(all[at - 1] ?? '') && word.length < 2
    const capital = (n++ === 0 || !small.has(word)) && !afterApostrophe
    return capital ? headCase(word, language) : word
  })
}

const cases = { upper: upperCase, lower: lowerCase, words: wordCase, sentence: sentenceCase }

/** A number out of a text, with any unit behind it. */
function numberIn(text: string, mark: '.' | ','): number {
  const digits = text.trim().match(/^[+\-−]?[\d.,'’\s\u00a0\u202f]*\d/)?.[0]
  if (digits === undefined) return Number.NaN
  const other = mark === '.' ? ',' : '.'
  const plain = digits
    .replace('−', '-')
    .replace(/[\s\u00a0\u202f'’]/g, '')
    .replaceAll(other, '')
    .replace(mark, '.')
  return Number(plain)
}

function dated(text: string, { as, language, to }: Extract<Conversion, { kind: 'date' }>): string | undefined {
  const locale = (languages[language] ?? languages.en!).locale
  const date = parse(text.trim(), as, new Date(2026, 0, 1), { locale })
  if (!isValid(date)) return undefined
  const two = (n: number) => String(n).padStart(2, '0')
  const day = `${String(date.getFullYear()).padStart(4, '0')}-${two(date.getMonth() + 1)}-${two(date.getDate())}`
  const hasTime = /[HhKkma]/.test(as.replace(/'[^']*'/g, ''))
  const iso = hasTime ? `${day}T${two(date.getHours())}:${two(date.getMinutes())}` : day
  return to === '' ? iso : writeMoment(iso, to, language)
}

/** One step. undefined: the text is none that the step can read. */
function step(text: string, conversion: Conversion): string | undefined {
  switch (conversion.kind) {
    case 'trim':
      return text.trim().replace(/[^\S\n]{2,}/g, ' ')
    case 'case':
      return cases[conversion.to](text, conversion.language ?? 'und')
    case 'number': {
      const value = numberIn(text, conversion.mark)
      return Number.isNaN(value) ? undefined : String(value)
    }
    case 'date':
      return dated(text, conversion)
    case 'words': {
      const plain = (word: string) => word.normalize('NFC').trim().toLowerCase()
      return conversion.pairs.find(([from]) => plain(from) === plain(text))?.[1] ?? text
    }
    case 'unit': {
      const value = inUnit(numberIn(text, '.'), conversion.from, conversion.to)
      return Number.isNaN(value) ? undefined : value.toFixed(conversion.decimals).replace(/^-(0(\.0*)?)$/, '$1')
    }
    case 'piece': {
      const pieces = piecesBy(text, conversion.by).slice(conversion.at - 1)
      return (conversion.rest ? pieces : pieces.slice(0, 1)).join(dividers[conversion.by].between)
    }
    case 'replace':
      return conversion.pattern
        ? pattern(conversion.find).replaceAll(text, conversion.put)
        : text.replaceAll(conversion.find, () => conversion.put)
  }
}

const asked: Partial<Record<ConversionKind, (conversion: never) => string>> = {
  number: () => 'a number',
  date: ({ as }: Extract<Conversion, { kind: 'date' }>) => `a date written as ${as}`,
  unit: ({ from }: Extract<Conversion, { kind: 'unit' }>) => `a number of ${from}`,
}

/** A text through its conversions. An empty one stays empty; one that a step can't read stays as it is, with a sentence. */
export function converted(text: string, conversions: readonly Conversion[]): { text: string; problem?: string } {
  let at = text
  for (const conversion of conversions) {
    if (at.trim() === '') return { text: at }
    const next = step(at, conversion)
    if (next === undefined)
      return { text, problem: `"${text}" is not ${asked[conversion.kind]!(conversion as never)}, so it stays as it is` }
    at = next
  }
  return { text: at }
}

function refusedPattern(source: string): string | undefined {
  const why = refusePatternText(source)
  return why && `"${source}" ${why}`
}

/** Why a conversion can't be used; undefined when it can. What comes over the network is looked at here too. */
export function refuseConversion(value: unknown): string | undefined {
  const given = value as Conversion
  if (typeof given !== 'object' || !given || !Object.hasOwn(conversionKinds, given.kind))
    return `a conversion is one of ${Object.keys(conversionKinds).join(', ')}`
  switch (given.kind) {
    case 'trim':
      return undefined
    case 'case':
      if (!Object.hasOwn(cases, given.to)) return `capitals are ${Object.keys(cases).join(', ')}`
      return given.language === undefined || isLanguage(given.language)
        ? undefined
        : `"${given.language}" is no language`
    case 'number':
      return given.mark === '.' || given.mark === ',' ? undefined : 'a decimal mark is . or ,'
    case 'date':
      if (typeof given.as !== 'string' || typeof given.to !== 'string' || !Object.hasOwn(languages, given.language))
        return 'a date needs its pattern and a language'
      return refusePattern(given.as) ?? (given.to === '' ? undefined : refusePattern(given.to))
    case 'words':
      return Array.isArray(given.pairs) &&
        given.pairs.every(
          (pair) => Array.isArray(pair) && pair.length === 2 && pair.every((w) => typeof w === 'string'),
        )
        ? undefined
        : 'words stand in pairs'
    case 'unit':
      if (!kindredUnits(given.from).includes(given.to)) return `"${given.from}" can't be told in "${given.to}"`
      return Number.isInteger(given.decimals) && given.decimals >= 0 && given.decimals <= 6
        ? undefined
        : 'decimals are a whole number from 0 to 6'
    case 'piece':
      if (!Object.hasOwn(dividers, given.by)) return `a text is parted by ${Object.keys(dividers).join(', ')}`
      return Number.isInteger(given.at) && given.at >= 1 && given.at <= 20 ? undefined : 'a piece is from 1 to 20'
    case 'replace':
      if (typeof given.find !== 'string' || typeof given.put !== 'string' || given.find === '')
        return 'what to find must not be empty'
      return given.pattern ? refusedPattern(given.find) : undefined
  }
}
