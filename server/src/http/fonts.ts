import { api } from '@hoja/core/api'
import { Router } from 'express'
import { addShippedFont } from '../carriedFonts.ts'
import { isShipped, knownShipped, shippedCoverage, shippedFile, shippedFonts } from '../shippedFonts.ts'
import type { Context } from './context.ts'
import { serving } from './serving.ts'

export function fontRoutes({ store, jobs }: Context): Router {
  const routes = Router()
  const serve = serving(routes)
  /** The fonts that ship, then those that somebody brought, by their SHA-256. */
  serve(api.fonts, () => {
    return [
      ...shippedFonts(),
      ...store.assets
        .fonts()
        .filter(({ sha256 }) => !isShipped(sha256))
        .map(({ sha256, family, style, name }) => ({ id: sha256, family, style, file: name })),
    ]
  })
  serve(api.fontFile, ({ id }, { response }) => {
    response.type('font/ttf').sendFile(shippedFile(knownShipped(id, 404).id), {
      cacheControl: false,
      dotfiles: 'allow',
      headers: { 'Cache-Control': 'private, max-age=86400' },
    })
  })
  /** Which characters the families that ship have. */
  serve(api.fontCoverage, (_input, { response }) => {
    response.set('Cache-Control', 'private, max-age=86400')
    return shippedCoverage()
  })
  serve(api.addFont, ({ id }) => addShippedFont(store, jobs, id))
  return routes
}
