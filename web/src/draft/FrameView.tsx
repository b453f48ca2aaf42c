import { type Box, boxOf, regionOf, shareOf } from '@hoja/core/layout'
import type { Scene } from '@hoja/core/scene'
import {
  type AxisName,
  type Edge,
  findPart,
  numberedParts,
  type Part,
  type Target,
  type Template,
  type Tie,
} from '@hoja/core/template'
import { useRef } from 'react'
import { Backdrop } from '../preview/Backdrop.tsx'
import { FrameCanvas } from '../preview/FrameCanvas.tsx'
import type { Player } from '../preview/usePlayer.ts'
import { useDraft } from '../session/draft.ts'
import { classes } from '../ui/controls.tsx'
import { useSize } from '../ui/useSize.ts'
import { useDesk } from './desk.ts'
import { Measures } from './Measures.tsx'
import { moveBy } from './nudge.ts'

const margin = 18
const edges: Edge[] = ['start', 'middle', 'end']

/** The frame with the filling in it, part numbers, safe areas, and the measures of the chosen part. */
export function FrameView({ template, scene, player }: { template: Template; scene: Scene; player: Player }) {
  const { selected, filling, pick, footage, safe, measures, set } = useDesk()
  const { change } = useDraft()
  const [ref, size] = useSize<HTMLDivElement>()
  const drag = useRef<{ x: number; y: number; part: Part } | undefined>(undefined)
  const { width, height } = template.frame
  const scale = Math.max(0.05, Math.min((size.width - 2 * margin) / width, (size.height - 2 * margin - 16) / height))
  const settled = scene.settle(filling.values)
  const rows = numberedParts(template)
  const { rest } = settled
  const boxes = rows.map(({ part, number }) => {
    const i = rest.order.index.get(part.id)!
    return { part, number, gone: rest.gone[i] === 1, box: boxOf(rest, i) }
  })
  const chosen = boxes.find((b) => b.part.id === selected)

  const at = (event: React.PointerEvent): [number, number] => {
    const frame = event.currentTarget.getBoundingClientRect()
    return [(event.clientX - frame.left) / scale, (event.clientY - frame.top) / scale]
  }
  const hit = (x: number, y: number) =>
    boxes.find(
      ({ part, box, gone }) =>
        !gone && part.kind !== 'group' && x >= box.x && x <= box.x + box.width && y >= box.y && y <= box.y + box.height,
    )

  const down = (event: React.PointerEvent) => {
    const [x, y] = at(event)
    const found = hit(x, y)
    if (pick) {
      if (found && found.part.id !== pick.part) hold(found.part, found.box, pick.axis === 'x' ? x : y, event.shiftKey)
      else if (!found) holdRegion(pick.axis === 'x' ? x : y)
      return
    }
    set({ selected: found?.part.id })
    if (found) {
      event.currentTarget.setPointerCapture(event.pointerId)
      drag.current = { x, y, part: found.part }
    }
  }
  const move = (event: React.PointerEvent) => {
    if (!drag.current || event.buttons === 0) return
    const [x, y] = at(event)
    const [dx, dy] = [Math.round(x - drag.current.x), Math.round(y - drag.current.y)]
    if (Math.abs(dx) + Math.abs(dy) < 2 / scale && !event.shiftKey) return
    change(
      moveBy(drag.current.part, dx, dy),
      `moving ${drag.current.part.name}`,
      `drag ${drag.current.x},${drag.current.y}`,
    )
  }

  /** Where an edge of a part is now, along one axis. */
  const edgeAt = (id: string, axis: AxisName, edge: Edge) => {
    const { box } = boxes.find((b) => b.part.id === id)!
    return axis === 'x' ? box.x + box.width * shareOf(edge) : box.y + box.height * shareOf(edge)
  }
  /** Ties the waiting edge to a line at `there`, keeping it where it is now: the gap is what lies between. */
  const holdTo = (to: Target, at: Edge, there: number) => {
    const { part: id, axis: name, edge } = pick!
    const part = findPart(template, id)!
    const axis = part[name]
    const old = axis.ties.find((tie) => tie.edge === edge)
    const fresh: Tie = {
      follow: 'settled',
      gone: 'collapse',
      ...old,
      edge,
      to,
      at,
      gap: Math.round(edgeAt(id, name, edge) - there),
    }
    putTies(old ? axis.ties.map((tie) => (tie === old ? fresh : tie)) : [...axis.ties.slice(0, 1), fresh])
  }
  const putTies = (ties: Tie[]) => {
    const part = findPart(template, pick!.part)!
    if (
      change(
        { kind: 'axis', part: part.id, axis: pick!.axis, value: { ...part[pick!.axis], ties } },
        `tying ${part.name}`,
      )
    )
      set({ pick: undefined })
  }
  /** A click on a part: its nearest third decides which of its edges holds; with Shift it joins the parts there already. */
  const hold = (target: Part, box: Box, position: number, adding: boolean) => {
    const { axis, edge, part } = pick!
    const { ties } = findPart(template, part)![axis]
    const tie = ties.find((t) => t.edge === edge)
    if (adding && tie && 'parts' in tie.to) {
      const joined = { ...tie, to: { parts: [...new Set([...tie.to.parts, target.id])] } }
      putTies(ties.map((t) => (t === tie ? joined : t)))
      return
    }
    const [start, length] = axis === 'x' ? [box.x, box.width] : [box.y, box.height]
    const third = (position - start) / Math.max(1, length)
    const at: Edge = third < 1 / 3 ? 'start' : third > 2 / 3 ? 'end' : 'middle'
    holdTo({ parts: [target.id] }, at, start + length * shareOf(at))
  }
  /** A click beside all parts: the nearest line of the frame and its safe areas. */
  const holdRegion = (position: number) => {
    const lines = (['title', 'action', 'frame'] as const).flatMap((region) => {
      const [start, length] = regionOf(template.frame, region, pick!.axis)
      return edges.map((at) => ({ region, at, there: start + length * shareOf(at) }))
    })
    const best = lines.reduce((a, b) => (Math.abs(b.there - position) < Math.abs(a.there - position) ? b : a))
    holdTo({ region: best.region }, best.at, best.there)
  }

  return (
    <section ref={ref} className="relative min-h-0 overflow-hidden bg-grey" aria-label="Frame">
      <div className="absolute top-2 right-3 z-10 flex gap-1.5">
        {(
          [
            ['Footage', footage, () => set({ footage: !footage })],
            ['Safe areas', safe, () => set({ safe: !safe })],
            ['Measures', measures, () => set({ measures: !measures })],
          ] as [string, boolean, () => void][]
        ).map(([label, on, act]) => (
          <button
            key={label}
            type="button"
            aria-pressed={on}
            onClick={act}
            className={classes(
              'h-6 rounded-[3px] border px-2 text-xs font-medium',
              on ? 'border-transparent bg-white text-ink' : 'border-white/60 bg-grey text-white',
            )}
          >
            {label}
          </button>
        ))}
        <span className="flex h-6 items-center rounded-[3px] bg-white px-2 text-xs font-medium">
          {Math.round(scale * 100)} %
        </span>
      </div>
      {filling.name !== 'as drawn' && (
        <p className="absolute top-2 left-3 z-10 flex h-6 items-center gap-2 rounded-[3px] bg-white px-2 text-xs">
          In the frame: <b className="font-semibold">{filling.name}</b>
        </p>
      )}
      {size.width > 0 && (
        <div
          className={classes('absolute touch-none select-none', pick && 'cursor-crosshair')}
          style={{
            width: width * scale,
            height: height * scale,
            left: (size.width - width * scale) / 2,
            top: (size.height - height * scale) / 2 + 8,
          }}
          onPointerDown={down}
          onPointerMove={move}
          onPointerUp={() => {
            drag.current = undefined
          }}
          data-testid="frame"
        >
          {footage ? <Backdrop /> : <div className="absolute inset-0 bg-[#8c8c89]" />}
          <FrameCanvas
            scene={scene}
            values={filling.values}
            frame={player.frame}
            width={width * scale}
            label={`Frame ${player.frame} of ${template.name}, ${filling.name}`}
          />
          <svg
            viewBox={`0 0 ${width} ${height}`}
            className="pointer-events-none absolute inset-0 size-full overflow-visible"
            aria-hidden="true"
          >
            {safe &&
              (['action', 'title'] as const).map((region) => {
                const [x, w] = regionOf(template.frame, region, 'x')
                const [y, h] = regionOf(template.frame, region, 'y')
                return (
                  <rect
                    key={region}
                    x={x}
                    y={y}
                    width={w}
                    height={h}
                    fill="none"
                    stroke="#fff"
                    strokeOpacity={region === 'title' ? 0.75 : 0.4}
                    strokeWidth={1 / scale}
                    strokeDasharray={`${4 / scale} ${4 / scale}`}
                  />
                )
              })}
            {chosen && !chosen.gone && (
              <rect
                x={chosen.box.x}
                y={chosen.box.y}
                width={chosen.box.width}
                height={chosen.box.height}
                fill="none"
                stroke="#1f7a4d"
                strokeWidth={1.5 / scale}
              />
            )}
            {pick &&
              boxes
                .filter((b) => !b.gone && b.part.id !== pick.part && b.part.kind !== 'group')
                .map(({ part, box }) => (
                  <rect
                    key={part.id}
                    {...box}
                    fill="#1f7a4d"
                    fillOpacity={0.12}
                    stroke="#fff"
                    strokeWidth={1 / scale}
                  />
                ))}
          </svg>
          {measures && chosen && !chosen.gone && (
            <Measures template={template} boxes={boxes} chosen={chosen} scale={scale} />
          )}
          {measures && (
            <Numbers
              boxes={boxes.filter((b) => !b.gone && b.part.kind !== 'group')}
              selected={selected}
              scale={scale}
              width={width}
            />
          )}
        </div>
      )}
    </section>
  )
}

