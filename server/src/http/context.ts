import type { Follower } from '../feeds/follower.ts'
import type { Keeper } from '../render/keeper.ts'
import type { Pool } from '../render/pool.ts'
import type { Queue } from '../render/queue.ts'
import type { Store } from '../store/index.ts'

/** What every route works with. */
export interface Context {
  store: Store
  pool: Pool
  queue: Queue
  follower: Follower
  keeper: Keeper
}
