import type { PointerEvent } from 'react'
import { usePointerDrag } from './usePointerDrag.ts'

/** A number that can be dragged by its label, in the unit that is typed. */
interface Scrubbed {
  value: number
  step: number
  put(value: number): void
}

const numbers = new Map<string, Scrubbed>()

/** Says of a number field, by its id, what a drag on its label does. @returns what ends that */
export function scrubs(id: string, number: Scrubbed): () => void {
  numbers.set(id, number)
  return () => {
    if (numbers.get(id) === number) numbers.delete(id)
  }
}

/** px of the pointer for one step. */
const pxOfStep = 3

/** Presses on a label that become drags of its number: a step for a few px, with Shift ten, with Alt a tenth. */
export function useScrub(id: string): (event: PointerEvent) => void {
  const begin = usePointerDrag<{ from: number; last: number }>({
    threshold: pxOfStep,
    move: (held, at) => {
      const number = numbers.get(id)
      if (!number) return
      const by = Math.round(at.dx / pxOfStep) * number.step * (at.shift ? 10 : at.alt ? 0.1 : 1)
      const next = Number((held.from + by).toFixed(6))
      if (next !== held.last) number.put(next)
      held.last = next
    },
    cancel: ({ from }) => numbers.get(id)?.put(from),
  })
  return (event) => {
    const number = numbers.get(id)
    if (!number || event.button !== 0) return
    begin(event, { from: number.value, last: number.value })
  }
}
