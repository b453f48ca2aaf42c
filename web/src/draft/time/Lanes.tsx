import {
  deadKeysOf,
  deadKeysWords,
  type KeyframeRef,
  keysOf,
  lanesOf,
  moveKeys,
  room,
  sameKey,
  spanLength,
} from '@hoja/core/motion'
import { allParts, type Part, type SpanName, type Spans, type Template } from '@hoja/core/template'
import { ChevronDown, ChevronRight } from 'lucide-react'
import { memo, useState } from 'react'
import { useShallow } from 'zustand/react/shallow'
import { useDraft } from '../../session/draft.ts'
import { useDraftDrag } from '../../session/useDraftDrag.ts'
import { classes } from '../../ui/controls.tsx'
import { usePointerDrag } from '../../ui/usePointerDrag.ts'
import { chooseForMenu } from '../commandsNow.ts'
import { chooseAlso, chosenParts, useDesk } from '../desk.ts'
import { LaneGraph, reachOf } from './LaneGraph.tsx'
import { laneName } from './laneName.ts'
import { graphHeight, keyRoom, laneHeight, names } from './measures.ts'
import type { Ruler } from './ruler.ts'

const leaf = (x: number) => `M${x} 4q4.5 8 0 16q-4.5 -8 0 -16Z`

/** A part's lane: its keys as leaves, joined where it moves; opened, a lane for each channel. */
export const Lanes = memo(function Lanes({
  spans,
  part,
  number,
  r,
  width,
  open,
  onOpen,
}: {
  spans: Spans
  part: Part
  number: number
  r: Ruler
  width: number
  open: boolean
  onOpen: (id: string) => void
}) {
  const on = useDesk((desk) => desk.selected === part.id || desk.also.includes(part.id))
  const [graphs, setGraphs] = useState<ReadonlySet<string>>(new Set())
  const all = keysOf(part)
  const lanes = lanesOf(part)
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the menu that it opens is about this part
    <div
      className={classes('w-max border-b border-rule', on && 'bg-leaf-pale')}
      onContextMenu={() => chooseForMenu(part.id)}
    >
      <div className="flex" style={{ height: laneHeight }}>
        <span
          className={classes('sticky left-0 z-30 flex shrink-0 items-center', on ? 'bg-leaf-pale' : 'bg-paper')}
          style={{ width: names - keyRoom, marginRight: keyRoom }}
        >
          <button
            type="button"
            aria-label={`${open ? 'Close' : 'Open'} the channels of ${part.name}`}
            aria-expanded={open}
            disabled={lanes.length === 0}
            className="flex size-6 shrink-0 items-center justify-center text-soft disabled:opacity-0"
            onClick={() => onOpen(part.id)}
          >
            {open ? <ChevronDown size={13} aria-hidden="true" /> : <ChevronRight size={13} aria-hidden="true" />}
          </button>
          <button
            type="button"
            className={classes('h-6 min-w-0 flex-1 truncate text-left', on && 'font-semibold')}
            onClick={(event) => {
              const desk = useDesk.getState()
              if (event.shiftKey) chooseAlso(desk, part.id)
              else desk.set({ selected: part.id })
            }}
          >
            {number} {part.name}
          </button>
        </span>
        <Lane spans={spans} part={part} r={r} width={width} keys={all} on={on} name={part.name} />
      </div>
      {open &&
        lanes.map(({ lane, track }) => {
          const id = `${lane.set}${lane.channel}`
          const name = `${part.name}, ${laneName(lane)}`
          const drawn = graphs.has(id)
          const [low, high] = reachOf(lane, track)
          return (
            <div key={id} className="flex bg-paper" style={{ height: drawn ? graphHeight : laneHeight }}>
              <span
                className="sticky left-0 z-30 flex shrink-0 flex-col justify-between bg-paper pl-6 text-xs text-soft"
                style={{ width: names - keyRoom, marginRight: keyRoom }}
              >
                <button
                  type="button"
                  aria-label={`Graph of ${name}`}
                  title="Its values over time, where keys are dragged"
                  aria-expanded={drawn}
                  className="h-6 truncate pr-1 text-left hover:text-ink"
                  onClick={() => setGraphs((old) => toggled(old, id))}
                >
                  {laneName(lane)}
                </button>
                {drawn && (
                  <span className="pr-2 pb-1 text-right">
                    {shortNumber(low)} … {shortNumber(high)}
                  </span>
                )}
              </span>
              {drawn ? (
                <LaneGraph spans={spans} part={part} lane={lane} track={track} r={r} width={width} name={name} />
              ) : (
                <Lane
                  spans={spans}
                  part={part}
                  r={r}
                  width={width}
                  keys={track.keys.map(({ span, at }) => ({ ...lane, span, at }))}
                  on={on}
                  name={name}
                />
              )}
            </div>
          )
        })}
    </div>
  )
})

