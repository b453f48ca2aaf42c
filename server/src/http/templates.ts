import { randomUUID } from 'node:crypto'
import { rmSync } from 'node:fs'
import { readFile } from 'node:fs/promises'
import { join, resolve } from 'node:path'
import { api } from '@hoja/core/api'
import { starterFile } from '@hoja/core/formats'
import type { Box } from '@hoja/core/geometry'
import { limits } from '@hoja/core/limits'
import { Refusal } from '@hoja/core/refusal'
import { type FontFile, keyFrom, newTemplate, type Template } from '@hoja/core/template'
import { type Response, Router, raw } from 'express'
import { firstFonts } from '../carriedFonts.ts'
import type { Brought, Shown, Stand } from '../jobs/tasks.ts'
import { type Zipped, zipFiles } from '../render/zip.ts'
import { hashOf } from '../store/files.ts'
import type { TemplateRow } from '../store/templates.ts'
import type { Context } from './context.ts'
import { type Chosen, fontsInstead, MissingFonts, readChosen, rememberFonts } from './importing.ts'
import { serving } from './serving.ts'
import { withUpload } from './upload.ts'

/** A draft as it comes is not looked into here: a job reads it. */
export const draftBody = raw({ type: 'application/json', limit: limits.draftBytes.most })

const sourceOf = ({ store }: Context, template: Template) => ({
  kind: 'draft' as const,
  document: hashOf(JSON.stringify(template)),
  files: store.files.folder,
  template,
})

/** A picture of a template, drawn once for a state of it. */
async function kept(context: Context, name: string, draw: () => Promise<Uint8Array>): Promise<Uint8Array> {
  const { previews } = context.store
  const known = previews.get(name)
  if (known) return known
  const bytes = await draw()
  previews.put(name, bytes)
  return bytes
}

/** Picture px per frame px, of a picture that fits into a square: a frame may be a line. */
const within = (side: number, { frame }: Template) => Math.min(side / frame.width, side / frame.height)

/** The shape of a card's picture. */
const cardShape = 16 / 9

/** What a card shows: what the title touches, or its whole frame; `width` picture px. */
const cardView = (template: Template, near: boolean | undefined, width: number): Shown['show'] =>
  near ? { shape: cardShape, width } : { scale: within(width, template) }

/** A template's poster as PNG. */
function posterOf(context: Context, template: Template, show: Shown['show']): Promise<Uint8Array> {
  const { values } = template.poster
  const source = sourceOf(context, template)
  return kept(context, `${source.document}-${nameOf(show)}.png`, () =>
    context.jobs.run<'still'>({ kind: 'still', source, values, frame: 'poster', show }),
  )
}

const nameOf = (show: Shown['show']) => ('scale' in show ? show.scale.toFixed(5) : `near-${show.width}`)

/** Writes a package of a template to a file, which is gone when `work` is done with it. */
async function withPackage(
  context: Context,
  row: Pick<TemplateRow, 'id'>,
  template: Template,
  work: (file: string) => Promise<void>,
): Promise<void> {
  const { templates, files, incoming } = context.store
  const poster = await posterOf(context, template, { scale: 1 / 2 })
  const to = resolve(join(incoming, `${randomUUID()}.hoja.part`))
  try {
    const own = templates.asItCame(row.id, template)
    await context.jobs.run<'zipPackage'>({ kind: 'zipPackage', template: own, files: files.folder, poster, to })
    await work(to)
  } finally {
    rmSync(to, { force: true })
  }
}

/** Sends a package under a name. */
const sendPackage = (
  context: Context,
  response: Response,
  row: Pick<TemplateRow, 'id'>,
  template: Template,
  name: string,
) =>
  withPackage(
    context,
    row,
    template,
    (file) =>
      new Promise((done, fail) =>
        response
          .attachment(name)
          .type('application/zip')
          // Whoever went away in the middle has no need to be told.
          .sendFile(file, { dotfiles: 'allow' }, (error) => (error && !response.headersSent ? fail(error) : done())),
      ),
  )

