import { channels, type KeyframeRef, keyMoment, type Lane, putKey, room, sameKey, valueAt } from '@hoja/core/motion'
import { described, type Keyframe, type Part, type Spans, type Template, type Track } from '@hoja/core/template'
import { useState } from 'react'
import { useDraft } from '../../session/draft.ts'
import { useDraftDrag } from '../../session/useDraftDrag.ts'
import { useDesk } from '../desk.ts'
import { graphHeight } from './measures.ts'
import type { Ruler } from './ruler.ts'
import { spanAt } from './spans.ts'

/** px above the highest and below the lowest value. */
const margin = 12
/** px between two points of the line. */
const fine = 3
const leaf = (x: number, y: number) => `M${x} ${y - 6}q3.5 6 0 12q-3.5 -6 0 -12Z`

/** The values that a graph reaches over: those of its keys and of the rest, never none. */
export function reachOf(lane: Lane, track: Track): [low: number, high: number] {
  const { rest, step } = channels[lane.channel]
  const all = [rest, ...track.keys.map(({ value }) => value)]
  const [low, high] = [Math.min(...all), Math.max(...all)]
  return low === high ? [low - 4 * step, high + 4 * step] : [low, high]
}

/** A channel's values over time, where its keys are taken hold of: across is time, up is more. */
export function LaneGraph({
  spans,
  part,
  lane,
  track,
  r,
  width,
  name,
}: {
  spans: Spans
  part: Part
  lane: Lane
  track: Track
  r: Ruler
  width: number
  /** Of the part and its channel. */
  name: string
}) {
  const { attempt } = useDraft.getState()
  const { step, rest } = channels[lane.channel]
  // It stays as it is while a key is dragged: the key is under the pointer.
  const [held, setHeld] = useState<[number, number]>()
  const [low, high] = held ?? reachOf(lane, track)
  const tall = graphHeight - 2 * margin
  const y = (value: number) => margin + ((high - value) / (high - low)) * tall
  const frameOf = ({ span, at }: { span: Keyframe['span']; at: number }) =>
    span === 'in' ? at : span === 'hold' ? spans.in + at : spans.in + spans.hold.frames + at
  const chosen = useDesk((desk) => desk.keys)
  const what = `a key of ${name}`
  const drag = useDraftDrag<{ ref: KeyframeRef; value: number; perPx: number; to?: KeyframeRef }>({
    threshold: 2,
    what: () => what,
    change: (held, at, from) => {
      const frames = at.shift ? 0 : Math.round(r.time(r.x(frameOf(held.ref)) + at.dx)) - frameOf(held.ref)
      const by = room(from, [held.ref], frames)
      held.to = { ...held.ref, at: held.ref.at + by }
      return keyTo(from, held.ref, held.to.at, held.value - at.dy * held.perPx, at.free ? step / 10 : step)
    },
    // A key is named by where it stands, so it is named anew.
    end: ({ ref, to }, at) => {
      setHeld(undefined)
      useDesk.getState().set({ keys: [at && to ? to : ref] })
    },
  })
  return (
    <svg
      width={width}
      height={graphHeight}
      className="touch-none overflow-visible"
      role="group"
      aria-label={`Graph of ${name}`}
    >
      <path d={`M0 ${y(rest)}H${width}`} stroke="#20261f" strokeOpacity="0.25" strokeDasharray="3 4" />
      <path d={lineOf(spans, part, track, r, width, y)} fill="none" stroke="#1f7a4d" strokeWidth="1.5" />
      {track.keys.map((key) => {
        const ref: KeyframeRef = { ...lane, span: key.span, at: key.at }
        const picked = chosen.some((other) => sameKey(other, ref))
        return (
          <path
            key={`${key.span}${key.at}`}
            d={leaf(r.x(frameOf(key)), y(key.value))}
            fill={picked ? '#b4472e' : '#1f7a4d'}
            stroke="#fff"
            className="cursor-move"
            role="button"
            tabIndex={0}
            aria-pressed={picked}
            aria-label={`${name} at ${key.span} ${key.at}: ${key.value}`}
            onPointerDown={(event) => {
              if (event.button !== 0) return
              event.stopPropagation()
              useDesk.getState().set({ selected: part.id, keys: [ref] })
              const on = event.currentTarget.ownerSVGElement as SVGSVGElement
              setHeld([low, high])
              drag(event, { ref, value: key.value, perPx: (high - low) / tall }, on)
            }}
            onKeyDown={(event) => {
              const across = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
              const up = { ArrowUp: 1, ArrowDown: -1 }[event.key]
              if (!across && !up) return
              event.preventDefault()
              event.stopPropagation()
              const times = event.shiftKey ? 10 : 1
              const by = room(useDraft.getState().template!, [ref], (across ?? 0) * times)
              const value = key.value + (up ?? 0) * step * times
              if (attempt((now) => keyTo(now, ref, ref.at + by, value, step / 10), what))
                useDesk.getState().set({ selected: part.id, keys: [{ ...ref, at: ref.at + by }] })
            }}
          >
            <title>{`${name}: ${key.value} at ${key.span} ${key.at}`}</title>
          </path>
        )
      })}
    </svg>
  )
}

/** A key brought to another time and value, the value in whole steps. */
function keyTo(template: Template, ref: KeyframeRef, at: number, value: number, step: number) {
  const { least, most } = described.keyValue
  const whole = Number((Math.round(value / step) * step).toFixed(6))
  return putKey(template, ref, at, Math.min(most, Math.max(least, whole)))
}

/** The line of a channel's values, as they are played: a mirrored Out runs In backwards. */
function lineOf(
  spans: Spans,
  { motion }: Part,
  track: Track,
  r: Ruler,
  width: number,
  y: (value: number) => number,
): string {
  const total = spans.in + spans.hold.frames + spans.out
  const points: string[] = []
  const put = (frame: number) => {
    const moment = keyMoment(spans, spans.hold.frames, spanAt(spans, frame), motion.out)
    points.push(`${r.x(frame).toFixed(1)} ${y(valueAt(track, moment)).toFixed(1)}`)
  }
  for (let px = 0; px < width; px += fine) put(r.time(px))
  put(Math.max(0, total - 1e-6))
  return `M${points.join('L')}`
}
