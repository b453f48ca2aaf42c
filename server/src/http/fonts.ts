import { Router } from 'express'
import { object, string } from 'yup'
import { addShippedFont } from '../carriedFonts.ts'
import { isShipped, shippedCoverage, shippedFonts } from '../shippedFonts.ts'
import type { Context } from './context.ts'
import { body } from './errors.ts'

export function fontRoutes({ store, jobs }: Context): Router {
  const routes = Router()
  /** The fonts that ship, then those that somebody brought, by their SHA-256. */
  routes.get('/', (_request, response) => {
    response.json([
      ...shippedFonts(),
      ...store.assets
        .fonts()
        .filter(({ sha256 }) => !isShipped(sha256))
        .map(({ sha256, family, style, name }) => ({ id: sha256, family, style, file: name })),
    ])
  })
  /** Which characters the families that ship have. */
  routes.get('/coverage', (_request, response) => {
    response.set('Cache-Control', 'private, max-age=86400').json(shippedCoverage())
  })
  routes.post('/', async (request, response) => {
    const { id } = await body(object({ id: string().max(200).required() }), request)
    response.status(201).json(await addShippedFont(store, jobs, id))
  })
  return routes
}
