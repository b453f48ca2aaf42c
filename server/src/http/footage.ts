import { levelsWarning } from '@hoja/core/output'
import { Router } from 'express'
import { isMovie } from '../render/movieIn.ts'
import type { Context } from './context.ts'
import { goneSignal } from './gone.ts'
import { withUpload } from './upload.ts'

/** What can lie under titles that have no alpha: stills and footage. */
export function footageRoutes({ store, jobs }: Context): Router {
  const routes = Router()
  routes.post('/', async (request, response) => {
    const signal = goneSignal(response)
    const { folder: files } = store.files
    await withUpload(request, store.incoming, async ({ file }) => {
      if (!isMovie(file.name)) {
        const still = await jobs.run<'takePicture'>({ kind: 'takePicture', file, files }, { signal })
        store.assets.record(still)
        const { sha256, name, width, height } = still as typeof still & { kind: 'picture' }
        response.status(201).json({ kind: 'still', sha256, name, width, height, warning: null })
        return
      }
      const { name } = file
      const taken = await jobs.run<'takeFootage'>({ kind: 'takeFootage', file, files }, { signal })
      const { sha256, size, footage } = taken
      store.assets.recordFootage(sha256, name, size, footage)
      const { width, height, rate, seconds } = footage
      const warning = levelsWarning(footage.levels) ?? null
      response.status(201).json({ kind: 'footage', sha256, name, width, height, rate, seconds, warning })
    })
  })
  return routes
}
