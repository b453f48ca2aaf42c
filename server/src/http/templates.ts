import { zipPackage } from '@hoja/core/formats'
import { newTemplate } from '@hoja/core/template'
import { Router } from 'express'
import { number, object, string } from 'yup'
import { firstFonts } from '../shippedFonts.ts'
import { hashOf } from '../store/files.ts'
import type { TemplateRow } from '../store/templates.ts'
import type { Context } from './context.ts'
import { body, id } from './errors.ts'
import { readUpload } from './upload.ts'

export function templateRoutes({ store, pool }: Context): Router {
  const routes = Router()
  const { templates } = store

  const poster = (row: TemplateRow, scale: number) => {
    const { frame, values } = row.template.poster
    const document = hashOf(JSON.stringify(row.template))
    return pool.run<'still'>({
      kind: 'still',
      source: { kind: 'draft', document, files: store.files.folder, template: row.template },
      values,
      frame,
      scale,
    })
  }
  const summary = (row: TemplateRow) => {
    const { template, ...rest } = row
    const versions = templates.versions(row.id)
    return {
      ...rest,
      note: template.note,
      frame: template.frame,
      spans: template.spans,
      fields: template.fields.map(({ key, name, type }) => ({ key, name, type })),
      version: versions[0]?.number ?? 0,
      ahead: templates.isAhead(row),
    }
  }

  routes.get('/', (_request, response) => {
    response.json(templates.list().map(summary))
  })
  routes.post('/', async (request, response) => {
    const { name } = await body(object({ name: string().trim().min(1).max(200).required() }), request)
    const key =
      name
        .normalize('NFKD')
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-')
        .replace(/^-+|-+$/g, '')
        .slice(0, 40) || 'template'
    response.status(201).json(templates.add({ ...newTemplate(key, name), ...firstFonts(store) }))
  })
  routes.post('/import', async (request, response) => {
    const { bytes, name } = await readUpload(request)
    const pack = await pool.run<'readPackage'>({ kind: 'readPackage', bytes, name })
    response.status(201).json(summary(templates.importPackage(pack)))
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
  routes.delete('/:id', (request, response) => {
    templates.remove(request.params.id)
    response.status(204).end()
  })
  routes.post('/:id/duplicate', (request, response) => {
    const { template } = templates.get(request.params.id)
    response.status(201).json(summary(templates.add({ ...template, name: `${template.name} copy` })))
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
      .send(Buffer.from(await poster(row, 1 / 3)))
  })
  routes.get('/:id/package', async (request, response) => {
    const row = templates.get(request.params.id)
    const bytes = zipPackage(templates.packageOf(row.template, await poster(row, 1 / 2)))
    response.attachment(`${row.id}.hoja`).type('application/zip').send(Buffer.from(bytes))
  })
  return routes
}

export function versionRoutes({ store }: Context): Router {
  const routes = Router()
  routes.get('/:id', (request, response) => {
    const version = store.templates.version(id(request.params.id))
    response.json({ ...version, content: store.templates.published(version) })
  })
  return routes
}
