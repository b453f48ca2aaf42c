import { utils, write } from '@e965/xlsx'
import { strToU8 } from 'fflate'
import { limitWords, writeCell } from '../data/index.ts'
import type { Template } from '../template/index.ts'
import { writeCsv } from './csv.ts'

/**
 * A data file with every field, its default and its note, ready to fill. Notes of a csv stand in `#` lines above the header.
 * @param asIs whether defaults that begin like a formula stand so in a csv
 */
export function starterFile(template: Template, kind: 'csv' | 'xlsx' | 'json', asIs = false): Uint8Array {
  const keys = template.fields.map((field) => field.key)
  const defaults = template.fields.map((field) => writeCell(template, field, field.default))
  const notes = template.fields.map((field) =>
    `${[`${field.name}${field.required ? ' (required)' : ''}`, ...limitWords(template, field)].join(', ')}. ${field.note}`.trim(),
  )
  if (kind === 'csv')
    return strToU8(
      `\ufeff${keys.map((key, i) => `# ${key}: ${notes[i]!.replace(/\s+/g, ' ')}\r\n`).join('')}${writeCsv(keys, [defaults], asIs)}`,
    )
  if (kind === 'json')
    return strToU8(
      `${JSON.stringify({ rows: [Object.fromEntries(template.fields.map((field) => [field.key, field.default]))], fields: template.fields.map((field, i) => ({ key: field.key, default: field.default, note: notes[i] })) }, null, 2)}\n`,
    )
  const book = utils.book_new()
  utils.book_append_sheet(book, utils.aoa_to_sheet([keys, defaults]), 'Rows')
  utils.book_append_sheet(
    book,
    utils.aoa_to_sheet([['field', 'default', 'note'], ...keys.map((key, i) => [key, defaults[i], notes[i]])]),
    'Notes',
  )
  return new Uint8Array(write(book, { type: 'array', bookType: 'xlsx' }) as ArrayBuffer)
}
