import { setImmediate } from 'node:timers/promises'
import { api } from '@hoja/core/api'
import { cellOf, matchColumns, type Row } from '@hoja/core/data'
import { type BookPart, csvLines, type ReadOptions, tableOf, writeCsv } from '@hoja/core/formats'
import { limits } from '@hoja/core/limits'
import { Refusal } from '@hoja/core/refusal'
import { Router } from 'express'
import { array, boolean, number, object, string } from 'yup'
import type { Sheets } from '../store/sheets.ts'
import { arrived } from './arriving.ts'
import type { Context } from './context.ts'
import { id } from './errors.ts'
import { eventStream } from './eventStream.ts'
import { checkedMatch, matchedPreview, matchFor } from './matching.ts'
import { readPasted, readRowChanges } from './rowChanges.ts'
import { serving } from './serving.ts'
import { withUpload } from './upload.ts'

const optionsSchema = object({
  sheet: string().max(200),
  hidden: boolean(),
  together: boolean(),
  as: string().oneOf(['displayed', 'values'] as const),
  header: number().integer().min(0).max(1000),
  separator: string().min(1).max(4),
  encoding: string().max(40),
  path: string().min(1).max(limits.pathCharacters.most),
}).noUnknown()

/** How a data file is to be read, from JSON. @throws Refusal */
export function readOptions(value: unknown): ReadOptions {
  try {
    const options = optionsSchema.validateSync(value, { strict: true })
    return Object.fromEntries(Object.entries(options).filter(([, one]) => one !== undefined)) as ReadOptions
  } catch (error) {
    throw new Refusal('request', `How to read the file is not right: ${(error as Error).message}.`, 400)
  }
}

/** A form's field as JSON. @throws Refusal */
export function fieldJson(text: string | undefined, otherwise: unknown): unknown {
  if (!text) return otherwise
  try {
    return JSON.parse(text)
  } catch {
    throw new Refusal('request', 'The request is not right: a field of the form is no JSON.', 400)
  }
}

const partsSchema = array(
  object({
    sheet: string().max(200),
    column: string().max(500),
    value: string().max(500),
    version: number().integer().required(),
    name: string().trim().min(1).max(200).required(),
  }).required(),
)
  .min(1)
  .max(100)
  .required()

/**
 * Something made of all rows of a sheet, page by page, with room for others between two.
 * @throws Refusal, 409, when somebody changes the sheet faster than that
 */
async function atOneRevision<T>(sheets: Sheets, own: number, make: (rows: Row[], isFirst: boolean) => T): Promise<T[]> {
  for (let tries = 0; tries < 5; tries++) {
    const { revision, count } = sheets.get(own)
    const pages: T[] = []
    for (let from = 1; from <= Math.max(1, count); from += pageRows) {
      pages.push(make(sheets.rows(own, from, pageRows), from === 1))
      await setImmediate()
      if (sheets.get(own).revision !== revision) break
    }
    if (sheets.get(own).revision === revision) return pages
  }
  throw new Refusal('sheet.busy', 'The sheet is being changed all the time; try again in a moment.', 409)
}

/** Most rows of one page. */
const pageRows = 5000

