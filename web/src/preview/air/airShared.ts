/// <reference lib="webworker" />
import { type Channel, carriedOut } from '@hoja/core/air'
import { AirSource } from './AirSource.ts'
import type { LineAsked, LineNews } from './airNews.ts'

/*
 * One connection for each channel, for all pages of this browser: a browser opens six to a server at most (HTTP/1.1), and
 * each page that held one of its own would take it from all others.
 */

/** ms between two signs of life. */
const beatEvery = 2000

interface Held {
  source: AirSource
  ports: Map<MessagePort, boolean>
  state: { channel: Channel; offset: number; build: string } | undefined
  last: Map<LineNews['kind'], LineNews>
}

const held = new Map<string, Held>()

function hold(name: string): Held {
  let own = held.get(name)
  if (own) return own
  const ports = new Map<MessagePort, boolean>()
  const made: Held = {
    ports,
    state: undefined,
    last: new Map(),
    source: new AirSource(name, (news) => hear(made, news), 0),
  }
  own = made
  held.set(name, own)
  return own
}

/** Keeps what a page that comes later has to know, and passes everything on. */
function hear(own: Held, news: LineNews): void {
  if (news.kind === 'state') own.state = { channel: news.state, offset: news.offset, build: news.build }
  else if (news.kind === 'command') {
    const { state } = own
    if (state && news.numbered.n > state.channel.n + 1) {
      own.source.connect()
      return
    }
    if (state && news.numbered.n > state.channel.n)
      own.state = { ...state, channel: carriedOut(state.channel, news.numbered) }
  } else own.last.set(news.kind, news)
  for (const port of own.ports.keys()) port.postMessage(news)
}

function left(name: string, port: MessagePort): void {
  const own = held.get(name)
  if (!own?.ports.delete(port)) return
  if (own.ports.size === 0) {
    own.source.close()
    held.delete(name)
  } else own.source.setPages([...own.ports.values()].filter(Boolean).length)
}

const scope = self as unknown as SharedWorkerGlobalScope
scope.onconnect = ({ ports: [port] }) => {
  port!.onmessage = ({ data: { channel: name, isPage, lock } }: MessageEvent<LineAsked>) => {
    const own = hold(name)
    own.ports.set(port!, isPage)
    own.source.setPages([...own.ports.values()].filter(Boolean).length)
    if (own.state) {
      const { channel: state, offset, build } = own.state
      port!.postMessage({ kind: 'state', state, now: 0, offset, listener: 0, build } satisfies LineNews)
      for (const news of own.last.values()) port!.postMessage(news)
    }
    // It is ours when the page is gone, however that came.
    void navigator.locks.request(lock, () => left(name, port!))
  }
}
setInterval(() => {
  for (const { ports } of held.values()) for (const port of ports.keys()) port.postMessage('here')
}, beatEvery)
