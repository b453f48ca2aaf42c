import { presetSchema } from '@hoja/core/output'
import { Router } from 'express'
import { object, string } from 'yup'
import type { Context } from './context.ts'
import { body } from './errors.ts'

/** Output settings that somebody gave a name. */
export function presetRoutes({ store: { presets } }: Context): Router {
  const routes = Router()
  routes.get('/', (_request, response) => {
    response.json(presets.list())
  })
  routes.put('/', async (request, response) => {
    const schema = object({ name: string().trim().min(1).max(80).required(), settings: presetSchema.required() })
    presets.put((await body(schema, request)) as Parameters<typeof presets.put>[0])
    response.json(presets.list())
  })
  routes.delete('/:name', (request, response) => {
    presets.remove(request.params.name)
    response.json(presets.list())
  })
  return routes
}
