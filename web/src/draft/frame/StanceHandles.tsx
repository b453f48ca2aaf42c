import { anchorBy, isRest, type Moment, type Stance, scaledBy, stanceOf, standingAt, turnedBy } from '@hoja/core/motion'
import type { Template } from '@hoja/core/template'
import { useDraftDrag } from '../../session/useDraftDrag.ts'
import type { DragPoint } from '../../ui/usePointerDrag.ts'
import { HaloLine } from './HaloLine.tsx'
import type { Placed } from './placed.ts'
import type { View } from './view.ts'

type Point = { x: number; y: number }
interface Held {
  by: 'anchor' | 'turn' | 'scale'
  /** Where it was taken hold of, and what it turns about: screen px from the frame's corner. */
  from: Point
  about: Point
  /** As it stood then. */
  chosen: Placed
  stance: Stance
  moment: Moment
}

/** px on the screen from the part's corner to the knobs that scale and turn it. */
const arm = { scale: 18, turn: 40 }
/** Degrees in which Shift turns. */
const turnStep = 15
/** px on the screen within which the anchor snaps to the part's corners and middles. */
const snapReach = 6
/** A scale this near to what it was, or a whole one, is taken for that. */
const sameScale = 0.02

const words = { anchor: 'What it turns and grows about', turn: 'Turn', scale: 'Scale' }

/** What the chosen part turns and grows about, and a lever that does both: as it rests, or as a key of its movement. */
export function StanceHandles({
  template,
  chosen,
  moment,
  view,
  size,
}: {
  template: Template
  chosen: Placed
  moment: Moment
  view: View
  /** The view's, screen px. */
  size: { width: number; height: number }
}) {
  const { part, box } = chosen
  const drag = useDraftDrag<Held>({
    what: ({ by }) => (by === 'anchor' ? `the anchor of ${part.name}` : `the ${by} of ${part.name}`),
    change: (held, at, from) => changeOf(held, at, from, view.scale),
  })
  const stance = stanceOf(template, part, box, moment)
  const onScreen = ({ x, y }: Point): Point => ({ x: x * view.scale, y: y * view.scale })
  const anchor = onScreen(stance.anchor)
  const { corner, along } = leverOf(chosen, stance, anchor, view, size)
  const knob = (by: 'turn' | 'scale') => ({ x: corner.x + along.x * arm[by], y: corner.y + along.y * arm[by] })
  const [turn, scale] = [knob('turn'), knob('scale')]
  // Its movement is about its anchor, what it is at rest about its middle.
  const atRest = isRest(template, moment)
  const middle = onScreen({ x: box.x + box.width / 2, y: box.y + box.height / 2 })
  const where = atRest ? 'as it rests' : `as a key at ${moment.span} ${Math.round(moment.at)}`
  const handle = (by: Held['by'], at: Point, cursor: string, shape: React.ReactNode) => (
    <g
      role="button"
      tabIndex={-1}
      aria-label={`${words[by]}: ${part.name}`}
      className="pointer-events-auto touch-none"
      style={{ cursor }}
      transform={`translate(${at.x} ${at.y})`}
      onPointerDown={(event) => {
        event.stopPropagation()
        drag(event, { by, from: at, about: by === 'anchor' || !atRest ? anchor : middle, chosen, stance, moment })
      }}
    >
      <title>
        {by === 'anchor' ? `${words.anchor}; drag it` : `${words[by]}, ${where}: drag round or from the anchor`}
      </title>
      <circle r="11" fill="transparent" />
      {shape}
    </g>
  )
  return (
    <svg
      className="absolute inset-0 overflow-visible"
      width="1"
      height="1"
      role="group"
      aria-label={`Turn and scale ${part.name}`}
    >
      <HaloLine d={`M${corner.x} ${corner.y}L${turn.x} ${turn.y}`} />
      {handle(
        'scale',
        scale,
        'nwse-resize',
        <path d="M-5 0L0 -5L5 0L0 5Z" fill="#fff" stroke="#1f7a4d" strokeWidth="1.5" />,
      )}
      {handle('turn', turn, 'grab', <circle r="5.5" fill="#1f7a4d" stroke="#fff" strokeWidth="1.5" />)}
      {handle(
        'anchor',
        anchor,
        'move',
        <>
          <circle r="6" fill="#fff" fillOpacity="0.7" stroke="#1f7a4d" strokeWidth="1.5" />
          <path d="M-10 0H-3M3 0H10M0 -10V-3M0 3V10" stroke="#1f7a4d" strokeWidth="1.5" />
        </>,
      )}
    </svg>
  )
}