export function templateRoutes(context: Context): Router {
  const routes = Router()
  const serve = serving(routes)
  const { store, jobs } = context
  const { templates } = store
  const { folder: files } = store.files

  const summary = (row: TemplateRow) => {
    const { about, id, name, revision, created, changed, folder, archived } = row
    const { files: _, id: __, name: ___, ...facts } = about
    const versions = templates.versions(row.id)
    return {
      ...{ id, name, revision, created, changed, folder, archived, ...facts },
      version: versions[0]?.number ?? 0,
      ahead: templates.isAhead(row),
    }
  }

  /**
   * Reads an uploaded package, asking for every font that it lacks and nobody has chosen for.
   * @param read with what stands for the fonts that it lacks
   */
  const openUpload = async <T extends { missing?: undefined } | { missing: FontFile[] }>(
    { name }: Brought,
    chosen: Chosen,
    read: (instead: Record<string, Stand>) => Promise<T>,
  ) => {
    const first = await read({})
    if (!first.missing) return { read: first as Exclude<T, { missing: FontFile[] }>, missing: [], words: [] }
    const { missing } = first
    const { instead, words } = fontsInstead(store, missing, chosen)
    const second = await read(instead)
    if (second.missing) throw new MissingFonts(name, second.missing)
    return { read: second as Exclude<T, { missing: FontFile[] }>, missing, words }
  }

  serve(api.templates, () => {
    return templates.list().map(summary)
  })
  serve(api.newTemplate, async (input) => {
    const { name } = input
    const made = newTemplate(keyFrom(name, 'template'), name)
    const { template: _, about: __, ...row } = templates.add({ ...made, ...(await firstFonts(store, jobs)) })
    return row
  })
  /**
   * Takes a package onto the shelf. `instead`: JSON, what stands for each font that it lacks; `into`: the template that it is
   * another state of; `publish`: the note with which it is published as well.
   */
  serve(api.importTemplate, async (_input, { request, signal }) => {
    return withUpload(request, store.incoming, async ({ file, fields }) => {
      const chosen = readChosen(fields.instead)
      const { read, missing, words } = await openUpload(file, chosen, (instead) =>
        jobs.run<'takePackage'>({ kind: 'takePackage', file, files, instead }, { signal }),
      )
      const { into, publish } = fields
      const row = templates.importPackage(read.draft, read.assets, { into, publish: publish?.slice(0, 2000) })
      rememberFonts(store, missing, chosen)
      return { ...summary(row), instead: words }
    })
  })
  /** What a package would look like with the fonts chosen for those it lacks; nothing is kept. */
  serve(api.previewImport, async (_input, { request, signal }) => {
    const picture = (png: Uint8Array) => `data:image/png;base64,${Buffer.from(png).toString('base64')}`
    return withUpload(request, store.incoming, async ({ file, fields }) => {
      const { read, words } = await openUpload(file, readChosen(fields.instead), (instead) =>
        jobs.run<'previewPackage'>({ kind: 'previewPackage', file, files, instead, scale: 1 / 4 }, { signal }),
      )
      const [poster, ...proofs] = read.proofs
      return {
        name: read.name,
        words,
        came: read.came ? picture(read.came) : null,
        poster: picture(poster!.png),
        proofs: proofs.map(({ png, ...proof }) => ({ ...proof, picture: picture(png) })),
      }
    })
  })
  /** Every template that is on the shelf, as one zip of packages. */
  serve(api.exportShelf, async (_input, { response }) => {
    const rows = templates.list().filter((row) => row.archived === null)
    if (rows.length === 0) throw new Refusal('shelf.empty', 'The shelf is empty; there is nothing to export.', 404)
    response.attachment('hoja-templates.zip').type('application/zip')
    await zipFiles(allPackages(context, rows), response)
  })
  serve(api.template, (input) => {
    const { about: _, ...row } = templates.get(input.id)
    return { ...row, versions: templates.versions(row.id), ahead: templates.isAhead(row) }
  })
  serve(api.save, async (input, { request }) => {
    const own = input.id
    if (!Buffer.isBuffer(request.body)) throw new Refusal('request', 'The request is not right: send JSON.', 400)
    const task = { kind: 'readDraft' as const, document: request.body }
    // A page that is closed while it saves is gone, and what it saved is wanted all the same.
    const { revision, ...draft } = await jobs.run<'readDraft'>(task)
    const saved = templates.save(own, revision, draft)
    return { ...saved, ahead: templates.isAhead({ id: own }) }
  })
  serve(api.shelve, async (input) => {
    const change = input
    return summary(templates.shelve(input.id, change))
  })
  serve(api.remove, (input) => {
    store.tidy.released(templates.remove(input.id))
    return
  })
  serve(api.duplicate, (input) => {
    const { template, folder } = templates.get(input.id)
    const { id: copy } = templates.add({ ...template, name: `${template.name} copy` })
    return summary(templates.shelve(copy, { folder }))
  })
  serve(api.publish, async (input) => {
    const { note, revision } = input
    return templates.publish(input.id, note, revision)
  })
  serve(api.poster, async (input, { response }) => {
    const row = templates.get(input.id)
    response
      .type('png')
      .set('Cache-Control', 'private, no-cache')
      .send(Buffer.from(await posterOf(context, row.template, cardView(row.template, input.near, 640))))
  })
  /** The poster's filling from beginning to end, over and over. */
  serve(api.loop, async (input, { response }) => {
    const { template } = templates.get(input.id)
    const source = sourceOf(context, template)
    const { values } = template.poster
    const show = cardView(template, input.near, 480)
    const bytes = await kept(context, `${source.document}-loop-${nameOf(show)}.png`, () =>
      jobs.run<'loop'>({ kind: 'loop', source, values, show }),
    )
    response.type('image/apng').set('Cache-Control', 'private, no-cache').send(Buffer.from(bytes))
  })
  serve(api.near, async (input) => {
    const { template } = templates.get(input.id)
    const source = sourceOf(context, template)
    const { values } = template.poster
    const bytes = await kept(context, `${source.document}-near.json`, async () =>
      Buffer.from(JSON.stringify(await jobs.run<'near'>({ kind: 'near', source, values, shape: cardShape }))),
    )
    return JSON.parse(Buffer.from(bytes).toString()) as Box
  })
  serve(api.package, async (input, { response }) => {
    const row = templates.get(input.id)
    await sendPackage(context, response, row, row.template, `${row.id}.hoja`)
  })
  return routes
}