/** The numbered circles: outside the part's box where there is room, spread so that none hides another. */
function Numbers({
  boxes,
  selected,
  scale,
  width,
}: {
  boxes: { part: Part; number: number; box: Box }[]
  selected: string | undefined
  scale: number
  width: number
}) {
  const taken: [number, number][] = []
  const diameter = 17
  return (
    <>
      {boxes.map(({ part, number, box }) => {
        // Texts carry theirs at the end, boxes at their upper left corner.
        let x =
          (part.kind === 'text' ? Math.min(width, box.x + box.width) : box.x) * scale + (part.kind === 'text' ? 12 : 0)
        const y = (part.kind === 'text' ? box.y + box.height / 2 : box.y) * scale
        while (taken.some(([a, b]) => Math.abs(a - x) < diameter && Math.abs(b - y) < diameter)) x += diameter
        taken.push([x, y])
        const on = part.id === selected
        return (
          <span
            key={part.id}
            className={classes(
              'pointer-events-none absolute flex items-center justify-center rounded-full text-[10px] font-semibold',
              on ? 'bg-leaf text-white' : 'bg-white text-ink',
            )}
            style={{ left: x - diameter / 2, top: y - diameter / 2, width: diameter, height: diameter }}
          >
            {number}
          </span>
        )
      })}
    </>
  )
}
