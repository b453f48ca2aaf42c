import { type Box, moveAll, type Rest, type SnapLine, snapLines, snapped } from '@hoja/core/layout'
import { type Change, findPart, type Part, type Template } from '@hoja/core/template'
import { type PointerEvent, useRef, useState } from 'react'
import { useDraft } from '../../session/draft.ts'
import { chooseAlso, chosenParts, useDesk } from '../desk.ts'
import { drawnLine, drawnPart, drawnPath, type PenPoint } from './drawn.ts'
import { pickedTie } from './picking.ts'
import { type Placed, partAt, partsWithin } from './placed.ts'
import type { View } from './view.ts'

type Gesture =
  | { kind: 'pan'; x: number; y: number; pan: { x: number; y: number } }
  | { kind: 'move'; x: number; y: number; name: string; from: Template; ids: string[]; box: Box; lines: SnapLine[] }
  | { kind: 'draw'; x: number; y: number }
  | { kind: 'pen'; index: number }
  | { kind: 'area'; x: number; y: number }

/** px on the screen within which a moved part snaps to a line. */
const snapReach = 6
const areaBetween = (x0: number, y0: number, x1: number, y1: number): Box => ({
  x: Math.min(x0, x1),
  y: Math.min(y0, y1),
  width: Math.abs(x1 - x0),
  height: Math.abs(y1 - y0),
})

/** What presses and drags on the frame do: choose, move with snapping, draw, pick, pan. Positions are frame px. */
export function useGestures(template: Template, placed: Placed[], rest: Rest, view: View) {
  const desk = useDesk()
  const { change, attempt } = useDraft()
  const gesture = useRef<Gesture | undefined>(undefined)
  const [area, setArea] = useState<Box>()
  const [line, setLine] = useState<[number, number, number, number]>()
  const [snaps, setSnaps] = useState<SnapLine[]>([])
  const [pen, setPen] = useState<PenPoint[]>([])

  const at = (event: PointerEvent): [number, number] => {
    const frame = event.currentTarget.getBoundingClientRect()
    return [(event.clientX - frame.left - view.left) / view.scale, (event.clientY - frame.top - view.top) / view.scale]
  }
  const add = (part: Part) => {
    if (change({ kind: 'addPart', part }, `adding ${part.name}`)) desk.set({ selected: part.id, tool: 'choose' })
  }
  const endPen = (closed: boolean) => {
    if (pen.length > 1) add(drawnPath(template, pen, closed && pen.length > 2))
    setPen([])
    desk.set({ tool: 'choose' })
  }

  const press = (event: PointerEvent) => {
    const [x, y] = at(event)
    event.currentTarget.setPointerCapture(event.pointerId)
    if (event.button === 1 || event.altKey) {
      gesture.current = { kind: 'pan', x: event.clientX, y: event.clientY, pan: desk.pan }
      // A fitted view begins to be panned from where it stands.
      if (desk.zoom === undefined) desk.set({ zoom: view.scale, pan: { x: 0, y: 0 } })
      return
    }
    if (event.button !== 0) return
    const found = partAt(placed, x, y)
    if (desk.pick) pressPicking(found, x, y, event.shiftKey)
    else if (desk.tool === 'path') pressPen(x, y)
    else if (desk.tool !== 'choose' && desk.tool !== 'points') gesture.current = { kind: 'draw', x, y }
    else if (!found) {
      gesture.current = { kind: 'area', x, y }
      if (!event.shiftKey) desk.set({ selected: undefined, tool: 'choose' })
    } else if (event.shiftKey) chooseAlso(desk, found.part.id)
    else {
      const chosen = chosenParts(desk)
      const ids = chosen.includes(found.part.id) ? chosen : [found.part.id]
      if (ids !== chosen) desk.set({ selected: found.part.id, tool: 'choose' })
      gesture.current = {
        kind: 'move',
        x,
        y,
        name: `drag ${event.timeStamp}`,
        from: template,
        ids,
        box: found.box,
        lines: snapLines(template, rest, ids, template.guides),
      }
    }
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

  const pressPen = (x: number, y: number) => {
    const [first] = pen
    if (first && pen.length > 2 && Math.hypot(first.x - x, first.y - y) * view.scale < 10) {
      endPen(true)
      return
    }
    setPen([...pen, { x: Math.round(x), y: Math.round(y), dx: 0, dy: 0 }])
    gesture.current = { kind: 'pen', index: pen.length }
  }

  const drag = (event: PointerEvent) => {
    const held = gesture.current
    if (!held || event.buttons === 0) return
    const [x, y] = at(event)
    switch (held.kind) {
      case 'pan':
        desk.set({ pan: { x: held.pan.x + event.clientX - held.x, y: held.pan.y + event.clientY - held.y } })
        return
      case 'move': {
        const [dx, dy] = [Math.round(x - held.x), Math.round(y - held.y)]
        if (Math.abs(dx) + Math.abs(dy) < 3 / view.scale && snaps.length === 0) return
        const reach = event.ctrlKey || event.metaKey ? 0 : snapReach / view.scale
        const to = reach > 0 ? snapped(held.box, dx, dy, held.lines, reach) : { dx, dy, lines: [] }
        setSnaps(to.lines)
        moveTo(held, to.dx, to.dy)
        return
      }
      case 'draw':
        if (desk.tool === 'line') setLine([held.x, held.y, x, event.shiftKey ? held.y : y])
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

  /** Moves from where the drag began, so that rounding and snapping don't add up; what isn't moved goes back there. */
  const moveTo = ({ ids, from, name }: Extract<Gesture, { kind: 'move' }>, dx: number, dy: number) => {
    const back = ids.flatMap((id): Change[] => {
      const part = findPart(from, id)!
      return part.locked
        ? []
        : (['x', 'y'] as const).map((axis) => ({ kind: 'axis', part: id, axis, value: part[axis] }))
    })
    const what = ids.length > 1 ? `${ids.length} parts` : findPart(from, ids[0]!)!.name
    change({ kind: 'several', changes: [...back, moveAll(from, ids, dx, dy)] }, `moving ${what}`, name)
  }

  const release = (event: PointerEvent) => {
    const held = gesture.current
    gesture.current = undefined
    setSnaps([])
    const [x, y] = at(event)
    if (held?.kind === 'draw') {
      if (desk.tool === 'line') add(drawnLine(template, held.x, held.y, x, event.shiftKey ? held.y : y))
      else if (desk.tool !== 'choose' && desk.tool !== 'points')
        add(drawnPart(template, desk.tool, areaBetween(held.x, held.y, x, y)))
    }
    if (held?.kind === 'area' && area && area.width * view.scale > 4) {
      const ids = partsWithin(placed, area).map((part) => part.id)
      const all = event.shiftKey ? [...new Set([...chosenParts(desk), ...ids])] : ids
      desk.set({ selected: all[0], also: all.slice(1) })
    }
    setArea(undefined)
    setLine(undefined)
  }

  return { press, drag, release, area, line, snaps, pen, endPen, dropPen: () => setPen([]) }
}
