import { doubtAbout, type Match, matchColumns } from '@hoja/core/data'
import { type ReadOptions, tableOf, writeCsv } from '@hoja/core/formats'
import { Refusal } from '@hoja/core/refusal'
import type { Template } from '@hoja/core/template'
import { Router } from 'express'
import { array, boolean, lazy, mixed, number, object, string } from 'yup'
import type { RowChange } from '../store/sheets.ts'
import type { VersionRow } from '../store/templates.ts'
import type { Context } from './context.ts'
import { body, id } from './errors.ts'
import { readUpload } from './upload.ts'

const cellsSchema = lazy((value) =>
  object(Object.fromEntries(Object.keys(value ?? {}).map((key) => [key, string().max(20_000).defined()]))).required(),
)
const changeSchema = lazy((value: { kind?: string } | undefined) => {
  if (value?.kind === 'cell')
    return object({
      kind: string().oneOf(['cell']).required(),
      row: number().integer().required(),
      column: string().min(1).max(500).required(),
      value: string().max(20_000).defined(),
    }).required()
  if (value?.kind === 'insert')
    return object({
      kind: string().oneOf(['insert']).required(),
      at: number().integer().required(),
      rows: array(cellsSchema).max(50_000).required(),
    }).required()
  return object({
    kind: string().oneOf(['remove']).required(),
    from: number().integer().required(),
    count: number().integer().min(1).required(),
  }).required()
})

const optionsSchema = object({
  sheet: string().max(200),
  hidden: boolean(),
  as: string().oneOf(['displayed', 'values'] as const),
  header: number().integer().min(0).max(1000),
  separator: string().min(1).max(4),
  path: string().min(1).max(2000),
}).noUnknown()

/** How a data file is to be read, from a form's JSON. @throws Refusal */
function readOptions(text: string | undefined): ReadOptions {
  try {
    const options = optionsSchema.validateSync(JSON.parse(text || '{}'), { strict: true })
    return Object.fromEntries(Object.entries(options).filter(([, value]) => value !== undefined)) as ReadOptions
  } catch (error) {
    throw new Refusal('request', `How to read the file is not right: ${(error as Error).message}.`, 400)
  }
}

/** @throws Refusal when a match fills what is no field: the hand-off says what can be filled, not the request. */
function checkMatch(template: Template, match: Match): void {
  const locked = Object.keys(match).find((key) => !template.fields.some((field) => field.key === key))
  if (locked)
    throw new Refusal(
      'match.locked',
      `"${locked}" is not a field of "${template.name}"; only its fields can be filled.`,
    )
}

export function sheetRoutes({ store, pool }: Context): Router {
  const routes = Router()
  const { sheets, templates } = store
  const withRows = (sheetId: number) => {
    const sheet = sheets.get(sheetId)
    const version = templates.version(sheet.version)
    return { ...sheet, template: version.template, number: version.number, cells: sheets.rows(sheetId) }
  }
  const keysOf = (version: VersionRow) => templates.published(version).fields.map((field) => field.key)
  /** The match as it was last set for such a sheet; for a field that nobody was asked about then, the guess. */
  const matchFor = (version: VersionRow, columns: readonly string[], guess: Match) => {
    const known = sheets.rememberedMatch(version.template, columns)
    if (!known) return { match: guess, remembered: false }
    const asked = new Set(keysOf(templates.version(known.version)))
    const used = new Set(Object.values(known.match))
    const match: Match = {}
    for (const key of keysOf(version)) {
      const column = asked.has(key) ? known.match[key] : guess[key]
      if (column !== undefined && (asked.has(key) || !used.has(column))) match[key] = column
    }
    return { match, remembered: true }
  }

  routes.get('/', (request, response) => {
    response.json(sheets.list(typeof request.query.template === 'string' ? request.query.template : undefined))
  })
  /** A file of rows, read in a worker thread. */
  routes.post('/import', async (request, response) => {
    const { bytes, name, fields } = await readUpload(request)
    const version = templates.version(id(fields.version))
    const { table, match } = await pool.run<'readData'>({
      kind: 'readData',
      bytes,
      name,
      options: readOptions(fields.options),
      template: templates.published(version),
    })
    const sheetName = fields.name?.trim().slice(0, 200) || name
    response.status(201).json(sheets.add(version.id, sheetName, table, matchFor(version, table.columns, match).match))
  })
  /** What a file of rows holds and how it would be read; nothing is kept. */
  routes.post('/import/look', async (request, response) => {
    const { bytes, name, fields } = await readUpload(request)
    const version = templates.version(id(fields.version))
    const template = templates.published(version)
    const options = readOptions(fields.options)
    const look = await pool.run<'lookAtData'>({ kind: 'lookAtData', bytes, name, options, template })
    const found = matchFor(version, look.columns, look.match)
    response.json({ ...look, ...found, doubt: doubtAbout(template, found.match) ?? null })
  })
  /** Rows that were pasted or will be typed. */
  routes.post('/', async (request, response) => {
    const schema = object({
      version: number().integer().required(),
      name: string().trim().min(1).max(200).required(),
      table: array(array(string().defined().max(20_000)).required()).max(50_000),
    })
    const { version, name, table } = await body(schema, request)
    const published = templates.version(version)
    const template = templates.published(published)
    const read = table
      ? tableOf(table as string[][], name)
      : { columns: template.fields.map((f) => f.key), rows: [template.fields.map(() => '')] }
    const { match } = matchFor(published, read.columns, matchColumns(template, read.columns, read.rows))
    response.status(201).json(sheets.add(version, name, read, match))
  })
  routes.get('/:id', (request, response) => {
    response.json(withRows(id(request.params.id)))
  })
  routes.delete('/:id', (request, response) => {
    sheets.remove(id(request.params.id))
    response.status(204).end()
  })
  routes.put('/:id/match', async (request, response) => {
    const sheet = sheets.get(id(request.params.id))
    const template = templates.published(templates.version(sheet.version))
    const { match } = await body(object({ match: mixed<Match>().required() }), request)
    checkMatch(template, match as Match)
    response.json(sheets.setMatch(sheet.id, match as Match))
  })
  /** Puts a sheet on another version of its template. */
  routes.put('/:id/version', async (request, response) => {
    const asked = await body(
      object({
        version: number().integer().required(),
        revision: number().integer().required(),
        match: mixed<Match>().required(),
      }),
      request,
    )
    const sheet = sheets.get(id(request.params.id))
    const [from, to] = [templates.version(sheet.version), templates.version(asked.version)]
    if (from.template !== to.template)
      throw new Refusal(
        'sheet.version',
        `"${sheet.name}" is filled for "${from.template}"; it can't move to "${to.template}".`,
      )
    checkMatch(templates.published(to), asked.match as Match)
    response.json(sheets.move(sheet.id, asked.revision, to.id, asked.match as Match))
  })
  routes.patch('/:id/rows', async (request, response) => {
    const { revision, changes } = await body(
      object({ revision: number().integer().required(), changes: array(changeSchema).min(1).max(50_000).required() }),
      request,
    )
    response.json(sheets.change(id(request.params.id), revision, changes as unknown as RowChange[]))
  })
  routes.get('/:id/csv', (request, response) => {
    const sheet = withRows(id(request.params.id))
    response
      .attachment(`${sheet.name.replace(/\.[a-z]+$/i, '')}.csv`)
      .type('text/csv')
      .send(
        `\ufeff${writeCsv(
          sheet.columns,
          sheet.cells.map((cells) => sheet.columns.map((column) => cells[column] ?? '')),
        )}`,
      )
  })
  return routes
}
