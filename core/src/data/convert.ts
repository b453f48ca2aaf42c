import type { Field, FieldValue, PictureValue, ShiftValue, StyleValue, Template, Values } from '../template/index.ts'
import { refuseFieldValue } from './fieldValues.ts'
import { givenText, type Match } from './source.ts'
import type { Row } from './table.ts'

export interface Problem {
  /** Its key; absent: about a column that fills none. */
  field?: string
  level: 'stop' | 'look'
  code: string
  message: string
  /** The cell that would put it right, where that is safe. */
  fix?: string
}

/** Yes and no in the languages that dates are written in too. */
const yes = new Set(
  'yes y true 1 on x ✓ sí si sì oui vrai ja wahr sim tak prawda kyllä bai da có evet ναι да はい نعم'.split(' '),
)
const no = new Set(
  'no n false 0 off - – — non faux nein nei nej falsch nee não nao nie fałsz ei ez không ne όχι нет いいえ لا'.split(
    ' ',
  ),
).add('')

/** A list in a cell: JSON, or entries parted by `;`, `|`, line ends, or whatever of `last` is found first. */
function entriesOf(text: string, last: RegExp[]): string[] {
  if (text.startsWith('['))
    try {
      return (JSON.parse(text) as unknown[]).map(String)
    } catch {
      // No JSON after all: read like any other cell.
    }
  const by = [/\r?\n/, /;/, /\|/, ...last].find((mark) => mark.test(text))
  return (by ? text.split(by) : [text]).map((entry) => entry.trim()).filter((entry) => entry !== '')
}

const numberOf = (text: string) => (text.trim() === '' ? Number.NaN : Number(text.replace('−', '-').replace(',', '.')))

function objectOf(text: string): Record<string, unknown> | undefined {
  if (!text.startsWith('{')) return undefined
  try {
    return JSON.parse(text) as Record<string, unknown>
  } catch {
    return undefined
  }
}

/** A cell as what its field takes; what it can't be read as stays a text, and is refused as such. */
export function readCell(template: Template, field: Field, cell: string): FieldValue {
  const text = cell.trim()
  switch (field.type) {
    case 'text':
      return cell.replace(/\r\n?/g, '\n')
    case 'number': {
      const value = numberOf(text)
      return Number.isNaN(value) ? cell : value
    }
    case 'switch': {
      const word = text.toLowerCase()
      return yes.has(word) ? true : no.has(word) ? false : cell
    }
    case 'colour': {
      const named = template.palette.find((entry) => entry.name.toLowerCase() === text.toLowerCase())
      return named ? `palette:${named.id}` : text
    }
    case 'picture':
      return (objectOf(text) as unknown as FieldValue | undefined) ?? text
    case 'choice':
      return field.options?.find((option) => option.name.toLowerCase() === text.toLowerCase())?.value ?? text
    case 'moment':
      return text.replace(' ', 'T')
    case 'texts':
      return entriesOf(text, [])
    case 'numbers': {
      const numbers = entriesOf(text, [/\s/, /,/]).map(numberOf)
      return numbers.some(Number.isNaN) ? text : numbers
    }
    case 'shift': {
      const [x, y] = entriesOf(text, [/,/, /\s/]).map(numberOf)
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

/** A value as it stands in a cell: `readCell` gives it back. */
export function writeCell(template: Template, field: Field, value: FieldValue): string {
  switch (field.type) {
    case 'switch':
      return value === true ? 'yes' : 'no'
    case 'texts':
      return (value as string[]).join('\n')
    case 'numbers':
      return (value as number[]).join('; ')
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
      if (typeof value === 'string') return value
      const given = value as PictureValue
      return Object.keys(given).length === 1 ? given.picture : JSON.stringify(given)
    }
    default:
      return String(value)
  }
}

/** A row as values for its template, and what is wrong with its texts themselves. Only fields come through. */
export function valuesOf(template: Template, match: Match, row: Row): { values: Values; problems: Problem[] } {
  const values: Values = {}
  const problems: Problem[] = []
  for (const field of template.fields) {
    const { text: cell, problem } = givenText(match, field.key, row)
    if (problem)
      problems.push({ field: field.key, level: 'look', code: 'conversion', message: `${field.name}: ${problem}.` })
    if (cell === undefined || cell.trim() === '') {
      if (field.required && cell !== undefined)
        problems.push({
          field: field.key,
          level: 'stop',
          code: 'empty',
          message: `${field.name} is empty and must not be; fill it in.`,
        })
      // An empty cell of a text is an empty text; of anything else it is "as designed".
      if (field.type === 'text' && cell !== undefined) values[field.key] = ''
      continue
    }
    const value = readCell(template, field, cell)
    const refusal = refuseFieldValue(template, field, value)
    if (refusal)
      problems.push({
        field: field.key,
        level: 'stop',
        code: refusal.code,
        message: `${field.name} ${refusal.message}.`,
      })
    // A text that is too long is shown as it is; anything else that may not be stands at its default.
    if (!refusal || field.type === 'text') values[field.key] = value
    if (field.type === 'text') problems.push(...textProblems(field, cell))
  }
  return { values, problems }
}

function textProblems(field: Field, cell: string): Problem[] {
  const problems: Problem[] = []
  const tidy = cell.trim().replace(/ {2,}/g, ' ')
  if (tidy !== cell)
    problems.push({
      field: field.key,
      level: 'look',
      code: 'spaces',
      message: `${field.name} has spaces at an end or twice in a row.`,
      fix: tidy,
    })
  const quoted = tidy.replace(/(?<=\p{L})'(?=\p{L})/gu, '’')
  if (/["']/.test(tidy))
    problems.push({
      field: field.key,
      level: 'look',
      code: 'quotes',
      message: `${field.name} has straight quotation marks; “ ” and ’ are set better.`,
      // An apostrophe within a word is one in every language; which marks go round words is not.
      ...(/["']/.test(quoted) ? {} : { fix: quoted }),
    })
  return problems
}
