import { randomUUID } from 'node:crypto'
import { createWriteStream, rmSync } from 'node:fs'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { amount, limits } from '@hoja/core/limits'
import { Refusal } from '@hoja/core/refusal'
import busboy from 'busboy'
import type { Request } from 'express'
import type { Brought } from '../jobs/tasks.ts'

export interface Upload {
  /** Where it lies until it is done with; nobody here has looked into it. */
  file: Brought
  size: number
  fields: Record<string, string>
}

/**
 * Receives one file (and text fields) of a multipart request, which a job then opens.
 * @param folder of files that are not kept yet
 * @param work what is done with it; afterwards it is gone, unless a job has taken it
 * @throws Refusal; nothing is left behind
 */
export async function withUpload<T>(
  request: Request,
  folder: string,
  work: (upload: Upload) => Promise<T>,
  limit: number = limits.uploadBytes.most,
): Promise<T> {
  const path = join(folder, `${randomUUID()}.part`)
  try {
    return await work(await received(request, path, limit))
  } finally {
    rmSync(path, { force: true })
  }
}

function received(request: Request, path: string, limit: number): Promise<Upload> {
  return new Promise((resolve, reject) => {
    let parser: ReturnType<typeof busboy>
    try {
      parser = busboy({
        headers: request.headers,
        limits: { files: 1, fileSize: limit, fields: 20, fieldSize: 1_000_000 },
        defParamCharset: 'utf8',
      })
    } catch {
      reject(new Refusal('upload', 'Send one file as a form upload.', 400))
      return
    }
    const fields: Record<string, string> = Object.create(null)
    const brokenOff = () => new Refusal('upload', 'The upload broke off; send the file again.', 400)
    let name: string | undefined
    let size = 0
    let written: Promise<void> = Promise.resolve()
    const fail = (error: Error) => {
      request.unpipe(parser)
      request.resume()
      // What was being written is closed before it is removed.
      written.catch(() => {}).finally(() => reject(error))
    }
    parser.on('field', (key, value) => {
      fields[key] = value
    })
    parser.on('file', (_field, stream, info) => {
      name = info.filename || 'file'
      stream.on('data', (piece: Buffer) => {
        size += piece.length
      })
      stream.on('limit', () => {
        stream.destroy()
        fail(
          new Refusal('upload.large', `"${name}" is larger than ${amount(limit, 'bytes')}; send a smaller file.`, 413),
        )
      })
      written = pipeline(stream, createWriteStream(path, { mode: 0o600 }))
      written.catch(fail)
    })
    parser.on('error', () => fail(brokenOff()))
    request.once('aborted', () => {
      parser.destroy()
      fail(brokenOff())
    })
    parser.on('close', () => {
      written.then(
        () =>
          name === undefined
            ? reject(new Refusal('upload', 'No file arrived; choose one and send it again.', 400))
            : resolve({ file: { path, name }, size, fields }),
        () => {},
      )
    })
    request.pipe(parser)
  })
}
