import { address } from '@hoja/core/api'
import { LastFew } from '@hoja/core/cache'
import type { Pixels } from '@hoja/core/paint'
import { ProxyReader } from './ProxyReader.ts'
import { decodePicture } from './rasterBackend.ts'

/** What lies under titles, as a page shows it: movies by their proxies while they run, and exactly where they stand. */
export class Footage {
  private readonly readers = new Map<string, ProxyReader>()
  /** By SHA-256 and frame: decoded from the originals. */
  private readonly exact = new LastFew<string, Pixels>(6)
  private readonly stills = new Map<string, Pixels>()
  private readonly asked = new Set<string>()
  private readonly listeners = new Set<() => void>()

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  private readonly tell = () => {
    for (const listener of this.listeners) listener()
  }

  /** A still, or a movie's frame from its original, if it is here. */
  readonly pixelsOf = (sha256: string, frame: number): Pixels | undefined =>
    this.stills.get(sha256) ?? this.exact.get(`${sha256} ${frame}`)

  reader(sha256: string): ProxyReader {
    let reader = this.readers.get(sha256)
    if (!reader) {
      reader = new ProxyReader(sha256, this.tell)
      this.readers.set(sha256, reader)
    }
    return reader
  }

  /** Fetches a still. */
  wantStill(sha256: string): void {
    this.want(sha256, address.asset({ sha256 }), (pixels) => this.stills.set(sha256, pixels))
  }

  /** Fetches a frame from the original. */
  wantExact(sha256: string, frame: number): void {
    const id = `${sha256} ${frame}`
    if (!this.exact.get(id))
      this.want(id, address.footageFrame({ sha256, frame }), (pixels) => {
        this.exact.set(id, pixels)
        // It may be asked for again when it was let go.
        this.asked.delete(id)
      })
  }

  private want(id: string, from: string, take: (pixels: Pixels) => void): void {
    if (this.asked.has(id)) return
    this.asked.add(id)
    fetch(from)
      .then(async (response) => {
        if (!response.ok) throw new Error(response.statusText)
        take(await decodePicture(await response.blob(), id))
        this.tell()
      })
      .catch(() => {
        // What could not be fetched now may be the next time.
        setTimeout(() => this.asked.delete(id), 2000)
      })
  }

  close(): void {
    for (const reader of this.readers.values()) reader.close()
    this.readers.clear()
    this.listeners.clear()
    this.asked.clear()
  }
}
