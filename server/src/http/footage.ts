import { api } from '@hoja/core/api'
import { levelsWarning } from '@hoja/core/output'
import { Router } from 'express'
import { isMovie } from '../render/movieIn.ts'
import type { Context } from './context.ts'
import { serving } from './serving.ts'
import { withUpload } from './upload.ts'

/** What can lie under titles that have no alpha: stills and footage. */
export function footageRoutes({ store, jobs }: Context): Router {
  const routes = Router()
  const serve = serving(routes)
  serve(api.addUnderneath, async (_input, { request, signal }) => {
    const { folder: files } = store.files
    return withUpload(request, store.incoming, async ({ file }) => {
      if (!isMovie(file.name)) {
        const still = await jobs.run<'takePicture'>({ kind: 'takePicture', file, files }, { signal })
        store.assets.record(still)
        const { sha256, name, width, height } = still as typeof still & { kind: 'picture' }
        return { kind: 'still' as const, sha256, name, width, height, warning: null }
      }
      const { name } = file
      const taken = await jobs.run<'takeFootage'>({ kind: 'takeFootage', file, files }, { signal })
      const { sha256, size, footage } = taken
      store.assets.recordFootage(sha256, name, size, footage)
      const { width, height, rate, seconds } = footage
      const warning = levelsWarning(footage.levels) ?? null
      return { kind: 'footage' as const, sha256, name, width, height, rate, seconds, warning }
    })
  })
  return routes
}
