import { Router } from 'express'
import type { Context } from './context.ts'

/** Backups of the data folder, as the Shelf makes them. */
export function backupRoutes({ backups }: Context): Router {
  const routes = Router()
  routes.get('/', (_request, response) => {
    response.json(backups.state())
  })
  routes.post('/', (_request, response) => {
    backups.start()
    response.status(202).json(backups.state())
  })
  return routes
}
