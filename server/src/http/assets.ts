import { Refusal } from '@hoja/core/refusal'
import { Router } from 'express'
import { decodePicture } from '../render/raster.ts'
import type { Context } from './context.ts'
import { readUpload } from './upload.ts'

export function assetRoutes({ store }: Context): Router {
  const routes = Router()
  routes.post('/', async (request, response) => {
    const { bytes, name } = await readUpload(request, 64 * 1024 * 1024)
    // A header can lie; a picture is kept only when it decodes.
    if (store.assets.inspect(bytes, name).kind === 'picture') await decodePicture(bytes, name, name)
    response.status(201).json(store.assets.add(bytes, name))
  })
  routes.get('/:sha256', (request, response) => {
    const found = store.assets.find(request.params.sha256)
    if (!found || found.kind === 'document') throw new Refusal('asset.none', 'There is no such font or picture.', 404)
    response
      .type(found.kind === 'font' ? 'font/sfnt' : String(found.info.type))
      .set('Cache-Control', 'private, max-age=31536000, immutable')
      .send(store.files.get(request.params.sha256))
  })
  return routes
}