export function sheetRoutes(context: Context): Router {
  const { store, jobs, follower } = context
  const routes = Router()
  const serve = serving(routes)
  const { sheets, templates } = store
  const detail = (sheetId: number) => {
    const sheet = sheets.get(sheetId)
    const version = templates.version(sheet.version)
    return {
      ...sheet,
      template: version.template,
      number: version.number,
      pictures: sheets.pictures(sheetId),
      following: follower.status(sheetId) ?? null,
    }
  }

  serve(api.sheets, (_input, { request }) => {
    return sheets.list(typeof request.query.template === 'string' ? request.query.template : undefined)
  })
  /** How names are spelled, as the sheets that know it have them. */
  serve(api.knownNames, () => {
    return { texts: sheets.knownTexts() }
  })
  serve(api.setKnown, async (input) => {
    const { known } = input
    return sheets.setKnown(input.id, known)
  })
  /** A file of rows: they come in as a job reads them, and the sheet is there when all of them are. */
  serve(api.importSheet, async (_input, { request, signal }) => {
    return withUpload(request, store.incoming, async ({ file, fields }) => {
      const version = templates.version(id(fields.version))
      const template = templates.published(version)
      const options = readOptions(fieldJson(fields.options, {}))
      const chosen = fields.match ? checkedMatch(template, fieldJson(fields.match, {})) : undefined
      const name = fields.name?.trim().slice(0, 200) || file.name
      const task = { kind: 'readTable' as const, file, options, template }
      const { sheet } = await arrived(context, task, version, { name, signal, ...(chosen ? { match: chosen } : {}) })
      return sheet
    })
  })
  /** What a file of rows holds and how it would be read; nothing is kept. */
  serve(api.previewSheet, async (_input, { request, signal }) => {
    return withUpload(request, store.incoming, async ({ file, fields }) => {
      const version = templates.version(id(fields.version))
      const template = templates.published(version)
      const options = readOptions(fieldJson(fields.options, {}))
      const preview = await jobs.run<'previewData'>({ kind: 'previewData', file, options, template }, { signal })
      return matchedPreview(store, version, preview)
    })
  })
  /** Which templates a file's worksheets, or its rows, look like; nothing is kept. */
  serve(api.previewParts, async (_input, { request, signal }) => {
    return withUpload(request, store.incoming, async ({ file }) => {
      const candidates = templates.list().flatMap((one) => {
        const [newest] = one.archived ? [] : templates.versions(one.id)
        return newest ? [{ version: newest.id, template: templates.published(newest) }] : []
      })
      const offers = await jobs.run<'previewBook'>({ kind: 'previewBook', file, candidates }, { signal })
      return {
        ...offers,
        templates: candidates.map(({ version, template }) => ({ version, template: template.id, name: template.name })),
      }
    })
  })
  /** A file whose worksheets, or rows, go to several templates: a sheet each. All of them, or none. */
  serve(api.importParts, async (_input, { request, signal }) => {
    return withUpload(request, store.incoming, async ({ file, fields }) => {
      const parts = await partsSchema.validate(fieldJson(fields.parts, [])).catch((error: Error) => {
        throw new Refusal('request', `The request is not right: ${error.message}.`, 400)
      })
      const versions = parts.map((part) => templates.version(part.version))
      const asked = parts.map(({ version: _, name: __, ...part }, i) => ({
        ...(part as BookPart),
        template: templates.published(versions[i]!),
      }))
      const read = await jobs.run<'readParts'>({ kind: 'readParts', file, parts: asked }, { signal })
      const added = store.db.transaction(() =>
        read.map(({ table, match }, i) => {
          const own = matchFor(store, versions[i]!, table.columns, match).match
          const sheet = sheets.add(versions[i]!.id, parts[i]!.name, table, own)
          return fields.production ? sheets.putInto(sheet.id, id(fields.production)) : sheet
        }),
      )()
      return added.map((sheet) => ({ ...sheet, template: templates.version(sheet.version).template }))
    })
  })
  /** Rows that were pasted or will be typed. */
  serve(api.newSheet, ({ version, name, table: pasted, production }) => {
    const table = readPasted(pasted)
    const published = templates.version(version)
    const template = templates.published(published)
    const read = table
      ? tableOf(table, name)
      : { columns: template.fields.map((f) => f.key), rows: [template.fields.map(() => '')] }
    const { match } = matchFor(
      store,
      published,
      read.columns,
      matchColumns(template, read.columns, read.rows, read.marks),
    )
    return store.db.transaction(() => {
      const sheet = sheets.add(version, name, read, match)
      return production === undefined ? sheet : sheets.putInto(sheet.id, production)
    })()
  })
  serve(api.sheet, (input) => {
    return detail(input.id)
  })
  /** A page of rows, with the revision that they are of. */
  serve(api.rows, (input, { request }) => {
    const sheet = sheets.get(input.id)
    const from = request.query.from === undefined ? 1 : id(String(request.query.from))
    return { revision: sheet.revision, count: sheet.count, rows: sheets.rows(sheet.id, from, pageRows) }
  })
  serve(api.removeSheet, (input) => {
    const sheet = input.id
    const pictures = sheets.pictures(sheet).map(({ sha256 }) => sha256)
    sheets.remove(sheet)
    follower.forget(sheet)
    store.tidy.released(pictures)
    return
  })
  serve(api.setMatch, async (input) => {
    const sheet = sheets.get(input.id)
    const template = templates.published(templates.version(sheet.version))
    const { match, revision } = input
    return sheets.setMatch(sheet.id, checkedMatch(template, match), revision)
  })
  /** Puts a sheet on another version of its template. */
  serve(api.moveSheet, async (input) => {
    const asked = input
    const sheet = sheets.get(input.id)
    const [from, to] = [templates.version(sheet.version), templates.version(asked.version)]
    if (from.template !== to.template)
      throw new Refusal(
        'sheet.version',
        `"${sheet.name}" is filled for "${from.template}"; it can't move to "${to.template}".`,
      )
    const match = checkedMatch(templates.published(to), asked.match)
    return sheets.move(sheet.id, asked.revision, to.id, match)
  })
  serve(api.changeRows, (input, { request }) => {
    const { revision, changes } = readRowChanges(request.body)
    const sheet = sheets.get(input.id)
    const { template } = templates.version(sheet.version)
    for (const version of new Set(changes.flatMap(({ rows }) => rows.flatMap((row) => row.version ?? []))))
      if (templates.version(version).template !== template)
        throw new Refusal('row.version', `Version ${version} is not one of "${template}"; choose one that is.`)
    return sheets.change(sheet.id, revision, changes)
  })
  /** What happens to a linked sheet, as it happens; first how following stands. */
  serve(api.sheetNews, (input, { request, response }) => {
    const own = sheets.get(input.id).id
    let stop = () => {}
    const send = eventStream(request, response, () => stop())
    send({ sheet: own, status: follower.status(own) ?? null, revision: sheets.get(own).revision })
    stop = follower.onNews((news) => {
      if (news.sheet === own) send(news)
    })
  })
  /** Cells that begin like a formula are guarded, unless `formulas=as-is`. */
  serve(api.sheetCsv, async (input, { response }) => {
    const own = input.id
    const { name, columns } = sheets.get(own)
    const asIs = input.formulas === 'as-is'
    const pages = await atOneRevision(sheets, own, (rows, isFirst) => {
      const cells = rows.map((row) => columns.map((column) => cellOf(row.cells, column) ?? ''))
      return isFirst ? `\ufeff${writeCsv(columns, cells, asIs)}` : csvLines(cells, asIs)
    })
    response
      .attachment(`${name.replace(/\.[a-z]+$/i, '')}.csv`)
      .type('text/csv')
      .send(pages.join(''))
  })
  return routes
}
