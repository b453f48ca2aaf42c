import { shortestDuration } from '../motion/index.ts'
import type { Field, Template } from '../template/index.ts'
import { piecesBy } from './conversions.ts'
import { readCell } from './convert.ts'
import { refuseFieldValue } from './fieldValues.ts'
import { guessMarks, type Marks } from './numbers.ts'
import { pieceOf, piecesIn } from './pieces.ts'
import { guessTimes } from './rowTimes.ts'
import { columnsOf, fieldsIn, givenText, type Match, marksFor, type Source, usedColumns } from './source.ts'
import { cellsOf, type Row, type Table } from './table.ts'

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
 * column goes to one field. How a column writes numbers is told from all of its rows.
 * @param marks how they are written, where the format of the data says so
 */
export function matchColumns(
  template: Template,
  columns: readonly string[],
  rows: readonly (readonly string[])[] = [],
  marks?: Marks,
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
  for (const [key, source] of guessPieces(template, match, columns, some)) {
    match[key] = source
    for (const column of columnsOf(source)) free.delete(column)
  }
  for (const field of template.fields) {
    const column = match[field.key]
    if (typeof column !== 'string' || (field.type !== 'number' && field.type !== 'numbers')) continue
    const at = columns.indexOf(column)
    const written = marks ?? guessMarks(rows.map((row) => row[at] ?? ''))
    if (written) match[field.key] = { columns: [column], marks: written }
  }
  const { spans, frame } = template
  const left = columns.filter((column) => free.has(column))
  const rest = some.map((row) => left.map((column) => row[columns.indexOf(column)] ?? ''))
  return { ...match, ...guessTimes(left, rest, frame.rate, shortestDuration(spans)) }
}

/**
 * Fields that one column fills together, piece by piece: one whose name names them (`Name, Role`), or the only one left of
 * which the texts have as many pieces as the template has texts that nothing else fills.
 */
function guessPieces(
  template: Template,
  match: Match,
  columns: readonly string[],
  rows: readonly (readonly string[])[],
): [key: string, source: Source][] {
  const texts = template.fields.filter(({ type }) => type === 'text')
  const cellsIn = (column: string) => rows.map((row) => row[columns.indexOf(column)] ?? '')
  for (const column of columns) {
    const heads = (['dash', 'comma'] as const)
      .map((by) => piecesBy(column.replace(/[/|+]/g, ','), by))
      .find((own) => own.length > 1)
    const named = heads?.map((head) => texts.find(({ key, name }) => isNamed(key, name, head)))
    const found = piecesIn(cellsIn(column))
    if (!named || !found || named.some((field) => !field) || new Set(named).size < named.length) continue
    return named.map((field, i) => [field!.key, pieceOf(column, found.by, i + 1, i + 1 === named.length)])
  }
  const used = new Set(usedColumns(match))
  const open = texts.filter(({ key }) => match[key] === undefined)
  const pieced = columns.flatMap((column) => {
    // The one text that took it by a word that means the same may be the first of several that it holds.
    const first = texts.find(
      ({ key, name }) => match[key] === column && ![plain(key), plain(name)].includes(plain(column)),
    )
    const own = first ? [first, ...open] : open
    if (used.has(column) && !first) return []
    const found = piecesIn(cellsIn(column))
    const fits = found && own.length > 1 && found.count === own.length && (found.by === 'line' || columns.length === 1)
    return fits ? [{ column, by: found.by, own }] : []
  })
  const [only, ...others] = pieced
  if (!only || others.length > 0) return []
  return only.own.map((field, i) => [field.key, pieceOf(only.column, only.by, i + 1, i + 1 === only.own.length)])
}

/** Whether a word heads what a field is called. */
const isNamed = (key: string, name: string, head: string): boolean => {
  const word = plain(head)
  return word === plain(key) || word === plain(name) || meanTheSame(plain(key), word) || meanTheSame(plain(name), word)
}

/** How far a table looks like made for a template, 0 to 1: fields that found a column, and columns that found a field. */
export function likeness(template: Template, { columns, rows, marks }: Table): number {
  const match = matchColumns(template, columns, rows, marks)
  const weight = (field: Field) => (field.required ? 3 : field.type === 'text' ? 2 : 1)
  const all = template.fields.reduce((sum, field) => sum + weight(field), 0)
  const found = template.fields.reduce((sum, field) => sum + (match[field.key] === undefined ? 0 : weight(field)), 0)
  if (all === 0 || columns.length === 0) return 0
  return (found / all) * 0.75 + (usedColumns(match).length / columns.length) * 0.25
}

/** Share of a column from which it is said to be empty, or of another kind than its field. */
const mostly = 0.5

/**
 * A sentence when a sheet does not look like the template, before it is used: too few of its fields found among the
 * columns, columns of another kind than their fields, columns that are mostly empty.
 */
export function doubtAbout(template: Template, match: Match, table?: Table): string | undefined {
  const asked = template.fields.filter(({ required, type }) => required || type === 'text' || type === 'texts')
  const missing = asked.filter((field) => match[field.key] === undefined)
  if (asked.length > 0 && fieldsIn(match) === 0)
    return `None of the columns match "${template.name}"; is this the right sheet? It asks for ${asked.map((f) => f.key).join(', ')}.`
  if (missing.some((field) => field.required))
    return `No column matches ${missing.map((f) => `"${f.name}"`).join(', ')}; those stand at their default.`
  if (!table || table.rows.length === 0) return undefined
  const rows = table.rows.slice(0, 500).map((_, i): Row => ({ cells: cellsOf(table, i) }))
  const wrong: string[] = []
  const empty: string[] = []
  for (const field of template.fields) {
    const source = match[field.key]
    if (source === undefined) continue
    const texts = rows.map((row) => givenText(match, field.key, row).text?.trim() ?? '')
    const filled = texts.filter((text) => text !== '')
    const refused = filled.filter((text) =>
      refuseFieldValue(template, field, readCell(template, field, text, marksFor(match, field.key))),
    )
    if (filled.length > 0 && refused.length / filled.length > mostly) wrong.push(`${field.name} ("${refused[0]}")`)
    if (field.required && 1 - filled.length / texts.length > mostly) empty.push(field.name)
  }
  if (wrong.length > 0)
    return `Most rows can't fill ${wrong.join(', ')} as they are; is this the right column, or the right sheet?`
  return empty.length > 0
    ? `${empty.join(', ')} must be filled and is empty in most rows; is this the right sheet?`
    : undefined
}
