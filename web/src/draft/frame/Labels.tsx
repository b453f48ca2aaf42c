import type { Rest } from '@hoja/core/layout'
import type { PartId, Template } from '@hoja/core/template'
import { classes } from '../../ui/controls.tsx'
import { diameter, placeNumbers, type Shy } from './labelling.ts'
import { Measures, measuresOf } from './Measures.tsx'
import { type Placed, scaled } from './placed.ts'
import type { View } from './view.ts'

/** What covers more of the frame than this lies behind the title: nothing keeps away from it. */
const behind = 0.6

/** The dimension lines of the chosen part and the parts' numbers, all out of each other's way and the title's. */
export function Labels({
  template,
  rest,
  placed,
  chosen,
  view,
  size,
  numbers,
  measures,
  writing,
}: {
  template: Template
  rest: Rest
  placed: readonly Placed[]
  chosen: readonly Placed[]
  view: View
  /** The view's, screen px. */
  size: { width: number; height: number }
  numbers: boolean
  measures: boolean
  /** The text in which a caret stands. */
  writing: PartId | undefined
}) {
  const { scale } = view
  const { width, height } = template.frame
  const bounds = { x: -view.left, y: -view.top, ...size }
  const seen = placed.filter((one) => !one.gone && one.part.kind !== 'group')
  const shy = seen.flatMap(({ part, box }): Shy[] =>
    box.width * box.height > behind * width * height
      ? []
      : [{ box: scaled(box, scale), weight: part.kind === 'text' || part.kind === 'picture' ? 1 : 0.12 }],
  )
  const [first] = chosen
  const shown =
    measures && first && chosen.length === 1 && !first.gone ? measuresOf(template, rest, first, scale, shy, bounds) : []
  const circles = numbers
    ? placeNumbers(
        seen
          .filter(({ part }) => part.id !== writing)
          .map(({ part, box }) => ({ id: part.id, box: scaled(box, scale), atEnd: part.kind === 'text' })),
        shy,
        shown.map(({ value }) => value),
        bounds,
      )
    : []
  const numberOf = new Map(placed.map(({ part, number }) => [part.id, number]))
  return (
    <>
      <svg className="pointer-events-none absolute inset-0 overflow-visible" width="1" height="1" aria-hidden="true">
        {circles.map(
          ({ id, x, y, lead }) =>
            lead && (
              <path
                key={id}
                stroke="#fff"
                strokeOpacity="0.8"
                d={`M${x + diameter / 2} ${y + diameter / 2}L${lead.x} ${lead.y}`}
              />
            ),
        )}
      </svg>
      {first && <Measures measures={shown} chosen={first} scale={scale} />}
      {circles.map(({ id, x, y }) => (
        <span
          key={id}
          className={classes(
            'pointer-events-none absolute flex items-center justify-center rounded-full text-[10px] font-semibold',
            chosen.some(({ part }) => part.id === id) ? 'bg-leaf text-white' : 'bg-white text-ink',
          )}
          style={{ left: x, top: y, width: diameter, height: diameter }}
        >
          {numberOf.get(id)}
        </span>
      ))}
    </>
  )
}
