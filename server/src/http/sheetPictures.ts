import { api } from '@hoja/core/api'
import { Refusal } from '@hoja/core/refusal'
import { Router } from 'express'
import { isMovie } from '../render/movieIn.ts'
import type { Context } from './context.ts'
import { serving } from './serving.ts'
import { withUpload } from './upload.ts'

/** Pictures that come with a sheet: its rows name them by their file names. */
export function sheetPictureRoutes({ store, jobs }: Context): Router {
  const routes = Router()
  const serve = serving(routes)
  const { sheets, assets } = store
  /** One picture or movie, or a zip of pictures. What can't be read is told by name, and the others are kept. */
  serve(api.addPictures, async (input, { request, signal }) => {
    const sheet = sheets.get(input.id)
    const { added, failed } = await withUpload(request, store.incoming, async ({ file }) => {
      if (isMovie(file.name)) {
        const movie = await jobs.run<'takeMovie'>({ kind: 'takeMovie', file, files: store.files.folder }, { signal })
        return { added: [movie], failed: [] }
      }
      return jobs.run<'takePictures'>({ kind: 'takePictures', file, files: store.files.folder }, { signal })
    })
    if (added.length === 0) throw new Refusal('picture', failed[0]!)
    store.db.transaction(() => {
      for (const asset of added) assets.record(asset)
      sheets.addPictures(sheet.id, added)
    })()
    return { pictures: sheets.pictures(sheet.id), added: added.map((one) => one.name), failed }
  })
  serve(api.removePicture, (input) => {
    const sheet = sheets.get(input.id)
    sheets.removePicture(sheet.id, input.name)
    return { pictures: sheets.pictures(sheet.id) }
  })
  return routes
}
