import type { Box } from '@hoja/core/geometry'
import { moveAll, type Rest, type SnapLine, snapLines, snapped } from '@hoja/core/layout'
import { duplicate, edit, findPart, type Part, type Template } from '@hoja/core/template'
import { type MouseEvent, type PointerEvent, useRef, useState } from 'react'
import { type Making, useDraft } from '../../session/draft.ts'
import { type DragPoint, usePointerDrag } from '../../ui/usePointerDrag.ts'
import { chooseForMenu } from '../commandsNow.ts'
import { chooseAlso, chosenParts, useDesk } from '../desk.ts'
import { addDrawn } from './adding.ts'
import { drawnLine, drawnPart, drawnPath, drawnText, type PenPoint } from './drawn.ts'
import { pickedTie } from './picking.ts'
import { type Placed, partAt, partsAt, partsWithin } from './placed.ts'
import { beginWriting, firstGesture } from './useDraftWriting.tsx'
import type { View } from './view.ts'

type Held = { making?: Making | undefined } & (
  | { kind: 'pan'; pan: { x: number; y: number } }
  /** `next`: what another click at this place chooses, the part below. */
  | { kind: 'move'; ids: string[]; box: Box; lines: SnapLine[]; copies: boolean; made?: string[]; next?: string }
  | { kind: 'draw' }
  | { kind: 'pen'; index: number }
  | { kind: 'area' }
)
/** What is held, and where on the frame (px) it was pressed. */
type Gesture = Held & { x: number; y: number; frame: DOMRect }

/** px on the screen within which a moved part snaps to a line. */
const snapReach = 6
const areaBetween = (x0: number, y0: number, x1: number, y1: number): Box => ({
  x: Math.min(x0, x1),
  y: Math.min(y0, y1),
  width: Math.abs(x1 - x0),
  height: Math.abs(y1 - y0),
})

/** ms within which a second press at the same place is one that writes, or edits points. */
const twice = 500

