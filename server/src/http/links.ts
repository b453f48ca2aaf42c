import { api } from '@hoja/core/api'
import type { Link } from '@hoja/core/formats'
import { Refusal } from '@hoja/core/refusal'
import { Router } from 'express'
import { feedUrl, linkSchema } from '../feeds/link.ts'
import { filePath, rootFiles } from '../feeds/rootFiles.ts'
import { arrived } from './arriving.ts'
import type { Context } from './context.ts'
import { matchedPreview } from './matching.ts'
import { serving } from './serving.ts'
import { readOptions } from './sheets.ts'

/** Sheets that follow a file or a feed. */
export function linkRoutes({ store, jobs, follower }: Context): Router {
  const routes = Router()
  const serve = serving(routes)
  const { sheets, templates } = store

  /** A link that may be followed. @throws Refusal */
  const checked = async (given: unknown): Promise<Link> => {
    const value = (await linkSchema.validate(given, { abortEarly: true }).catch((error: Error) => {
      throw new Refusal('request', `The request is not right: ${error.message}.`, 400)
    })) as unknown as Link
    const options = readOptions(value.options ?? {})
    if (value.kind === 'feed') return { ...value, url: feedUrl(follower.settings, value.url).href, options }
    filePath(follower.settings, value.root, value.path)
    return { ...value, options }
  }
  /** Files that can be followed. */
  serve(api.followable, () => {
    return rootFiles(follower.settings)
  })
  /** What a link leads to and how it would be read; nothing is kept. */
  serve(api.previewLink, async (given, { signal }) => {
    const link = await checked(given.link)
    const version = templates.version(given.version)
    const { options } = link
    const template = templates.published(version)
    const preview = await follower.withFile(link, (file) =>
      jobs.run<'previewData'>({ kind: 'previewData', file, options, template }, { signal }),
    )
    return matchedPreview(store, version, preview)
  })
  /** A sheet that follows from now on. */
  serve(api.followLink, async (given, { signal }) => {
    const link = await checked(given.link)
    const version = templates.version(given.version)
    const template = templates.published(version)
    const task = { kind: 'readTable' as const, options: link.options, template }
    const { sheet: made, options: found } = await follower.withFile(link, (file) =>
      arrived({ store, jobs }, { ...task, file }, version, { name: given.name, link, signal }),
    )
    // What was found out stays so: the next answer may look otherwise.
    const { sheet: worksheet, path, together } = found
    const options = {
      ...link.options,
      ...(worksheet ? { sheet: worksheet } : {}),
      ...(path ? { path } : {}),
      ...(together === undefined ? {} : { together }),
    }
    const sheet = sheets.setLink(made.id, { ...link, options })
    follower.follow(sheet.id)
    return sheet
  })
  /** Looks at once whether what is followed has changed. */
  serve(api.readAgain, async (input) => {
    return await follower.again(input.sheet)
  })
  /** Stops following: the rows stay as they are. */
  serve(api.stopFollowing, async (input) => {
    const sheet = sheets.setLink(input.sheet, null)
    follower.forget(sheet.id)
    return sheet
  })
  return routes
}
