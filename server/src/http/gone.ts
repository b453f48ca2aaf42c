import type { Response } from 'express'

/** Ends when whoever asked is not there any more to hear the answer. */
export function goneSignal(response: Response): AbortSignal {
  const stop = new AbortController()
  response.once('close', () => {
    if (!response.writableFinished) stop.abort()
  })
  return stop.signal
}
