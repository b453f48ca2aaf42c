import { api } from '@hoja/core/api'
import { readSavedMove } from '@hoja/core/motion'
import { Router } from 'express'
import type { Context } from './context.ts'
import { serving } from './serving.ts'

export function moveRoutes({ store }: Context): Router {
  const routes = Router()
  const serve = serving(routes)
  serve(api.moves, () => {
    return store.moves.list()
  })
  serve(api.saveMove, (_input, { request }) => {
    return store.moves.add(readSavedMove(request.body))
  })
  serve(api.removeMove, (input) => {
    store.moves.remove(input.id)
    return
  })
  return routes
}
