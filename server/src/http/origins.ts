import { Refusal } from '@hoja/core/refusal'
import type { NextFunction, Request, Response } from 'express'

const local = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/

/** A page opened by a link or typed in, which shows nothing of anybody's by itself. */
const isVisit = ({ method, path, headers }: Request) =>
  method === 'GET' &&
  headers['sec-fetch-mode'] === 'navigate' &&
  headers['sec-fetch-dest'] === 'document' &&
  !path.startsWith('/api')

/**
 * Lets in only what this server's own pages ask, and programs that are no browser: by Host (a name that leads here from
 * elsewhere is refused), by Origin (RFC 6454: scheme, host and port, so another server of this machine is another origin),
 * and by Fetch Metadata (W3C), which reads have too.
 */
export function ownOrigin(request: Request, _response: Response, next: NextFunction): void {
  const { host, origin } = request.headers
  if (!host || !local.test(host))
    throw new Refusal('host', 'Hoja answers on this machine only; open it as http://127.0.0.1.', 400)
  const site = request.headers['sec-fetch-site']
  const isOwn = origin === undefined || origin === `http://${host}`
  const isAsked = site === undefined || site === 'same-origin' || site === 'none' || isVisit(request)
  if (!isOwn || !isAsked) throw new Refusal('origin', 'Another site may not talk to Hoja.', 403)
  next()
}
