import type { Cells } from '../data/index.ts'

/** An item of an endless run: what it says, and px that it is long. */
export interface RunItem {
  /** The same for the same words: by it an item is found again when the list changes. */
  id: string
  texts: Cells
  size: number
}

/** How a run goes through its window. px, and px a frame of the channel. */
export interface RunWay {
  window: number
  gap: number
  step: number
  /** From left to right. */
  back: boolean
}

/** An item where it was put: px of the run at which it begins, counted from the run's own start. */
export interface PlacedItem extends RunItem {
  at: number
}

/**
 * An endless run as it stood at a frame: what is in sight, and what comes next. Between two changes it goes on by itself, so
 * that whoever knows this state knows every frame after it.
 */
export interface Run extends RunWay {
  /** Frame of the channel at which it stood so. */
  frame: number
  /** px that it has gone by then. */
  gone: number
  paused: boolean
  list: readonly RunItem[]
  placed: readonly PlacedItem[]
  /** Comes before the list goes on. */
  first: readonly RunItem[]
  /** Of the list, what comes then. */
  next: number
  /** px at which that begins. */
  nextAt: number
}

/** An endless run as it was measured: by whoever carries a command out, so that nobody else has to measure. */
export interface MeasuredRun {
  way: RunWay
  items: readonly Omit<RunItem, 'id'>[]
}

/** Items by what they say; equal ones are told apart by their number. */
export function runItems(items: readonly { texts: Cells; size: number }[]): RunItem[] {
  const seen = new Map<string, number>()
  return items.map(({ texts, size }) => {
    const words = JSON.stringify(texts)
    const n = (seen.get(words) ?? 0) + 1
    seen.set(words, n)
    return { id: `${words} ${n}`, texts, size }
  })
}

export const startRun = (way: RunWay, list: readonly RunItem[], frame: number): Run => ({
  ...way,
  frame,
  gone: 0,
  paused: false,
  list,
  placed: [],
  first: [],
  next: 0,
  nextAt: 0,
})

/** px that a run has gone at a frame. */
export const goneAt = (run: Run, frame: number): number =>
  run.paused || frame <= run.frame ? run.gone : run.gone + (frame - run.frame) * run.step

/** A run as it stands at a frame. */
export function runAt(run: Run, frame: number): Run {
  const gone = goneAt(run, frame)
  const { list, window, gap } = run
  let { first, next, nextAt } = run
  const placed = [...run.placed]
  const round = list.reduce((sum, { size }) => sum + size + gap, 0)
  // Whole rounds that have come and gone meanwhile need not be gone through.
  if (first.length === 0 && round > 0) {
    const longest = Math.max(...list.map(({ size }) => size))
    const rounds = Math.floor((gone - nextAt - window - 2 * longest) / round) - 1
    if (rounds > 0) nextAt += rounds * round
  }
  while (nextAt <= gone && (first.length > 0 || list.length > 0)) {
    const item = first[0] ?? list[next]!
    placed.push({ ...item, at: nextAt })
    nextAt += item.size + gap
    if (first.length > 0) first = first.slice(1)
    else next = (next + 1) % list.length
  }
  // Nothing was there to come: what comes then comes from the edge.
  if (nextAt < gone && list.length === 0 && first.length === 0) nextAt = gone
  // Letters reach a little out of their lines.
  const inSight = placed.filter(({ at, size }) => gone - at <= window + 2 * size)
  return { ...run, frame: Math.max(frame, run.frame), gone, placed: inSight, first, next, nextAt }
}

/** A run whose list is another one from a frame on: what is in sight goes on, and where it was the list goes on too. */
export function withList(run: Run, list: readonly RunItem[], frame: number): Run {
  const now = runAt(run, frame)
  if (now.list.length === 0) return { ...now, list, next: 0 }
  // The first of those that were to come and are still there.
  for (let i = 0; i < now.list.length; i++) {
    const { id } = now.list[(now.next + i) % now.list.length]!
    const at = list.findIndex((one) => one.id === id)
    if (at >= 0) return { ...now, list, next: at }
  }
  return { ...now, list, next: 0 }
}

/** A run in which something comes before all that waits. */
export const withFirst = (run: Run, item: RunItem, frame: number): Run => {
  const now = runAt(run, frame)
  return { ...now, first: [...now.first, item] }
}

export const withPause = (run: Run, paused: boolean, frame: number): Run => ({ ...runAt(run, frame), paused })
