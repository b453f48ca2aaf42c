import { nominalRate, type Rate } from '@hoja/core/time'

/** px that a mark with a timecode needs at least. */
const room = 96

/** Every how many frames the ruler of a timeline has a timecode, and every how many a tick. */
export function rulerSteps(pxPerFrame: number, rate: Rate): { label: number; tick: number } {
  const second = nominalRate(rate)
  const steps = [1, 2, 5, 10, second, 2 * second, 5 * second, 10 * second, 30 * second]
  for (const minutes of [1, 2, 5, 10, 30, 60]) steps.push(minutes * 60 * second)
  const i = steps.findIndex((step) => step * pxPerFrame >= room)
  const label = steps[i < 0 ? steps.length - 1 : i]!
  const tick = steps.findLast((step) => step < label && label % step === 0 && step * pxPerFrame >= 7)
  return { label, tick: tick ?? label }
}

/** Stretches of time that are drawn as one, because what lies in them is too narrow to be told apart. */
export interface Stretch<T> {
  from: number
  to: number
  /** One: what it is; several are only counted. */
  items: T[]
}

/**
 * Things in order of time as they can be drawn: what is narrower than `least` frames is joined with its neighbours within as
 * many.
 */
export function joined<T>(
  items: readonly T[],
  spanOf: (item: T) => [from: number, to: number],
  least: number,
): Stretch<T>[] {
  const stretches: Stretch<T>[] = []
  for (const item of items) {
    const [from, to] = spanOf(item)
    const last = stretches.at(-1)
    if (
      last &&
      to - from < least &&
      last.to - last.from < 40 * least &&
      from - last.to < least &&
      isSmall(last, least, spanOf)
    ) {
      last.to = Math.max(last.to, to)
      last.items.push(item)
    } else stretches.push({ from, to, items: [item] })
  }
  return stretches
}

const isSmall = <T>({ items }: Stretch<T>, least: number, spanOf: (item: T) => [number, number]) => {
  const [from, to] = spanOf(items[0]!)
  return to - from < least
}
