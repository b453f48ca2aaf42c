import {
  copyKeys,
  gatherFirstKeys,
  type KeyRef,
  keysOf,
  lanesOf,
  moveKeys,
  offsetKeys,
  pasteKeys,
  removeKeys,
  resetMotion,
  reverseKeys,
  room,
  sameKey,
  spanLength,
  spreadKeys,
  stagger,
  withOut,
} from '@hoja/core/motion'
import { findPart, numberedParts, type Part, type SpanName, type Spans, type Template } from '@hoja/core/template'
import { secondsOf, timecodeOf } from '@hoja/core/time'
import { ChevronDown, ChevronRight, Play, Repeat, Square } from 'lucide-react'
import { memo, useCallback, useMemo, useRef, useState } from 'react'
import { useShallow } from 'zustand/react/shallow'
import type { Player } from '../../preview/usePlayer.ts'
import { useDraft } from '../../session/draft.ts'
import { Button, classes, NumberInput, Select } from '../../ui/controls.tsx'
import { Menu } from '../../ui/Menu.tsx'
import { Strip } from '../../ui/Strip.tsx'
import { useSize } from '../../ui/useSize.ts'
import { chooseAlso, chosenParts, useDesk } from '../desk.ts'
import { laneName } from './laneName.ts'
import { type Ruler, ruler } from './ruler.ts'
import { SoundLanes } from './SoundLanes.tsx'
import { clippedSpans, spanAt } from './spans.ts'

const names = 112
const laneHeight = 24

