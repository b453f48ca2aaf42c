import { AirSource } from './AirSource.ts'
import type { LineAsked, LineNews } from './airNews.ts'

/** ms without a sign of life after which the shared connection is given up for one of the page's own. */
const patience = 8000

/** How a page hears a channel: through the connection that all pages of a browser share, or one of its own. */
export interface AirLine {
  /** Asks for the whole state again: something was missed. */
  again(): void
  close(): void
}

export function openLine(channel: string, isPage: boolean, hear: (news: LineNews) => void): AirLine {
  const own = (): AirLine => {
    const source = new AirSource(channel, hear, Number(isPage))
    return { again: () => source.connect(), close: () => source.close() }
  }
  // Without a secure origin there are no locks to tell that a page is gone.
  if (typeof SharedWorker === 'undefined' || !navigator.locks) return own()
  let line: AirLine | undefined
  const worker = new SharedWorker(new URL('./airShared.ts', import.meta.url), { type: 'module', name: 'hoja air' })
  let letGo: () => void = () => {}
  const lock = `hoja air ${crypto.randomUUID()}`
  let timer: ReturnType<typeof setTimeout>
  const fallBack = () => {
    letGo()
    worker.port.close()
    line ??= own()
  }
  const alive = () => {
    clearTimeout(timer)
    timer = setTimeout(fallBack, patience)
  }
  alive()
  worker.onerror = fallBack
  worker.port.onmessage = ({ data }: MessageEvent<LineNews | 'here'>) => {
    alive()
    if (data !== 'here') hear(data)
  }
  void navigator.locks.request(lock, () => {
    // Asked once the lock is held: the worker waits for it from then on.
    worker.port.postMessage({ channel, isPage, lock } satisfies LineAsked)
    return new Promise<void>((done) => {
      letGo = done
    })
  })
  return {
    again: () => line?.again(),
    close() {
      clearTimeout(timer)
      letGo()
      worker.port.close()
      line?.close()
    },
  }
}
