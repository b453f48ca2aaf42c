import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { Refusal } from '@hoja/core/refusal'
import express, { type Express } from 'express'
import helmet from 'helmet'
import type { Logger } from 'pino'
import { serverFolder } from '../serverFolder.ts'
import { assetRoutes } from './assets.ts'
import type { Context } from './context.ts'
import { errors } from './errors.ts'
import { flattenedRoutes } from './flattened.ts'
import { fontRoutes } from './fonts.ts'
import { footageRoutes } from './footage.ts'
import { linkRoutes } from './links.ts'
import { moveRoutes } from './moves.ts'
import { outputRoutes } from './outputs.ts'
import { presetRoutes } from './presets.ts'
import { sheetPictureRoutes } from './sheetPictures.ts'
import { sheetRoutes } from './sheets.ts'
import { signOffRoutes } from './signoff.ts'
import { standInRoutes } from './standIns.ts'
import { templateRoutes, versionRoutes } from './templates.ts'

/** The built interface. */
const webFolder = join(serverFolder, '../web/dist')

const local = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/

/** The server's application: checked hosts and origins, strict content policy, one file per resource. */
export function makeApp(context: Context, log?: Logger): Express {
  const app = express()
  app.disable('x-powered-by')
  app.locals.log = log
  app.use((request, _response, next) => {
    const { host, origin } = request.headers
    if (!host || !local.test(host))
      throw new Refusal('host', 'Hoja answers on this machine only; open it as http://127.0.0.1.', 400)
    if (origin && !local.test(origin.replace(/^https?:\/\//, '')))
      throw new Refusal('origin', 'Another site may not talk to Hoja.', 400)
    next()
  })
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          mediaSrc: ["'self'", 'blob:'],
          workerSrc: ["'self'", 'blob:'],
          connectSrc: ["'self'"],
          upgradeInsecureRequests: null,
        },
      },
      strictTransportSecurity: false,
    }),
  )
  app.use(express.json({ limit: '24mb' }))
  app.use('/api/templates', templateRoutes(context))
  app.use('/api/versions', versionRoutes(context))
  app.use('/api/assets', assetRoutes(context))
  app.use('/api/fonts', fontRoutes(context))
  app.use('/api/moves', moveRoutes(context))
  app.use('/api/sheets', sheetRoutes(context), sheetPictureRoutes(context), signOffRoutes(context))
  app.use('/api/links', linkRoutes(context))
  app.use('/stand-ins', standInRoutes())
  app.use('/api/outputs', outputRoutes(context))
  app.use('/api/flattened', flattenedRoutes(context))
  app.use('/api/presets', presetRoutes(context))
  app.use('/api/footage', footageRoutes(context))
  app.use('/api', (request) => {
    throw new Refusal('route', `There is nothing at ${request.originalUrl}.`, 404)
  })
  if (existsSync(webFolder)) {
    app.use(express.static(webFolder, { index: 'index.html', maxAge: '1h' }))
    app.get(/.*/, (_request, response) => response.sendFile(join(webFolder, 'index.html')))
  }
  app.use(errors)
  return app
}
