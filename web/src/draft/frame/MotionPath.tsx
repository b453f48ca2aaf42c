import { moveWayPoint, type WayPoint, wayOf } from '@hoja/core/motion'
import type { SpanName, Template } from '@hoja/core/template'
import { useDraftDrag } from '../../session/useDraftDrag.ts'
import { HaloLine } from './HaloLine.tsx'
import type { Placed } from './placed.ts'

const leaf = (x: number, y: number) => `M${x} ${y - 8}q4.5 8 0 16q-4.5 -8 0 -16Z`

/** The way of the chosen part's anchor through a span, a tick a frame; its keys are dragged where they are. */
export function MotionPath({
  template,
  chosen,
  span,
  scale,
}: {
  template: Template
  chosen: Placed
  span: SpanName
  scale: number
}) {
  const { part, box } = chosen
  const way = wayOf(template, part, box, span)
  const drag = useDraftDrag<{ at: number }>({
    what: () => `the way of ${part.name}`,
    change: ({ at }, now, from) =>
      moveWayPoint(from, part.id, box, span, at, Math.round(now.dx / scale), Math.round(now.dy / scale)),
  })
  if (way.length === 0) return null
  const px = ({ x, y }: WayPoint): [number, number] => [x * scale, y * scale]
  return (
    <svg
      className="pointer-events-none absolute inset-0 overflow-visible"
      width="1"
      height="1"
      role="group"
      aria-label={`The way of ${part.name}`}
    >
      <HaloLine d={way.map((point, i) => `${i === 0 ? 'M' : 'L'}${px(point).join(' ')}`).join('')} />
      {way.map((point) => {
        const [x, y] = px(point)
        return point.keyed ? null : (
          <circle key={point.at} cx={x} cy={y} r="1.8" fill="#1f7a4d" stroke="#fff" strokeWidth="0.75" />
        )
      })}
      {way
        .filter((point) => point.keyed)
        .map((point) => (
          <path
            key={point.at}
            d={leaf(...px(point))}
            fill="#1f7a4d"
            stroke="#fff"
            strokeWidth="1"
            className="pointer-events-auto cursor-move touch-none"
            role="button"
            tabIndex={-1}
            aria-label={`The way of ${part.name} at ${span} ${point.at}`}
            onPointerDown={(event) => {
              event.stopPropagation()
              drag(event, { at: point.at })
            }}
          >
            <title>{`${part.name} at ${span} ${point.at}: drag to change where it comes from`}</title>
          </path>
        ))}
    </svg>
  )
}
