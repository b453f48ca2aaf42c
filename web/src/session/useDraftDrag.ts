import type { Change, Template } from '@hoja/core/template'
import { type DragPoint, usePointerDrag } from '../ui/usePointerDrag.ts'
import { type Making, useDraft } from './draft.ts'

/**
 * A drag that changes the draft, as one step of undo: every move starts from the drawing that it began with, so that
 * rounding and snapping don't add up, and Escape puts that back.
 */
export function useDraftDrag<Held>({
  threshold,
  what,
  change,
  end,
}: {
  threshold?: number
  /** Names the step for undo. */
  what(held: Held): string
  /** What it comes to at a point; undefined: nothing yet. @throws Refusal */
  change(held: Held, at: DragPoint, from: Template): Change | undefined
  /** When it is done, or put back. @param moved whether anything came of it */
  end?(held: Held, at: DragPoint | undefined, moved: boolean): void
}) {
  return usePointerDrag<Held & { making?: Making | undefined }>({
    ...(threshold === undefined ? {} : { threshold }),
    move(held, at) {
      held.making ??= useDraft.getState().begin(what(held))
      held.making?.set((from) => change(held, at, from))
    },
    end(held, at, moved) {
      held.making?.end()
      end?.(held, at, moved)
    },
    cancel(held) {
      held.making?.cancel()
      end?.(held, undefined, false)
    },
  })
}
