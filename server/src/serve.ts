import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { Refusal } from '@hoja/core/refusal'
import { pino } from 'pino'
import { followedFolder, seedDemo } from './demo.ts'
import { Follower } from './feeds/follower.ts'
import type { FeedSettings } from './feeds/link.ts'
import { makeApp } from './http/app.ts'
import { keysIn, orderRows } from './http/ordering.ts'
import { contactSheetsOf } from './http/outputs.ts'
import { Crew } from './render/crew.ts'
import { Keeper, type KeepRoots, keptBeside } from './render/keeper.ts'
import { Pool } from './render/pool.ts'
import { EmbeddedQueue } from './render/queue.ts'
import { Store } from './store/index.ts'

export interface Running {
  address: string
  server: Server
  store: Store
  close(): Promise<void>
}

/** Starts Hoja on this machine's loopback address; the demo data is put into a new data folder. Port 0 takes any free one. */
export async function serve(options: {
  data: string
  port: number
  host?: string
  /** How the renderers are started, when not as usual. */
  crew?: ConstructorParameters<typeof Crew>[0]
  feeds?: FeedSettings
  /** Folders in which others are kept current; absent: one beside the data. */
  keep?: KeepRoots
}): Promise<Running> {
  const log = pino({ level: 'warn' }, pino.destination(2))
  const store = new Store(options.data)
  await seedDemo(store)
  const pool = new Pool()
  const crew = new Crew(options.crew)
  const queue = new EmbeddedQueue(store, crew)
  const { roots = {}, hosts = [] } = options.feeds ?? {}
  const isTold = Object.keys(roots).length > 0
  const follower = new Follower(store, pool, {
    roots: isTold ? roots : { followed: followedFolder(options.data) },
    hosts,
  })
  const keepRoots = options.keep && Object.keys(options.keep).length > 0 ? options.keep : keptBeside(options.data)
  const keeper = new Keeper(store, queue, keepRoots, {
    orderNow: (output) => orderRows({ store, pool }, store.sheets.get(output.sheet!), output.version, output.settings),
    keyOf: (output) => keysIn({ store }, output),
    contactSheets: (output) => contactSheetsOf({ store, pool }, output),
  })
  const server = createServer(makeApp({ store, pool, queue, follower, keeper }, log))
  // Longer than a client keeps a connection open: the client closes it, and never sends into one that just closed.
  server.keepAliveTimeout = 65_000
  const host = options.host ?? '127.0.0.1'
  await new Promise<void>((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      reject(
        error.code === 'EADDRINUSE'
          ? new Refusal('port', `Port ${options.port} is taken; give another with --port.`)
          : error,
      ),
    )
    server.listen(options.port, host, resolve)
  })
  queue.wake()
  return {
    address: `http://${host}:${(server.address() as AddressInfo).port}`,
    server,
    store,
    async close() {
      server.closeAllConnections()
      await new Promise((done) => server.close(done))
      await follower.close()
      await keeper.close()
      await queue.close()
      await pool.close()
      store.close()
    },
  }
}
