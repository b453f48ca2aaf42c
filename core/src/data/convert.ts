import { cached } from '../cache/index.ts'
import { readColour } from '../colour/index.ts'
import {
  defaultIsSample,
  type Field,
  type FieldValue,
  isLanguage,
  languageFieldOf,
  languageOf,
  noPictureWord,
  type PictureValue,
  readNumber,
  type ShiftValue,
  type StyleValue,
  steppedLists,
  type Template,
  type Values,
} from '../template/index.ts'
import { secondsOf } from '../time/index.ts'
import { isNow, standing } from './about.ts'
import { strangeCharacters } from './characters.ts'
import { refuseFieldValue } from './fieldValues.ts'
import { type Marks, numberIn } from './numbers.ts'
import type { Problem } from './problem.ts'
import { quoteFix, quotesOf } from './quotes.ts'
import { framesOfRow } from './rowTimes.ts'
import { givenText, type Match, marksFor } from './source.ts'
import type { Row } from './table.ts'

/** Yes and no in the languages that dates are written in too. */
const yes = new Set(
  'yes y true 1 on x ✓ sí si sì oui vrai ja wahr sim tak prawda kyllä bai da có evet ναι да はい نعم'.split(' '),
)
const no = new Set(
  'no n false 0 off - – — non faux nein nei nej falsch nee não nao nie fałsz ei ez không ne όχι нет いいえ لا'.split(
    ' ',
  ),
).add('')

/**
 * A list in a cell: JSON, or entries parted by line ends, `;`, `|`, or whatever of `last` is found first.
 * @param keepsEmpty an empty line among others is an entry
 */
function entriesOf(text: string, last: RegExp[], keepsEmpty = false): string[] {
  if (text.startsWith('['))
    try {
      return (JSON.parse(text) as unknown[]).map(String)
    } catch {
      // No JSON after all: read like any other cell.
    }
  const lines = /\r?\n/
  const by = [lines, /;/, /\|/, ...last].find((mark) => mark.test(text))
  const entries = (by ? text.split(by) : [text]).map((entry) => entry.trim())
  return keepsEmpty && by === lines ? entries : entries.filter((entry) => entry !== '')
}

function objectOf(text: string): Record<string, unknown> | undefined {
  if (!text.startsWith('{')) return undefined
  try {
    return JSON.parse(text) as Record<string, unknown>
  } catch {
    return undefined
  }
}

/**
 * A cell as what its field takes; what it can't be read as stays a text, and is refused as such.
 * @param marks how the column writes numbers; absent: as this cell does
 */
export function readCell(template: Template, field: Field, cell: string, marks?: Marks): FieldValue {
  const text = cell.trim()
  switch (field.type) {
    case 'text':
      return cell.replace(/\r\n?/g, '\n')
    case 'number':
      return numberIn(text, marks)?.value ?? cell
    case 'switch': {
      const word = text.toLowerCase()
      return yes.has(word) ? true : no.has(word) ? false : cell
    }
    case 'colour': {
      const named = template.palette.find((entry) => entry.name.toLowerCase() === text.toLowerCase())
      return named ? `palette:${named.id}` : (readColour(text) ?? text)
    }
    case 'picture':
      if (text.toLowerCase() === noPictureWord(field).toLowerCase()) return ''
      return (objectOf(text) as unknown as FieldValue | undefined) ?? text
    case 'language':
      return text.replaceAll('_', '-')
    case 'choice':
      return field.options?.find((option) => option.name.toLowerCase() === text.toLowerCase())?.value ?? text
    case 'moment':
      return isNow(text) ? 'now' : text.replace(' ', 'T')
    case 'texts':
      return entriesOf(text, [], steppedLists(template).has(field.id))
    case 'numbers': {
      const numbers = entriesOf(text, [/\s/, /,/]).map((one) => numberIn(one, marks)?.value ?? Number.NaN)
      return numbers.some(Number.isNaN) ? text : numbers
    }
    case 'shift': {
      const [x, y] = entriesOf(text, [/,/, /\s/]).map(readNumber)
      return (objectOf(text) as unknown as FieldValue | undefined) ?? ({ x, y } as unknown as FieldValue)
    }
    case 'style': {
      const given = objectOf(text)
      if (given) return given as unknown as FieldValue
      const size = text.match(/([\d.]+)\s*(px)?$/)
      const words = text
        .slice(0, size?.index)
        .replace(/[,\s]+$/, '')
        .toLowerCase()
      const font = template.fonts.find((f) => `${f.family} ${f.style}`.toLowerCase() === words || f.id === words)
      return { ...(words ? { font: font?.id ?? words } : {}), ...(size ? { size: Number(size[1]) } : {}) }
    }
  }
}

