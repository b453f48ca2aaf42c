import type { Link } from '@hoja/core/formats'
import { Router } from 'express'
import { number, object, string } from 'yup'
import { feedUrl, linkSchema } from '../feeds/link.ts'
import { filePath, rootFiles } from '../feeds/rootFiles.ts'
import { arrived } from './arriving.ts'
import type { Context } from './context.ts'
import { body, id } from './errors.ts'
import { goneSignal } from './gone.ts'
import { matchedLook } from './matching.ts'
import { readOptions } from './sheets.ts'

/** Sheets that follow a file or a feed. */
export function linkRoutes({ store, jobs, follower }: Context): Router {
  const routes = Router()
  const { sheets, templates } = store

  /** A link that may be followed. @throws Refusal */
  const checked = (value: Link): Link => {
    const options = readOptions(value.options ?? {})
    if (value.kind === 'feed') return { ...value, url: feedUrl(follower.settings, value.url).href, options }
    filePath(follower.settings, value.root, value.path)
    return { ...value, options }
  }
  const asked = object({ version: number().integer().required(), link: linkSchema as never })

  /** Files that can be followed. */
  routes.get('/files', (_request, response) => {
    response.json(rootFiles(follower.settings))
  })
  /** What a link leads to and how it would be read; nothing is kept. */
  routes.post('/look', async (request, response) => {
    const given = (await body(asked, request)) as unknown as { version: number; link: Link }
    const link = checked(given.link)
    const version = templates.version(given.version)
    const { options } = link
    const template = templates.published(version)
    const look = await follower.withFile(link, (file) =>
      jobs.run<'lookAtData'>({ kind: 'lookAtData', file, options, template }, { signal: goneSignal(response) }),
    )
    response.json(matchedLook(store, version, look))
  })
  /** A sheet that follows from now on. */
  routes.post('/', async (request, response) => {
    const given = (await body(
      asked.shape({ name: string().trim().min(1).max(200).required() }),
      request,
    )) as unknown as {
      version: number
      link: Link
      name: string
    }
    const link = checked(given.link)
    const version = templates.version(given.version)
    const template = templates.published(version)
    const signal = goneSignal(response)
    const task = { kind: 'readTable' as const, options: link.options, template }
    const { sheet: made, options: found } = await follower.withFile(link, (file) =>
      arrived({ store, jobs }, { ...task, file }, version, { name: given.name, link, signal }),
    )
    // What was found out stays so: the next answer may look otherwise.
    const { sheet: worksheet, path } = found
    const options = { ...link.options, ...(worksheet ? { sheet: worksheet } : {}), ...(path ? { path } : {}) }
    const sheet = sheets.setLink(made.id, { ...link, options })
    follower.follow(sheet.id)
    response.status(201).json(sheet)
  })
  /** Looks at once whether what is followed has changed. */
  routes.post('/:sheet/read', async (request, response) => {
    response.json(await follower.again(id(request.params.sheet)))
  })
  /** Stops following: the rows stay as they are. */
  routes.delete('/:sheet', async (request, response) => {
    const sheet = sheets.setLink(id(request.params.sheet), null)
    follower.forget(sheet.id)
    response.json(sheet)
  })
  return routes
}
