import type { AirChannels } from '../air/channels.ts'
import type { Backups } from '../backup/backups.ts'
import type { Follower } from '../feeds/follower.ts'
import type { Jobs } from '../jobs/jobs.ts'
import type { Keeper } from '../render/keeper.ts'
import type { Proxies } from '../render/proxies.ts'
import type { Queue } from '../render/queue.ts'
import type { Store } from '../store/index.ts'

/** What every route works with. */
export interface Context {
  store: Store
  jobs: Jobs
  queue: Queue
  follower: Follower
  keeper: Keeper
  backups: Backups
  proxies: Proxies
  air: AirChannels
}
