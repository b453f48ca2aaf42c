import type { Outline, PathPart, PathPoint } from '@hoja/core/template'
import { useState } from 'react'
import { useDraft } from '../../session/draft.ts'
import { useDraftDrag } from '../../session/useDraftDrag.ts'
import type { Placed } from './placed.ts'
import type { View } from './view.ts'

type Grip = 'point' | 'in' | 'out'
interface Held {
  outline: number
  point: number
  grip: Grip
  from: Outline[]
}

/** The other handle in line with the one that was moved, keeping its own length; both in px. */
function opposite(moved: [number, number], other: [number, number]): [number, number] {
  const [length, own] = [Math.hypot(...other), Math.hypot(...moved)]
  return own > 0 ? [(-moved[0] / own) * length, (-moved[1] / own) * length] : other
}

/** The points of a path and their handles: dragged, added on a line by a double press, removed, made smooth or sharp. */
export function PathPoints({ chosen, view }: { chosen: Placed & { part: PathPart }; view: View }) {
  const { change } = useDraft.getState()
  const [active, setActive] = useState<[number, number]>()
  const { part, box } = chosen
  const outlines = part.style.outlines ?? []
  const [w, h] = [box.width || 1, box.height || 1]
  const px = (point: { x: number; y: number }): [number, number] => [
    (box.x + point.x * w) * view.scale,
    (box.y + point.y * h) * view.scale,
  ]
  const put = (value: Outline[], what: string) => change({ kind: 'style', part: part.id, key: 'outlines', value }, what)
  const withPoint = (list: Outline[], o: number, p: number, map: (point: PathPoint) => PathPoint | undefined) =>
    list.map((outline, i) =>
      i === o
        ? { ...outline, points: outline.points.flatMap((point, n) => (n === p ? (map(point) ?? []) : [point])) }
        : outline,
    )
  const drag = useDraftDrag<Held>({
    what: () => `the points of ${part.name}`,
    change: (held, at) => {
      const [dx, dy] = [at.dx / view.scale / w, at.dy / view.scale / h]
      const value = withPoint(held.from, held.outline, held.point, (point) => {
        if (held.grip === 'point') return { ...point, x: point.x + dx, y: point.y + dy }
        const old = point[held.grip] ?? [0, 0]
        const moved: [number, number] = [old[0] + dx, old[1] + dy]
        const other = held.grip === 'in' ? 'out' : 'in'
        const across = point[other]
        if (!point.smooth || !across) return { ...point, [held.grip]: moved }
        const [ox, oy] = opposite([moved[0] * w, moved[1] * h], [across[0] * w, across[1] * h])
        return { ...point, [held.grip]: moved, [other]: [ox / w, oy / h] }
      })
      return { kind: 'style', part: part.id, key: 'outlines', value }
    },
  })
  const grip = (o: number, p: number, kind: Grip, [x, y]: [number, number], label: string) => (
    <button
      key={`${o}.${p}.${kind}`}
      type="button"
      aria-label={label}
      aria-pressed={active?.[0] === o && active[1] === p}
      className={`absolute touch-none border border-madder ${kind === 'point' ? 'size-[9px] bg-white aria-pressed:bg-madder' : 'size-[8px] rounded-full bg-white'}`}
      style={{ left: x - 4.5, top: y - 4.5, cursor: 'move' }}
      onPointerDown={(event) => {
        event.stopPropagation()
        setActive([o, p])
        drag(event, { outline: o, point: p, grip: kind, from: outlines })
      }}
      onDoubleClick={(event) => {
        event.stopPropagation()
        if (kind === 'point')
          put(
            withPoint(outlines, o, p, (point) => turned(outlines[o]!, p, point)),
            'a point of the path',
          )
      }}
      onKeyDown={(event) => {
        if (event.key !== 'Delete' || kind !== 'point' || outlines[o]!.points.length < 3) return
        event.preventDefault()
        event.stopPropagation()
        put(
          withPoint(outlines, o, p, () => undefined),
          'removing a point',
        )
      }}
    />
  )
  return (
    <>
      {outlines.flatMap((outline, o) =>
        outline.points.slice(0, outline.closed ? undefined : -1).map((point, p) => {
          const next = outline.points[(p + 1) % outline.points.length]!
          const [a, b] = [px(point), px(next)]
          const middle: [number, number] = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2]
          return (
            <button
              key={`new ${o}.${p}`}
              type="button"
              tabIndex={-1}
              aria-label="Add a point here"
              title="Add a point here"
              className="absolute size-[7px] rounded-full border border-madder bg-white/70 opacity-60 hover:opacity-100"
              style={{ left: middle[0] - 3.5, top: middle[1] - 3.5, cursor: 'copy' }}
              onPointerDown={(event) => event.stopPropagation()}
              onClick={() => {
                const fresh = { x: (point.x + next.x) / 2, y: (point.y + next.y) / 2 }
                const points = [...outline.points.slice(0, p + 1), fresh, ...outline.points.slice(p + 1)]
                put(
                  outlines.map((other) => (other === outline ? { ...outline, points } : other)),
                  'adding a point',
                )
                setActive([o, p + 1])
              }}
            />
          )
        }),
      )}
      {outlines.flatMap((outline, o) =>
        outline.points.flatMap((point, p) => {
          const [x, y] = px(point)
          const isActive = active?.[0] === o && active[1] === p
          const handles = isActive
            ? (['in', 'out'] as const).flatMap((kind) => {
                const handle = point[kind]
                if (!handle) return []
                const to = px({ x: point.x + handle[0], y: point.y + handle[1] })
                return [
                  <svg
                    key={`${kind} line`}
                    className="pointer-events-none absolute inset-0 overflow-visible"
                    aria-hidden="true"
                  >
                    <path d={`M${x} ${y}L${to[0]} ${to[1]}`} stroke="#b4472e" />
                  </svg>,
                  grip(o, p, kind, to, `Handle ${kind === 'in' ? 'before' : 'after'} point ${p + 1}`),
                ]
              })
            : []
          return [...handles, grip(o, p, 'point', [x, y], `Point ${p + 1} of ${part.name}`)]
        }),
      )}
    </>
  )
}

/** A sharp point made smooth, with handles a quarter of the way to its neighbours; a smooth one made sharp. */
function turned(outline: Outline, p: number, point: PathPoint): PathPoint {
  const { in: _, out: __, smooth, ...bare } = point
  if (smooth || point.in || point.out) return bare
  const { points } = outline
  const before = points[(p + points.length - 1) % points.length]!
  const after = points[(p + 1) % points.length]!
  const [dx, dy] = [(after.x - before.x) / 4, (after.y - before.y) / 4]
  return { ...bare, in: [-dx, -dy], out: [dx, dy], smooth: true }
}
