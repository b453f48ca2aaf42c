import { api } from '@hoja/core/api'
import { limits } from '@hoja/core/limits'
import { Refusal } from '@hoja/core/refusal'
import express, { type Express } from 'express'
import helmet from 'helmet'
import type { Logger } from 'pino'
import { airRoutes } from './air.ts'
import { assetRoutes } from './assets.ts'
import { backupRoutes } from './backups.ts'
import type { Context } from './context.ts'
import { errors } from './errors.ts'
import { flattenedRoutes } from './flattened.ts'
import { fontRoutes } from './fonts.ts'
import { footageRoutes } from './footage.ts'
import { libraryRoutes } from './library.ts'
import { linkRoutes } from './links.ts'
import { ownOrigin } from './origins.ts'
import { outputRoutes } from './outputs.ts'
import { build, none, pages } from './pages.ts'
import { presetRoutes } from './presets.ts'
import { productionRoutes } from './productions.ts'
import { serving } from './serving.ts'
import { sheetPictureRoutes } from './sheetPictures.ts'
import { sheetRoutes } from './sheets.ts'
import { signOffRoutes } from './signoff.ts'
import { standInRoutes } from './standIns.ts'
import { draftBody, templateRoutes, versionRoutes } from './templates.ts'

/** The server's application: checked hosts and origins, strict content policy, one file per resource. */
export function makeApp(context: Context, log?: Logger): Express {
  const app = express()
  app.disable('x-powered-by')
  app.locals.log = log
  app.use(ownOrigin)
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          mediaSrc: ["'self'", 'blob:'],
          fontSrc: ["'self'"],
          workerSrc: ["'self'", 'blob:'],
          connectSrc: ["'self'"],
          upgradeInsecureRequests: null,
        },
      },
      strictTransportSecurity: false,
    }),
  )
  app.use('/api', (_request, response, next) => {
    response.set('X-Hoja-Build', build)
    next()
  })
  serving(app)(api.build, (_input, { response }) => {
    response.set('Cache-Control', 'no-cache')
    return { build }
  })
  app.put('/api/templates/:id', draftBody)
  app.patch(['/api/sheets/:id/rows', '/api/programmes/:id'], express.json({ limit: limits.editBytes.most }))
  app.post('/api/air/:channel/commands', express.json({ limit: limits.editBytes.most }))
  app.use(express.json({ limit: limits.smallRequestBytes.most }))
  app.use(templateRoutes(context))
  app.use(versionRoutes(context))
  app.use(assetRoutes(context))
  app.use(fontRoutes(context))
  app.use(libraryRoutes(context))
  app.use(sheetRoutes(context), sheetPictureRoutes(context), signOffRoutes(context))
  app.use(linkRoutes(context))
  app.use(standInRoutes())
  app.use(outputRoutes(context))
  app.use(flattenedRoutes(context))
  app.use(presetRoutes(context))
  app.use(productionRoutes(context))
  app.use(footageRoutes(context))
  app.use(airRoutes(context))
  app.use(backupRoutes(context))
  app.use('/api', (request) => {
    throw new Refusal('route', `There is nothing at ${request.originalUrl}.`, 404)
  })
  if (build !== none) app.use(pages())
  app.use(errors)
  return app
}
