import { cached } from '../cache/index.ts'
import { allParts, propertiesOf, type Template } from '../template/index.ts'
import type { Problem } from './problem.ts'
import { type Match, usedColumns } from './source.ts'
import type { Row } from './table.ts'

const plain = (text: string) =>
  text
    .normalize('NFC')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]/gu, '')

interface Lock {
  /** Part and property as people call them, by how a column may name them. */
  names: Map<string, string>
  /** What columns were found to name. */
  columns: Map<string, string | undefined>
}

const locks = new WeakMap<Template, Lock>()

/** Whether a column names a property of a part that no field exposes: "Plate fill", "plate.fill", "fill of plate". */
function lockedBy(template: Template, column: string): string | undefined {
  const lock = cached(locks, template, (): Lock => {
    const names = new Map<string, string>()
    const fields = new Set(template.fields.flatMap(({ key, name }) => [plain(key), plain(name)]))
    for (const part of allParts(template.parts))
      for (const [key, { label }] of propertiesOf(part.kind))
        for (const word of [key, label])
          for (const name of [`${part.name} ${word}`, `${part.id} ${word}`, `${word} of ${part.name}`])
            if (!fields.has(plain(name))) names.set(plain(name), `${label} of ${part.name}`)
    return { names, columns: new Map() }
  })
  if (!lock.columns.has(column)) lock.columns.set(column, lock.names.get(plain(column)))
  return lock.columns.get(column)
}

const used = new WeakMap<Match, Set<string>>()

/** Data for what the hand-off keeps locked: it is not used, and whoever wrote it should know. */
export function lockedData(template: Template, match: Match, row: Row): Problem[] {
  const columns = cached(used, match, () => new Set(usedColumns(match)))
  const problems: Problem[] = []
  for (const [column, cell] of Object.entries(row.cells)) {
    if (cell === '' || columns.has(column)) continue
    const what = lockedBy(template, column)
    if (what)
      problems.push({
        level: 'look',
        code: 'locked',
        message: `${what} is locked, so "${cell}" in column "${column}" is not used; take it out, or ask the designer to expose it.`,
      })
  }
  return problems
}