/** Every template's draft and every version of it, each a package, one after another. */
async function* allPackages(context: Context, rows: readonly TemplateRow[]): AsyncGenerator<Zipped> {
  const { templates } = context.store
  for (const { id: own } of rows) {
    const packages = [
      { path: `${own}/${own}.hoja`, template: templates.get(own).template },
      ...templates.versions(own).map((version) => ({
        path: `${own}/${own}-version-${version.number}.hoja`,
        template: templates.published(version),
      })),
    ]
    for (const { path, template } of packages) {
      let bytes: Buffer | undefined
      await withPackage(context, { id: own }, template, async (file) => {
        bytes = await readFile(file)
      })
      yield { path, bytes: bytes! }
    }
  }
}

export function versionRoutes(context: Context): Router {
  const routes = Router()
  const serve = serving(routes)
  const { templates } = context.store
  serve(api.version, (input) => {
    const version = templates.version(input.id)
    return { ...version, content: templates.published(version) }
  })
  serve(api.versionPackage, async (input, { response }) => {
    const version = templates.version(input.id)
    const name = `${version.template}-version-${version.number}.hoja`
    await sendPackage(context, response, { id: version.template }, templates.published(version), name)
  })
  /** A data file with every field, its note and its default, ready to fill. */
  serve(api.starter, (input, { request, response }) => {
    const version = templates.version(input.id)
    const { kind } = request.params
    if (kind !== 'csv' && kind !== 'xlsx' && kind !== 'json')
      throw new Refusal('starter.kind', `There is no starter file of the kind "${kind}"; take csv, xlsx or json.`, 404)
    response
      .attachment(`${version.template}-starter.${kind}`)
      .send(Buffer.from(starterFile(templates.published(version), kind, input.formulas === 'as-is')))
  })
  return routes
}
