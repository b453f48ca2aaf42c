import { dependents, dependsOn, regionOf, type SnapLine } from '@hoja/core/layout'
import { allParts, type Frame, type PartId, type Template } from '@hoja/core/template'
import type { Shown } from '../desk.ts'
import type { Placed } from './placed.ts'

/** Everything thin that is drawn over the frame; in frame px, lines in screen px. */
export function Overlays({
  template,
  placed,
  chosen,
  scale,
  show,
  picking,
  ring,
  snaps,
}: {
  template: Template
  placed: Placed[]
  chosen: Placed[]
  scale: number
  show: Shown
  /** Parts that a click may choose, and those chosen already. */
  picking: { part: PartId; chosen: PartId[] } | undefined
  ring: readonly PartId[]
  snaps: SnapLine[]
}) {
  const { width, height } = template.frame
  const px = 1 / scale
  const boxOfPart = new Map(placed.map((p) => [p.part.id, p]))
  const [first] = chosen
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      className="pointer-events-none absolute inset-0 size-full overflow-visible"
      aria-hidden="true"
    >
      {show.safe &&
        (['action', 'title'] as const).map((region) => {
          const [x, w] = regionOf(template.frame, region, 'x')
          const [y, h] = regionOf(template.frame, region, 'y')
          return (
            <rect
              key={region}
              {...{ x, y }}
              width={w}
              height={h}
              fill="none"
              stroke="#fff"
              strokeOpacity={region === 'title' ? 0.75 : 0.4}
              strokeWidth={px}
              strokeDasharray={`${4 * px} ${4 * px}`}
            />
          )
        })}
      {show.crop43 && <Crop frame={template.frame} aspect={4 / 3} name="4:3" px={px} />}
      {show.crop916 && <Crop frame={template.frame} aspect={9 / 16} name="9:16" px={px} />}
      {first && chosen.length === 1 && show.measures && (
        <Relations template={template} chosen={first} boxes={boxOfPart} px={px} />
      )}
      {chosen
        .filter((c) => !c.gone)
        .map((c, i) => (
          <rect
            key={c.part.id}
            {...c.box}
            fill="none"
            stroke="#1f7a4d"
            strokeWidth={(i === 0 ? 1.5 : 1) * px}
            strokeDasharray={i === 0 ? undefined : `${5 * px} ${3 * px}`}
          />
        ))}
      {picking &&
        placed
          .filter((p) => !p.gone && p.part.id !== picking.part && p.part.kind !== 'group')
          .map(({ part, box }) => (
            <rect
              key={part.id}
              {...box}
              fill="#1f7a4d"
              fillOpacity={picking.chosen.includes(part.id) ? 0.4 : 0.12}
              stroke="#fff"
              strokeWidth={px}
            />
          ))}
      {snaps.map((line) =>
        line.axis === 'x' ? (
          <path key={`x${line.at}`} d={`M${line.at} 0V${height}`} stroke="#1f7a4d" strokeWidth={px} />
        ) : (
          <path key={`y${line.at}`} d={`M0 ${line.at}H${width}`} stroke="#1f7a4d" strokeWidth={px} />
        ),
      )}
      {ring.length > 0 && <Ring ids={ring} boxes={boxOfPart} px={px} />}
    </svg>
  )
}

/** What another shape of screen would cut off, shaded. */
function Crop({ frame, aspect, name, px }: { frame: Frame; aspect: number; name: string; px: number }) {
  const width = Math.min(frame.width, frame.height * aspect)
  const height = Math.min(frame.height, frame.width / aspect)
  const [x, y] = [(frame.width - width) / 2, (frame.height - height) / 2]
  return (
    <g>
      <path
        d={`M0 0H${frame.width}V${frame.height}H0ZM${x} ${y}V${y + height}H${x + width}V${y}Z`}
        fill="#20261f"
        fillOpacity="0.35"
      />
      <rect {...{ x, y, width, height }} fill="none" stroke="#fff" strokeWidth={px} />
      <text x={x + 8 * px} y={y + height - 8 * px} fill="#fff" fontSize={12 * px} fontWeight="600">
        {name}
      </text>
    </g>
  )
}

/** What the chosen part holds to (madder) and what holds to it (leaf), outlined. */
function Relations({
  template,
  chosen,
  boxes,
  px,
}: {
  template: Template
  chosen: Placed
  boxes: Map<PartId, Placed>
  px: number
}) {
  const outline = (ids: readonly PartId[], colour: string) =>
    ids.map((id) => {
      const there = boxes.get(id)
      return (
        there &&
        !there.gone && (
          <rect
            key={`${colour}${id}`}
            x={there.box.x - 3 * px}
            y={there.box.y - 3 * px}
            width={there.box.width + 6 * px}
            height={there.box.height + 6 * px}
            fill="none"
            stroke={colour}
            strokeWidth={1.5 * px}
            strokeDasharray={`${2 * px} ${3 * px}`}
          />
        )
      )
    })
  return (
    <>
      {outline(dependsOn(chosen.part), '#b4472e')}
      {outline(dependents(template, chosen.part.id), '#1f7a4d')}
    </>
  )
}

/** A ring of ties that was refused: an arrow from each part to the one it would hold to. */
function Ring({ ids, boxes, px }: { ids: readonly PartId[]; boxes: Map<PartId, Placed>; px: number }) {
  const centre = (id: PartId): [number, number] => {
    const box = boxes.get(id)?.box ?? { x: 0, y: 0, width: 0, height: 0 }
    return [box.x + box.width / 2, box.y + box.height / 2]
  }
  return (
    <g stroke="#b3261e" strokeWidth={2 * px} fill="none">
      {ids.slice(1).map((id, i) => {
        const [[ax, ay], [bx, by]] = [centre(ids[i]!), centre(id)]
        // Bowed, so that the way there and the way back don't lie on each other.
        const length = Math.hypot(bx - ax, by - ay) || 1
        const [nx, ny] = [((by - ay) / length) * 26 * px, (-(bx - ax) / length) * 26 * px]
        const [mx, my] = [(ax + bx) / 2 + nx, (ay + by) / 2 + ny]
        const angle = Math.atan2(by - my, bx - mx)
        const barb = (turn: number) =>
          `M${bx} ${by}L${bx - Math.cos(angle + turn) * 11 * px} ${by - Math.sin(angle + turn) * 11 * px}`
        return (
          <g key={`${ids[i]}${id}`}>
            <path d={`M${ax} ${ay}Q${mx} ${my} ${bx} ${by}${barb(0.45)}${barb(-0.45)}`} />
            <circle cx={ax} cy={ay} r={4 * px} fill="#b3261e" />
          </g>
        )
      })}
    </g>
  )
}

/** Names of parts, for sentences about ties. */
export function namesOf(template: Template, ids: readonly PartId[]): string {
  const parts = allParts(template.parts)
  return ids.map((id) => parts.find((part) => part.id === id)?.name ?? id).join(', ')
}
