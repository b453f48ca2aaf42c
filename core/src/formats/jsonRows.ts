import { type ParseError, parseTree } from 'jsonc-parser'
import { query } from 'jsonpath-rfc9535'
import { type Table, writeList } from '../data/index.ts'
import { limits, most } from '../limits/index.ts'
import { withLinearPatterns } from '../pattern/index.ts'
import { demand, Refusal } from '../refusal/index.ts'
import { decodeText, placeIn } from './csv.ts'
import { shallowJson } from './depth.ts'
import { demandCellRoom, demandTableRoom } from './tableRoom.ts'

/** Rows somewhere in a JSON file: a list of them, or the document itself, which is one. */
export interface ArrayFacts {
  /** Where it is, as an RFC 9535 normalized path. */
  path: string
  rows: number
  /** Some of its columns. */
  columns: string[]
  /** Fields of the template that they match, where one was asked about. */
  matched?: number
}

type Row = Record<string, unknown>
const isRow = (value: unknown): value is Row => typeof value === 'object' && value !== null && !Array.isArray(value)
const isRows = (value: unknown): value is Row[] => Array.isArray(value) && value.length > 0 && value.every(isRow)

/** @throws Refusal with line and column for what is no JSON */
export function parseJson(bytes: Uint8Array, name: string): unknown {
  demand(bytes.length > 0, 'json.empty', `"${name}" is empty; it should hold a list of rows.`)
  const text = shallowJson(decodeText(bytes).replace(/^\ufeff/, ''), `"${name}"`)
  try {
    return JSON.parse(text)
  } catch (error) {
    // The parser's own message does not always tell the place.
    const problems: ParseError[] = []
    parseTree(text, problems, { disallowComments: true })
    const { line, column } = placeIn(text, problems[0]?.offset ?? text.length)
    throw new Refusal(
      'json.syntax',
      `"${name}" is not JSON: it breaks at line ${line}, column ${column} (${(error as Error).message}).`,
    )
  }
}

/** A name as a step of a normalized path (RFC 9535, 2.7). */
const step = (key: string) => `['${key.replaceAll('\\', '\\\\').replaceAll("'", "\\'")}']`

/** Every list of rows in a JSON value, the nearest to the top first; a document that is an object comes first, as one row. */
export function jsonArrays(value: unknown): ArrayFacts[] {
  const found: (ArrayFacts & { depth: number })[] = []
  const visit = (at: unknown, path: string, depth: number): void => {
    if (depth > 12 || found.length > 200) return
    if (isRows(at)) found.push({ path, rows: at.length, columns: columnsOf(at.slice(0, 50)).slice(0, 12), depth })
    const inside = Array.isArray(at) ? at.slice(0, 20) : []
    for (const [i, one] of inside.entries()) visit(one, `${path}[${i}]`, depth + 1)
    if (isRow(at)) for (const [key, one] of Object.entries(at)) visit(one, path + step(key), depth + 1)
  }
  if (isRow(value) && Object.keys(value).length > 0)
    found.push({ path: '$', rows: 1, columns: columnsOf([value]).slice(0, 12), depth: -1 })
  visit(value, '$', 0)
  return found.sort((a, b) => a.depth - b.depth).map(({ depth: _, ...facts }) => facts)
}

/** A row with nested objects flattened: `{a: {b: 1}}` has the column `a.b`. Lists stay lists, as JSON. */
function flattened(row: Row, before = '', cells = new Map<string, string>()): Map<string, string> {
  for (const [key, value] of Object.entries(row)) {
    const column = before + key
    if (isRow(value)) flattened(value, `${column}.`, cells)
    else
      cells.set(
        column,
        value === null || value === undefined ? '' : typeof value === 'object' ? JSON.stringify(value) : String(value),
      )
  }
  return cells
}

const columnsOf = (rows: Row[]) => [...new Set(rows.flatMap((row) => [...flattened(row).keys()]))]

/** Where the rows of a JSON value are looked for first: a list at its top, one called `rows`, or the document itself. */
export function firstPath(value: unknown, arrays = jsonArrays(value)): string | undefined {
  return isRow(value) && isRows(value.rows) ? "$['rows']" : arrays[0]?.path
}

/** What an RFC 9535 path chooses. @throws Refusal when it is none */
function chosenBy(value: unknown, path: string): unknown[] {
  try {
    return withLinearPatterns(() => query(value as never, path as never) as unknown[])
  } catch (error) {
    throw new Refusal('json.path', `"${path}" is no path of RFC 9535: ${(error as Error).message}.`)
  }
}

/**
 * What an RFC 9535 path finds in rows, as a cell has it: one value, or several as a list of texts; undefined for nothing.
 * @throws Refusal when it is no path
 */
export function valueTexts(rows: readonly Record<string, string>[], path: string): string | undefined {
  const nodes = chosenBy(rows, path)
  const texts = nodes.map((node) => (typeof node === 'object' ? JSON.stringify(node) : String(node)))
  return texts.length > 1 ? writeList(texts) : texts[0]
}

/**
 * The rows that an RFC 9535 path chooses: a list of objects, or several objects; one object is one row.
 * @param path absent: where they are looked for first
 * @throws Refusal when the path is none, or chooses no rows
 */
export function jsonTable(value: unknown, name: string, path?: string): Table {
  const chosen = path ?? firstPath(value)
  demand(
    (path?.length ?? 0) <= limits.pathCharacters.most,
    'json.path',
    `The path is longer than ${most('pathCharacters')}; choose a shorter one.`,
  )
  demand(chosen !== undefined, 'json.rows', `"${name}" holds no list of rows; write it as [{"name": "…"}, …].`)
  const nodes = chosenBy(value, chosen)
  const rows = nodes.length === 1 && isRows(nodes[0]) ? nodes[0] : nodes
  demand(isRows(rows), 'json.rows', `"${chosen}" chooses no rows in "${name}"; choose a list of objects.`)
  const columns = namesIn(rows, name)
  const cells = rows.map((row) => flattened(row))
  // JSON itself says how its numbers are written (RFC 8259, 6).
  return {
    columns,
    rows: cells.map((row, i) =>
      columns.map((column) => {
        const cell = row.get(column) ?? ''
        demandCellRoom(cell, i + 1, column, name)
        return cell
      }),
    ),
    marks: '.',
  }
}

/** Columns from which on it is looked at how many of them a row fills, and empty cells for each that is filled. */
const fewColumns = 200
const mostEmpty = 50

/** The columns of all rows in the order in which they come up. @throws Refusal as soon as they are more than Hoja reads */
function namesIn(rows: readonly Row[], name: string): string[] {
  const names = new Set<string>()
  let filled = 0
  let seen = 0
  for (const row of rows) {
    for (const column of flattened(row).keys()) {
      names.add(column)
      filled++
    }
    seen++
    demand(
      names.size <= fewColumns || names.size * seen <= mostEmpty * filled,
      'json.columns',
      `The rows of "${name}" have no columns in common: the first ${seen} have ${names.size}, and fill ${Math.round(filled / seen)} each; call the same things the same in every row.`,
    )
    if (names.size > limits.columns.most) break
  }
  demandTableRoom(rows.length, names.size, name)
  return [...names]
}
