import type { Box } from '@hoja/core/geometry'
import { edgeWord, extentOf, lookedAt, type Rest, restView } from '@hoja/core/layout'
import { type AxisName, type Change, type Edge, findPart, type Part, type Template } from '@hoja/core/template'
import { useContext } from 'react'
import { useDraftDrag } from '../../session/useDraftDrag.ts'
import { classes } from '../../ui/controls.tsx'
import { usePointerDrag } from '../../ui/usePointerDrag.ts'
import { SceneRef } from '../sceneNow.ts'
import { tieToAim, useAim } from './aim.ts'
import type { OwnEdge } from './edgeLines.ts'
import { type PlacedDimension, placeDimensions, type Shy } from './labelling.ts'
import { type Placed, scaled } from './placed.ts'

/** A dimension line of the chosen part, and what a drag on its value changes. */
export interface Measured extends PlacedDimension {
  gap: { name: string; own: OwnEdge; change: (from: Template, by: number) => Change } | undefined
}

/**
 * The dimension lines of a part, as on a technical drawing: its size, and the gap of every tie. They stand where they
 * cover nothing that they need not; screen px.
 */
export function measuresOf(
  template: Template,
  rest: Rest,
  { box, part }: Placed,
  scale: number,
  shy: readonly Shy[],
  bounds: Box,
): Measured[] {
  const px = (v: number) => v * scale
  const own = scaled(box, scale)
  const gaps = (['x', 'y'] as AxisName[]).flatMap((axis) =>
    part[axis].ties.flatMap((tie) => {
      const view = restView(template, rest, part.id, axis)
      // What is gone holds nothing that could be measured.
      if (extentOf(tie.to, view).gone) return []
      const from = lookedAt(tie, view).at
      return [
        {
          id: `${axis}${tie.edge}`,
          upright: axis === 'y',
          from: px(from),
          to: px(from + tie.gap),
          label: String(Math.round(Math.abs(tie.gap))),
          // Across below the part, down at its left.
          side: axis === 'x' ? ('after' as const) : ('before' as const),
          leading: tie.edge === 'start',
          gap: {
            name: `Gap at the ${edgeWord(axis, tie.edge)} of ${part.name}`,
            own: { part: part.id, axis, edge: tie.edge },
            change: (drawn: Template, by: number) => withGap(findPart(drawn, part.id)!, axis, tie.edge, by),
          },
        },
      ]
    }),
  )
  const sizes = [
    { upright: false, from: own.x, to: own.x + own.width, label: `${Math.round(box.width)} wide` },
    { upright: true, from: own.y, to: own.y + own.height, label: `${Math.round(box.height)} high` },
  ].map((one) => ({
    ...one,
    id: one.upright ? 'height' : 'width',
    side: one.upright ? ('after' as const) : ('before' as const),
    leading: false,
    gap: undefined,
  }))
  const all = [...gaps, ...sizes]
  return placeDimensions(all, own, shy, bounds).map((placed, i) => ({ ...placed, gap: all[i]!.gap }))
}

/** Draws dimension lines; the value of a gap is dragged to change it. */
export function Measures({
  measures,
  chosen,
  scale,
}: {
  measures: readonly Measured[]
  chosen: Placed
  scale: number
}) {
  return measures.map((measure) => <Line key={measure.id} {...measure} chosen={chosen} scale={scale} />)
}

/** The gap of one tie made longer, px. */
function withGap(part: Part, axis: AxisName, edge: Edge, by: number): Change {
  const ties = part[axis].ties.map((tie) => (tie.edge === edge ? { ...tie, gap: Math.round(tie.gap + by) } : tie))
  return { kind: 'axis', part: part.id, axis, value: { ...part[axis], ties } }
}

function Line({
  upright,
  from,
  to,
  across,
  value,
  label,
  gap,
  chosen,
  scale,
}: Measured & { chosen: Placed; scale: number }) {
  const drag = useDraftDrag<object>({
    what: () => `a gap of ${chosen.part.name}`,
    change: (_, at, template) => gap!.change(template, (upright ? at.dy : at.dx) / scale),
  })
  const scene = useContext(SceneRef)
  const retie = usePointerDrag<{ own: OwnEdge }>({
    threshold: 3,
    move: ({ own }, { x, y }) => useAim.setState({ aim: { own, x, y } }),
    end: () => tieToAim(scene.current),
    cancel: () => useAim.setState({ aim: undefined }),
  })
  const box = scaled(chosen.box, scale)
  const [start, size] = upright ? [box.x, box.width] : [box.y, box.height]
  // Thin lines from the part to a dimension that stands further out.
  const edge = across < start ? start : start + size
  const isFar = Math.abs(across - edge) > 20
  const line = (a: number, b: number, c: number, d: number) =>
    upright ? `M${b} ${a}L${d} ${c}` : `M${a} ${b}L${c} ${d}`
  const tick = 4
  return (
    <>
      <svg className="pointer-events-none absolute inset-0 overflow-visible" width="1" height="1" aria-hidden="true">
        {isFar && (
          <path
            stroke="#b4472e"
            strokeWidth="0.75"
            strokeDasharray="2 2"
            fill="none"
            d={[from, to].map((at) => line(at, edge, at, across)).join('')}
          />
        )}
        <path
          stroke="#b4472e"
          strokeWidth="1.25"
          fill="none"
          d={
            line(from, across, to, across) + [from, to].map((at) => line(at, across - tick, at, across + tick)).join('')
          }
        />
      </svg>
      <span
        title={gap && `${gap.name}: drag to change it`}
        data-gap={gap?.name}
        className={classes(
          'absolute bg-white text-center text-[11px] leading-4 font-semibold whitespace-nowrap text-madder',
          gap ? 'pointer-events-auto touch-none' : 'pointer-events-none',
          gap && (upright ? 'cursor-ns-resize' : 'cursor-ew-resize'),
        )}
        onPointerDown={(event) => {
          if (!gap) return
          event.stopPropagation()
          drag(event, {})
        }}
        style={{ left: value.x, top: value.y, width: value.width }}
      >
        {label}
      </span>
      {gap && (
        <button
          type="button"
          tabIndex={-1}
          aria-label={`Tie the ${edgeWord(gap.own.axis, gap.own.edge)} of ${chosen.part.name} to another edge`}
          title="Drag it onto another edge to hold to that"
          className="pointer-events-auto absolute size-[9px] cursor-crosshair touch-none rounded-full border-2 border-madder bg-white"
          style={upright ? { left: across - 4.5, top: from - 4.5 } : { left: from - 4.5, top: across - 4.5 }}
          onPointerDown={(event) => {
            event.stopPropagation()
            retie(event, { own: gap.own })
          }}
        />
      )}
    </>
  )
}
