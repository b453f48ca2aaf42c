import { api } from '@hoja/core/api'
import { readSavedMove } from '@hoja/core/motion'
import { readShelfStyle } from '@hoja/core/template'
import { Router } from 'express'
import type { Context } from './context.ts'
import { serving } from './serving.ts'

/** What designers keep for every template: moves and styles. */
export function libraryRoutes({ store }: Context): Router {
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
  serve(api.styles, () => store.styles.list())
  serve(api.saveStyle, (_input, { request }) => store.styles.add(readShelfStyle(request.body)))
  serve(api.removeStyle, ({ id }) => store.styles.remove(id))
  return routes
}
