import { Refusal } from '@hoja/core/refusal'
import { fontFacts } from '@hoja/core/text'
import { Router } from 'express'
import { plainFont } from '../fontFile.ts'
import { isMovie } from '../render/movieIn.ts'
import { decodePicture } from '../render/raster.ts'
import type { Context } from './context.ts'
import { readUpload } from './upload.ts'

export function assetRoutes({ store, pool }: Context): Router {
  const routes = Router()
  routes.post('/', async (request, response) => {
    const upload = await readUpload(request, 64 * 1024 * 1024)
    if (isMovie(upload.name)) {
      const { bytes, rate } = await pool.run<'decodeMovie'>({ kind: 'decodeMovie', ...upload })
      response.status(201).json(store.assets.add(bytes, upload.name, rate))
      return
    }
    const { bytes, name } = await plainFont(upload.bytes, upload.name)
    // A header can lie; a picture is kept only when it decodes.
    if (store.assets.inspect(bytes, name).kind === 'picture') await decodePicture(bytes, name, name)
    response.status(201).json(store.assets.add(bytes, name))
  })
  /** What a font says of itself: names, weight, coverage, licence. */
  routes.get('/:sha256/facts', (request, response) => {
    const asset = store.assets.get(request.params.sha256)
    if (asset.kind !== 'font') throw new Refusal('asset.font', `"${asset.name}" is not a font.`, 404)
    response
      .set('Cache-Control', 'private, max-age=31536000, immutable')
      .json({ ...fontFacts(store.files.get(asset.sha256)), size: asset.size })
  })
  routes.get('/:sha256', (request, response) => {
    const found = store.assets.find(request.params.sha256)
    if (!found || found.kind === 'document')
      throw new Refusal('asset.none', 'There is no such font, picture or sound.', 404)
    response
      .type(found.kind === 'font' ? 'font/sfnt' : String(found.info.type))
      .set('Cache-Control', 'private, max-age=31536000, immutable')
      .send(store.files.get(request.params.sha256))
  })
  return routes
}
