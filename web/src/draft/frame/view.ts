import type { Box } from '@hoja/core/geometry'
import type { Frame } from '@hoja/core/template'
import { useDesk } from '../desk.ts'

const margin = 18
export const zoomRange = [0.05, 8] as const

/** Where the frame lies in its view: screen px per frame px, and its upper left corner in px of the view. */
export interface View {
  scale: number
  left: number
  top: number
}

export function fitScale(size: { width: number; height: number }, frame: Frame): number {
  return Math.max(
    zoomRange[0],
    Math.min((size.width - 2 * margin) / frame.width, (size.height - 2 * margin) / frame.height),
  )
}

export function viewOf(
  size: { width: number; height: number },
  frame: Frame,
  zoom: number | undefined,
  pan: { x: number; y: number },
): View {
  const scale = zoom ?? fitScale(size, frame)
  const at = zoom === undefined ? { x: 0, y: 0 } : pan
  return {
    scale,
    left: Math.round((size.width - frame.width * scale) / 2 + at.x),
    top: Math.round((size.height - frame.height * scale) / 2 + at.y),
  }
}

/** The zoom and pan that bring a view to another scale while a point of it (px of the view) stays where it is. */
export function zoomedAt(
  size: { width: number; height: number },
  frame: Frame,
  view: View,
  scale: number,
  x: number,
  y: number,
): { zoom: number; pan: { x: number; y: number } } {
  const zoom = Math.min(zoomRange[1], Math.max(zoomRange[0], scale))
  const [fx, fy] = [(x - view.left) / view.scale, (y - view.top) / view.scale]
  return {
    zoom,
    pan: {
      x: x - fx * zoom - (size.width - frame.width * zoom) / 2,
      y: y - fy * zoom - (size.height - frame.height * zoom) / 2,
    },
  }
}

/** How large the frame's view is shown, for commands that have no screen of their own; px. */
let shownSize = { width: 0, height: 0 }
export const showsIn = (size: { width: number; height: number }) => {
  shownSize = size
}

/** The zoom and pan that bring a box of the frame (px) to the middle of the view, with a little room around it. */
export function zoomedTo(frame: Frame, box: Box, size = shownSize): { zoom: number; pan: { x: number; y: number } } {
  const fits = Math.min((size.width - 10 * margin) / box.width, (size.height - 6 * margin) / box.height)
  const zoom = Math.min(4, Math.max(zoomRange[0], fits))
  return {
    zoom,
    pan: {
      x: (frame.width / 2 - box.x - box.width / 2) * zoom,
      y: (frame.height / 2 - box.y - box.height / 2) * zoom,
    },
  }
}

/** The part of the frame that a view shows, frame px; undefined when none of it is seen. */
export function seenArea(size: { width: number; height: number }, frame: Frame, view: View) {
  const x = Math.max(0, -view.left / view.scale)
  const y = Math.max(0, -view.top / view.scale)
  const right = Math.min(frame.width, (size.width - view.left) / view.scale)
  const bottom = Math.min(frame.height, (size.height - view.top) / view.scale)
  return right > x && bottom > y ? { x, y, width: right - x, height: bottom - y } : undefined
}

/** Steps the zoom about the middle of the view. */
export function stepZoom(size: { width: number; height: number }, frame: Frame, factor: number): void {
  const { zoom, pan, set } = useDesk.getState()
  const view = viewOf(size, frame, zoom, pan)
  set(zoomedAt(size, frame, view, view.scale * factor, size.width / 2, size.height / 2))
}
