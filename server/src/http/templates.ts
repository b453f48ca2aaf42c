import { starterFile, type TemplatePackage } from '@hoja/core/formats'
import { Refusal } from '@hoja/core/refusal'
import { type FontFile, keyFrom, newTemplate, type Template } from '@hoja/core/template'
import { Router } from 'express'
import { array, boolean, number, object, string } from 'yup'
import { zipFiles } from '../render/zip.ts'
import { firstFonts } from '../shippedFonts.ts'
import { hashOf } from '../store/files.ts'
import type { TemplateRow } from '../store/templates.ts'
import type { Context } from './context.ts'
import { body, id } from './errors.ts'
import { type Chosen, fontsInstead, MissingFonts, readChosen, rememberFonts } from './importing.ts'
import { readUpload } from './upload.ts'

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

/** A template's poster as PNG, `width` px wide at most. */
function posterOf(context: Context, template: Template, width: number): Promise<Uint8Array> {
  const { frame, values } = template.poster
  const source = sourceOf(context, template)
  return kept(context, `${source.document}-${width}.png`, () =>
    context.pool.run<'still'>({ kind: 'still', source, values, frame, scale: width / template.frame.width }),
  )
}

async function packageBytes(context: Context, row: Pick<TemplateRow, 'id'>, template: Template): Promise<Uint8Array> {
  const { templates } = context.store
  const poster = await posterOf(context, template, template.frame.width / 2)
  const pack = templates.packageOf(templates.asItCame(row.id, template), poster)
  return context.pool.run<'zipPackage'>({ kind: 'zipPackage', pack })
}

