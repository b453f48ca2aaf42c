import { stagger } from '@hoja/core/motion'
import { type Key, numberedParts, type Part, type Spans, type Template } from '@hoja/core/template'
import { secondsOf, timecodeOf } from '@hoja/core/time'
import { useRef, useState } from 'react'
import { toast } from 'sonner'
import type { Player } from '../preview/usePlayer.ts'
import { useDraft } from '../session/draft.ts'
import { Button, classes, NumberInput, Select } from '../ui/controls.tsx'
import { Strip } from '../ui/Strip.tsx'
import { useSize } from '../ui/useSize.ts'
import { useDesk } from './desk.ts'
import { keyTimes, moveKeys } from './keys.ts'
import { ruler } from './ruler.ts'

const names = 96

/** How the parts get there: In, Hold and Out over the lanes with their keys. */
export function TimeView({ template, player }: { template: Template; player: Player }) {
  const { change } = useDraft()
  const { selected, also, set } = useDesk()
  const [apart, setApart] = useState(3)
  const [ref, size] = useSize<HTMLDivElement>()
  const drag = useRef<{ part: Part; from: { span: Key['span']; at: number }; name: string } | undefined>(undefined)
  const { spans, frame } = template
  const width = Math.max(120, size.width - names - 14)
  const r = ruler(spans, width)
  const total = spans.in + spans.hold.frames + spans.out
  const putSpans = (more: Partial<Spans>, what: string) => {
    const next = { ...spans, ...more }
    // Keys past the end of a shorter In would arrive after it; they are brought to its end.
    const clipped = numberedParts(template).flatMap(({ part }) => {
      const late = keyTimes(part).filter(
        (key) => (key.span === 'in' && key.at > next.in) || (key.span === 'out' && key.at > next.out),
      )
      return late.length === 0
        ? []
        : [
            {
              kind: 'motion' as const,
              part: part.id,
              motion: late.reduce(
                (motion, key) => moveKeys({ ...part, motion }, key, key.span === 'in' ? next.in : next.out),
                part.motion,
              ),
            },
          ]
    })
    change({ kind: 'several', changes: [{ kind: 'spans', spans: next }, ...clipped] }, what)
  }
  const staggered = (ids: string[]) => {
    try {
      change(stagger(template, ids, apart), 'a stagger')
    } catch (error) {
      toast.error((error as Error).message)
    }
  }
  const scrub = (event: React.PointerEvent) => {
    if (event.type === 'pointermove' && event.buttons === 0) return
    const box = event.currentTarget.getBoundingClientRect()
    player.setSpeed(0)
    player.go(Math.min(total - 1, Math.max(0, r.frame(event.clientX - box.left))))
  }
  return (
    <section ref={ref} className="flex min-h-0 min-w-0 flex-col overflow-hidden" aria-label="Time">
      <div className="flex h-[34px] shrink-0 items-center gap-1 border-b border-rule px-2">
        <Button small aria-label={player.speed ? 'Stop' : 'Play'} onClick={player.toggle}>
          {player.speed ? 'Stop' : 'Play'}
        </Button>
        <span className="mr-1 w-[72px] shrink-0 font-medium" title={`Frame ${player.frame}`}>
          {timecodeOf(player.frame, frame.rate)}
        </span>
        {(['in', 'hold', 'out'] as const).map((span) => (
          <span key={span} className="flex items-center gap-1 text-soft">
            {span[0]!.toUpperCase() + span.slice(1)}
            <NumberInput
              className="!h-6 !w-8 !px-1"
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
          className="!h-6 !w-[74px] shrink-0 text-xs"
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
          <div
            className="touch-none"
            style={{ width, cursor: 'ew-resize' }}
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
        </div>
        {numberedParts(template).map(({ part, number }) => {
          const on = part.id === selected || also.includes(part.id)
          return (
            <div key={part.id} className={classes('relative flex h-[26px] border-b border-rule', on && 'bg-leaf-pale')}>
              <button
                type="button"
                className={classes('shrink-0 truncate pl-3 text-left', on && 'font-semibold')}
                style={{ width: names }}
                onClick={(event) => {
                  if (!event.shiftKey || !selected) set({ selected: part.id, also: [] })
                  else if (part.id !== selected)
                    set({ also: also.includes(part.id) ? also.filter((id) => id !== part.id) : [...also, part.id] })
                }}
              >
                {number} {part.name}
              </button>
              <svg
                width={width}
                height={26}
                className="overflow-visible"
                onPointerMove={(event) => {
                  const held = drag.current
                  if (!held || event.buttons === 0) return
                  const box = event.currentTarget.getBoundingClientRect()
                  const start =
                    held.from.span === 'in' ? 0 : held.from.span === 'hold' ? spans.in : spans.in + spans.hold.frames
                  const most =
                    held.from.span === 'in' ? spans.in : held.from.span === 'out' ? spans.out : spans.hold.frames
                  const pxPerFrame =
                    held.from.span === 'in'
                      ? r.inWidth / spans.in
                      : held.from.span === 'out'
                        ? r.outWidth / spans.out
                        : r.holdWidth / spans.hold.frames
                  const to = Math.min(
                    most,
                    Math.max(0, Math.round((event.clientX - box.left - r.x(start)) / pxPerFrame)),
                  )
                  change(
                    { kind: 'motion', part: part.id, motion: moveKeys(held.part, held.from, to) },
                    `the keys of ${part.name}`,
                    held.name,
                  )
                }}
                onPointerUp={() => {
                  drag.current = undefined
                }}
                role="img"
                aria-label={`Keys of ${part.name}`}
              >
                <Lane
                  part={part}
                  spans={spans}
                  x={r.x}
                  on={on}
                  onDrag={(from, event) => {
                    ;(event.currentTarget.ownerSVGElement as SVGSVGElement).setPointerCapture(event.pointerId)
                    set({ selected: part.id })
                    drag.current = { part, from, name: `keys ${part.id} ${from.span} ${from.at} ${event.timeStamp}` }
                  }}
                />
              </svg>
            </div>
          )
        })}
        <div
          className="pointer-events-none absolute top-5 bottom-0 z-20 w-px bg-madder"
          style={{ left: names + r.x(Math.min(total, player.frame)) }}
        >
          <span className="absolute -top-[3px] -left-[4px] border-x-[4.5px] border-t-[6px] border-x-transparent border-t-madder" />
        </div>
      </div>
      {selected && also.length > 0 && (
        <div className="flex shrink-0 items-center gap-2 border-t border-rule px-3 py-1">
          <span className="whitespace-nowrap text-soft">{also.length + 1} parts,</span>
          <NumberInput
            aria-label="Frames apart"
            className="!h-6 !w-10"
            min={0}
            max={1000}
            value={apart}
            onValue={(n) => setApart(Math.round(n))}
          />
          <span className="whitespace-nowrap text-soft">frames apart</span>
          {(
            [
              ['Stagger', [selected, ...also]],
              ['Stagger backwards', [selected, ...also].reverse()],
            ] as [string, string[]][]
          ).map(([label, ids]) => (
            <Button key={label} small onClick={() => staggered(ids)}>
              {label}
            </Button>
          ))}
        </div>
      )}
    </section>
  )
}

/** Keys as leaves, joined where the part moves. Those of a mirrored Out are In's own, so they are drawn hollow. */
function Lane({
  part,
  spans,
  x,
  on,
  onDrag,
}: {
  part: Part
  spans: Spans
  x: (frame: number) => number
  on: boolean
  onDrag: (from: { span: Key['span']; at: number }, event: React.PointerEvent<SVGPathElement>) => void
}) {
  const times = keyTimes(part)
  const end = spans.in + spans.hold.frames + spans.out
  const colour = on ? '#1f7a4d' : '#20261f'
  const place = (key: { span: Key['span']; at: number }) =>
    x(key.span === 'in' ? key.at : key.span === 'hold' ? spans.in + key.at : spans.in + spans.hold.frames + key.at)
  const own = times.map((key) => ({ key, px: place(key) }))
  const mirrored =
    part.motion.out === 'mirror'
      ? times.filter((key) => key.span === 'in').map((key) => x(end - (key.at * spans.out) / Math.max(1, spans.in)))
      : []
  const leaf = (px: number) => `M${px} 5q4.5 8 0 16q-4.5 -8 0 -16Z`
  const joined = (list: number[]) =>
    list.length > 1 ? (
      <path d={`M${Math.min(...list)} 13H${Math.max(...list)}`} stroke={colour} strokeOpacity="0.5" />
    ) : null
  const bySpan = (span: Key['span']) => own.filter((o) => o.key.span === span).map((o) => o.px)
  return (
    <>
      {joined(bySpan('in'))}
      {joined(bySpan('hold'))}
      {joined(bySpan('out'))}
      {joined(mirrored)}
      {mirrored.map((px) => (
        <path key={`m${px}`} d={leaf(px)} fill="#fbfaf7" stroke={colour} />
      ))}
      {own.map(({ key, px }) => (
        <path
          key={`${key.span}${key.at}`}
          d={leaf(px)}
          fill={colour}
          className="cursor-ew-resize"
          onPointerDown={(event) => onDrag(key, event)}
        >
          <title>{`${part.name}: ${key.span} ${key.at}`}</title>
        </path>
      ))}
    </>
  )
}