const shortNumber = (value: number) => String(Number(value.toFixed(2)))

/** A set with one entry more, or without it. */
export function toggled(of: ReadonlySet<string>, id: string): ReadonlySet<string> {
  const next = new Set(of)
  if (!next.delete(id)) next.add(id)
  return next
}

function Lane({
  spans,
  part,
  r,
  width,
  keys,
  on,
  name,
}: {
  spans: Spans
  part: Part
  r: Ruler
  width: number
  keys: KeyframeRef[]
  on: boolean
  name: string
}) {
  const { attempt } = useDraft.getState()
  // A lane is drawn anew only when keys of its own part are chosen or let go.
  const chosen = useDesk(useShallow((desk) => desk.keys.filter((key) => key.part === part.id)))
  const dragKeys = useDraftDrag<{ keys: KeyframeRef[]; span: SpanName; by: number; from?: Template }>({
    what: () => `the keys of ${part.name}`,
    change: (held, at, from) => {
      if (held.keys.length === 0) return undefined
      const length = Math.max(1, spanLength(from, held.span))
      const span = held.span === 'in' ? r.inWidth : held.span === 'out' ? r.outWidth : r.holdWidth
      const by = Math.round((at.dx / span) * length)
      // Keys meet those of other parts, and the span's own ends; Ctrl lets them pass.
      held.by = at.free ? by : snappedBy(from, held.keys, by, Math.floor((5 * length) / span))
      held.from = from
      return moveKeys(from, held.keys, held.by)
    },
    // The chosen keys are named by where they stand, so they are named anew after a move.
    end: ({ keys, by, from }, at) => {
      if (from) useDesk.getState().set({ keys: at ? movedRefs(from, keys, by) : keys })
    },
  })
  const sweep = usePointerDrag<{ left: number; from: number }>({
    move: () => {},
    end: ({ left, from }, at) => {
      const [a, b] = [from - left, at.x - left].sort((p, q) => p - q)
      const refs = keys.filter((key) => place(key) >= a! && place(key) <= b!)
      if (refs.length > 0) useDesk.getState().set({ selected: part.id, also: [], keys: refs })
    },
  })
  const end = spans.in + spans.hold.frames + spans.out
  const colour = on ? '#1f7a4d' : '#20261f'
  const place = ({ span, at }: { span: SpanName; at: number }) =>
    r.x(span === 'in' ? at : span === 'hold' ? spans.in + at : spans.in + spans.hold.frames + at)
  const times = new Map<string, KeyframeRef[]>()
  for (const key of keys) times.set(`${key.span} ${key.at}`, [...(times.get(`${key.span} ${key.at}`) ?? []), key])
  const leaves = [...times.values()].sort((a, b) => place(a[0]!) - place(b[0]!))
  // Those of a mirrored Out are In's own, so they are drawn hollow.
  const mirrored =
    part.motion.out === 'mirror'
      ? leaves
          .filter(([key]) => key!.span === 'in')
          .map(([key]) => r.x(end - (key!.at * spans.out) / Math.max(1, spans.in)))
      : []
  const joined = (list: number[]) =>
    list.length > 1 && <path d={`M${Math.min(...list)} 12H${Math.max(...list)}`} stroke={colour} strokeOpacity="0.5" />
  const bySpan = (span: SpanName) => leaves.filter(([key]) => key!.span === span).map(([key]) => place(key!))
  const dead = deadKeysOf(spans, part)
  /** Why none of some keys ever plays; undefined: one of them does. */
  const whyDead = (refs: KeyframeRef[]): string | undefined => {
    const found = refs.map((ref) =>
      dead.find(
        ({ channel, segments, keys: own }) =>
          channel === ref.channel &&
          segments === (ref.set === 'segments') &&
          own.some(({ span, at }) => span === ref.span && at === ref.at),
      ),
    )
    return found.every((one) => one !== undefined) ? found[0] && deadKeysWords(part.name, found[0]) : undefined
  }
  const isChosen = (refs: KeyframeRef[]) => refs.some((ref) => chosen.some((other) => sameKey(ref, other)))
  const grab = (refs: KeyframeRef[], event: React.PointerEvent<SVGElement>) => {
    event.stopPropagation()
    // For its menu a key is chosen, and not dragged.
    if (event.button !== 0) {
      if (!isChosen(refs)) useDesk.getState().set({ selected: part.id, keys: refs })
      return
    }
    ;(event.currentTarget.ownerSVGElement as SVGSVGElement).setPointerCapture(event.pointerId)
    const desk = useDesk.getState()
    const already = isChosen(refs)
    const next =
      event.shiftKey || event.ctrlKey || event.metaKey
        ? already
          ? desk.keys.filter((key) => !refs.some((ref) => sameKey(ref, key)))
          : [...desk.keys, ...refs]
        : already
          ? desk.keys
          : refs
    const parts = [...new Set(next.map((key) => key.part))]
    const known = chosenParts(desk)
    const kept = known.filter((id) => parts.includes(id))
    const order = [...kept, ...parts.filter((id) => !kept.includes(id))]
    desk.set(order.length > 0 ? { selected: order[0], also: order.slice(1), keys: next } : { keys: next })
    dragKeys(event, { keys: next, span: refs[0]!.span, by: 0 }, event.currentTarget.ownerSVGElement as SVGSVGElement)
  }
  return (
    <svg
      width={width}
      height={laneHeight}
      className="touch-none overflow-visible"
      onPointerDown={(event) => {
        if (event.button !== 0) return
        const { left } = event.currentTarget.getBoundingClientRect()
        sweep(event, { left, from: event.clientX })
      }}
      role="group"
      aria-label={`Keys of ${name}`}
    >
      {joined(bySpan('in'))}
      {joined(bySpan('hold'))}
      {joined(bySpan('out'))}
      {joined(mirrored)}
      {mirrored.map((x) => (
        <path key={`m${x}`} d={leaf(x)} fill="#fbfaf7" stroke={colour} />
      ))}
      {leaves.map((refs) => {
        const key = refs[0]!
        const picked = isChosen(refs)
        const why = whyDead(refs)
        return (
          <path
            key={`${key.span}${key.at}`}
            d={leaf(place(key))}
            fill={picked ? '#b4472e' : why ? '#fbfaf7' : colour}
            stroke={picked ? '#b4472e' : why ? '#8f5200' : 'none'}
            strokeWidth="1.5"
            strokeDasharray={why ? '2 2' : undefined}
            className="cursor-ew-resize"
            tabIndex={on ? 0 : -1}
            role="button"
            aria-pressed={picked}
            aria-label={`Keys of ${name} at ${key.span} ${key.at}`}
            onPointerDown={(event) => grab(refs, event)}
            onKeyDown={(event) => {
              const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
              const desk = useDesk.getState()
              if (event.key === 'Enter' || event.key === ' ') {
                event.preventDefault()
                event.stopPropagation()
                desk.set({ selected: part.id, keys: refs })
              } else if (by) {
                event.preventDefault()
                event.stopPropagation()
                const moving = picked ? desk.keys : refs
                const step = by * (event.shiftKey ? 10 : 1)
                const before = useDraft.getState().template!
                if (attempt((now) => moveKeys(now, moving, step), `the keys of ${part.name}`))
                  desk.set({ keys: movedRefs(before, moving, step) })
              }
            }}
          >
            <title>{why ?? `${part.name}: ${key.span} ${key.at}`}</title>
          </path>
        )
      })}
    </svg>
  )
}

/** A move of keys that brings one of them onto a key that stays, or to an end of its span, where one is near. `reach`: frames. */
function snappedBy(from: Template, keys: readonly KeyframeRef[], by: number, reach: number): number {
  const moved = (key: KeyframeRef) => keys.some((other) => sameKey(key, other))
  const staying = allParts(from.parts).flatMap((part) => keysOf(part).filter((key) => !moved(key)))
  if (reach < 1 || by === 0) return by
  let best = by
  let least = reach + 1
  for (const key of keys) {
    const near = staying.filter(({ span }) => span === key.span).map(({ at }) => at)
    for (const at of [...near, 0, spanLength(from, key.span)]) {
      const off = Math.abs(at - key.at - by)
      // A key is not held where it was.
      if (off < least && at !== key.at) [best, least] = [at - key.at, off]
    }
  }
  return best
}

/** Keys by where they stand after a move. */
function movedRefs(from: Template, keys: KeyframeRef[], by: number): KeyframeRef[] {
  const step = room(from, keys, by)
  return keys.map((key) => ({ ...key, at: key.at + step }))
}
