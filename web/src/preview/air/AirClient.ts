import { type Channel, carriedOut, frameAt, type Numbered } from '@hoja/core/air'
import { address } from '@hoja/core/api'
import type { Finding } from '@hoja/core/data'

/** What is known of a channel. */
export interface AirView {
  channel: Channel
  found: Readonly<Record<string, Finding[]>>
  /** Output pages that are open. */
  pages: number
  /** Whether the server is heard; what was on air last stands meanwhile. */
  isHeard: boolean
}

type News =
  | { kind: 'state'; state: Channel; now: number; offset: number }
  | { kind: 'command'; numbered: Numbered }
  | { kind: 'found'; found: Record<string, Finding[]> }
  | { kind: 'pages'; pages: number }

/** ms between two looks at the server's clock, and after which a connection that was refused is tried again. */
const clockEvery = 20_000
const againAfter = 1000
/** Looks at the clock of which the quickest is taken. */
const looks = 5

/** ms of the epoch by this machine, of one steady clock. */
const here = (): number => performance.timeOrigin + performance.now()

/**
 * A channel as it comes from the server: every command in its order, and the server's clock. It decides nothing: the state is
 * what the commands make of it. Lost, it comes back where it was and is told what it missed.
 */
export class AirClient {
  private view: AirView | undefined
  private source: EventSource | undefined
  private again: ReturnType<typeof setTimeout> | undefined
  private readonly listeners = new Set<() => void>()
  /** ms that the server's clock is ahead of this one, and minutes that its wall is ahead of UTC. */
  private ahead = 0
  offset = 0
  private readonly clock: ReturnType<typeof setInterval>
  private closed = false

  constructor(
    readonly name: string,
    private readonly isPage: boolean,
  ) {
    this.connect()
    void this.lookAtClock()
    this.clock = setInterval(() => void this.lookAtClock(), clockEvery)
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  get = (): AirView | undefined => this.view

  /** ms of the epoch by the server's clock. */
  now = (): number => here() + this.ahead

  /** The frame of the channel that is due. */
  frame(): number {
    return this.view ? frameAt(this.view.channel, this.now()) : 0
  }

  close(): void {
    this.closed = true
    this.source?.close()
    clearTimeout(this.again)
    clearInterval(this.clock)
    this.listeners.clear()
  }

  private connect(): void {
    const source = new EventSource(address.airNews({ channel: this.name, page: this.isPage }))
    this.source = source
    source.onmessage = ({ data }) => this.hear(JSON.parse(data) as News)
    source.onopen = () => {
      this.change({ isHeard: true })
      void this.lookAtClock()
    }
    source.onerror = () => {
      this.change({ isHeard: false })
      // A browser comes back by itself, with the last number it heard, unless it was refused.
      if (source.readyState !== EventSource.CLOSED || this.closed) return
      source.close()
      this.again = setTimeout(() => this.connect(), againAfter)
    }
  }

  private change(more: Partial<AirView>): void {
    if (!this.view) return
    this.view = { ...this.view, ...more }
    for (const listener of this.listeners) listener()
  }

  private hear(news: News): void {
    switch (news.kind) {
      case 'state': {
        this.offset = news.offset
        const { found = {}, pages = 0 } = this.view ?? {}
        this.view = { channel: news.state, found, pages, isHeard: true }
        this.change({})
        return
      }
      case 'command': {
        const { channel } = this.view ?? {}
        if (!channel || news.numbered.n <= channel.n) return
        // Something between was not heard: all of it is asked for anew.
        if (news.numbered.n > channel.n + 1) {
          this.source?.close()
          this.connect()
          return
        }
        this.change({ channel: carriedOut(channel, news.numbered) })
        return
      }
      case 'found':
        this.change({ found: news.found })
        return
      case 'pages':
        this.change({ pages: news.pages })
    }
  }

  /** Asks the server for its clock; of some answers the quickest says it best. */
  private async lookAtClock(): Promise<void> {
    let best = Number.POSITIVE_INFINITY
    for (let i = 0; i < looks; i++) {
      try {
        const sent = here()
        const response = await fetch(address.airClock({ channel: this.name }))
        const got = here()
        if (!response.ok) return
        const { now, offset } = (await response.json()) as { now: number; offset: number }
        if (got - sent >= best) continue
        best = got - sent
        this.ahead = now - (sent + got) / 2
        this.offset = offset
      } catch {
        // Not there just now: the clock goes on as it was.
        return
      }
    }
  }
}
