import { keysOf, spanLength } from '@hoja/core/motion'
import { numberedParts, type Part, type Spans } from '@hoja/core/template'
import { lengthText, secondsOf } from '@hoja/core/time'
import { ChevronDown, Play, Repeat, Square } from 'lucide-react'
import { memo, useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react'
import { useShallow } from 'zustand/react/shallow'
import type { Player } from '../../preview/usePlayer.ts'
import { useDraft } from '../../session/draft.ts'
import { Button, classes, Select } from '../../ui/controls.tsx'
import { LengthInput } from '../../ui/FrameInputs.tsx'
import { Menu, MenuHere } from '../../ui/Menu.tsx'
import { Strip } from '../../ui/Strip.tsx'
import { timeEntries, timeWidth, useTimes } from '../../ui/times.ts'
import { usePointerDrag } from '../../ui/usePointerDrag.ts'
import { useSize } from '../../ui/useSize.ts'
import { FoldButton } from '../Arrangement.tsx'
import { orderCommands, useCommandEntries } from '../commandsNow.ts'
import { chosenParts, type LaneFilter, laneFilters, nearerBy, useDesk } from '../desk.ts'
import { KeyMenu, Several, useKeyEntries } from './KeyframeCommands.tsx'
import { Lanes, toggled } from './Lanes.tsx'
import { laneHeight, names } from './measures.ts'
import { type Ruler, ruler } from './ruler.ts'
import { SoundLanes } from './SoundLanes.tsx'
import { SpanEdges } from './SpanEdges.tsx'
import { clippedSpans, spanAt } from './spans.ts'
import { useSpans } from './useSpans.ts'

/** How the parts get there: In, Hold and Out over the lanes with their keys. */
export const TimeView = memo(function TimeView({ player }: { player: Player }) {
  const { attempt } = useDraft.getState()
  const spans = useSpans()
  const follows = useDesk((desk) => desk.hold !== undefined)
  const turns = useDesk((desk) => desk.turns)
  const frame = useDraft((draft) => draft.template!.frame)
  const [ref, size] = useSize<HTMLDivElement>()
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set())
  const nearer = useDesk((desk) => desk.nearer)
  const width = Math.max(120, (size.width - names - 14) * nearer)
  const r = useMemo(() => ruler(spans, width), [spans, width])
  const toggle = useCallback((id: string) => setOpen((old) => toggled(old, id)), [])
  const lanesRef = useNearer(player.frame, r)
  const ofKeys = useKeyEntries(player)
  const commands = useCommandEntries()
  const entries = () => [
    ...ofKeys(),
    ...(chosenParts(useDesk.getState()).length > 0 ? [null, ...commands(orderCommands)] : []),
  ]
  const spelling = useTimes((times) => times.spelling)
  const lanes = useDesk((desk) => desk.lanes)
  const total = spans.in + spans.hold.frames + spans.out
  const putSpans = (more: (now: Spans) => Partial<Spans>, what: string) =>
    attempt((now) => clippedSpans(now, { ...now.spans, ...more(now.spans) }), what)
  const scrub = (x: number) => {
    player.setSpeed(0)
    player.go(Math.min(total - 1, Math.max(0, r.frame(x))))
  }
  const drag = usePointerDrag<{ left: number }>({ move: ({ left }, at) => scrub(at.x - left) })
  const looped = player.loop !== undefined
  const loopSpan = () => {
    const { span } = spanAt(spans, player.frame)
    const from = span === 'in' ? 0 : span === 'hold' ? spans.in : spans.in + spans.hold.frames
    player.setLoop(looped ? undefined : [from, from + spanLength({ spans }, span)])
  }
  return (
    <section ref={ref} className="flex min-h-0 min-w-0 flex-col overflow-hidden" aria-label="Time">
      <div className="flex min-h-[34px] shrink-0 flex-wrap items-center gap-x-0.5 gap-y-0.5 border-b border-rule px-2 py-[3px]">
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
          className={classes('w-6 !px-0', player.pace < 1 && '!bg-leaf-pale')}
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
          className={classes('flex w-6 justify-center !px-0', looped && '!bg-leaf-pale')}
          onClick={loopSpan}
        >
          <Repeat size={13} aria-hidden="true" />
        </Button>
        <Menu label="How times are shown" className="!w-[74px] shrink-0 !px-0" entries={timeEntries}>
          {lengthText(player.frame, frame.rate, spelling === 'frames' ? 'timecode' : spelling)}
        </Menu>
        {(['in', 'hold', 'out'] as const).map((span) => (
          <span key={span} className="flex items-center gap-0.5 text-xs text-soft">
            {span[0]!.toUpperCase() + span.slice(1)}
            <LengthInput
              className="!h-6 !px-1 !text-xs"
              style={{ width: timeWidth[spelling] }}
              aria-label={`Length of ${span}`}
              rate={frame.rate}
              min={span === 'hold' ? 1 : 0}
              disabled={span === 'hold' && follows}
              title={span === 'hold' && follows ? 'Hold is as long as the entries of its lists take' : undefined}
              max={10000}
              value={span === 'hold' ? spans.hold.frames : spans[span]}
              onValue={(frames) =>
                putSpans(
                  (now) => (span === 'hold' ? { hold: { ...now.hold, frames } } : { [span]: frames }),
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
            putSpans(
              ({ hold }) => ({ hold: { ...hold, gives: event.target.value as Spans['hold']['gives'] } }),
              'what Hold does',
            )
          }
        />
        <KeyMenu player={player} />
      </div>
      <div ref={lanesRef} className="relative min-h-0 flex-1 overflow-auto">
        <div className="sticky top-0 left-0 z-30 size-0">
          <div className="flex h-[46px] items-start gap-1 bg-paper pt-1.5 pl-1" style={{ width: names }}>
            <FoldButton of="time" keys="\" />
            <Menu label="Which parts have lanes" className="!px-1 !text-soft" entries={laneEntries}>
              {laneWords[lanes]} <ChevronDown size={11} aria-hidden="true" />
            </Menu>
          </div>
        </div>
        <div className="sticky top-0 z-20 w-max bg-paper pt-1.5" style={{ paddingLeft: names }}>
          <div style={{ width, marginRight: 14 }}>
            <div className="relative h-4 text-xs text-soft">
              <span className="absolute left-0">0</span>
              <span className="absolute -translate-x-1/2 whitespace-nowrap" style={{ left: r.inWidth }}>
                {lengthText(spans.in, frame.rate, spelling)}
              </span>
              <span
                className="absolute -translate-x-1/2 whitespace-nowrap"
                style={{ left: r.inWidth + r.holdWidth / 2 }}
              >
                {r.holdWidth > 120 && `hold ${secondsOf(spans.hold.frames, frame.rate).toFixed(1)} s, gives`}
              </span>
              <span className="absolute -translate-x-1/2" style={{ left: r.inWidth + r.holdWidth }}>
                −{lengthText(spans.out, frame.rate, spelling)}
              </span>
              <span className="absolute right-0">end</span>
            </div>
            <div className="relative" style={{ width }}>
              <div
                className="touch-none"
                style={{ cursor: 'ew-resize' }}
                onPointerDown={(event) => {
                  const { left } = event.currentTarget.getBoundingClientRect()
                  scrub(event.clientX - left)
                  drag(event, { left })
                }}
              >
                <Strip
                  spans={{ in: r.inWidth, hold: r.holdWidth, out: r.outWidth }}
                  height={24}
                  names={[`In ${spans.in} f`, `Out ${spans.out} f`]}
                  turns={turns?.map(({ from, to }) => ({
                    from: r.x(spans.in + from) - r.inWidth,
                    to: r.x(spans.in + to) - r.inWidth,
                  }))}
                />
              </div>
              <SpanEdges spans={spans} r={r} />
            </div>
          </div>
        </div>
        <MenuHere entries={entries}>
          <div>
            <AllLanes r={r} width={width} open={open} onOpen={toggle} />
          </div>
        </MenuHere>
        <div
          className="pointer-events-none absolute top-5 bottom-0 z-[25] w-px bg-madder"
          style={{ left: Math.round(names + r.x(Math.min(total, player.frame))) }}
        >
          <span className="absolute -top-[3px] -left-[4px] border-x-[4.5px] border-t-[6px] border-x-transparent border-t-madder" />
        </div>
      </div>
      <Several player={player} />
    </section>
  )
})

/**
 * Time looked at nearer stays where it was looked at: about the pointer for the wheel with Ctrl, about the playhead for
 * anything else. React listens passively to wheels, so this listens itself.
 */
function useNearer(frame: number, r: Ruler) {
  const ref = useRef<HTMLDivElement>(null)
  /** The time that is kept in its place, and where that is: px from the left of the lanes in sight. */
  const held = useRef<{ time: number; px: number }>(undefined)
  const latest = useRef({ frame, r })
  useLayoutEffect(() => {
    const box = ref.current!
    const { frame: at, r: before } = latest.current
    if (before !== r) {
      const playhead = before.x(at) - box.scrollLeft
      const isSeen = playhead >= 0 && playhead <= box.clientWidth - names
      const { time, px } = held.current ?? { time: at, px: isSeen ? playhead : (box.clientWidth - names) / 2 }
      box.scrollLeft = r.x(time) - px
      held.current = undefined
    }
    latest.current = { frame, r }
  }, [frame, r])
  useEffect(() => {
    const box = ref.current!
    const wheel = (event: WheelEvent) => {
      if (!event.ctrlKey && !event.metaKey) return
      event.preventDefault()
      const px = event.clientX - box.getBoundingClientRect().left - names
      const { nearer } = useDesk.getState()
      const next = nearerBy(nearer, Math.exp(-event.deltaY / 300))
      if (next === nearer) return
      held.current = { time: latest.current.r.time(px + box.scrollLeft), px }
      useDesk.getState().set({ nearer: next })
    }
    box.addEventListener('wheel', wheel, { passive: false })
    return () => box.removeEventListener('wheel', wheel)
  }, [])
  return ref
}

const laneWords: Record<LaneFilter, string> = {
  all: 'all parts',
  keyed: 'keyed',
  chosen: 'chosen',
  unfinished: 'unfinished',
}

const laneEntries = () =>
  laneFilters.map((lanes) => ({
    label: laneWords[lanes],
    checked: useDesk.getState().lanes === lanes,
    onSelect: () => useDesk.getState().set({ lanes }),
  }))

/** Unfinished is what arrives and does not leave, or leaves and never arrives. */
function hasLane(part: Part, lanes: LaneFilter, chosen: readonly string[]): boolean {
  if (lanes === 'all') return true
  if (lanes === 'chosen') return chosen.includes(part.id)
  const keys = keysOf(part)
  if (lanes === 'keyed') return keys.length > 0
  const [arrives, leaves] = [keys.some(({ span }) => span === 'in'), keys.some(({ span }) => span === 'out')]
  return part.motion.out === 'own' && arrives !== leaves
}

/** A lane for each part, and for each sound; each is drawn anew only with its own. */
function AllLanes({
  r,
  width,
  open,
  onOpen,
}: {
  r: Ruler
  width: number
  open: ReadonlySet<string>
  onOpen: (id: string) => void
}) {
  const template = useDraft((draft) => draft.template!)
  const spans = useSpans()
  const lanes = useDesk((desk) => desk.lanes)
  const chosen = useDesk(useShallow((desk) => (desk.lanes === 'chosen' ? chosenParts(desk) : [])))
  const shown = numberedParts(template).filter(({ part }) => hasLane(part, lanes, chosen))
  return (
    <>
      {shown.length === 0 && lanes !== 'all' && <p className="px-3 py-2 text-soft">No part is {laneWords[lanes]}.</p>}
      {shown.map(({ part, number }) => (
        <Lanes
          key={part.id}
          spans={spans}
          part={part}
          number={number}
          r={r}
          width={width}
          open={open.has(part.id)}
          onOpen={onOpen}
        />
      ))}
      <SoundLanes template={template} r={r} names={names} height={laneHeight} />
    </>
  )
}
