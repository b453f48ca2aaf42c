import type { Field, Template, Values } from '../template/index.ts'
import { characterStarts } from '../text/index.ts'

/** A filling that a template is tried with, made from its fields. */
export interface GeneratedProof {
  id: string
  name: string
  values: Values
}

/** Characters that a text without a limit is tried with: longer than most names, shorter than a sentence. */
const usualLimit = 42

const longWords = ['Maximiliana', 'Theodora', 'von', 'Hollenstein-Fotheringay', 'Okonkwo', 'of', 'Puerto', 'Brisal']
const accented = ['Ågnès Çağlayıgüzel-Bjørnqvist', 'Übergang für Jørgen, Żółć y Ñandú', 'Gîte à Ý, Ǧäğçýþjq']
const rightToLeft = ['ليلى الساحلي', 'باحثة في المد والجزر', 'مهرجان المصب']

/** The limit of a text field, in characters. */
export const limitOf = (field: Field): number => field.limit ?? usualLimit

/** Text of exactly `count` characters (UAX #29): the field's own words first, then long ones. */
export function textOfLength(field: Field, count: number): string {
  let text = String(field.default).replaceAll('\n', ' ')
  for (let n = 0; characterStarts(text).length < count; n++)
    text += `${text === '' ? '' : ' '}${longWords[n % longWords.length]}`
  const starts = characterStarts(text)
  const cut = text.slice(0, starts[count] ?? text.length)
  // A space at the end would not be seen, and counts.
  return cut.endsWith(' ') ? `${cut.slice(0, -1)}n` : cut
}

/** As much of a text as its field takes. */
function asAllowed(field: Field, text: string): string {
  return field.limit === undefined ? text : text.slice(0, characterStarts(text)[field.limit]).trimEnd()
}

/** A text as two lines, broken near its middle. */
function inTwoLines(text: string): string {
  const words = text.trim().split(/\s+/)
  if (words.length < 2) return `${text}\n${text}`
  const half = Math.ceil(words.length / 2)
  return `${words.slice(0, half).join(' ')}\n${words.slice(half).join(' ')}`
}

/**
 * The fillings that break titles, from a template's own fields: shortest, longest, each text empty in turn, accents and
 * descenders, right to left, two lines, each option of a choice, a picture that is missing.
 */
export function generatedProofs(template: Pick<Template, 'fields'>): GeneratedProof[] {
  const texts = template.fields.filter((field) => field.type === 'text')
  const lists = template.fields.filter((field) => field.type === 'texts')
  /** Lists as long as their defaults, each entry made of its own. */
  const entries = (made: (entry: Field, n: number) => string): Values =>
    Object.fromEntries(
      lists.map((field) => [
        field.key,
        (field.default as string[]).map((entry, n) => (entry === '' ? '' : made({ ...field, default: entry }, n))),
      ]),
    )
  const pictures = template.fields.filter((field) => field.type === 'picture')
  const all = (value: (field: Field, n: number) => string): Values => ({
    ...Object.fromEntries(texts.map((field, n) => [field.key, value(field, n)])),
    ...entries(value),
  })
  const proofs: GeneratedProof[] = []
  const add = (id: string, name: string, values: Values) => proofs.push({ id: `generated-${id}`, name, values })
  if (texts.length + lists.length > 0) {
    add(
      'shortest',
      'shortest',
      all(() => 'I'),
    )
    add(
      'longest',
      'longest',
      all((field) => textOfLength(field, limitOf(field))),
    )
    for (const field of texts) add(`empty-${field.key}`, `no ${field.name.toLowerCase()}`, { [field.key]: '' })
    add(
      'accents',
      'accents, descenders',
      all((field, n) => asAllowed(field, accented[n % accented.length]!)),
    )
    add(
      'rtl',
      'right to left',
      all((field, n) => asAllowed(field, rightToLeft[n % rightToLeft.length]!)),
    )
    for (const field of lists) {
      add(`none-${field.key}`, `no ${field.name.toLowerCase()}`, { [field.key]: [] })
      add(`one-${field.key}`, `one ${field.name.toLowerCase()}`, {
        [field.key]: (field.default as string[]).slice(0, 1),
      })
    }
    const tall = texts.find((field) => field.lines !== 1)
    if (tall) add('two-lines', 'two lines', { [tall.key]: asAllowed(tall, inTwoLines(String(tall.default))) })
  }
  for (const field of template.fields)
    for (const option of field.options ?? [])
      if (option.value !== field.default)
        add(`option-${field.key}-${option.value}`, `${field.name.toLowerCase()}: ${option.name}`, {
          [field.key]: option.value,
        })
  for (const field of pictures)
    add(`missing-${field.key}`, `${field.name.toLowerCase()} missing`, { [field.key]: 'not-there.png' })
  return proofs
}