/** How the parts get there: In, Hold and Out over the lanes with their keys. */
export function TimeView({ template, player }: { template: Template; player: Player }) {
  const { attempt } = useDraft()
  const [ref, size] = useSize<HTMLDivElement>()
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set())
  const { spans, frame } = template
  const width = Math.max(120, size.width - names - 14)
  const r = useMemo(() => ruler(spans, width), [spans, width])
  const toggle = useCallback(
    (id: string) =>
      setOpen((old) => {
        const next = new Set(old)
        if (!next.delete(id)) next.add(id)
        return next
      }),
    [],
  )
  const total = spans.in + spans.hold.frames + spans.out
  const putSpans = (more: Partial<Spans>, what: string, drag?: string) =>
    attempt((now) => clippedSpans(now, { ...now.spans, ...more }), what, drag)
  const scrub = (event: React.PointerEvent) => {
    if (event.type === 'pointermove' && event.buttons === 0) return
    const box = event.currentTarget.getBoundingClientRect()
    player.setSpeed(0)
    player.go(Math.min(total - 1, Math.max(0, r.frame(event.clientX - box.left))))
  }
  const looped = player.loop !== undefined
  const loopSpan = () => {
    const { span } = spanAt(spans, player.frame)
    const from = span === 'in' ? 0 : span === 'hold' ? spans.in : spans.in + spans.hold.frames
    player.setLoop(looped ? undefined : [from, from + spanLength(template, span)])
  }
  return (
    <section ref={ref} className="flex min-h-0 min-w-0 flex-col overflow-hidden" aria-label="Time">
      <div className="flex h-[34px] shrink-0 items-center gap-1 border-b border-rule px-2">
        <Button
          small
          className="!px-1.5"
          aria-label={player.speed ? 'Stop' : 'Play'}
          title={player.speed ? 'Stop' : 'Play'}
          onClick={player.toggle}
        >
          {player.speed ? <Square size={12} aria-hidden="true" /> : <Play size={12} aria-hidden="true" />}
        </Button>
        <Button
          small
          aria-pressed={Math.abs(player.pace) < 1}
          className={classes('!px-1', player.pace < 1 && '!bg-leaf-pale')}
          title="Play at half speed"
          onClick={() => player.setPace(player.pace === 1 ? 0.5 : 1)}
        >
          ½
        </Button>
        <Button
          small
          aria-pressed={looped}
          aria-label="Loop the span under the playhead"
          title="Loop the span under the playhead"
          className={classes('!px-1', looped && '!bg-leaf-pale')}
          onClick={loopSpan}
        >
          <Repeat size={13} aria-hidden="true" />
        </Button>
        <span className="w-[70px] shrink-0 text-xs font-medium" title={`Frame ${player.frame}`}>
          {timecodeOf(player.frame, frame.rate)}
        </span>
        {(['in', 'hold', 'out'] as const).map((span) => (
          <span key={span} className="flex items-center gap-0.5 text-xs text-soft">
            {span[0]!.toUpperCase() + span.slice(1)}
            <NumberInput
              className="!h-6 !w-[30px] !px-1 !text-xs"
              aria-label={`${span}, frames`}
              min={span === 'hold' ? 1 : 0}
              max={10000}
              value={span === 'hold' ? spans.hold.frames : spans[span]}
              onValue={(n) =>
                putSpans(
                  span === 'hold' ? { hold: { ...spans.hold, frames: Math.round(n) } } : { [span]: Math.round(n) },
                  `the length of ${span}`,
                )
              }
            />
          </span>
        ))}
        <Select
          aria-label="What Hold does"
          className="!h-6 !w-[62px] shrink-0 !px-0 text-xs"
          value={spans.hold.gives}
          options={[
            ['freeze', 'freezes'],
            ['loop', 'loops'],
            ['stretch', 'stretches'],
          ]}
          onChange={(event) =>
            putSpans({ hold: { ...spans.hold, gives: event.target.value as Spans['hold']['gives'] } }, 'what Hold does')
          }
        />
        <KeyMenu template={template} player={player} />
      </div>
      <div className="relative min-h-0 flex-1 overflow-auto">
        <div className="sticky top-0 z-10 bg-paper pt-1.5" style={{ paddingLeft: names, paddingRight: 14 }}>
          <div className="relative h-4 text-xs text-soft">
            <span className="absolute left-0">0</span>
            <span className="absolute -translate-x-1/2" style={{ left: r.inWidth }}>
              {spans.in}
            </span>
            <span className="absolute -translate-x-1/2 whitespace-nowrap" style={{ left: r.inWidth + r.holdWidth / 2 }}>
              {r.holdWidth > 120 && `hold ${secondsOf(spans.hold.frames, frame.rate).toFixed(1)} s, gives`}
            </span>
            <span className="absolute -translate-x-1/2" style={{ left: r.inWidth + r.holdWidth }}>
              −{spans.out}
            </span>
            <span className="absolute right-0">end</span>
          </div>
          <div className="relative" style={{ width }}>
            <div
              className="touch-none"
              style={{ cursor: 'ew-resize' }}
              onPointerDown={(event) => {
                event.currentTarget.setPointerCapture(event.pointerId)
                scrub(event)
              }}
              onPointerMove={scrub}
            >
              <Strip
                spans={{ in: r.inWidth, hold: r.holdWidth, out: r.outWidth }}
                height={24}
                names={[`In ${spans.in} f`, `Out ${spans.out} f`]}
              />
            </div>
            <SpanEdges spans={spans} r={r} onSpans={putSpans} />
          </div>
        </div>
        {numberedParts(template).map(({ part, number }) => (
          <Lanes
            key={part.id}
            spans={spans}
            part={part}
            number={number}
            r={r}
            width={width}
            open={open.has(part.id)}
            onOpen={toggle}
          />
        ))}
        <SoundLanes template={template} r={r} names={names} height={laneHeight} />
        <div
          className="pointer-events-none absolute top-5 bottom-0 z-20 w-px bg-madder"
          style={{ left: Math.round(names + r.x(Math.min(total, player.frame))) }}
        >
          <span className="absolute -top-[3px] -left-[4px] border-x-[4.5px] border-t-[6px] border-x-transparent border-t-madder" />
        </div>
      </div>
      <Several template={template} player={player} />
    </section>
  )
}

