import { resizeBy } from '@hoja/core/layout'
import { type Change, findPart, type Template } from '@hoja/core/template'
import { useRef } from 'react'
import { useDraft } from '../../session/draft.ts'
import type { Placed } from './placed.ts'
import type { View } from './view.ts'

type Side = 'start' | 'end' | undefined
const grips: [x: Side, y: Side, cursor: string, name: string][] = [
  ['start', 'start', 'nwse-resize', 'upper left'],
  [undefined, 'start', 'ns-resize', 'top'],
  ['end', 'start', 'nesw-resize', 'upper right'],
  ['end', undefined, 'ew-resize', 'right'],
  ['end', 'end', 'nwse-resize', 'lower right'],
  [undefined, 'end', 'ns-resize', 'bottom'],
  ['start', 'end', 'nesw-resize', 'lower left'],
  ['start', undefined, 'ew-resize', 'left'],
]
const place = (side: Side) => (side === 'start' ? 0 : side === 'end' ? 1 : 0.5)

/** Grips that resize the chosen part: each moves its edges and leaves the opposite ones. */
export function Handles({ template, chosen, view }: { template: Template; chosen: Placed; view: View }) {
  const { change } = useDraft()
  const drag = useRef<{ x: number; y: number; from: Placed; template: Template; name: string } | undefined>(undefined)
  const { part, box } = chosen
  if (
    part.locked ||
    part.kind === 'group' ||
    (part.kind === 'text' && part.x.size.kind === 'content' && part.x.ties.length < 2)
  )
    return null
  const px = (v: number) => v * view.scale
  return (
    <>
      {grips.map(([x, y, cursor, name]) => (
        <button
          key={name}
          type="button"
          tabIndex={-1}
          aria-label={`Resize ${part.name} at its ${name}`}
          className="absolute size-[9px] touch-none border border-leaf bg-white"
          style={{
            cursor,
            left: px(box.x + box.width * place(x)) - 4.5,
            top: px(box.y + box.height * place(y)) - 4.5,
          }}
          onPointerDown={(event) => {
            event.stopPropagation()
            event.currentTarget.setPointerCapture(event.pointerId)
            drag.current = {
              x: event.clientX,
              y: event.clientY,
              from: chosen,
              template,
              name: `resize ${event.timeStamp}`,
            }
          }}
          onPointerMove={(event) => {
            const held = drag.current
            if (!held || event.buttons === 0) return
            event.stopPropagation()
            const by = (now: number, then: number) => Math.round((now - then) / view.scale)
            const from = findPart(held.template, part.id)!
            const changes: Change[] = []
            if (x) changes.push(resizeBy(from, held.from.box, 'x', x, by(event.clientX, held.x)))
            if (y) changes.push(resizeBy(from, held.from.box, 'y', y, by(event.clientY, held.y)))
            change({ kind: 'several', changes }, `the size of ${part.name}`, held.name)
          }}
          onPointerUp={(event) => {
            event.stopPropagation()
            drag.current = undefined
          }}
        />
      ))}
    </>
  )
}
