import { api } from '@hoja/core/api'
import { Router } from 'express'
import type { Context } from './context.ts'
import { serving } from './serving.ts'

/** Backups of the data folder, as the Shelf makes them. */
export function backupRoutes({ backups }: Context): Router {
  const routes = Router()
  const serve = serving(routes)
  serve(api.backup, () => {
    return backups.state()
  })
  serve(api.startBackup, () => {
    backups.start()
    return backups.state()
  })
  return routes
}