/** The ends of In, Out and the whole title, dragged to make In, Out and Hold longer or shorter. */
function SpanEdges({
  spans,
  r,
  onSpans,
}: {
  spans: Spans
  r: Ruler
  onSpans: (more: Partial<Spans>, what: string, drag?: string) => void
}) {
  const held = useRef<{ x: number; frames: number; perFrame: number; name: string } | undefined>(undefined)
  const edges = [
    { span: 'in', name: 'In', at: r.inWidth, grow: 1, width: r.inWidth, frames: spans.in },
    { span: 'out', name: 'Out', at: r.inWidth + r.holdWidth, grow: -1, width: r.outWidth, frames: spans.out },
    {
      span: 'hold',
      name: 'Hold',
      at: r.inWidth + r.holdWidth + r.outWidth,
      grow: 1,
      width: r.holdWidth,
      frames: spans.hold.frames,
    },
  ] as const
  return edges.map(({ span, name, at, grow, width, frames }) => {
    const put = (next: number, drag?: string) =>
      onSpans(
        span === 'hold' ? { hold: { ...spans.hold, frames: Math.max(1, next) } } : { [span]: Math.max(0, next) },
        `the length of ${name}`,
        drag,
      )
    return (
      <button
        key={span}
        type="button"
        aria-label={`Drag to make ${name} longer or shorter`}
        title={`Drag to make ${name} longer or shorter`}
        className="absolute top-0 h-6 w-2 touch-none"
        style={{ left: at - 4, cursor: 'col-resize' }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId)
          const perFrame = Math.max(2, width / Math.max(1, frames))
          held.current = { x: event.clientX, frames, perFrame, name: `span ${event.timeStamp}` }
        }}
        onPointerMove={(event) => {
          const now = held.current
          if (!now || event.buttons === 0) return
          put(now.frames + Math.round((grow * (event.clientX - now.x)) / now.perFrame), now.name)
        }}
        onPointerUp={() => {
          held.current = undefined
        }}
        onKeyDown={(event) => {
          const by = { ArrowLeft: -grow, ArrowRight: grow }[event.key]
          if (by === undefined) return
          event.preventDefault()
          event.stopPropagation()
          put(frames + by * (event.shiftKey ? 10 : 1))
        }}
      />
    )
  })
}

const leaf = (x: number) => `M${x} 4q4.5 8 0 16q-4.5 -8 0 -16Z`

