import { type Box, regionOf, shareOf } from '@hoja/core/layout'
import type { AxisName, Part, Template, Tie } from '@hoja/core/template'

interface Placed {
  part: Part
  box: Box
  gone: boolean
}

/** Dimension lines of the chosen part, as on a technical drawing: its size, and the gap of every tie that has one. */
export function Measures({
  template,
  boxes,
  chosen,
  scale,
}: {
  template: Template
  boxes: Placed[]
  chosen: Placed
  scale: number
}) {
  const { box, part } = chosen
  const gaps = (['x', 'y'] as AxisName[]).flatMap((axis) =>
    part[axis].ties.map((tie) => ({ axis, tie, from: heldAt(template, boxes, axis, tie) })),
  )
  const px = (v: number) => v * scale
  const above = px(box.y) > 34
  const widthY = above ? px(box.y) - 16 : px(box.y + box.height) + 16
  const right = px(box.x + box.width) + 16
  return (
    <>
      <Line x1={px(box.x)} x2={px(box.x + box.width)} y1={widthY} y2={widthY} label={`${Math.round(box.width)} wide`} />
      <Line x1={right} x2={right} y1={px(box.y)} y2={px(box.y + box.height)} label={`${Math.round(box.height)} high`} />
      {gaps.map(({ axis, tie, from }) => {
        if (from === undefined || Math.abs(tie.gap) < 1) return null
        const to = from + tie.gap
        const key = `${axis}${tie.edge}`
        return axis === 'x' ? (
          <Line
            key={key}
            x1={px(from)}
            x2={px(to)}
            y1={px(box.y + box.height) + 14}
            y2={px(box.y + box.height) + 14}
            label={String(Math.round(Math.abs(tie.gap)))}
            small
          />
        ) : (
          <Line
            key={key}
            x1={px(box.x) - 14}
            x2={px(box.x) - 14}
            y1={px(from)}
            y2={px(to)}
            label={String(Math.round(Math.abs(tie.gap)))}
            small
          />
        )
      })}
    </>
  )
}

/** Where a tie looks, in frame px. */
function heldAt(template: Template, boxes: Placed[], axis: AxisName, tie: Tie): number | undefined {
  if ('region' in tie.to) {
    if (tie.to.region === 'group') return undefined
    const [start, size] = regionOf(template.frame, tie.to.region, axis)
    return start + size * shareOf(tie.at)
  }
  const { parts } = tie.to
  const present = boxes.filter((b) => parts.includes(b.part.id) && !b.gone)
  if (present.length === 0) return undefined
  const low = Math.min(...present.map((b) => b.box[axis]))
  const high = Math.max(...present.map((b) => b.box[axis] + (axis === 'x' ? b.box.width : b.box.height)))
  return low + (high - low) * shareOf(tie.at)
}

function Line({
  x1,
  x2,
  y1,
  y2,
  label,
  small,
}: {
  x1: number
  x2: number
  y1: number
  y2: number
  label: string
  small?: boolean
}) {
  const upright = x1 === x2
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
        className="absolute bg-white px-1 text-[11px] leading-4 font-semibold whitespace-nowrap text-madder"
        style={
          upright
            ? { left: small ? undefined : 7, right: small ? 7 : undefined, top: length / 2 - 8 }
            : beside
              ? { left: length + 6, top: -8 }
              : { left: length / 2, top: -8, transform: 'translateX(-50%)' }
        }
      >
        {label}
      </span>
    </div>
  )
}
