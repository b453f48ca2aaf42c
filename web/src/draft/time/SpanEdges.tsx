import type { SpanName, Spans, Template } from '@hoja/core/template'
import { useDraft } from '../../session/draft.ts'
import { useDraftDrag } from '../../session/useDraftDrag.ts'
import type { Ruler } from './ruler.ts'
import { clippedSpans } from './spans.ts'

/** A span of so many frames. */
const lengthened = (template: Template, span: SpanName, frames: number) => {
  const { spans } = template
  const more =
    span === 'hold' ? { hold: { ...spans.hold, frames: Math.max(1, frames) } } : { [span]: Math.max(0, frames) }
  return clippedSpans(template, { ...spans, ...more })
}

/** The ends of In, Out and the whole title, dragged to make In, Out and Hold longer or shorter. */
export function SpanEdges({ spans, r }: { spans: Spans; r: Ruler }) {
  const { attempt } = useDraft.getState()
  const drag = useDraftDrag<{ span: SpanName; name: string; grow: number; frames: number; perFrame: number }>({
    what: ({ name }) => `the length of ${name}`,
    change: ({ span, grow, frames, perFrame }, at, from) =>
      lengthened(from, span, frames + Math.round((grow * at.dx) / perFrame)),
  })
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
    const put = (next: number) => attempt((now) => lengthened(now, span, next), `the length of ${name}`)
    return (
      <button
        key={span}
        type="button"
        aria-label={`Drag to make ${name} longer or shorter`}
        title={`Drag to make ${name} longer or shorter`}
        className="absolute top-0 h-6 w-2 touch-none"
        style={{ left: at - 4, cursor: 'col-resize' }}
        onPointerDown={(event) =>
          drag(event, { span, name, grow, frames, perFrame: Math.max(2, width / Math.max(1, frames)) })
        }
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
