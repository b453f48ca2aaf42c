import type { Request, Response } from 'express'

/** How often (ms) a quiet stream says that it is still there. */
const beatEvery = 20_000

/** Sends one event. @param id which a listener that comes back names as the last one that it heard */
export type SendEvent = (data: unknown, id?: number) => void

/**
 * Server-sent events (WHATWG HTML, 9.2) on a response, until the other side goes away.
 * @returns what sends one event; `onEnd` hears when nobody listens any more
 */
export function eventStream(request: Request, response: Response, onEnd: () => void): SendEvent {
  response.set({
    'Content-Type': 'text/event-stream',
    'Cache-Control': 'no-cache, no-transform',
    Connection: 'keep-alive',
  })
  response.flushHeaders()
  response.write('retry: 1000\n\n')
  const beat = setInterval(() => response.write(': here\n\n'), beatEvery)
  request.on('close', () => {
    clearInterval(beat)
    onEnd()
  })
  return (data, id) => response.write(`${id === undefined ? '' : `id: ${id}\n`}data: ${JSON.stringify(data)}\n\n`)
}

/** The id of the last event that a listener heard before it came back; undefined: it comes for the first time. */
export function lastHeard({ headers }: Request): number | undefined {
  const id = Number(headers['last-event-id'] ?? Number.NaN)
  return Number.isInteger(id) && id >= 0 ? id : undefined
}
