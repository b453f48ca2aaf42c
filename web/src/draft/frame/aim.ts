import type { Scene } from '@hoja/core/scene'
import type { PartId } from '@hoja/core/template'
import { create } from 'zustand'
import { useDraft } from '../../session/draft.ts'
import { useDesk } from '../desk.ts'
import { type EdgeLine, edgeLines, holdTo, lineAt, nearestEdge, type OwnEdge } from './edgeLines.ts'
import { type Placed, placedParts } from './placed.ts'

/** Where something is dragged that is to be tied: a part from the list, or the end of a dimension line. */
export interface Aim {
  /** The edge that is to hold; of a part from the list the one that is nearest to the line. */
  own: { part: PartId } | OwnEdge
  /** Of the pointer, CSS px of the window. */
  x: number
  y: number
}

/** Shown while it is dragged; it lasts no longer than the drag. */
export const useAim = create<{ aim: Aim | undefined }>()(() => ({ aim: undefined }))

/** The frame on the screen, and the view that it is seen in. */
export const frameOnScreen: { frame: HTMLElement | null; view: HTMLElement | null } = { frame: null, view: null }

/** px on the screen within which a line is hit. */
const reach = 10

/** The line that is aimed at, with the edge that would hold to it; undefined where none is near, or beside the view. */
export function aimedLine(
  scene: Scene,
  { own, x, y }: Aim,
): { placed: Placed[]; own: OwnEdge; line: EdgeLine } | undefined {
  const frame = frameOnScreen.frame?.getBoundingClientRect()
  if (!frame || !isOverFrame(x, y)) return undefined
  const { template } = scene
  const scale = frame.width / template.frame.width
  const placed = placedParts(template, scene, scene.layout(useDesk.getState().filling.values))
  const moved = placed.find(({ part }) => part.id === own.part)
  if (!moved) return undefined
  const lines = edgeLines(template, placed, own.part, 'edge' in own ? [own.axis] : ['x', 'y'])
  const line = lineAt(lines, (x - frame.left) / scale, (y - frame.top) / scale, reach / scale)
  return line && { placed, own: 'edge' in own ? own : nearestEdge(moved, line), line }
}

/** Whether a point of the window lies in the frame's view. */
export function isOverFrame(x: number, y: number): boolean {
  const view = frameOnScreen.view?.getBoundingClientRect()
  return view !== undefined && x >= view.left && x <= view.right && y >= view.top && y <= view.bottom
}

/** Ties to what is aimed at, and ends the aim. */
export function tieToAim(scene: Scene | undefined): void {
  const { aim } = useAim.getState()
  useAim.setState({ aim: undefined })
  const aimed = aim && scene && aimedLine(scene, aim)
  if (!aimed) return
  const { placed, own, line } = aimed
  const name = placed.find(({ part }) => part.id === own.part)!.part.name
  if (useDraft.getState().attempt((now) => holdTo(now, placed, own, line), `tying ${name}`))
    useDesk.getState().set({ selected: own.part })
}
