import { limits } from '../limits/index.ts'
import { demand } from '../refusal/index.ts'
import { steppedLists, type Template } from '../template/index.ts'
import { matchColumns } from './match.ts'
import { usedColumns } from './source.ts'
import type { Table } from './table.ts'

/** The columns of a table that fill the lists that a template goes through, and those that fill something else. */
function columnsFor(template: Template, { columns, rows, marks }: Table): { lists: string[]; others: Set<string> } {
  const stepped = steppedLists(template)
  const match = matchColumns(template, columns, rows, marks)
  const sources = (isStepped: boolean) =>
    usedColumns(
      Object.fromEntries(
        template.fields.flatMap(({ id, key }) =>
          match[key] !== undefined && stepped.has(id) === isStepped ? [[key, match[key]] as const] : [],
        ),
      ),
    )
  return { lists: sources(true), others: new Set(sources(false)) }
}

/** Whether every cell of a column that says something is a list by itself. */
function holdLists(cells: readonly string[]): boolean {
  const filled = cells.filter((cell) => cell.trim() !== '')
  return filled.length > 0 && filled.every((cell) => /[\r\n;|]|^\s*\[/.test(cell))
}

/** Rows by which it is told what cells hold. */
const lookedAt = 50

/**
 * Whether a table's rows are one title together, as credits and notices are: its template goes through lists, and each
 * row has one entry of them. Undefined: its template goes through none.
 */
export function areTogether(template: Template, table: Table): boolean | undefined {
  if (steppedLists(template).size === 0) return undefined
  const { lists } = columnsFor(template, table)
  const some = table.rows.slice(0, lookedAt)
  return (
    table.rows.length > 1 &&
    lists.length > 0 &&
    !lists.some((column) => holdLists(some.map((row) => row[table.columns.indexOf(column)] ?? '')))
  )
}

/**
 * A table whose rows are one title, as one row: each column as a list of all its cells, empty ones among them; what fills
 * something else is what its first filled cell says.
 * @throws Refusal for more than a cell takes
 */
export function joined(template: Template, table: Table, name: string): Table {
  const { columns, rows } = table
  const { others } = columnsFor(template, table)
  const cells = columns.map((column, c) => {
    const all = rows.map((row) => (row[c] ?? '').trim())
    if (others.has(column)) return all.find((cell) => cell !== '') ?? ''
    return JSON.stringify(all)
  })
  const most = limits.cellCharacters.most
  const long = cells.findIndex((cell) => cell.length > most)
  demand(
    long < 0,
    'data.together',
    `"${name}" has ${rows.length} rows, and column "${columns[long]}" of them all takes more than the ${most} characters that one title's list can have; split the file.`,
  )
  return { ...table, rows: [cells] }
}
