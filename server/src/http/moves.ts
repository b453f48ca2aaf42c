import { readSavedMove } from '@hoja/core/motion'
import { Router } from 'express'
import type { Context } from './context.ts'

export function moveRoutes({ store }: Context): Router {
  const routes = Router()
  routes.get('/', (_request, response) => {
    response.json(store.moves.list())
  })
  routes.post('/', (request, response) => {
    response.status(201).json(store.moves.add(readSavedMove(request.body)))
  })
  routes.delete('/:id', (request, response) => {
    store.moves.remove(request.params.id)
    response.status(204).end()
  })
  return routes
}
