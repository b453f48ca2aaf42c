import type { Channel, Numbered } from '@hoja/core/air'
import type { Finding } from '@hoja/core/data'

/** What a server says of a channel. */
export type AirNews =
  /** `listener`: by which the connection is known to the server; `build`: which interface it has. */
  | { kind: 'state'; state: Channel; now: number; offset: number; listener: number; build: string }
  /** The same after a connection was taken up again. */
  | { kind: 'listener'; listener: number; build: string }
  | { kind: 'command'; numbered: Numbered }
  | { kind: 'found'; found: Record<string, Finding[]> }
  | { kind: 'pages'; pages: number }
  /** A sign of life. */
  | { kind: 'here' }

/** What a page is told of its connection: news, and whether the server is heard. */
export type LineNews = AirNews | { kind: 'heard'; isHeard: boolean }

/** What a page asks of whoever holds the connection: a channel, whether it is an output page, and how to know that it is gone. */
export interface LineAsked {
  channel: string
  isPage: boolean
  /** A Web Lock that the page holds for as long as it is there. */
  lock: string
}