export function templateRoutes(context: Context): Router {
  const routes = Router()
  const { store, pool } = context
  const { templates } = store

  const summary = (row: TemplateRow) => {
    const { template, ...rest } = row
    const versions = templates.versions(row.id)
    return {
      ...rest,
      note: template.note,
      tags: template.tags,
      frame: template.frame,
      spans: template.spans,
      fields: template.fields.map(({ key, name, type, note }) => ({ key, name, type, note })),
      carries: { fonts: template.fonts.length, media: template.media.length, sounds: template.sounds.length },
      version: versions[0]?.number ?? 0,
      ahead: templates.isAhead(row),
    }
  }

  /** Reads an uploaded package, asking for every font that it lacks and nobody has chosen for. */
  const openUpload = async (bytes: Uint8Array, name: string, chosen: Chosen) => {
    const read = (instead: ReturnType<typeof fontsInstead>['instead']) =>
      pool.run<'readPackage'>({ kind: 'readPackage', bytes, name, instead })
    const first = await read({})
    if (first.pack) return { pack: first.pack, missing: [] as FontFile[], words: [] as string[] }
    const { missing } = first
    const { instead, words } = fontsInstead(store, missing, chosen)
    const second = await read(instead)
    if (!second.pack) throw new MissingFonts(name, second.missing)
    return { pack: second.pack as TemplatePackage, missing, words }
  }

  routes.get('/', (_request, response) => {
    response.json(templates.list().map(summary))
  })
  routes.post('/', async (request, response) => {
    const { name } = await body(object({ name: string().trim().min(1).max(200).required() }), request)
    const made = newTemplate(keyFrom(name, 'template'), name)
    response.status(201).json(templates.add({ ...made, ...firstFonts(store) }))
  })
  /** Takes a package onto the shelf. `instead`: JSON, what stands for each font that it lacks. */
  routes.post('/import', async (request, response) => {
    const { bytes, name, fields } = await readUpload(request)
    const chosen = readChosen(fields.instead)
    const { pack, missing, words } = await openUpload(bytes, name, chosen)
    const row = templates.importPackage(pack)
    rememberFonts(store, missing, chosen)
    response.status(201).json({ ...summary(row), instead: words })
  })
  /** What a package would look like with the fonts chosen for those it lacks; nothing is kept. */
  routes.post('/import/look', async (request, response) => {
    const { bytes, name, fields } = await readUpload(request)
    const { pack, words } = await openUpload(bytes, name, readChosen(fields.instead))
    const picture = (png: Uint8Array) => `data:image/png;base64,${Buffer.from(png).toString('base64')}`
    const [poster, ...proofs] = await pool.run<'proofs'>({ kind: 'proofs', pack, scale: 1 / 4 })
    const came = pack.files['poster.png']
    response.json({
      name: pack.template.name,
      words,
      came: came ? picture(came) : null,
      poster: picture(poster!.png),
      proofs: proofs.map(({ png, ...proof }) => ({ ...proof, picture: picture(png) })),
    })
  })
  /** Every template that is on the shelf, as one zip of packages. */
  routes.get('/export', async (_request, response) => {
    const rows = templates.list().filter((row) => row.archived === null)
    if (rows.length === 0) throw new Refusal('shelf.empty', 'The shelf is empty; there is nothing to export.', 404)
    response.attachment('hoja-templates.zip').type('application/zip')
    const packages = (async function* () {
      for (const row of rows) yield { path: `${row.id}.hoja`, bytes: await packageBytes(context, row, row.template) }
    })()
    await zipFiles(packages, response)
  })
  routes.get('/:id', (request, response) => {
    const row = templates.get(request.params.id)
    response.json({ ...row, versions: templates.versions(row.id), ahead: templates.isAhead(row) })
  })
  routes.put('/:id', async (request, response) => {
    const { revision, template } = await body(
      object({ revision: number().integer().required(), template: object().required() }).noUnknown(false),
      request,
    )
    const row = templates.save(request.params.id, revision, request.body.template ?? template)
    response.json({ revision: row.revision, changed: row.changed, ahead: templates.isAhead(row) })
  })
  routes.patch('/:id', async (request, response) => {
    const change = await body(
      object({
        name: string().trim().min(1).max(200),
        tags: array(string().trim().min(1).max(60).required()).max(50).default(undefined),
        folder: string().trim().max(100),
        archived: boolean(),
      }),
      request,
    )
    response.json(summary(templates.shelve(request.params.id, change)))
  })
  routes.delete('/:id', (request, response) => {
    templates.remove(request.params.id)
    response.status(204).end()
  })
  routes.post('/:id/duplicate', (request, response) => {
    const { template, folder } = templates.get(request.params.id)
    const { id: copy } = templates.add({ ...template, name: `${template.name} copy` })
    response.status(201).json(summary(templates.shelve(copy, { folder })))
  })
  routes.post('/:id/versions', async (request, response) => {
    const { note } = await body(object({ note: string().max(2000).default('') }), request)
    response.status(201).json(templates.publish(request.params.id, note))
  })
  routes.get('/:id/poster.png', async (request, response) => {
    const row = templates.get(request.params.id)
    response
      .type('png')
      .set('Cache-Control', 'private, no-cache')
      .send(Buffer.from(await posterOf(context, row.template, 640)))
  })
  /** The poster's filling from beginning to end, over and over. */
  routes.get('/:id/loop.png', async (request, response) => {
    const { template } = templates.get(request.params.id)
    const source = sourceOf(context, template)
    const { values } = template.poster
    const bytes = await kept(context, `${source.document}-loop.png`, () =>
      pool.run<'loop'>({ kind: 'loop', source, values, scale: 480 / template.frame.width }),
    )
    response.type('image/apng').set('Cache-Control', 'private, no-cache').send(Buffer.from(bytes))
  })
  routes.get('/:id/package', async (request, response) => {
    const row = templates.get(request.params.id)
    const bytes = await packageBytes(context, row, row.template)
    response.attachment(`${row.id}.hoja`).type('application/zip').send(Buffer.from(bytes))
  })
  return routes
}

export function versionRoutes(context: Context): Router {
  const routes = Router()
  const { templates } = context.store
  routes.get('/:id', (request, response) => {
    const version = templates.version(id(request.params.id))
    response.json({ ...version, content: templates.published(version) })
  })
  routes.get('/:id/package', async (request, response) => {
    const version = templates.version(id(request.params.id))
    const bytes = await packageBytes(context, { id: version.template }, templates.published(version))
    response
      .attachment(`${version.template}-version-${version.number}.hoja`)
      .type('application/zip')
      .send(Buffer.from(bytes))
  })
  /** A data file with every field, its note and its default, ready to fill. */
  routes.get('/:id/starter.:kind', (request, response) => {
    const version = templates.version(id(request.params.id))
    const { kind } = request.params
    if (kind !== 'csv' && kind !== 'xlsx' && kind !== 'json')
      throw new Refusal('starter.kind', `There is no starter file of the kind "${kind}"; take csv, xlsx or json.`, 404)
    response
      .attachment(`${version.template}-starter.${kind}`)
      .send(Buffer.from(starterFile(templates.published(version), kind)))
  })
  return routes
}
