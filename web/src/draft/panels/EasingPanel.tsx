import { eased, easePresets, type KeyframeRef, keysOf, lanesOf, sameKey, setKeys } from '@hoja/core/motion'
import { type Change, described, type Ease, type Keyframe, type Part, type Template } from '@hoja/core/template'
import { useState } from 'react'
import { useDraft } from '../../session/draft.ts'
import { useDraftDrag } from '../../session/useDraftDrag.ts'
import { Choice } from '../../ui/Choice.tsx'
import { classes, Select } from '../../ui/controls.tsx'
import { NumberInput } from '../../ui/NumberInput.tsx'
import { useDesk } from '../desk.ts'
import { type Bezier, bezierOf, limit, short, speedAt, speedsOf } from './easingSpeeds.ts'

type ViewOf = 'value' | 'speed'
const area = { width: 236, height: 168, left: 34, top: 18, right: 10, bottom: 22 }
const inner = { width: area.width - area.left - area.right, height: area.height - area.top - area.bottom }

/** The keys whose easing is edited: those chosen in the time view, else all of the part that lead anywhere. */
function editedKeys(part: Part, chosen: readonly KeyframeRef[]): KeyframeRef[] {
  const mine = chosen.filter((key) => key.part === part.id)
  return mine.length > 0 ? mine : keysOf(part)
}

/** Keys with what leads from them: the last of a span leads nowhere. */
function leading(part: Part, refs: readonly KeyframeRef[]): { ref: KeyframeRef; key: Keyframe; next: Keyframe }[] {
  return lanesOf(part).flatMap(({ lane, track }) =>
    track.keys.flatMap((key, i) => {
      const next = track.keys[i + 1]
      const ref = { ...lane, span: key.span, at: key.at }
      return next?.span === key.span && refs.some((other) => sameKey(other, ref)) ? [{ ref, key, next }] : []
    }),
  )
}

/** How keys lead to the next: presets, and the curve itself, seen as value or as speed. CSS Easing Functions Level 2. */
export function EasingPanel({ part }: { part: Part }) {
  const { attempt } = useDraft.getState()
  const desk = useDesk()
  const [view, setView] = useState<ViewOf>('value')
  const ways = leading(part, editedKeys(part, desk.keys))
  const [first] = ways
  if (!first)
    return (
      <p className="px-4 py-5 text-soft">
        No keys of {part.name} lead from one to another yet. Put a move on it, or set two keys on a channel.
      </p>
    )
  const { ease } = first.key
  const alike = ways.every(({ key }) => JSON.stringify(key.ease) === JSON.stringify(ease))
  const refs = ways.map(({ ref }) => ref)
  const what = `the easing of ${part.name}`
  const withEase = (value: Ease) => (now: Template) => setKeys(now, refs, { ease: value })
  const put = (value: Ease, gesture?: string) => attempt(withEase(value), what, gesture)
  const kind = ease === 'linear' ? 'even' : 'bezier' in ease ? 'curve' : 'steps' in ease ? 'steps' : 'points'
  const setKind = (next: string) => {
    if (next === 'even') put('linear')
    else if (next === 'curve') put({ bezier: [0.42, 0, 0.58, 1] })
    else if (next === 'steps') put({ steps: 4, jump: 'end' })
    else
      put({
        points: [
          [0, 0],
          [0.5, 0.7],
          [1, 1],
        ],
      })
  }
  return (
    <div className="flex gap-3 px-3.5 py-2">
      <div className="shrink-0" style={{ width: area.width }}>
        <div className="flex items-center justify-between">
          <Choice
            label="What the curve shows"
            value={view}
            options={[
              ['value', 'value'],
              ['speed', 'speed'],
            ]}
            onValue={setView}
          />
          <Select
            aria-label="Kind of easing"
            className="!h-6 !w-24 text-xs"
            value={kind}
            options={[
              ['even', 'even'],
              ['curve', 'curve'],
              ['steps', 'steps'],
              ['points', 'points'],
            ]}
            onChange={(event) => setKind(event.target.value)}
          />
        </div>
        <Curve ease={ease} view={view} way={first} what={what} change={withEase} onEase={put} />
        {typeof ease === 'object' && 'bezier' in ease && (
          <div className="grid grid-cols-4 gap-1">
            {ease.bezier.map((value, i) => (
              <NumberInput
                key={i}
                aria-label={
                  [
                    'x of the first handle',
                    'y of the first handle',
                    'x of the second handle',
                    'y of the second handle',
                  ][i]!
                }
                title={['x1', 'y1', 'x2', 'y2'][i]!}
                className="!h-6 text-xs"
                bounds={i % 2 === 0 ? described.across : described.slope}
                value={value}
                onValue={(v) =>
                  put({ bezier: ease.bezier.map((old, n) => (n === i ? v : old)) as Bezier }, 'ease number')
                }
              />
            ))}
          </div>
        )}
        {typeof ease === 'object' && 'steps' in ease && (
          <div className="flex gap-1">
            <NumberInput
              aria-label="Steps"
              className="!h-6 !w-14"
              bounds={described.steps}
              value={ease.steps}
              onValue={(steps) => put({ ...ease, steps })}
            />
            <Select
              aria-label="Where steps jump"
              className="!h-6 text-xs"
              value={ease.jump}
              options={[
                ['start', 'jump at the start'],
                ['end', 'jump at the end'],
                ['none', 'hold both ends'],
                ['both', 'jump at both'],
              ]}
              onChange={(event) => put({ ...ease, jump: event.target.value as 'end' })}
            />
          </div>
        )}
        <p className="mt-1 text-xs text-soft">
          {ways.length === 1 ? 'One key' : `${ways.length} keys`}
          {alike ? '' : ', not all alike: a change makes them so'}
        </p>
      </div>
      <div className="min-w-0 flex-1">
        <h3 className="pb-1 text-xs font-medium text-soft">Presets</h3>
        <div className="grid grid-cols-2 gap-1">
          {easePresets.map((preset) => {
            const on = alike && JSON.stringify(preset.ease) === JSON.stringify(ease)
            return (
              <button
                key={preset.id}
                type="button"
                aria-pressed={on}
                onClick={() => put(preset.ease)}
                className={classes(
                  'flex items-center gap-1.5 border px-1.5 py-1 text-left text-xs',
                  on ? 'border-leaf bg-leaf-pale font-semibold' : 'border-rule bg-white hover:border-soft',
                )}
              >
                <svg viewBox="-2 -6 24 32" width="18" height="24" aria-hidden="true">
                  <path
                    d={sampled(preset.ease, 24)}
                    transform="translate(0 20) scale(20 -20)"
                    fill="none"
                    stroke="#1f7a4d"
                    strokeWidth="0.09"
                  />
                </svg>
                {preset.name}
              </button>
            )
          })}
        </div>
      </div>
    </div>
  )
}

