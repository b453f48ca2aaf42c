import type { Request, Response } from 'express'

/** How often (ms) a quiet stream says that it is still there. */
const beatEvery = 20_000

/**
 * Server-sent events (WHATWG HTML, 9.2) on a response, until the other side goes away.
 * @returns what sends one event; `onEnd` hears when nobody listens any more
 */
export function eventStream(request: Request, response: Response, onEnd: () => void): (data: unknown) => void {
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
  return (data) => response.write(`data: ${JSON.stringify(data)}\n\n`)
}
