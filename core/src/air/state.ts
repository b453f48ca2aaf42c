import type { Cells } from '../data/index.ts'
import type { Rate } from '../time/index.ts'
import type { AirItem, ItemId, LayerId } from './description.ts'
import type { Run } from './run.ts'

/** What a channel has to know of a version of a template; frames of the channel. */
export interface AirDesign {
  template: string
  name: string
  number: number
  in: number
  out: number
  /** At most: how long a change takes while the title is up. */
  update: number
  /** Keys of the fields that may change while the title is up, and of those that an endless run goes through. */
  onAir: readonly string[]
  lists: readonly string[]
  /** Keys of the fields that its words are made of. */
  words: readonly string[]
}

/** Texts that came while a title was up. */
export interface AirChange {
  /** Number of the command that brought it. */
  n: number
  frame: number
  cells: Cells
}

/** A title that is up, or about to be, or leaving. Frames of the channel. */
export interface Up {
  /** Number of the command that took it. */
  n: number
  item: ItemId
  version: number
  /** Seconds that it is held; absent: until it is told to leave. */
  hold?: number | undefined
  live: AirItem['live']
  /** What it said when it came. */
  cells: Cells
  /** In the order in which they came; those that are over are put into `cells`. */
  changes: readonly AirChange[]
  /** First frame of In. */
  began: number
  /** First frame of Out. */
  out?: number | undefined
  /** Fields that were set by hand over their source. */
  hand: readonly string[]
  run?: Run | undefined
}

/** What is shown: on air, or in a rehearsal. */
export interface Stage {
  /** By layer: lowest first; of several the last one is the one that stays. */
  layers: Readonly<Record<LayerId, readonly Up[]>>
  next?: ItemId | undefined
  /** What was on air, and is done. */
  done: readonly ItemId[]
}

/** The last thing that a source said, by the value asked of it. */
export interface LiveValue {
  /** Absent: nothing was read yet. */
  text?: string | undefined
  /** It did not come for longer than a title waits, or says what the field does not take. */
  dead: boolean
  /** What is wrong, in a sentence; empty: nothing. */
  trouble: string
  /** When it was last read well: ms of the epoch. */
  read: number
}

/** All there is to know of a channel. Every client has the same, and draws the same from it. */
export interface Channel {
  /** Number of the last command. */
  n: number
  width: number
  height: number
  rate: Rate
  /** Lowest first. */
  layers: readonly { id: LayerId; name: string }[]
  /** What becomes of a title when another is taken over it. */
  over: 'out first' | 'goes over'
  /** Whether the next one comes by itself when one was held for its time. */
  runs: 'by hand' | 'by itself'
  /** After the last one of the list the first is the next. */
  loops: boolean
  designs: Readonly<Record<number, AirDesign>>
  list: readonly AirItem[]
  /** By sheet and path. */
  values: Readonly<Record<string, LiveValue>>
  air: Stage
  rehearsal?: Stage | undefined
}

export const emptyStage: Stage = { layers: {}, done: [] }

/** What a channel is made of, besides its titles. */
export type ChannelFrame = Pick<Channel, 'width' | 'height' | 'rate' | 'layers'>

export const emptyChannel = (frame: ChannelFrame): Channel => ({
  n: 0,
  ...frame,
  over: 'goes over',
  runs: 'by hand',
  loops: false,
  designs: {},
  list: [],
  values: {},
  air: emptyStage,
})

/** The frame of a channel at a moment (ms of the epoch). */
export const frameAt = ({ rate }: Pick<Channel, 'rate'>, ms: number): number =>
  Math.floor((ms * rate.num) / (rate.den * 1000) + 1e-3)

/** The moment (ms of the epoch) at which a frame begins. */
export const momentOf = ({ rate }: Pick<Channel, 'rate'>, frame: number): number => (frame * rate.den * 1000) / rate.num

export type Phase = 'waiting' | 'coming in' | 'holding' | 'updating' | 'leaving' | 'gone'

/** How a title stands at a frame. `waiting`: it comes as soon as the one before has left. */
export function phaseOf(up: Up, design: AirDesign, frame: number): Phase {
  if (up.out !== undefined && frame >= up.out) return frame >= up.out + design.out ? 'gone' : 'leaving'
  if (frame < up.began) return 'waiting'
  if (frame < up.began + design.in) return 'coming in'
  const last = up.changes.at(-1)
  const from = last && Math.max(last.frame, up.began + design.in)
  return from !== undefined && frame < from + design.update ? 'updating' : 'holding'
}

/** The stage that commands are about: the rehearsal's, while there is one. */
export const stageOf = (channel: Channel): Stage => channel.rehearsal ?? channel.air

export const designOfUp = ({ designs }: Pick<Channel, 'designs'>, up: Pick<Up, 'version'>): AirDesign =>
  designs[up.version]!

/** The title of a layer that stays: neither leaving nor told to yet. */
export function upOn(channel: Channel, stage: Stage, layer: LayerId, frame: number): Up | undefined {
  const last = stage.layers[layer]?.at(-1)
  if (!last) return undefined
  const phase = phaseOf(last, designOfUp(channel, last), frame)
  return phase === 'leaving' || phase === 'gone' ? undefined : last
}

/** How a layer stands as a whole. */
export function layerPhase(channel: Channel, stage: Stage, layer: LayerId, frame: number): Phase | 'empty' | 'cued' {
  const ups = stage.layers[layer] ?? []
  const phases = ups.map((up) => phaseOf(up, designOfUp(channel, up), frame)).filter((phase) => phase !== 'gone')
  const last = phases.at(-1)
  if (last) return last === 'waiting' && phases.length > 1 ? phases.at(-2)! : last
  const next = channel.list.find(({ id }) => id === stage.next)
  return next?.layer === layer ? 'cued' : 'empty'
}