/** A list of texts as a cell has it: a line each, or JSON where that would be read as another list. */
export function writeList(entries: readonly string[]): string {
  if (entries.every((entry) => entry === '')) return JSON.stringify(entries)
  const isPlain = entries.every((entry) => entry === entry.trim() && !/[\r\n]/.test(entry))
  const isFull =
    entries.length > 1 ? entries[0] !== '' && entries.at(-1) !== '' : entries.every((one) => !/[;|]/.test(one))
  return isPlain && isFull && !entries[0]?.startsWith('[') ? entries.join('\n') : JSON.stringify(entries)
}

/** A number as a cell has it, so that it is read as what it is and nothing else. */
function writeNumber(value: number, marks: Marks = '.'): string {
  const text = String(value)
  // Three digits behind a mark could be a group.
  const plain = /^-?\d{1,3}\.\d{3}$/.test(text) ? `${text}0` : text
  return marks === ',' ? plain.replace('.', ',') : plain
}

/**
 * A value as it stands in a cell: `readCell` gives it back.
 * @param marks how the column writes numbers
 */
export function writeCell(template: Template, field: Field, value: FieldValue, marks?: Marks): string {
  switch (field.type) {
    case 'switch':
      return value === true ? 'yes' : 'no'
    case 'texts':
      return writeList(value as string[])
    case 'numbers':
      return (value as number[]).map((one) => writeNumber(one, marks)).join('; ')
    case 'number':
      return typeof value === 'number' ? writeNumber(value, marks) : String(value)
    case 'shift': {
      const { x, y } = value as ShiftValue
      return `${x}, ${y}`
    }
    case 'style': {
      const { font, size } = value as StyleValue
      const file = template.fonts.find((f) => f.id === font)
      return [...(file ? [`${file.family} ${file.style}`] : []), ...(size === undefined ? [] : [`${size} px`])].join(
        ', ',
      )
    }
    case 'picture': {
      // An empty cell may mean the default; the word for none never does.
      if (typeof value === 'string') return value || noPictureWord(field)
      const given = value as PictureValue
      return Object.keys(given).length === 1 ? given.picture : JSON.stringify(given)
    }
    default:
      return String(value)
  }
}

/** What a row makes of its template: values by field key, and what is wrong with its texts themselves. */
export interface Filling {
  values: Values
  problems: Problem[]
}

/**
 * Whether a row's text gives a field a value. An empty cell of a text is an empty text; of a picture it may mean none; of
 * anything else it is "as designed".
 * @param text undefined: nothing fills the field
 */
export const isGivenBy = (field: Field, text: string | undefined): text is string =>
  text !== undefined &&
  (text.trim() !== '' || field.type === 'text' || (field.type === 'picture' && field.empty === 'none'))

/** How long a row says that its title is, by hand or in its data; nothing: it has no length of its own. */
function secondsOfRow({ frame }: Template, match: Match, row: Row): number | undefined {
  const frames = framesOfRow(match, row, frame.rate)
  return frames === undefined ? undefined : secondsOf(frames, frame.rate)
}

/** A row as values for its template, and what is wrong with its texts themselves. Only fields come through. */
export function valuesOf(template: Template, match: Match, row: Row): Filling {
  const values: Values = {}
  const problems: Problem[] = []
  const language = rowLanguage(template, match, row)
  for (const field of template.fields) {
    const { text: cell, problem } = givenText(match, field.key, row)
    if (problem)
      problems.push({ field: field.key, level: 'look', code: 'conversion', message: `${field.name}: ${problem}.` })
    if (cell === undefined || cell.trim() === '') {
      const own = standing(template, field, row.about, () => secondsOfRow(template, match, row))
      if (own !== undefined) {
        values[field.key] = own
        continue
      }
      const isGiven = isGivenBy(field, cell)
      if (isGiven) values[field.key] = ''
      if (field.required && cell !== undefined) problems.push(emptyProblem(field))
      else if (!isGiven) problems.push(...defaultProblems(template, field))
      continue
    }
    const marks = marksFor(match, field.key)
    const read = readCell(template, field, cell, marks)
    const isMoment = field.type === 'moment' && read === 'now'
    // Where nobody knows what it is made among, the default shows what it would look like.
    if (isMoment && !row.about) continue
    const value = isMoment ? row.about!.now : read
    const found = valueProblems(template, field, value, language)
    // A text that is too long is shown as it is; anything else that may not be stands at its default.
    if (field.type === 'text' || !found.some(({ code }) => code === 'value' || code === 'limit'))
      values[field.key] = value
    problems.push(...found)
    if (field.type === 'number' || field.type === 'numbers') problems.push(...readings(field, cell, marks))
  }
  return { values, problems }
}

