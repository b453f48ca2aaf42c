import { existsSync } from 'node:fs'
import { extname, resolve } from 'node:path'
import { api } from '@hoja/core/api'
import { limits } from '@hoja/core/limits'
import { levelsWarning } from '@hoja/core/output'
import type { Medium, Movie } from '@hoja/core/programme'
import { Refusal } from '@hoja/core/refusal'
import { framesOf, type Rate } from '@hoja/core/time'
import { type Response, Router } from 'express'
import type { Brought } from '../jobs/tasks.ts'
import { isMovie } from '../render/movieIn.ts'
import type { Context } from './context.ts'
import { serving } from './serving.ts'
import { withUpload } from './upload.ts'

/** What can lie under titles that have no alpha: stills and footage. */
const forever = 'private, max-age=31536000, immutable'

/** Sounds that are laid under titles, by the ends of their names. */
const isSound = (name: string) => /\.(wav|mp3|ogg|oga|opus)$/i.test(name)

/** What lies under titles as a programme knows it, its length in frames of the programme. */
async function mediumOf({ store, jobs }: Context, file: Brought, rate: Rate, signal: AbortSignal): Promise<Medium> {
  const { folder: files } = store.files
  const { name } = file
  if (isSound(name)) {
    const sound = await jobs.run<'takeSound'>({ kind: 'takeSound', file, files }, { signal })
    store.assets.record(sound)
    const { sha256, seconds } = sound as typeof sound & { kind: 'sound' }
    return { kind: 'sound', name, sha256, frames: Math.max(1, framesOf(seconds, rate)) }
  }
  const isZip = extname(name).toLowerCase() === '.zip'
  if (!isZip && !isMovie(name)) {
    const still = await jobs.run<'takePicture'>({ kind: 'takePicture', file, files }, { signal })
    store.assets.record(still)
    const { sha256, width, height } = still as typeof still & { kind: 'picture' }
    return { kind: 'still', name, sha256, width, height }
  }
  const taken = isZip
    ? await jobs.run<'takeSequence'>({ kind: 'takeSequence', file, files, rate }, { signal })
    : await jobs.run<'takeFootage'>({ kind: 'takeFootage', file, files }, { signal })
  const { sha256, size, footage } = taken
  store.assets.recordFootage(sha256, name, size, footage)
  const { width, height, rate: own, frames: count, sound } = footage
  const frames = Math.max(1, Math.floor((count * own.den * rate.num) / (own.num * rate.den) + 1e-6))
  return { kind: 'movie', name, sha256, frames, width, height, rate: own, sound } satisfies Movie & { name: string }
}

export function footageRoutes(context: Context): Router {
  const { store, jobs, proxies } = context
  const routes = Router()
  const serve = serving(routes)
  serve(api.addUnderneath, async (_input, { request, signal }) => {
    const { folder: files } = store.files
    return withUpload(request, store.incoming, async ({ file }) => {
      if (!isMovie(file.name)) {
        const still = await jobs.run<'takePicture'>({ kind: 'takePicture', file, files }, { signal })
        store.assets.record(still)
        const { sha256, name, width, height } = still as typeof still & { kind: 'picture' }
        return { kind: 'still' as const, sha256, name, width, height, warning: null }
      }
      const { name } = file
      const taken = await jobs.run<'takeFootage'>({ kind: 'takeFootage', file, files }, { signal })
      const { sha256, size, footage } = taken
      store.assets.recordFootage(sha256, name, size, footage)
      const { width, height, rate, seconds } = footage
      const warning = levelsWarning(footage.levels) ?? null
      return { kind: 'footage' as const, sha256, name, width, height, rate, seconds, warning }
    })
  })
  serve(api.addMedium, async ({ id }, { request, signal }) => {
    const { rate } = store.programmes.get(id).programme.picture
    const { most } = limits.footageBytes
    return withUpload(request, store.incoming, ({ file }) => mediumOf(context, file, rate, signal), most)
  })

  const movieNamed = (sha256: string): string => {
    const asset = store.assets.find(sha256)
    if (asset?.kind !== 'footage') throw new Refusal('footage.none', 'There is no such footage here any more.', 404)
    return store.assets.get(sha256).name
  }
  serve(api.footageProxy, ({ sha256 }) => proxies.status(sha256, movieNamed(sha256)))
  /** What is there does not change. */
  const send = (response: Response, sha256: string, file: string, type: string) => {
    movieNamed(sha256)
    if (!existsSync(file)) throw new Refusal('footage.proxy', 'The proxy is not made yet; ask again in a while.', 404)
    response.type(type).sendFile(resolve(file), {
      cacheControl: false,
      // Above the data folder any folder may begin with a dot.
      dotfiles: 'allow',
      headers: { 'Cache-Control': forever },
    })
  }
  serve(api.footageIndex, ({ sha256 }, { response }) =>
    send(response, sha256, proxies.filesOf(sha256).index, 'application/octet-stream'),
  )
  serve(api.footagePictures, ({ sha256 }, { response }) =>
    send(response, sha256, proxies.filesOf(sha256).pictures, 'application/octet-stream'),
  )
  serve(api.footageSound, ({ sha256 }, { response }) =>
    send(response, sha256, proxies.filesOf(sha256).sound, 'audio/ogg'),
  )
  serve(api.footageFrame, async ({ sha256, frame }, { response, signal }) => {
    const file = { path: store.files.there(sha256), name: movieNamed(sha256) }
    const picture = await jobs.run<'footageFrame'>({ kind: 'footageFrame', file, frame }, { signal })
    response.type('png').set('Cache-Control', forever).send(Buffer.from(picture))
  })
  return routes
}
