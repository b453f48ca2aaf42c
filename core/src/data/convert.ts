import type { Field, FieldValue, Template, Values } from '../template/index.ts'
import { characterCount } from '../text/index.ts'
import type { Match } from './match.ts'
import type { Cells } from './table.ts'

export interface Problem {
  field: string
  level: 'stop' | 'look'
  code: string
  message: string
  /** The cell that would put it right, where that is safe. */
  fix?: string
}

const yes = new Set(['yes', 'y', 'true', '1', 'on', 'sí', 'si', 'oui', 'ja', 'sim', 'x'])
const no = new Set(['no', 'n', 'false', '0', 'off', 'non', 'nein', 'não', 'nao', ''])

/** A cell as a field's value, or a sentence why it can't be one. */
export function convertCell(field: Field, cell: string): { value: FieldValue } | { problem: string } {
  const text = cell.trim()
  switch (field.type) {
    case 'number': {
      const value = Number(text.replace(',', '.'))
      if (text === '' || !Number.isFinite(value)) return { problem: `"${cell}" is not a number; write it with digits.` }
      if ((field.min !== undefined && value < field.min) || (field.max !== undefined && value > field.max))
        return { problem: `${value} is outside ${field.min ?? '−∞'} to ${field.max ?? '∞'}; bring it inside.` }
      return { value }
    }
    case 'switch': {
      const word = text.toLowerCase()
      if (yes.has(word)) return { value: true }
      if (no.has(word)) return { value: false }
      return { problem: `"${cell}" is neither yes nor no.` }
    }
    case 'colour':
      return /^#[0-9a-fA-F]{6}([0-9a-fA-F]{2})?$/.test(text) || /^palette:[A-Za-z0-9_-]+$/.test(text)
        ? { value: text }
        : { problem: `"${cell}" is not a colour; write it as #rrggbb.` }
    case 'choice':
      return field.options === undefined || field.options.includes(text)
        ? { value: text }
        : { problem: `"${cell}" is none of ${field.options.join(', ')}.` }
    case 'picture':
      return { value: text }
    case 'text':
      return { value: cell.replace(/\r\n?/g, '\n') }
  }
}

/** A row's cells as values for its template, and what is wrong with the cells themselves. Only fields come through. */
export function valuesOf(template: Template, match: Match, cells: Cells): { values: Values; problems: Problem[] } {
  const values: Values = {}
  const problems: Problem[] = []
  for (const field of template.fields) {
    const column = match[field.key]
    const cell = column === undefined ? undefined : cells[column]
    if (cell === undefined || cell.trim() === '') {
      if (field.required && column !== undefined)
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
    const converted = convertCell(field, cell)
    if ('problem' in converted) {
      problems.push({ field: field.key, level: 'stop', code: 'value', message: `${field.name}: ${converted.problem}` })
      continue
    }
    values[field.key] = converted.value
    if (field.type === 'text') problems.push(...textProblems(field, cell))
  }
  return { values, problems }
}

function textProblems(field: Field, cell: string): Problem[] {
  const problems: Problem[] = []
  const count = characterCount(cell)
  if (field.limit !== undefined && count > field.limit)
    problems.push({
      field: field.key,
      level: 'stop',
      code: 'limit',
      message: `${field.name} has ${count} characters, ${count - field.limit} more than the ${field.limit} allowed; shorten it.`,
    })
  const tidy = cell.trim().replace(/ {2,}/g, ' ')
  if (tidy !== cell)
    problems.push({
      field: field.key,
      level: 'look',
      code: 'spaces',
      message: `${field.name} has spaces at an end or twice in a row.`,
      fix: tidy,
    })
  return problems
}
