import type { Rest } from '../layout/index.ts'
import type { Template, Values } from '../template/index.ts'
import type { Block, Shape } from '../text/index.ts'
import type { Content, EntryChoice } from './resolve.ts'

/** A filling measured and at rest, with some entries of the lists that it goes through: everything about a title that does not depend on time. Nothing in it changes. */
export interface Layout {
  readonly values: Values
  readonly chosen: EntryChoice
  /** The template as the filling's choices make it. */
  readonly template: Template
  readonly content: Content
  readonly rest: Rest
  /** Set texts, by part index. */
  readonly blocks: readonly (Block | undefined)[]
  /** Shaped texts, and the room (px; undefined: free, null: never asked) that each was set in; by part index. */
  readonly shapes: readonly (Shape | undefined)[]
  readonly rooms: readonly Room[]
  /** px of the boxes that texts fill, and at most how many times their own size they are; by part index. */
  readonly heights: readonly (number | undefined)[]
  readonly most: ReadonlyMap<number, number>
}

/** px; undefined: free; null: nobody asked. */
export type Room = number | undefined | null
