import { resolve } from 'node:path'
import { limits } from '@hoja/core/limits'
import { Refusal } from '@hoja/core/refusal'
import { Router } from 'express'
import { isFont } from '../fontFile.ts'
import type { JobOptions, Jobs } from '../jobs/jobs.ts'
import type { Brought } from '../jobs/tasks.ts'
import { isMovie } from '../render/movieIn.ts'
import type { Asset } from '../store/assets.ts'
import type { Context } from './context.ts'
import { goneSignal } from './gone.ts'
import { withUpload } from './upload.ts'

/** Takes in a file by the end of its name. */
function taken(jobs: Jobs, file: Brought, files: string, options: JobOptions): Promise<Asset> {
  const { name } = file
  if (isMovie(name)) return jobs.run<'takeMovie'>({ kind: 'takeMovie', file, files }, options)
  if (isFont(name)) return jobs.run<'takeFont'>({ kind: 'takeFont', file, files }, options)
  return /\.(wav|mp3|ogg|oga|opus)$/i.test(name)
    ? jobs.run<'takeSound'>({ kind: 'takeSound', file, files }, options)
    : jobs.run<'takePicture'>({ kind: 'takePicture', file, files }, options)
}

export function assetRoutes({ store, jobs }: Context): Router {
  const routes = Router()
  routes.post('/', async (request, response) => {
    const signal = goneSignal(response)
    const asset = await withUpload(
      request,
      store.incoming,
      ({ file }) => taken(jobs, file, store.files.folder, { signal }),
      limits.assetBytes.most,
    )
    store.assets.record(asset)
    response.status(201).json(asset)
  })
  /** What a font says of itself: names, weight, coverage, licence. */
  routes.get('/:sha256/facts', async (request, response) => {
    const asset = store.assets.get(request.params.sha256)
    if (asset.kind !== 'font') throw new Refusal('asset.font', `"${asset.name}" is not a font.`, 404)
    const { sha256 } = asset
    const task = { kind: 'fontFacts' as const, files: store.files.folder, sha256 }
    const facts = await jobs.run<'fontFacts'>(task, { signal: goneSignal(response) })
    response.set('Cache-Control', 'private, max-age=31536000, immutable').json({ ...facts, size: asset.size })
  })
  routes.get('/:sha256', (request, response) => {
    const found = store.assets.find(request.params.sha256)
    if (!found || found.kind === 'document')
      throw new Refusal('asset.none', 'There is no such font, picture or sound.', 404)
    response
      .type(found.kind === 'font' ? 'font/sfnt' : String(found.info.type))
      .sendFile(resolve(store.files.there(request.params.sha256)), {
        cacheControl: false,
        dotfiles: 'allow',
        headers: { 'Cache-Control': 'private, max-age=31536000, immutable' },
      })
  })
  return routes
}
