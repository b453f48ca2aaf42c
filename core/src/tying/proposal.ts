import type { Change, PartId } from '../template/index.ts'

/** One way to say what a part was drawn to hold to. */
export interface Option {
  sentence: string
  change: Change
  /** The parts that it looks at. */
  targets: PartId[]
}

/** What was read about a part: the likeliest first; where several fit, a person chooses. */
export interface Proposal {
  /** The same for the same part and matter, however often the drawing is read. */
  id: string
  about: 'ties' | 'room' | 'field' | 'order'
  part: PartId
  options: Option[]
}
