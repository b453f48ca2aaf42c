// One file each: the index reads every locale there is, which every command and every thread would wait for.
import { format as formatDate } from 'date-fns/format'
import { isValid } from 'date-fns/isValid'
import type { Locale } from 'date-fns/locale'
import { ca } from 'date-fns/locale/ca'
import { da } from 'date-fns/locale/da'
import { de } from 'date-fns/locale/de'
import { enGB } from 'date-fns/locale/en-GB'
import { es } from 'date-fns/locale/es'
import { eu } from 'date-fns/locale/eu'
import { fi } from 'date-fns/locale/fi'
import { fr } from 'date-fns/locale/fr'
import { gl } from 'date-fns/locale/gl'
import { it } from 'date-fns/locale/it'
import { nb } from 'date-fns/locale/nb'
import { nl } from 'date-fns/locale/nl'
import { pl } from 'date-fns/locale/pl'
import { pt } from 'date-fns/locale/pt'
import { sv } from 'date-fns/locale/sv'
import { vi } from 'date-fns/locale/vi'
import { parseISO } from 'date-fns/parseISO'
import { primaryOf, withDigits } from './language.ts'
import type { Field } from './types.ts'
import { type FieldValue, type NumberFormat, pageBreak } from './values.ts'

/** Languages of months and days, by their BCP 47 tag. */
export const languages: Record<string, { name: string; locale: Locale }> = {
  en: { name: 'English', locale: enGB },
  es: { name: 'Español', locale: es },
  ca: { name: 'Català', locale: ca },
  da: { name: 'Dansk', locale: da },
  de: { name: 'Deutsch', locale: de },
  eu: { name: 'Euskara', locale: eu },
  fi: { name: 'Suomi', locale: fi },
  fr: { name: 'Français', locale: fr },
  gl: { name: 'Galego', locale: gl },
  it: { name: 'Italiano', locale: it },
  nb: { name: 'Norsk', locale: nb },
  nl: { name: 'Nederlands', locale: nl },
  pl: { name: 'Polski', locale: pl },
  pt: { name: 'Português', locale: pt },
  sv: { name: 'Svenska', locale: sv },
  vi: { name: 'Tiếng Việt', locale: vi },
}

export const plainNumber: NumberFormat = { decimals: 0, mark: '.', group: '', before: '', after: '', plus: false }

/** A number as people read it. Our own arithmetic, so that every machine writes the same. */
export function writeNumber(value: number, format: NumberFormat = plainNumber): string {
  const [whole, part] = Math.abs(value).toFixed(format.decimals).split('.') as [string, string?]
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, format.group)
  const isZero = Number(`${whole}.${part ?? 0}`) === 0
  const sign = isZero ? '' : value < 0 ? '−' : format.plus ? '+' : ''
  return `${format.before}${sign}${grouped}${part === undefined ? '' : format.mark + part}${format.after}`
}

/** A moment as ISO 8601 has it (local; date, or date and time), or undefined. */
export function readMoment(text: string): Date | undefined {
  const date = /^\d{4}-\d{2}-\d{2}([T ]\d{2}:\d{2}(:\d{2})?)?$/.test(text) ? parseISO(text) : undefined
  return date && isValid(date) ? date : undefined
}

/** Whether a pattern of UTS #35 can be written; a sentence when it can't. */
export function refusePattern(pattern: string): string | undefined {
  try {
    formatDate(new Date(2026, 10, 26, 18, 30), pattern)
    return pattern.trim() === '' ? 'a pattern needs at least one letter, as in d MMMM' : undefined
  } catch {
    return `"${pattern}" is no date pattern; write it as in EEEE d MMMM, HH:mm`
  }
}

/** A moment by a date pattern of Unicode LDML (UTS #35), in one of `languages`. What is no moment is shown as it is. */
export function writeMoment(value: string, pattern = 'd MMMM yyyy', language = 'en'): string {
  const date = readMoment(value)
  if (!date || refusePattern(pattern)) return value
  const known = languages[language] ?? languages[primaryOf(language)] ?? languages.en!
  return formatDate(date, pattern, { locale: known.locale })
}

/** A number as people type it: digits, a decimal point or comma, a sign. NaN for anything else. */
export function readNumber(text: string): number {
  const plain = text.trim().replace('−', '-').replace(',', '.')
  return /^[+-]?(\d+\.?\d*|\.\d+)$/.test(plain) ? Number(plain) : Number.NaN
}

/** What a text shows where a field stands in it. @param title the language of the title, where the field has none */
export function shownText(field: Field, value: FieldValue, title?: string): string {
  const language = field.language ?? title
  switch (field.type) {
    case 'number':
      return withDigits(writeNumber(Number(value), field.format), language)
    case 'moment':
      return withDigits(writeMoment(String(value), field.pattern, language), language)
    case 'texts':
      return Array.isArray(value)
        ? (value as string[]).filter((one) => one !== '' && one !== pageBreak).join(field.between ?? '  ·  ')
        : String(value)
    case 'text':
      return String(value)
    default:
      return ''
  }
}