/** An easing as a polyline in the unit square. */
function sampled(ease: Ease, count: number): string {
  return Array.from({ length: count + 1 }, (_, i) => `${i ? 'L' : 'M'}${i / count} ${eased(ease, i / count)}`).join('')
}

function Curve({
  ease,
  view,
  way,
  what,
  change,
  onEase,
}: {
  ease: Ease
  view: ViewOf
  way: { key: Keyframe; next: Keyframe }
  /** Names the step for undo. */
  what: string
  /** The change that an easing comes to. */
  change: (ease: Ease) => (from: Template) => Change
  onEase: (ease: Ease, gesture?: string) => void
}) {
  const samples = Array.from({ length: 81 }, (_, i) => {
    const x = i / 80
    return [x, view === 'value' ? eased(ease, x) : speedAt(ease, x)] as [number, number]
  })
  const bezier = typeof ease === 'object' && 'bezier' in ease ? ease.bezier : undefined
  const speeds = bezier && speedsOf(bezier)
  const points = typeof ease === 'object' && 'points' in ease ? ease.points : undefined
  const all = samples.map(([, y]) => y)
  const handlesY = !bezier
    ? []
    : view === 'value'
      ? [bezier[1], bezier[3]]
      : [speeds!.leave, speeds!.arrive].map((v) => limit(v, -6, 6))
  const low = Math.min(0, ...all, ...handlesY)
  const high = Math.max(view === 'value' ? 1 : 1.5, ...all.map((y) => limit(y, -6, 6)), ...handlesY)
  const sx = (x: number) => area.left + x * inner.width
  const sy = (y: number) => area.top + (1 - (limit(y, low, high) - low) / (high - low)) * inner.height
  const at = (svg: Element, x: number, y: number): [number, number] => {
    const box = svg.getBoundingClientRect()
    const [px, py] = [x - box.left, y - box.top]
    return [limit((px - area.left) / inner.width, 0, 1), low + (1 - (py - area.top) / inner.height) * (high - low)]
  }
  const withHandle = (index: 0 | 1, x: number, y: number): Ease => {
    if (view === 'value') {
      const next = [...bezier!] as Bezier
      next[index * 2] = short(x)
      next[index * 2 + 1] = short(limit(y, -2, 3))
      return { bezier: next }
    }
    const next =
      index === 0
        ? { ...speeds!, leave: limit(y, -6, 6), before: Math.max(0.02, x) }
        : { ...speeds!, arrive: limit(y, -6, 6), after: Math.max(0.02, 1 - x) }
    return { bezier: bezierOf(next) }
  }
  const withPoint = (list: readonly [number, number][], i: number, x: number, y: number): Ease => {
    const [least, most] = [list[i - 1]?.[0] ?? 0, list[i + 1]?.[0] ?? 1]
    const fixed = i === 0 ? 0 : i === list.length - 1 ? 1 : limit(x, least, most)
    return { points: list.map((p, n): [number, number] => (n === i ? [short(fixed), short(y)] : p)) }
  }
  const drag = useDraftDrag<{ svg: Element; handle?: 0 | 1; point?: number }>({
    what: () => what,
    change: ({ svg, handle, point }, to, from) => {
      const [x, y] = at(svg, to.x, to.y)
      return change(handle === undefined ? withPoint(points!, point!, x, y) : withHandle(handle, x, y))(from)
    },
  })
  const nudge = (index: 0 | 1, event: React.KeyboardEvent) => {
    const step = event.shiftKey ? 0.1 : 0.01
    const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[event.key]
    if (!by || !bezier) return
    event.preventDefault()
    event.stopPropagation()
    const next = [...bezier] as Bezier
    next[index * 2] = short(limit(next[index * 2]! + by[0]!, 0, 1))
    next[index * 2 + 1] = short(next[index * 2 + 1]! + by[1]!)
    onEase({ bezier: next }, `nudge ${index}`)
  }
  const handle = (index: 0 | 1) => {
    if (!bezier) return null
    const end: [number, number] =
      index === 0 ? [0, view === 'value' ? 0 : speeds!.leave] : [1, view === 'value' ? 1 : speeds!.arrive]
    const point: [number, number] =
      view === 'value'
        ? [bezier[index * 2]!, bezier[index * 2 + 1]!]
        : index === 0
          ? [speeds!.before, speeds!.leave]
          : [1 - speeds!.after, speeds!.arrive]
    return (
      <g key={index}>
        <path d={`M${sx(end[0])} ${sy(end[1])}L${sx(point[0])} ${sy(point[1])}`} stroke="#b4472e" />
        <circle
          cx={sx(point[0])}
          cy={sy(point[1])}
          r="6"
          fill="#fff"
          stroke="#b4472e"
          strokeWidth="1.5"
          tabIndex={0}
          role="slider"
          aria-label={index === 0 ? 'Handle that leaves' : 'Handle that arrives'}
          aria-valuenow={point[1]}
          aria-valuetext={`${short(point[0])}, ${short(point[1])}`}
          className="cursor-move touch-none"
          onPointerDown={(event) => drag(event, { svg: event.currentTarget.ownerSVGElement!, handle: index })}
          onKeyDown={(event) => nudge(index, event)}
        />
      </g>
    )
  }
  return (
    <svg
      width={area.width}
      height={area.height}
      className="mt-1 block border border-rule bg-white select-none"
      role="group"
      aria-label={`Easing as ${view}`}
      onDoubleClick={(event) => {
        if (!points || view !== 'value') return
        const [x, y] = at(event.currentTarget, event.clientX, event.clientY)
        onEase({ points: [...points, [short(x), short(y)] as [number, number]].sort((a, b) => a[0] - b[0]) })
      }}
    >
      {[0, 1].map((y) => (
        <g key={y}>
          <path d={`M${area.left} ${sy(y)}H${area.width - area.right}`} stroke="#d9d6cc" />
          <text x={area.left - 5} y={sy(y) + 4} textAnchor="end" fontSize="10" fill="#5b6459">
            {view === 'value' ? short(y === 0 ? way.key.value : way.next.value) : y === 0 ? '0' : 'mean'}
          </text>
        </g>
      ))}
      <path d={`M${area.left} ${area.top}V${area.height - area.bottom}`} stroke="#d9d6cc" />
      <path d={`M${sx(1)} ${area.top}V${area.height - area.bottom}`} stroke="#d9d6cc" />
      <text x={sx(0)} y={area.height - 7} fontSize="10" fill="#5b6459">
        {way.key.at}
      </text>
      <text x={sx(1)} y={area.height - 7} textAnchor="end" fontSize="10" fill="#5b6459">
        {way.next.at}
      </text>
      <path
        d={samples.map(([x, y], i) => `${i ? 'L' : 'M'}${sx(x)} ${sy(y)}`).join('')}
        fill="none"
        stroke="#1f7a4d"
        strokeWidth="2"
      />
      {handle(0)}
      {handle(1)}
      {view === 'value' &&
        points?.map(([x, y], i) => (
          <circle
            key={i}
            cx={sx(x)}
            cy={sy(y)}
            r="5"
            fill="#fff"
            stroke="#b4472e"
            strokeWidth="1.5"
            tabIndex={0}
            role="slider"
            aria-label={`Point ${i + 1} of the easing`}
            aria-valuenow={y}
            className="cursor-move touch-none"
            onPointerDown={(event) => drag(event, { svg: event.currentTarget.ownerSVGElement!, point: i })}
            onKeyDown={(event) => {
              if (event.key === 'Delete' && points.length > 2) {
                event.stopPropagation()
                onEase({ points: points.filter((_, n) => n !== i) })
              }
            }}
          />
        ))}
    </svg>
  )
}