/** The part's corner at which the lever has room in the view, and which way it leads from there; screen px. */
function leverOf(
  { part, box }: Placed,
  stance: Stance,
  anchor: Point,
  view: View,
  size: { width: number; height: number },
): { corner: Point; along: Point } {
  const all = [
    [1, 0],
    [0, 0],
    [1, 1],
    [0, 1],
  ].map(([x, y]) => {
    const at = standingAt(part, box, stance, box.x + box.width * x!, box.y + box.height * y!)
    const corner = { x: at.x * view.scale, y: at.y * view.scale }
    const [dx, dy] = [corner.x - anchor.x, corner.y - anchor.y]
    const length = Math.hypot(dx, dy)
    // A part that is a point, or turns about this corner, has the lever up and to its side.
    const along =
      length < 1
        ? { x: x! * Math.SQRT2 - Math.SQRT1_2, y: y! * Math.SQRT2 - Math.SQRT1_2 }
        : { x: dx / length, y: dy / length }
    return { corner, along }
  })
  const hasRoom = ({ corner, along }: (typeof all)[number]) => {
    const [x, y] = [corner.x + along.x * arm.turn + view.left, corner.y + along.y * arm.turn + view.top]
    return x > 8 && y > 8 && x < size.width - 8 && y < size.height - 8
  }
  return all.find(hasRoom) ?? all[0]!
}

function changeOf({ by, from, about, chosen, stance, moment }: Held, at: DragPoint, template: Template, scale: number) {
  const { part, box } = chosen
  if (by === 'anchor') {
    const to = at.free ? at : snappedAnchor(at, about, part, box, stance, scale)
    return anchorBy(template, part.id, box, stance, to.dx / scale, to.dy / scale)
  }
  const [before, now] = [
    { x: from.x - about.x, y: from.y - about.y },
    { x: from.x + at.dx - about.x, y: from.y + at.dy - about.y },
  ]
  if (by === 'scale') {
    const factor = Math.hypot(now.x, now.y) / Math.max(1, Math.hypot(before.x, before.y))
    const whole = Math.abs(factor * stance.scale - 1) < sameScale && stance.scale !== 0 ? 1 / stance.scale : factor
    return scaledBy(template, part.id, moment, at.free ? factor : whole)
  }
  const degrees = ((Math.atan2(now.y, now.x) - Math.atan2(before.y, before.x)) * 180) / Math.PI
  const shortest = ((degrees + 540) % 360) - 180
  const stepped = at.shift ? Math.round((stance.turn + shortest) / turnStep) * turnStep - stance.turn : shortest
  return turnedBy(template, part.id, moment, stepped)
}

/** The anchor drawn to a corner, the middle of a side or the middle that is near. */
function snappedAnchor(
  { dx, dy }: { dx: number; dy: number },
  anchor: Point,
  part: Placed['part'],
  box: Placed['box'],
  stance: Stance,
  scale: number,
): { dx: number; dy: number } {
  for (const x of [0, 0.5, 1])
    for (const y of [0, 0.5, 1]) {
      const at = standingAt(part, box, stance, box.x + box.width * x, box.y + box.height * y)
      const by = { dx: at.x * scale - anchor.x, dy: at.y * scale - anchor.y }
      if (Math.hypot(by.dx - dx, by.dy - dy) < snapReach) return by
    }
  return { dx, dy }
}
