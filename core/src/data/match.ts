import type { Field, Template } from '../template/index.ts'
import { readCell } from './convert.ts'
import { refuseFieldValue } from './fieldValues.ts'
import type { Match } from './table.ts'

const plain = (text: string) =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]/gu, '')

/** The words of a column's name: `First name`, `firstName`, `first_name` have two. */
const wordsOf = (column: string) =>
  column
    .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
    .split(/[^\p{L}\p{N}\p{M}]+/u)
    .map(plain)

/** Words that head the same column in one house and the next: English, German, French, Spanish. */
const alike = [
  ['name', 'fullname', 'person', 'who', 'guest', 'speaker', 'nom', 'nombre'],
  ['role', 'title', 'jobtitle', 'job', 'position', 'occupation', 'funktion', 'fonction', 'cargo'],
  ['place', 'location', 'where', 'venue', 'town', 'city', 'ort', 'lieu', 'lugar'],
  ['date', 'day', 'when', 'datum', 'fecha'],
  ['colour', 'color', 'farbe', 'couleur'],
  ['picture', 'image', 'photo', 'mark', 'logo', 'bild', 'imagen'],
]

const meanTheSame = (a: string, b: string) => alike.some((group) => group.includes(a) && group.includes(b))

/** What cells of a kind look like, even where this field would refuse them: that is for the checks to say. */
const telling: Partial<Record<Field['type'], RegExp>> = {
  colour: /^#[0-9a-f]{6}([0-9a-f]{2})?$/i,
  picture: /\.(png|jpe?g|webp|gif|svg|apng)$/i,
  moment: /^\d{4}-\d{2}-\d{2}([T ]\d{2}:\d{2}(:\d{2})?)?$/,
}

/** Whether a filled cell gives itself away as the field's; words and plain numbers could be anything. */
function isTelling(template: Template, field: Field, cell: string): boolean {
  const shape = telling[field.type]
  if (shape) return shape.test(cell)
  const listed = field.type === 'choice' || (field.type === 'switch' && /\p{L}/u.test(cell))
  return listed && refuseFieldValue(template, field, readCell(template, field, cell)) === undefined
}

/** Rows that are looked at to tell what a column holds. */
const lookedAt = 50

/** Whether a column's cells, as far as they are filled, are all what the field takes. */
function holds(template: Template, field: Field, cells: readonly string[]): boolean {
  const filled = cells.map((cell) => cell.trim()).filter((cell) => cell !== '')
  return filled.length > 1 && filled.every((cell) => isTelling(template, field, cell))
}

/**
 * Matches columns to fields by key, then by name, then by the key being the beginning or a word of the column's, then
 * by words that mean the same, and last by what the rows hold, where only one column and one field can be meant. Each
 * column goes to one field.
 */
export function matchColumns(
  template: Template,
  columns: readonly string[],
  rows: readonly (readonly string[])[] = [],
): Match {
  const match: Match = {}
  const free = new Set(columns)
  const give = (field: Field, column: string) => {
    match[field.key] = column
    free.delete(column)
  }
  const rounds: ((field: string, name: string, column: string) => boolean)[] = [
    (key, _name, column) => column === key,
    (key, name, column) => plain(column) === plain(key) || plain(column) === plain(name),
    (key, _name, column) =>
      plain(key).length > 2 && (plain(column).startsWith(plain(key)) || wordsOf(column).includes(plain(key))),
    (key, name, column) => meanTheSame(plain(key), plain(column)) || meanTheSame(plain(name), plain(column)),
  ]
  for (const fits of rounds)
    for (const field of template.fields) {
      if (match[field.key]) continue
      const column = [...free].find((c) => fits(field.key, field.name, c))
      if (column !== undefined) give(field, column)
    }
  const some = rows.slice(0, lookedAt)
  const open = template.fields.filter((field) => !match[field.key])
  const held = open.map((field) =>
    [...free].filter((column) => {
      const at = columns.indexOf(column)
      return holds(
        template,
        field,
        some.map((row) => row[at] ?? ''),
      )
    }),
  )
  open.forEach((field, i) => {
    const [column, ...others] = held[i]!
    const rivals = held.filter((own) => column !== undefined && own.includes(column))
    if (column !== undefined && others.length === 0 && rivals.length === 1) give(field, column)
  })
  return match
}

/** A sentence when a sheet does not look like the template: too few of its fields found among the columns. */
export function doubtAbout(template: Template, match: Match): string | undefined {
  const asked = template.fields.filter((field) => field.required || field.type === 'text')
  const missing = asked.filter((field) => !match[field.key])
  if (asked.length === 0 || missing.length === 0) return undefined
  if (missing.length === asked.length)
    return `None of the columns match "${template.name}"; is this the right sheet? It asks for ${asked.map((f) => f.key).join(', ')}.`
  return missing.some((field) => field.required)
    ? `No column matches ${missing.map((f) => `"${f.name}"`).join(', ')}; those stand at their default.`
    : undefined
}
