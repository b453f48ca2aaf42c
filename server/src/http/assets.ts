import { resolve } from 'node:path'
import { api } from '@hoja/core/api'
import { limits } from '@hoja/core/limits'
import { Refusal } from '@hoja/core/refusal'
import { Router } from 'express'
import { isFont } from '../fontFile.ts'
import type { JobOptions, Jobs } from '../jobs/jobs.ts'
import type { Brought } from '../jobs/tasks.ts'
import { isMovie } from '../render/movieIn.ts'
import type { Asset } from '../store/assets.ts'
import type { Context } from './context.ts'
import { serving } from './serving.ts'
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
  const serve = serving(routes)
  serve(api.addAsset, async (_input, { request, signal }) => {
    const asset = await withUpload(
      request,
      store.incoming,
      ({ file }) => taken(jobs, file, store.files.folder, { signal }),
      limits.assetBytes.most,
    )
    store.assets.record(asset)
    return asset
  })
  /** What a font says of itself: names, weight, coverage, licence. */
  serve(api.fontFacts, async (input, { response, signal }) => {
    const asset = store.assets.get(input.sha256)
    if (asset.kind !== 'font') throw new Refusal('asset.font', `"${asset.name}" is not a font.`, 404)
    const { sha256 } = asset
    const task = { kind: 'fontFacts' as const, files: store.files.folder, sha256 }
    const facts = await jobs.run<'fontFacts'>(task, { signal })
    response.set('Cache-Control', 'private, max-age=31536000, immutable')
    return { ...facts, size: asset.size }
  })
  serve(api.asset, (input, { response }) => {
    const found = store.assets.find(input.sha256)
    if (!found || found.kind === 'document')
      throw new Refusal('asset.none', 'There is no such font, picture or sound.', 404)
    response
      .type(found.kind === 'font' ? 'font/sfnt' : String(found.info.type))
      .sendFile(resolve(store.files.there(input.sha256)), {
        cacheControl: false,
        dotfiles: 'allow',
        headers: { 'Cache-Control': 'private, max-age=31536000, immutable' },
      })
  })
  return routes
}
