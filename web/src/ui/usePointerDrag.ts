import { type PointerEvent as ReactPointerEvent, useEffect, useRef } from 'react'

/** Where a drag is: CSS px of the window, how far from where it began, and the keys that are held. */
export interface DragPoint {
  x: number
  y: number
  dx: number
  dy: number
  shift: boolean
  alt: boolean
  /** Ctrl, or Command: for what should not snap. */
  free: boolean
}

export interface DragHandlers<Held> {
  /** px that the pointer goes before anything moves; a press that stays within is no drag. */
  threshold?: number
  move(held: Held, at: DragPoint): void
  /** @param moved whether it ever went past the threshold */
  end?(held: Held, at: DragPoint, moved: boolean): void
  /** Escape, or the pointer is taken away: what was done is put back. */
  cancel?(held: Held): void
}

interface Running {
  stop(cancelled: boolean): void
}

/**
 * Presses that become drags, wherever they lead, out of the window too: the pointer is captured, and a drag ends with the
 * button let go, Escape, or whatever takes the pointer away.
 */
export function usePointerDrag<Held>(handlers: DragHandlers<Held>) {
  const latest = useRef(handlers)
  latest.current = handlers
  const running = useRef<Running | undefined>(undefined)
  // A screen that goes takes what is held on it along.
  useEffect(() => () => running.current?.stop(true), [])

  /** Begins a drag. @param on what captures the pointer: an element that stays while things move */
  const press = (event: ReactPointerEvent, held: Held, on: Element = event.currentTarget) => {
    running.current?.stop(true)
    const { pointerId, clientX, clientY } = event
    on.setPointerCapture(pointerId)
    let moved = false
    const pointOf = (now: PointerEvent): DragPoint => ({
      x: now.clientX,
      y: now.clientY,
      dx: now.clientX - clientX,
      dy: now.clientY - clientY,
      shift: now.shiftKey,
      alt: now.altKey,
      free: now.ctrlKey || now.metaKey,
    })
    const stop = (cancelled: boolean, at?: DragPoint) => {
      running.current = undefined
      window.removeEventListener('pointermove', onMove)
      window.removeEventListener('pointerup', onUp)
      window.removeEventListener('pointercancel', onCancel)
      window.removeEventListener('keydown', onKey, true)
      if (on.hasPointerCapture(pointerId)) on.releasePointerCapture(pointerId)
      if (cancelled || !at) latest.current.cancel?.(held)
      else latest.current.end?.(held, at, moved)
    }
    const onMove = (now: PointerEvent) => {
      if (now.pointerId !== pointerId) return
      const at = pointOf(now)
      // The button was let go where nobody could hear it.
      if (now.buttons === 0) {
        stop(false, at)
        return
      }
      moved ||= Math.hypot(at.dx, at.dy) >= (latest.current.threshold ?? 0)
      if (moved) latest.current.move(held, at)
    }
    const onUp = (now: PointerEvent) => {
      if (now.pointerId === pointerId) stop(false, pointOf(now))
    }
    const onCancel = (now: PointerEvent) => {
      if (now.pointerId === pointerId) stop(true)
    }
    const onKey = (now: KeyboardEvent) => {
      if (now.key !== 'Escape') return
      now.preventDefault()
      now.stopImmediatePropagation()
      stop(true)
    }
    window.addEventListener('pointermove', onMove)
    window.addEventListener('pointerup', onUp)
    window.addEventListener('pointercancel', onCancel)
    window.addEventListener('keydown', onKey, true)
    running.current = { stop }
  }
  return press
}
