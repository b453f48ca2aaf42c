import type { Template } from '../template/index.ts'

/** Which column goes to which field: field key to column name; a field without a column stands at its default. */
export type Match = Record<string, string>

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

/**
 * Matches columns to fields by key, then by name, then by the key being the beginning or a word of the column's; each column once.
 */
export function matchColumns(template: Template, columns: readonly string[]): Match {
  const match: Match = {}
  const free = new Set(columns)
  const rounds: ((field: string, name: string, column: string) => boolean)[] = [
    (key, _name, column) => column === key,
    (key, name, column) => plain(column) === plain(key) || plain(column) === plain(name),
    (key, _name, column) =>
      plain(key).length > 2 && (plain(column).startsWith(plain(key)) || wordsOf(column).includes(plain(key))),
  ]
  for (const fits of rounds)
    for (const field of template.fields) {
      if (match[field.key]) continue
      const column = [...free].find((c) => fits(field.key, field.name, c))
      if (column === undefined) continue
      match[field.key] = column
      free.delete(column)
    }
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
