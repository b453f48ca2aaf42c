import { matchColumns } from '@hoja/core/data'
import { bookOffers, openDataFile, previewOf, readDataFile, readPart, shallowJson } from '@hoja/core/formats'
import { Refusal } from '@hoja/core/refusal'
import { readTemplate } from '@hoja/core/template'
import { aboutOf } from '../store/about.ts'
import { readRegular } from '../store/files.ts'
import type { Of, ReadDraft, Results } from './tasks.ts'

/** Rows that go over at a time: as many as the main process keeps in a few milliseconds. */
const pieceRows = 1000

/** @param give hands on rows, and ends when they were taken; the columns go first, as one */
export async function readTable(
  { file, options, template }: Of<'readTable'>,
  give: (rows: string[]) => Promise<void>,
): Promise<Results['readTable']> {
  const { table, facts } = openDataFile(readRegular(file.path), file.name, options, template)
  const { columns, rows, marks } = table
  const match = matchColumns(template, columns, rows, marks)
  await give([JSON.stringify(columns)])
  const cells = (row: string[]) => JSON.stringify(Object.fromEntries(columns.map((name, c) => [name, row[c] ?? ''])))
  for (let at = 0; at < rows.length; at += pieceRows) await give(rows.slice(at, at + pieceRows).map(cells))
  return { columns, match, options: facts.options, count: rows.length }
}

export const readRows = ({ file, options, template }: Of<'readRows'>): Results['readRows'] =>
  readDataFile(readRegular(file.path), file.name, options, template)

export const previewBook = ({ file, candidates }: Of<'previewBook'>): Results['previewBook'] =>
  bookOffers(readRegular(file.path), file.name, candidates)

export function readParts({ file, parts }: Of<'readParts'>): Results['readParts'] {
  const bytes = readRegular(file.path)
  return parts.map(({ template, ...part }) => {
    const table = readPart(bytes, file.name, part)
    return { table, match: matchColumns(template, table.columns, table.rows, table.marks) }
  })
}

export const previewData = ({ file, options, template }: Of<'previewData'>): Results['previewData'] =>
  previewOf(readRegular(file.path), file.name, options, template)

/** A draft as it comes over the network: the revision that it was made on, and the template. @throws Refusal */
export function readDraft({ document }: Of<'readDraft'>): ReadDraft {
  let value: { revision?: unknown; template?: unknown }
  try {
    value = JSON.parse(shallowJson(new TextDecoder('utf-8', { fatal: true }).decode(document), 'The template'))
  } catch (error) {
    if (error instanceof Refusal) throw error
    throw new Refusal('request', 'The request could not be read: it is no JSON.', 400)
  }
  if (!Number.isInteger(value?.revision))
    throw new Refusal('request', 'The request is not right: revision is a required field.', 400)
  const template = readTemplate(value.template)
  return { text: JSON.stringify(template), about: aboutOf(template), revision: value.revision as number }
}
