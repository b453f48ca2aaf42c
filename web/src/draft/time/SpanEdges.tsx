import type { Spans } from '@hoja/core/template'
import { useRef } from 'react'
import type { Ruler } from './ruler.ts'

/** The ends of In, Out and the whole title, dragged to make In, Out and Hold longer or shorter. */
export function SpanEdges({
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