/** What presses and drags on the frame do: choose, move with snapping, draw, pick, pan. Positions are frame px. */
export function useGestures(template: Template, placed: Placed[], rest: Rest, view: View) {
  const desk = useDesk()
  const draft = useDraft.getState()
  const { change, attempt } = draft
  const [area, setArea] = useState<Box>()
  const [line, setLine] = useState<[number, number, number, number]>()
  const [snaps, setSnaps] = useState<SnapLine[]>([])
  const [pen, setPen] = useState<PenPoint[]>([])
  const pressed = useRef<{ at: number; x: number; y: number }>(undefined)

  const at = (frame: DOMRect, x: number, y: number): [number, number] => [
    (x - frame.left - view.left) / view.scale,
    (y - frame.top - view.top) / view.scale,
  ]
  const add = (part: Part) => addDrawn(template, part, rest)
  /** A new text begins with its words: with them it is one step. */
  const write = (part: Part) => {
    if (change({ kind: 'addPart', part }, `adding ${part.name}`, firstGesture(part.id))) beginWriting(part.id)
  }
  const endPen = (closed: boolean) => {
    if (pen.length > 1) add(drawnPath(template, pen, closed && pen.length > 2))
    setPen([])
    desk.set({ tool: 'choose' })
  }

  const press = (event: PointerEvent) => {
    const frame = event.currentTarget.getBoundingClientRect()
    const [x, y] = at(frame, event.clientX, event.clientY)
    const hold = (held: Held) => begin(event, { ...held, x, y, frame })
    const found = partAt(placed, x, y)
    // Alt copies what it takes hold of; beside all parts it moves the view.
    const copies = event.altKey && found !== undefined && desk.tool === 'choose' && !desk.pick
    if (event.button === 1 || (event.altKey && !copies)) {
      hold({ kind: 'pan', pan: desk.pan })
      // A fitted view begins to be panned from where it stands.
      if (desk.zoom === undefined) desk.set({ zoom: view.scale, pan: { x: 0, y: 0 } })
      return
    }
    if (event.button !== 0) return
    if (desk.pick) pressPicking(found, x, y, event.shiftKey)
    else if (desk.tool === 'path') pressPen(x, y, hold)
    else if (desk.tool !== 'choose' && desk.tool !== 'points') hold({ kind: 'draw' })
    else if (!found) {
      hold({ kind: 'area' })
      if (!event.shiftKey) desk.set({ selected: undefined, tool: 'choose' })
    } else if (event.shiftKey) chooseAlso(desk, found.part.id)
    else {
      const chosen = chosenParts(desk)
      // A part that was reached below others stays in hand.
      const here = partsAt(placed, x, y)
      const own = here.find(({ part }) => chosen.includes(part.id)) ?? found
      const ids = chosen.includes(own.part.id) ? chosen : [own.part.id]
      if (ids !== chosen) desk.set({ selected: own.part.id, tool: 'choose' })
      const next = ids === chosen && chosen.length === 1 ? belowOf(here, own, event) : undefined
      pressed.current = { at: event.timeStamp, x: event.clientX, y: event.clientY }
      const lines = snapLines(template, rest, ids, template.guides)
      hold({ kind: 'move', ids, copies, box: own.box, lines, ...(next ? { next } : {}) })
    }
  }

  /** What lies below a part at a place where it is pressed again, round and round; not while a press may be a double one. */
  const belowOf = (here: readonly Placed[], own: Placed, event: PointerEvent): string | undefined => {
    const last = pressed.current
    const isAgain = last && Math.hypot(last.x - event.clientX, last.y - event.clientY) < 6
    const isTwice =
      isAgain && event.timeStamp - last.at < twice && (own.part.kind === 'text' || own.part.kind === 'path')
    if (!isAgain || isTwice || here.length < 2) return undefined
    return here[(here.indexOf(own) + 1) % here.length]!.part.id
  }

  const pressPicking = (found: Placed | undefined, x: number, y: number, adding: boolean) => {
    const { pick } = desk
    if (!pick || found?.part.id === pick.part) return
    if (pick.for === 'edge') {
      const what = `tying ${findPart(template, pick.part)!.name}`
      if (attempt(() => pickedTie(template, placed, pick, found, x, y, adding), what)) desk.set({ pick: undefined })
      return
    }
    if (!found) return
    const chosen = [...new Set([...pick.chosen, found.part.id])]
    if (pick.several) desk.set({ pick: { ...pick, chosen } })
    else {
      desk.set({ pick: undefined })
      pick.done(chosen)
    }
  }

  const pressPen = (x: number, y: number, hold: (held: Held) => void) => {
    const [first] = pen
    if (first && pen.length > 2 && Math.hypot(first.x - x, first.y - y) * view.scale < 10) {
      endPen(true)
      return
    }
    setPen([...pen, { x: Math.round(x), y: Math.round(y), dx: 0, dy: 0 }])
    hold({ kind: 'pen', index: pen.length })
  }

  const move = (held: Gesture, to: DragPoint) => {
    const [x, y] = at(held.frame, to.x, to.y)
    switch (held.kind) {
      case 'pan':
        desk.set({ pan: { x: held.pan.x + to.dx, y: held.pan.y + to.dy } })
        return
      case 'move':
        if (held.making || Math.hypot(to.dx, to.dy) >= 3)
          moveTo(held, Math.round(x - held.x), Math.round(y - held.y), to.free)
        return
      case 'draw':
        if (desk.tool === 'line') setLine([held.x, held.y, x, to.shift ? held.y : y])
        else setArea(areaBetween(held.x, held.y, x, y))
        return
      case 'area':
        setArea(areaBetween(held.x, held.y, x, y))
        return
      case 'pen':
        setPen(
          pen.map((point, i) =>
            i === held.index ? { ...point, dx: Math.round(x - point.x), dy: Math.round(y - point.y) } : point,
          ),
        )
    }
  }

  /** Moves parts from where the drag began, to the nearest line that they snap to. */
  const moveTo = (held: Extract<Gesture, { kind: 'move' }>, dx: number, dy: number, free: boolean) => {
    const { ids, box, lines } = held
    const to = free ? { dx, dy, lines: [] } : snapped(box, dx, dy, lines, snapReach / view.scale)
    setSnaps(to.lines)
    const what = ids.length > 1 ? `${ids.length} parts` : findPart(template, ids[0]!)!.name
    held.making ??= draft.begin(`${held.copies ? 'copying' : 'moving'} ${what}`)
    held.making?.set((from) => {
      if (!held.copies) return moveAll(from, ids, to.dx, to.dy)
      const made = duplicate(from, ids)
      held.made = made.ids
      const there = edit(from, made.change)
      return { kind: 'several', changes: [made.change, moveAll(there, made.ids, to.dx, to.dy)] }
    })
  }

  const letGo = () => {
    setSnaps([])
    setArea(undefined)
    setLine(undefined)
  }
  const begin = usePointerDrag<Gesture>({
    move,
    end: (held, to) => {
      const [x, y] = at(held.frame, to.x, to.y)
      held.making?.end()
      letGo()
      // What was dropped somewhere may have been meant to hold to what is there.
      if (held.kind === 'move' && held.making) {
        const [first, ...also] = held.made ?? held.ids
        if (held.made) desk.set({ selected: first, also })
        if (also.length === 0) desk.set({ offer: first })
      } else if (held.kind === 'move' && held.next) desk.set({ selected: held.next })
      if (held.kind === 'draw') {
        if (desk.tool === 'line') add(drawnLine(template, held.x, held.y, x, to.shift ? held.y : y))
        else if (desk.tool === 'text') write(drawnText(template, areaBetween(held.x, held.y, x, y)))
        else if (desk.tool !== 'choose' && desk.tool !== 'points')
          add(drawnPart(template, desk.tool, areaBetween(held.x, held.y, x, y)))
      }
      const swept = areaBetween(held.x, held.y, x, y)
      if (held.kind === 'area' && swept.width * view.scale > 4) {
        const ids = partsWithin(placed, swept).map((part) => part.id)
        const all = to.shift ? [...new Set([...chosenParts(desk), ...ids])] : ids
        desk.set({ selected: all[0], also: all.slice(1) })
      }
    },
    cancel: (held) => {
      held.making?.cancel()
      letGo()
    },
  })

  const isIdle = !area && !line && snaps.length === 0 && pen.length === 0
  /** A menu is about the part under the pointer, or about none; called up by a key it is about what is chosen. */
  const pointAt = (event: MouseEvent) => {
    if (event.button !== 2) return
    const frame = event.currentTarget.getBoundingClientRect()
    const here = partsAt(placed, ...at(frame, event.clientX, event.clientY))
    // One that was reached below others is what its menu is about.
    const found = here.find(({ part }) => chosenParts(desk).includes(part.id)) ?? here[0]
    if (found) chooseForMenu(found.part.id)
    else desk.set({ selected: undefined, tool: 'choose' })
    desk.set({ here: here.map(({ part }) => part.id) })
  }

  return { press, pointAt, area, line, snaps, pen, isIdle, endPen, dropPen: () => setPen([]) }
}
