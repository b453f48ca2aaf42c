import { address } from '@hoja/core/api'
import type { AirNews, LineNews } from './airNews.ts'

/** ms after which a connection that was refused is tried again. */
const againAfter = 1000

/** ms without a word from the server after which the line counts as cut, and is begun anew. */
const patience = 10_000

/**
 * The server-sent events of a channel. A browser takes a lost connection up by itself and says with Last-Event-ID what it heard
 * last (WHATWG HTML, 9.2); one that was refused is begun anew.
 */
export class AirSource {
  private source: EventSource | undefined
  private again: ReturnType<typeof setTimeout> | undefined
  private silence: ReturnType<typeof setTimeout> | undefined
  private isHeard = false
  private closed = false
  private listener = 0

  constructor(
    private readonly channel: string,
    private readonly hear: (news: LineNews) => void,
    /** How many output pages hear through this. */
    private pages: number,
  ) {
    this.connect()
  }

  /** Begins anew, and is told all of it. */
  connect(): void {
    this.source?.close()
    const source = new EventSource(address.airNews({ channel: this.channel }))
    this.source = source
    this.wait()
    source.onmessage = ({ data }) => {
      const news = JSON.parse(data) as AirNews
      this.wait()
      this.setHeard(true)
      if (news.kind === 'here') return
      if ('listener' in news) {
        this.listener = news.listener
        if (this.pages > 0) this.tellPages()
      }
      this.hear(news)
    }
    source.onopen = () => this.setHeard(true)
    source.onerror = () => {
      this.setHeard(false)
      if (source.readyState !== EventSource.CLOSED || this.closed) return
      source.close()
      this.again = setTimeout(() => this.connect(), againAfter)
    }
  }

  private setHeard(isHeard: boolean): void {
    if (isHeard === this.isHeard) return
    this.isHeard = isHeard
    this.hear({ kind: 'heard', isHeard })
  }

  private wait(): void {
    clearTimeout(this.silence)
    this.silence = setTimeout(() => {
      this.setHeard(false)
      this.connect()
    }, patience)
  }

  setPages(pages: number): void {
    if (pages === this.pages) return
    this.pages = pages
    this.tellPages()
  }

  close(): void {
    this.closed = true
    this.source?.close()
    clearTimeout(this.again)
    clearTimeout(this.silence)
  }

  private tellPages(): void {
    const { channel, listener, pages } = this
    if (listener === 0) return
    const body = JSON.stringify({ listener, pages })
    const headers = { 'Content-Type': 'application/json' }
    // It is only said how many look on: what is lost of that is said again with the next connection.
    fetch(address.airPages({ channel }), { method: 'PUT', headers, body }).catch(() => {})
  }
}