/** A part's lane: its keys as leaves, joined where it moves; opened, a lane for each channel. */
const Lanes = memo(function Lanes({
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
  const all = keysOf(part)
  const lanes = lanesOf(part)
  return (
    <div className={classes('border-b border-rule', on && 'bg-leaf-pale')}>
      <div className="flex" style={{ height: laneHeight }}>
        <span className="flex shrink-0 items-center" style={{ width: names }}>
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
        lanes.map(({ lane, track }) => (
          <div key={`${lane.set}${lane.channel}`} className="flex bg-paper" style={{ height: laneHeight }}>
            <span className="shrink-0 truncate pl-6 text-xs leading-6 text-soft" style={{ width: names }}>
              {laneName(lane)}
            </span>
            <Lane
              spans={spans}
              part={part}
              r={r}
              width={width}
              keys={track.keys.map(({ span, at }) => ({ ...lane, span, at }))}
              on={on}
              name={`${part.name}, ${laneName(lane)}`}
            />
          </div>
        ))}
    </div>
  )
})

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
  keys: KeyRef[]
  on: boolean
  name: string
}) {
  const { attempt } = useDraft.getState()
  // A lane is drawn anew only when keys of its own part are chosen or let go.
  const chosen = useDesk(useShallow((desk) => desk.keys.filter((key) => key.part === part.id)))
  const held = useRef<{ x: number; from: Template; keys: KeyRef[]; span: SpanName; name: string } | undefined>(
    undefined,
  )
  const sweep = useRef<number | undefined>(undefined)
  const end = spans.in + spans.hold.frames + spans.out
  const colour = on ? '#1f7a4d' : '#20261f'
  const place = ({ span, at }: { span: SpanName; at: number }) =>
    r.x(span === 'in' ? at : span === 'hold' ? spans.in + at : spans.in + spans.hold.frames + at)
  const times = new Map<string, KeyRef[]>()
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
  const isChosen = (refs: KeyRef[]) => refs.some((ref) => chosen.some((other) => sameKey(ref, other)))
  const grab = (refs: KeyRef[], event: React.PointerEvent<SVGElement>) => {
    event.stopPropagation()
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
    held.current = {
      x: event.clientX,
      from: useDraft.getState().template!,
      keys: next,
      span: refs[0]!.span,
      name: `keys ${event.timeStamp}`,
    }
  }
  const drag = (event: React.PointerEvent<SVGSVGElement>) => {
    if (event.buttons === 0) return
    const now = held.current
    if (!now || now.keys.length === 0) return
    const length = Math.max(1, spanLength(now.from, now.span))
    const span = now.span === 'in' ? r.inWidth : now.span === 'out' ? r.outWidth : r.holdWidth
    const by = Math.round(((event.clientX - now.x) / span) * length)
    // From where they stood when the drag began, so that rounding does not add up.
    attempt(() => moveKeys(now.from, now.keys, by), `the keys of ${part.name}`, now.name)
  }
  const release = (event: React.PointerEvent<SVGSVGElement>) => {
    const now = held.current
    held.current = undefined
    if (now) {
      // The chosen keys are named by where they stand, so they are named anew after a move.
      const length = Math.max(1, spanLength(now.from, now.span))
      const span = now.span === 'in' ? r.inWidth : now.span === 'out' ? r.outWidth : r.holdWidth
      const by = Math.round(((event.clientX - now.x) / span) * length)
      useDesk.getState().set({ keys: movedRefs(now.from, now.keys, by) })
    }
    if (sweep.current !== undefined) {
      const box = event.currentTarget.getBoundingClientRect()
      const [a, b] = [sweep.current, event.clientX - box.left].sort((p, q) => p - q)
      sweep.current = undefined
      const refs = keys.filter((key) => place(key) >= a! && place(key) <= b!)
      if (refs.length > 0) useDesk.getState().set({ selected: part.id, also: [], keys: refs })
    }
  }
  return (
    <svg
      width={width}
      height={laneHeight}
      className="touch-none overflow-visible"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId)
        sweep.current = event.clientX - event.currentTarget.getBoundingClientRect().left
      }}
      onPointerMove={drag}
      onPointerUp={release}
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
        return (
          <path
            key={`${key.span}${key.at}`}
            d={leaf(place(key))}
            fill={picked ? '#b4472e' : colour}
            stroke={picked ? '#b4472e' : 'none'}
            strokeWidth="1.5"
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
            <title>{`${part.name}: ${key.span} ${key.at}`}</title>
          </path>
        )
      })}
    </svg>
  )
}

/** Keys by where they stand after a move. */
function movedRefs(from: Template, keys: KeyRef[], by: number): KeyRef[] {
  const step = room(from, keys, by)
  return keys.map((key) => ({ ...key, at: key.at + step }))
}

