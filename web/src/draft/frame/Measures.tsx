import { edgeWord, extentOf, lookedAt, type Rest, restView } from '@hoja/core/layout'
import { type AxisName, type Change, type Edge, findPart, type Part, type Template } from '@hoja/core/template'
import { useDraftDrag } from '../../session/useDraftDrag.ts'
import type { Placed } from './placed.ts'

/**
 * Dimension lines of the chosen part, as on a technical drawing: its size, and the gap of every tie. The line of a gap is
 * dragged to change it.
 */
export function Measures({
  template,
  rest,
  chosen,
  scale,
}: {
  template: Template
  rest: Rest
  chosen: Placed
  scale: number
}) {
  const { box, part } = chosen
  const gaps = (['x', 'y'] as AxisName[]).flatMap((axis) =>
    part[axis].ties.flatMap((tie) => {
      const view = restView(template, rest, part.id, axis)
      // What is gone holds nothing that could be measured.
      return extentOf(tie.to, view).gone ? [] : [{ axis, tie, from: lookedAt(tie, view).at }]
    }),
  )
  const px = (v: number) => v * scale
  const above = px(box.y) > 34
  const widthY = above ? px(box.y) - 16 : px(box.y + box.height) + 16
  const right = px(box.x + box.width) + 16
  return (
    <>
      <Line
        upright={false}
        x1={px(box.x)}
        x2={px(box.x + box.width)}
        y1={widthY}
        y2={widthY}
        label={`${Math.round(box.width)} wide`}
      />
      <Line
        upright
        x1={right}
        x2={right}
        y1={px(box.y)}
        y2={px(box.y + box.height)}
        label={`${Math.round(box.height)} high`}
      />
      {gaps.map(({ axis, tie, from }) => {
        const [a, b] = [px(from), px(from + tie.gap)]
        // Across below the part, down at its left.
        const below = px(box.y + box.height) + 14
        const before = px(box.x) - 14
        const ends = axis === 'x' ? { x1: a, x2: b, y1: below, y2: below } : { x1: before, x2: before, y1: a, y2: b }
        return (
          <Line
            key={`${axis}${tie.edge}`}
            {...ends}
            upright={axis === 'y'}
            label={String(Math.round(Math.abs(tie.gap)))}
            small
            gap={{
              scale,
              part: part.name,
              leading: tie.edge === 'start',
              change: (drawn, by) => withGap(findPart(drawn, part.id)!, axis, tie.edge, by),
              name: `Gap at the ${edgeWord(axis, tie.edge)} of ${part.name}`,
            }}
          />
        )
      })}
    </>
  )
}

/** The gap of one tie made longer, px. */
function withGap(part: Part, axis: AxisName, edge: Edge, by: number): Change {
  const ties = part[axis].ties.map((tie) => (tie.edge === edge ? { ...tie, gap: Math.round(tie.gap + by) } : tie))
  return { kind: 'axis', part: part.id, axis, value: { ...part[axis], ties } }
}

function Line({
  upright,
  x1,
  x2,
  y1,
  y2,
  label,
  small,
  gap,
}: {
  upright: boolean
  x1: number
  x2: number
  y1: number
  y2: number
  label: string
  small?: boolean
  /** A gap that the line stands for: dragging changes it, px of the frame. */
  gap?: {
    scale: number
    name: string
    part: string
    /** The edge it holds is the part's first: its value stands outside the part. */
    leading: boolean
    /** The gap made longer by so many px of the frame. */
    change: (from: Template, by: number) => Change
  }
}) {
  const drag = useDraftDrag<object>({
    what: () => `a gap of ${gap!.part}`,
    change: (_, at, from) => gap!.change(from, (upright ? at.dy : at.dx) / gap!.scale),
  })
  const [left, top] = [Math.min(x1, x2), Math.min(y1, y2)]
  const length = upright ? Math.abs(y2 - y1) : Math.abs(x2 - x1)
  const tick = 4
  // Where the line is too short for its value, the value stands behind its end.
  const beside = length < (upright ? 18 : label.length * 7 + 10)
  return (
    <div
      className="pointer-events-none absolute"
      style={{ left, top, width: upright ? 0 : length, height: upright ? length : 0 }}
    >
      <svg className="absolute overflow-visible" width="1" height="1" aria-hidden="true">
        <path
          stroke="#b4472e"
          strokeWidth="1.25"
          fill="none"
          d={
            upright
              ? `M0 0V${length}M${-tick} 0H${tick}M${-tick} ${length}H${tick}`
              : `M0 0H${length}M0 ${-tick}V${tick}M${length} ${-tick}V${tick}`
          }
        />
      </svg>
      <span
        title={gap && `${gap.name}: drag to change it`}
        data-gap={gap?.name}
        className={`absolute bg-white px-1 text-[11px] leading-4 font-semibold whitespace-nowrap text-madder ${gap ? 'pointer-events-auto touch-none' : ''}`}
        onPointerDown={(event) => {
          if (!gap) return
          event.stopPropagation()
          drag(event, {})
        }}
        style={{
          cursor: gap ? (upright ? 'ns-resize' : 'ew-resize') : undefined,
          ...(upright
            ? { left: small ? undefined : 7, right: small ? 7 : undefined, top: length / 2 - 8 }
            : beside
              ? gap?.leading
                ? { right: length + 6, top: -8 }
                : { left: length + 6, top: -8 }
              : { left: length / 2, top: -8, transform: 'translateX(-50%)' }),
        }}
      >
        {label}
      </span>
    </div>
  )
}
