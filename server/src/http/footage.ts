import { levelsWarning } from '@hoja/core/output'
import { Router } from 'express'
import { isMovie } from '../render/movieIn.ts'
import { decodePicture } from '../render/raster.ts'
import type { Context } from './context.ts'
import { readUpload } from './upload.ts'

/** What can lie under titles that have no alpha: stills and footage. */
export function footageRoutes({ store, pool }: Context): Router {
  const routes = Router()
  routes.post('/', async (request, response) => {
    const { bytes, name } = await readUpload(request)
    if (!isMovie(name)) {
      const { width, height } = await decodePicture(bytes, name, name)
      const { sha256 } = store.assets.add(bytes, name)
      response.status(201).json({ kind: 'still', sha256, name, width, height, warning: null })
      return
    }
    const footage = await pool.run<'lookAtFootage'>({ kind: 'lookAtFootage', bytes, name })
    const { sha256 } = store.assets.addFootage(bytes, name, footage)
    const { width, height, rate, seconds } = footage
    const warning = levelsWarning(footage.levels) ?? null
    response.status(201).json({ kind: 'footage', sha256, name, width, height, rate, seconds, warning })
  })
  return routes
}
