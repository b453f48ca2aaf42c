import { Refusal } from '@hoja/core/refusal'
import busboy from 'busboy'
import type { Request } from 'express'

export interface Upload {
  name: string
  bytes: Buffer
  fields: Record<string, string>
}

/** Most bytes of one uploaded file. */
export const uploadLimit = 256 * 1024 * 1024

/** Reads one file (and text fields) of a multipart request into memory. @throws Refusal; nothing is left behind. */
export function readUpload(request: Request, limit = uploadLimit): Promise<Upload> {
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
    const fields: Record<string, string> = {}
    let file: { name: string; bytes: Buffer } | undefined
    const fail = (refusal: Refusal) => {
      request.unpipe(parser)
      request.resume()
      reject(refusal)
    }
    parser.on('field', (name, value) => {
      fields[name] = value
    })
    parser.on('file', (_field, stream, info) => {
      const pieces: Buffer[] = []
      stream.on('data', (piece: Buffer) => pieces.push(piece))
      stream.on('limit', () =>
        fail(
          new Refusal(
            'upload.large',
            `"${info.filename}" is larger than ${Math.round(limit / 1024 / 1024)} MB; send a smaller file.`,
            413,
          ),
        ),
      )
      stream.on('end', () => {
        file = { name: info.filename ?? 'file', bytes: Buffer.concat(pieces) }
      })
    })
    parser.on('error', () => fail(new Refusal('upload', 'The upload broke off; send the file again.', 400)))
    parser.on('close', () =>
      file
        ? resolve({ ...file, fields })
        : reject(new Refusal('upload', 'No file arrived; choose one and send it again.', 400)),
    )
    request.pipe(parser)
  })
}
