import { api } from '@hoja/core/api'
import { Router } from 'express'
import type { Context } from './context.ts'
import { serving } from './serving.ts'

/** Output settings that somebody gave a name. */
export function presetRoutes({ store: { presets } }: Context): Router {
  const routes = Router()
  const serve = serving(routes)
  serve(api.presets, () => {
    return presets.list()
  })
  serve(api.savePreset, (preset) => {
    presets.put(preset as Parameters<typeof presets.put>[0])
    return presets.list()
  })
  serve(api.removePreset, (input) => {
    presets.remove(input.name)
    return presets.list()
  })
  return routes
}
