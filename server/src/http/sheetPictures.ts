import { basename } from 'node:path'
import { Refusal } from '@hoja/core/refusal'
import { Router } from 'express'
import { type Unzipped, unzip } from 'fflate'
import { isMovie } from '../render/movieIn.ts'
import { decodePicture } from '../render/raster.ts'
import type { Context } from './context.ts'
import { id } from './errors.ts'
import { readUpload } from './upload.ts'

const isPicture = (name: string) => /\.(png|jpe?g|webp|gif|svg|apng)$/i.test(name)
/** Most bytes that a zip may unfold to, and most pictures in it. */
const mostBytes = 512 * 1024 * 1024
const mostPictures = 5000

/** The pictures in a zip, folders left out of their names. @throws Refusal */
function picturesIn(bytes: Uint8Array, name: string): Promise<[string, Uint8Array][]> {
  let size = 0
  let count = 0
  return new Promise((resolve, reject) => {
    const done = (error: Error | null, files: Unzipped) => {
      if (error)
        return reject(new Refusal('zip', `"${name}" is not a zip, or a damaged one; make it again and send that.`))
      if (size > mostBytes || count > mostPictures)
        return reject(
          new Refusal(
            'zip.large',
            `"${name}" holds more than 512 MB or ${mostPictures} pictures; send it in parts.`,
            413,
          ),
        )
      resolve(Object.entries(files).map(([path, own]) => [basename(path), own]))
    }
    unzip(
      bytes,
      {
        filter: ({ name: path, originalSize }) => {
          if (!isPicture(path) || path.startsWith('__MACOSX/') || basename(path).startsWith('.')) return false
          size += originalSize
          count++
          return size <= mostBytes && count <= mostPictures
        },
      },
      done,
    )
  })
}

/** Pictures that come with a sheet: its rows name them by their file names. */
export function sheetPictureRoutes({ store }: Context): Router {
  const routes = Router()
  const { sheets, assets } = store
  /** One picture, or a zip of them. What can't be read is told by name, and the others are kept. */
  routes.post('/:id/pictures', async (request, response) => {
    const sheet = sheets.get(id(request.params.id))
    const { bytes, name } = await readUpload(request)
    if (isMovie(name)) throw new Refusal('picture.movie', `"${name}" is a movie; rows can name pictures only.`)
    const isZip = bytes[0] === 0x50 && bytes[1] === 0x4b
    const files = isZip ? await picturesIn(bytes, name) : ([[basename(name), bytes]] as [string, Uint8Array][])
    if (files.length === 0)
      throw new Refusal('zip.empty', `"${name}" holds no pictures; use png, jpg, webp, gif or svg.`)
    const added: { name: string; sha256: string }[] = []
    const failed: string[] = []
    for (const [own, data] of files)
      try {
        // A header can lie; a picture is kept only when it decodes.
        await decodePicture(data, own, own)
        added.push({ name: own, sha256: assets.add(data, own).sha256 })
      } catch (error) {
        if (!(error instanceof Refusal)) throw error
        failed.push(error.message)
      }
    if (added.length === 0) throw new Refusal('picture', failed[0]!)
    sheets.addPictures(sheet.id, added)
    response.status(201).json({ pictures: sheets.pictures(sheet.id), added: added.map((one) => one.name), failed })
  })
  routes.delete('/:id/pictures/:name', (request, response) => {
    const sheet = sheets.get(id(request.params.id))
    sheets.removePicture(sheet.id, request.params.name)
    response.json({ pictures: sheets.pictures(sheet.id) })
  })
  return routes
}
