import { createServer, type RequestListener, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { join, resolve } from 'node:path'
import { type Problem, problemType } from '@hoja/core/api'
import { Refusal } from '@hoja/core/refusal'
import { pino } from 'pino'
import { AirChannels } from './air/channels.ts'
import { LiveValues } from './air/liveValues.ts'
import { Backups, backupBeside } from './backup/backups.ts'
import { demoFolder, followedFolder, seedDemo } from './demo.ts'
import { seedAir } from './demoAir.ts'
import { Follower } from './feeds/follower.ts'
import type { FeedSettings } from './feeds/link.ts'
import { makeApp } from './http/app.ts'
import { atThisMoment, keysIn, orderRows } from './http/outputOrders.ts'
import { contactSheetsOf } from './http/outputs.ts'
import { type JobSettings, Jobs } from './jobs/jobs.ts'
import { Crew } from './render/crew.ts'
import { Keeper, type KeepRoots, keptBeside } from './render/keeper.ts'
import { Proxies } from './render/proxies.ts'
import { EmbeddedQueue } from './render/queue.ts'
import { Store } from './store/index.ts'
import { Owner } from './store/owner.ts'
import { startRefusal } from './store/startRefusal.ts'
import { sweepTemporary } from './temporary.ts'

export interface Running {
  address: string
  server: Server
  store: Store
  jobs: Jobs
  close(): Promise<void>
}

export interface ServeOptions {
  data: string
  /** 0 takes any free one. */
  port: number
  host?: string
  /** How the renderers are started, when not as usual. */
  crew?: ConstructorParameters<typeof Crew>[0]
  /** What jobs may take, when not as usual. */
  jobs?: JobSettings
  feeds?: FeedSettings
  /** Folders in which others are kept current; absent: one beside the data. */
  keep?: KeepRoots
  /** Where backups go; absent: beside the data. */
  backup?: string | undefined
}

/** Until everything is there. */
const starting: RequestListener = (_request, response) => {
  const detail = 'Hoja is just starting; try again in a moment.'
  const problem: Problem = { type: 'about:blank', title: 'Service Unavailable', status: 503, detail, code: 'starting' }
  response.writeHead(503, { 'Content-Type': problemType, 'Retry-After': '1' }).end(JSON.stringify(problem))
}

/**
 * Starts Hoja on this machine's loopback address; the demo data is put into a new data folder. First the folder is its own,
 * then it listens, and only then anything in the folder is touched: a start that fails leaves another one's work alone.
 * @throws Refusal for a folder that is in use or can't be opened, or a port that is taken
 */
export async function serve(options: ServeOptions): Promise<Running> {
  const { data } = options
  const owner = new Owner(data)
  let server: Server | undefined
  let listener = starting
  try {
    server = createServer((request, response) => listener(request, response))
    // Longer than a client keeps a connection open: the client closes it, and never sends into one that just closed.
    server.keepAliveTimeout = 65_000
    const address = await listening(server, options)
    owner.tell(address)
    const running = await started(options, owner.unclean, server, address, (app) => {
      listener = app
    })
    return {
      ...running,
      async close() {
        await running.close()
        owner.release()
      },
    }
  } catch (error) {
    server?.closeAllConnections()
    server?.close()
    owner.release()
    throw startRefusal(error, data)
  }
}

async function listening(server: Server, { port, host = '127.0.0.1' }: ServeOptions): Promise<string> {
  await new Promise<void>((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      reject(
        error.code === 'EADDRINUSE' ? new Refusal('port', `Port ${port} is taken; give another with --port.`) : error,
      ),
    )
    server.listen(port, host, resolve)
  })
  return `http://${host}:${(server.address() as AddressInfo).port}`
}

async function started(
  options: ServeOptions,
  unclean: boolean,
  server: Server,
  address: string,
  listen: (app: RequestListener) => void,
): Promise<Running> {
  const { data } = options
  const log = pino({ level: 'warn' }, pino.destination(2))
  sweepTemporary()
  const store = new Store(data, unclean)
  const jobs = new Jobs(options.jobs, (error) => log.error(error))
  let isNew = false
  try {
    isNew = await seedDemo(store, jobs)
  } catch (error) {
    await jobs.close()
    store.close()
    throw error
  }
  const crew = new Crew(options.crew)
  const proxies = new Proxies(join(store.folder, 'proxies'), store.files, jobs)
  store.tidy.also((isKept) => proxies.clear(isKept))
  const queue = new EmbeddedQueue(store, crew)
  const { roots = {}, hosts = [] } = options.feeds ?? {}
  const isTold = Object.keys(roots).length > 0
  const follower = new Follower(store, jobs, {
    roots: isTold ? roots : { followed: followedFolder(data) },
    hosts,
    ownPort: Number(new URL(address).port),
  })
  const keepRoots = options.keep && Object.keys(options.keep).length > 0 ? options.keep : keptBeside(data)
  const keeper = new Keeper(store, queue, keepRoots, {
    orderNow: (output) =>
      orderRows({ store, jobs }, store.sheets.get(output.sheet!), output.version, atThisMoment(output.settings)),
    keyOf: (output) => keysIn({ store }, output),
    contactSheets: (output) => contactSheetsOf({ store, jobs }, output),
  })
  const backups = new Backups(store, jobs, resolve(options.backup ?? backupBeside(data)))
  const air = new AirChannels(store, jobs)
  if (isNew) await seedAir(store, air, join(demoFolder, 'air'))
  const live = new LiveValues(store, jobs, follower, air)
  store.tidy.start((error) => log.error(error))
  listen(makeApp({ store, jobs, queue, follower, keeper, backups, proxies, air }, log))
  queue.wake()
  return {
    address,
    server,
    store,
    jobs,
    async close() {
      server.closeAllConnections()
      await new Promise((done) => server.close(done))
      store.tidy.stop()
      await live.close()
      await air.close()
      await follower.close()
      await keeper.close()
      await queue.close()
      await jobs.close()
      store.close()
    },
  }
}