/** What can be done with chosen keys and the motion of chosen parts. */
function KeyMenu({ template, player }: { template: Template; player: Player }) {
  const desk = useDesk()
  const { attempt } = useDraft()
  const { keys } = desk
  const parts = chosenParts(desk)
  const here = spanAt(template.spans, player.frame)
  const none = keys.length === 0
  const out = (to: Part['motion']['out']) =>
    attempt(
      (now) => ({
        kind: 'several',
        changes: parts.map((id) => ({
          kind: 'motion',
          part: id,
          motion: withOut(findPart(now, id)!.motion, now.spans, to),
        })),
      }),
      to === 'mirror' ? 'mirroring Out' : 'letting Out go',
    )
  return (
    <span className="ml-auto">
      <Menu
        label="Keys"
        align="end"
        className="!text-leaf"
        entries={() => [
          none ? 'No keys are chosen' : `${keys.length} keys chosen`,
          {
            label: 'Copy',
            disabled: none,
            onSelect: () => desk.set({ copiedKeys: copyKeys(template, keys) }),
          },
          {
            label: `Paste at frame ${player.frame} on the chosen part`,
            disabled: desk.copiedKeys.length === 0 || !desk.selected,
            onSelect: () =>
              attempt((now) => pasteKeys(now, desk.copiedKeys, desk.selected!, here.span, here.at), 'pasting keys'),
          },
          {
            label: 'Reverse in time',
            disabled: none,
            onSelect: () => attempt((now) => reverseKeys(now, keys), 'reversing keys') && desk.set({ keys: [] }),
          },
          {
            label: 'Remove',
            disabled: none,
            onSelect: () => attempt((now) => removeKeys(now, keys), 'removing keys') && desk.set({ keys: [] }),
          },
          null,
          parts.length === 0 ? 'No parts are chosen' : `${parts.length} parts chosen`,
          {
            label: 'All its keys',
            disabled: parts.length === 0,
            onSelect: () => desk.set({ keys: parts.flatMap((id) => keysOf(findPart(template, id)!)) }),
          },
          {
            label: `First keys to frame ${here.span === 'in' ? here.at : 0}`,
            disabled: parts.length === 0,
            onSelect: () =>
              attempt(
                (now) => gatherFirstKeys(now, parts, here.span === 'in' ? here.at : 0),
                'first keys to one frame',
              ),
          },
          { label: 'Out mirrors In', disabled: parts.length === 0, onSelect: () => out('mirror') },
          { label: 'Out has keys of its own', disabled: parts.length === 0, onSelect: () => out('own') },
          {
            label: 'Reset the motion',
            disabled: parts.length === 0,
            onSelect: () => attempt((now) => resetMotion(now, parts), 'resetting motion') && desk.set({ keys: [] }),
          },
        ]}
      >
        Keys <ChevronDown size={12} aria-hidden="true" />
      </Menu>
    </span>
  )
}

/** Under the lanes, when several parts or keys are chosen: stagger, offset, spread. */
function Several({ template, player }: { template: Template; player: Player }) {
  const desk = useDesk()
  const { attempt } = useDraft()
  const [apart, setApart] = useState(3)
  const parts = chosenParts(desk)
  const times = new Set(desk.keys.map((key) => `${key.part}${key.span}${key.at}`))
  if (parts.length < 2 && times.size < 2) return null
  const staggered = (ids: string[]) => attempt((now) => stagger(now, ids, apart), 'a stagger')
  const { keys } = desk
  return (
    <div className="flex shrink-0 flex-wrap items-center gap-1.5 border-t border-rule px-3 py-1">
      <span className="whitespace-nowrap text-soft">
        {parts.length > 1 ? `${parts.length} parts,` : `${times.size} keys,`}
      </span>
      <NumberInput
        aria-label="Frames apart"
        className="!h-6 !w-10"
        min={0}
        max={1000}
        value={apart}
        onValue={(n) => setApart(Math.round(n))}
      />
      <span className="whitespace-nowrap text-soft">frames{parts.length > 1 ? ' apart' : ''}</span>
      {parts.length > 1 && (
        <>
          <Button small onClick={() => staggered(parts)}>
            Stagger
          </Button>
          <Button small onClick={() => staggered([...parts].reverse())}>
            Stagger backwards
          </Button>
          <Button
            small
            disabled={keys.length === 0}
            onClick={() => attempt((now) => offsetKeys(now, keys, apart), 'offsetting keys') && desk.set({ keys: [] })}
          >
            Offset keys
          </Button>
          <Button
            small
            onClick={() =>
              attempt(
                (now) => gatherFirstKeys(now, parts, Math.min(player.frame, template.spans.in)),
                'first keys to one frame',
              )
            }
          >
            First keys here
          </Button>
        </>
      )}
      {times.size > 1 && (
        <Button
          small
          onClick={() => attempt((now) => spreadKeys(now, keys, apart), 'spreading keys') && desk.set({ keys: [] })}
        >
          Spread over {apart}
        </Button>
      )}
    </div>
  )
}
