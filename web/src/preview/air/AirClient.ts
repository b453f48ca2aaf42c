import { type Channel, carriedOut, frameAt } from '@hoja/core/air'
import { address } from '@hoja/core/api'
import type { Finding } from '@hoja/core/data'
import { type AirLine, openLine } from './airLine.ts'
import type { LineNews } from './airNews.ts'

/** What is known of a channel. */
export interface AirView {
  channel: Channel
  found: Readonly<Record<string, Finding[]>>
  /** Output pages that are open. */
  pages: number
  /** Whether the server is heard; what was on air last stands meanwhile. */
  isHeard: boolean
}

/** ms between two looks at the server's clock. */
const clockEvery = 20_000
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
  private readonly line: AirLine
  private readonly listeners = new Set<() => void>()
  /** ms that the server's clock is ahead of this one, and minutes that its wall is ahead of UTC. */
  private ahead = 0
  offset = 0
  /** The interface that the server had when this page began, and that it has now. */
  private build: string | undefined
  private buildNow: string | undefined
  private readonly clock: ReturnType<typeof setInterval>

  constructor(
    readonly name: string,
    isPage: boolean,
  ) {
    this.line = openLine(name, isPage, (news) => this.hear(news))
    void this.lookAtClock()
    this.clock = setInterval(() => void this.lookAtClock(), clockEvery)
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  get = (): AirView | undefined => this.view

  /** Whether the server has a newer interface than this page. */
  get isOlder(): boolean {
    return this.build !== this.buildNow
  }

  /** ms of the epoch by the server's clock. */
  now = (): number => here() + this.ahead

  /** The frame of the channel that is due. */
  frame(): number {
    return this.view ? frameAt(this.view.channel, this.now()) : 0
  }

  close(): void {
    this.line.close()
    clearInterval(this.clock)
    this.listeners.clear()
  }

  private change(more: Partial<AirView>): void {
    if (!this.view) return
    this.view = { ...this.view, ...more }
    for (const listener of this.listeners) listener()
  }

  private hear(news: LineNews): void {
    if ('build' in news) {
      this.build ??= news.build
      this.buildNow = news.build
    }
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
          this.line.again()
          return
        }
        this.change({ channel: carriedOut(channel, news.numbered) })
        return
      }
      case 'heard':
        this.change({ isHeard: news.isHeard })
        if (news.isHeard) void this.lookAtClock()
        return
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
