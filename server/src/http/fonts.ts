import { Router } from 'express'
import { object, string } from 'yup'
import { addShippedFont, shippedFonts } from '../shippedFonts.ts'
import type { Context } from './context.ts'
import { body } from './errors.ts'

export function fontRoutes({ store }: Context): Router {
  const routes = Router()
  routes.get('/', (_request, response) => {
    response.json(shippedFonts())
  })
  routes.post('/', async (request, response) => {
    const { id } = await body(object({ id: string().max(200).required() }), request)
    response.status(201).json(addShippedFont(store, id))
  })
  return routes
}
