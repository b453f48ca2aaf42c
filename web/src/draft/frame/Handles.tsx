import { resizeBy } from '@hoja/core/layout'
import { type Change, findPart } from '@hoja/core/template'
import { useDraftDrag } from '../../session/useDraftDrag.ts'
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
export function Handles({ chosen, view }: { chosen: Placed; view: View }) {
  const { part, box } = chosen
  const drag = useDraftDrag<{ x: Side; y: Side; from: Placed }>({
    what: ({ from }) => `the size of ${from.part.name}`,
    change: ({ x, y, from }, at, template) => {
      const own = findPart(template, from.part.id)!
      const by = (px: number) => Math.round(px / view.scale)
      const changes: Change[] = []
      if (x) changes.push(resizeBy(own, from.box, 'x', x, by(at.dx)))
      if (y) changes.push(resizeBy(own, from.box, 'y', y, by(at.dy)))
      return { kind: 'several', changes }
    },
  })
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
            drag(event, { x, y, from: chosen })
          }}
        />
      ))}
    </>
  )
}
