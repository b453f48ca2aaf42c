import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { Router, static as staticFiles } from 'express'
import expressStaticGzip from 'express-static-gzip'
import { serverFolder } from '../serverFolder.ts'
import { hashOf } from '../store/files.ts'

/** How a page is sent; above the application any folder may begin with a dot. */
const page = { cacheControl: false, dotfiles: 'allow', headers: { 'Cache-Control': 'no-cache' } } as const

/** The built interface. */
const webFolder = join(serverFolder, '../web/dist')
const index = join(webFolder, 'index.html')

export const none = 'none'

/** Which interface this server has: a page of another one is told by it that there is a newer one. */
export const build = existsSync(index) ? hashOf(readFileSync(index)).slice(0, 12) : none

/**
 * The interface. What has its hash in its name is kept for ever, and was compressed when it was built; the page that names
 * it is asked for anew each time.
 */
export function pages(): Router {
  const routes = Router()
  routes.use(
    '/assets',
    expressStaticGzip(join(webFolder, 'assets'), {
      enableBrotli: true,
      orderPreference: ['br', 'gz'],
      serveStatic: { maxAge: '1y', immutable: true, fallthrough: false },
    }),
  )
  routes.use(staticFiles(webFolder, { index: false, cacheControl: false, setHeaders: fresh }))
  /** The picture of a channel, for mixers. */
  routes.get('/out/:channel', (_request, response) => {
    response.sendFile(join(webFolder, 'out.html'), page)
  })
  routes.get(/.*/, (_request, response) => {
    response.sendFile(index, page)
  })
  return routes
}

const fresh = (response: { setHeader(name: string, value: string): unknown }) =>
  response.setHeader('Cache-Control', 'no-cache')