/** The language that a row's words are in, where its template lets rows differ. */
function rowLanguage(template: Template, match: Match, row: Row): string {
  const field = languageFieldOf(template)
  const given = field && givenText(match, field.key, row).text?.trim().replaceAll('_', '-')
  return given && isLanguage(given) ? given : languageOf(template)
}

const atDefault = new WeakMap<Template, Map<Field, Problem[]>>()

/** A field of which nothing was given stands at its default: the same is told of it in every row. */
function defaultProblems(template: Template, field: Field): Problem[] {
  if (field.stands !== undefined) return []
  const known = cached(atDefault, template, () => new Map<Field, Problem[]>())
  let problems = known.get(field)
  if (!problems) {
    problems = sampleProblems(template, field)
    known.set(field, problems)
  }
  return problems
}

/** What is told of a default: where it is only a sample, and where something had to be given. */
function sampleProblems(template: Template, field: Field): Problem[] {
  if (field.required)
    return [
      {
        field: field.key,
        level: 'stop',
        code: 'absent',
        message: `${field.name} is required and nothing was given, so "${shownDefault(template, field)}" would go out; give it a column or a text.`,
      },
    ]
  if (!defaultIsSample(template, field) || shownDefault(template, field) === '') return []
  return [
    {
      field: field.key,
      level: 'look',
      code: 'default',
      message: `Nothing was given for ${field.name}, so its sample "${shownDefault(template, field)}" stands; give it a column or a text.`,
    },
  ]
}

const shownDefault = (template: Template, field: Field): string => {
  const given = field.default
  const text = Array.isArray(given) ? given.join(', ') : writeCell(template, field, given)
  return field.default === '' ? '' : text.length > 40 ? `${text.slice(0, 39)}…` : text
}

const emptyProblem = (field: Field): Problem => ({
  field: field.key,
  level: 'stop',
  code: 'empty',
  message: `${field.name} is empty and must not be; fill it in.`,
})

/** What is wrong with a value itself, whoever gave it: a row, a proof. */
function valueProblems(template: Template, field: Field, value: FieldValue, language: string): Problem[] {
  const problems: Problem[] = []
  const refusal = refuseFieldValue(template, field, value)
  if (refusal)
    problems.push({
      field: field.key,
      level: 'stop',
      code: refusal.code,
      message: `${field.name} ${refusal.message}.`,
    })
  if (field.type === 'text' && typeof value === 'string')
    problems.push(...textProblems(field, value, field.language ?? language))
  if (field.type === 'texts' && Array.isArray(value))
    problems.push(...value.flatMap((one) => strangeCharacters(field, String(one))))
  return problems
}

/** What is wrong with the values of a filling themselves, as a row that gives them is told of them. */
export function fillingProblems(template: Template, values: Values): Problem[] {
  const own = languageFieldOf(template)
  const language = String((own && values[own.key]) || languageOf(template))
  return template.fields.flatMap((field): Problem[] => {
    const value = values[field.key]
    if (value === undefined) return []
    if (field.type === 'text' && String(value).trim() === '') return field.required ? [emptyProblem(field)] : []
    return valueProblems(template, field, value, language)
  })
}

/** A number that may be meant in two ways, with both of them. */
function readings(field: Field, cell: string, marks: Marks | undefined): Problem[] {
  return entriesOf(cell.trim(), [/\s/]).flatMap((one): Problem[] => {
    const read = numberIn(one, marks)
    if (read?.other === undefined) return []
    return [
      {
        field: field.key,
        level: 'look',
        code: 'ambiguous',
        message: `${field.name} "${one}" is read as ${read.value} and could be meant as ${read.other}; say in the match how this sheet writes numbers.`,
      },
    ]
  })
}

function textProblems(field: Field, cell: string, language: string): Problem[] {
  const problems: Problem[] = strangeCharacters(field, cell)
  const tidy = cell.replaceAll('\t', ' ').trim().replace(/ {2,}/g, ' ')
  if (tidy !== cell)
    problems.push({
      field: field.key,
      level: 'look',
      code: 'spaces',
      message: cell.includes('\t')
        ? `${field.name} has a tab in it, which is drawn as one space.`
        : `${field.name} has spaces at an end or twice in a row.`,
      fix: tidy,
    })
  if (/["']/.test(tidy)) {
    const { open, close, words } = quotesOf(language)
    problems.push({
      field: field.key,
      level: 'look',
      code: 'quotes',
      message: `${field.name} has straight quotation marks; ${open}${words}${close} and ’ are set better.`,
      ...quoteFix(tidy, language),
    })
  }
  return problems
}
