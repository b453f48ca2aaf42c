import { api } from '@hoja/core/api'
import { type Finding, localMoment, type Match, type Row, rowAbout } from '@hoja/core/data'
import { moveMatch } from '@hoja/core/handoff'
import { parseRows } from '@hoja/core/output'
import { Refusal } from '@hoja/core/refusal'
import { Router } from 'express'
import type { Source } from '../render/scenes.ts'
import { signOffHtml } from '../signoff/html.ts'
import { type SignOffSheet, signOffRow, signOffWords } from '../signoff/sheet.ts'
import type { Context } from './context.ts'
import { serving } from './serving.ts'

/** More rows than anybody signs at once. */
const most = 1000
/** Rows whose pictures one task draws. */
const batch = 25

/** The sheet for the person who must approve spellings: every row's title and texts, with a line for initials. */
export function signOffRoutes({ store, jobs }: Context): Router {
  const routes = Router()
  const serve = serving(routes)
  const { sheets, templates, files } = store

  const made = async (sheetId: number, asked: unknown): Promise<SignOffSheet> => {
    const sheet = sheets.get(sheetId)
    const main = templates.version(sheet.version)
    const template = templates.published(main)
    const stored = sheets.rows(sheetId)
    const about = { now: localMoment(new Date()), rows: stored.length }
    const rows = stored.map((row, i) => rowAbout(template, row, { ...about, row: i + 1 }))
    const numbers =
      typeof asked === 'string' ? parseRows(asked, rows.length) : rows.flatMap((row, i) => (row.off ? [] : [i + 1]))
    if (numbers.length === 0) throw new Refusal('signoff.none', `"${sheet.name}" has no rows to sign.`)
    if (numbers.length > most)
      throw new Refusal(
        'signoff.many',
        `A sign-off sheet holds ${most} rows; show fewer of the ${numbers.length} in the grid first.`,
      )
    const pictures = sheets.pictures(sheetId)
    /** What a row fills: the sheet's version, or one of its own. */
    const filled = (row: Row): { source: Source; match: Match } => {
      const version = row.version === undefined ? main : templates.version(row.version)
      const match =
        version === main ? sheet.match : moveMatch(template, templates.published(version), sheet.match).match
      return { source: { kind: 'stored', document: version.document, files: files.folder, pictures }, match }
    }
    const own = { source: filled({ cells: {} }).source, match: sheet.match }
    const findings = await jobs.run<'check'>({ kind: 'check', ...own, rows, known: store.sheets.knownTexts() })
    const drawn = await Promise.all(
      Array.from({ length: Math.ceil(numbers.length / batch) }, (_, i) => {
        const some = numbers
          .slice(i * batch, (i + 1) * batch)
          .map((n) => ({ ...filled(rows[n - 1]!), row: rows[n - 1]! }))
        return jobs.run<'rowPictures'>({ kind: 'rowPictures', rows: some })
      }),
    )
    const shots = drawn.flat()
    const when = new Date().toLocaleString('en-GB', { dateStyle: 'long', timeStyle: 'short' })
    return {
      title: sheet.name,
      about: `${template.name}, version ${main.number}; ${numbers.length} of ${rows.length} rows; made ${when}`,
      words: signOffWords,
      rows: numbers.map((n, i) =>
        signOffRow(template, sheet.match, rows[n - 1]!, n, findings[n - 1] as Finding[], shots[i]!),
      ),
    }
  }

  serve(api.signOffPage, async (input, { response }) => {
    response.type('html').send(signOffHtml(await made(input.id, input.rows)))
  })
  serve(api.signOffPdf, async (input, { response }) => {
    const sheet = await made(input.id, input.rows)
    const pdf = await jobs.run<'signOffPdf'>({ kind: 'signOffPdf', sheet })
    response
      .attachment(`${sheet.title.replace(/\.[a-z]+$/i, '')}-sign-off.pdf`)
      .type('application/pdf')
      .send(Buffer.from(pdf))
  })
  return routes
}
