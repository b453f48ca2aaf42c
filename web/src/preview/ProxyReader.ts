import { address } from '@hoja/core/api'
import { LastFew } from '@hoja/core/cache'
import { api } from '../api.ts'

/** Bytes of IVF before its first frame, and before each. */
const [fileHead, frameHead] = [32, 12]
/** Frames that are fetched at once. */
const block = 50
/** Frames that are kept decoded, around the one that is wanted. */
const near = 10
/** ms between two looks at a proxy that is being made. */
const again = 1000

/** Where the frames of a proxy lie. */
interface Index {
  /** Byte at which each begins, its head aside; one more for the end. */
  starts: Float64Array
  /** By frame: the last one before it, or itself, that stands by itself. */
  keys: Uint32Array
}

function readIndex(bytes: ArrayBuffer): Index {
  const entries = new Uint32Array(bytes)
  const starts = new Float64Array(entries.length + 1)
  const keys = new Uint32Array(entries.length)
  let at = fileHead
  entries.forEach((entry, i) => {
    starts[i] = at
    at += frameHead + (entry >> 1)
    keys[i] = entry & 1 ? i : i === 0 ? 0 : keys[i - 1]!
  })
  starts[entries.length] = at
  return { starts, keys }
}

/** Frames of one movie's proxy, decoded (W3C WebCodecs) as they are wanted: the one at the playhead and those behind it. */
export class ProxyReader {
  private index: Index | undefined
  private decoder: VideoDecoder | undefined
  private readonly decoded = new Map<number, VideoFrame>()
  private readonly blocks = new LastFew<number, Promise<Uint8Array>>(8)
  private wanted = 0
  /** The frame that is fed next, and whether somebody feeds. */
  private next = -1
  /** The last frame that the decoder gave since it was started. */
  private given = -1
  private isFeeding = false
  private isClosed = false
  /** 0 to 1: how much of the proxy is made; 1: it is there, or none will be. */
  share = 0
  hasSound = false

  /** @param onFrame hears when another frame can be shown */
  constructor(
    readonly sha256: string,
    private readonly onFrame: () => void,
  ) {
    void this.open()
  }

  /** The frame, or the nearest before it that is decoded. */
  at(frame: number): VideoFrame | undefined {
    for (let n = frame; n >= Math.max(0, frame - near); n--) {
      const found = this.decoded.get(n)
      if (found) return found
    }
    // Better another one than none while it is on its way.
    return this.decoded.values().next().value
  }

  has(frame: number): boolean {
    return this.decoded.has(frame)
  }

  /** Decodes a frame, and some behind it, if they are not. */
  want(frame: number): void {
    if (frame === this.wanted && this.has(frame)) return
    this.wanted = frame
    void this.feed()
  }

  close(): void {
    this.isClosed = true
    if (this.decoder?.state === 'configured') this.decoder.close()
    for (const frame of this.decoded.values()) frame.close()
    this.decoded.clear()
  }

  private async open(): Promise<void> {
    // Without a decoder, as over a network without encryption, frames are fetched one by one.
    if (typeof VideoDecoder === 'undefined') {
      this.share = 1
      return
    }
    while (!this.isClosed) {
      const found = await api.footageProxy({ sha256: this.sha256 }).catch(() => undefined)
      if (found?.state === 'failed') {
        this.share = 1
        return
      }
      if (found?.state === 'ready') {
        const response = await fetch(address.footageIndex({ sha256: this.sha256 })).catch(() => undefined)
        if (!response?.ok) {
          await new Promise((done) => setTimeout(done, again))
          continue
        }
        this.index = readIndex(await response.arrayBuffer())
        this.hasSound = found.sound === true
        this.share = 1
        void this.feed()
        this.onFrame()
        return
      }
      this.share = found?.share ?? 0
      this.onFrame()
      await new Promise((done) => setTimeout(done, again))
    }
  }

  private start(): VideoDecoder {
    const decoder = new VideoDecoder({
      output: (frame) => this.take(frame),
      error: () => {
        // It begins anew with the next frame that is wanted.
        this.decoder = undefined
      },
    })
    decoder.configure({ codec: 'vp8', optimizeForLatency: true, hardwareAcceleration: 'prefer-software' })
    return decoder
  }

  private take(frame: VideoFrame): void {
    const n = frame.timestamp
    this.given = Math.max(this.given, n)
    const isFar = Math.abs(n - this.wanted) > 2 * near
    if (this.isClosed || isFar || this.decoded.has(n)) {
      frame.close()
      return
    }
    this.decoded.set(n, frame)
    for (const [other, old] of this.decoded)
      if (other < this.wanted - near || other > this.wanted + 2 * near) {
        old.close()
        this.decoded.delete(other)
      }
    if (n <= this.wanted) this.onFrame()
  }

  private async feed(): Promise<void> {
    if (this.isFeeding || !this.index || this.isClosed) return
    this.isFeeding = true
    try {
      for (;;) {
        const { keys, starts } = this.index
        const last = Math.min(keys.length - 1, this.wanted + near)
        const target = Math.min(this.wanted, keys.length - 1)
        const key = keys[target]!
        if (!this.goesOn(target, last, key)) {
          if (this.decoder?.state === 'configured') this.decoder.close()
          this.decoder = this.start()
          this.next = key
          this.given = key - 1
        }
        if (this.next > last) return
        const bytes = await this.bytesOf(this.next, starts)
        if (this.isClosed || !this.decoder || this.decoder.state !== 'configured') return
        const type = keys[this.next] === this.next ? 'key' : 'delta'
        this.decoder.decode(new EncodedVideoChunk({ type, timestamp: this.next, data: bytes }))
        this.next++
        if (this.decoder.decodeQueueSize > 2 * near) await new Promise((done) => setTimeout(done, 4))
      }
    } finally {
      this.isFeeding = false
    }
  }

  /** Whether what is being decoded leads to what is wanted: it is ahead of it, but not far, or has it under way. */
  private goesOn(target: number, last: number, key: number): boolean {
    if (this.decoder?.state !== 'configured' || this.next < key || this.next > last + 1) return false
    return this.next <= target || this.given < target || this.has(target)
  }

  private async bytesOf(frame: number, starts: Float64Array): Promise<Uint8Array> {
    const n = Math.floor(frame / block)
    let known = this.blocks.get(n)
    if (!known) {
      const [from, to] = [starts[n * block]!, starts[Math.min((n + 1) * block, starts.length - 1)]!]
      known = fetch(address.footagePictures({ sha256: this.sha256 }), {
        headers: { Range: `bytes=${from}-${to - 1}` },
      }).then(async (response) => new Uint8Array(await response.arrayBuffer()))
      this.blocks.set(n, known)
    }
    const bytes = await known
    const at = starts[frame]! - starts[n * block]!
    return bytes.subarray(at + frameHead, at + starts[frame + 1]! - starts[frame]!)
  }
}
