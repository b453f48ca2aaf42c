import type { AxisName, Guide, Template } from '@hoja/core/template'
import { useState } from 'react'
import { useDraft } from '../../session/draft.ts'
import { useDraftDrag } from '../../session/useDraftDrag.ts'
import { type DragPoint, usePointerDrag } from '../../ui/usePointerDrag.ts'
import type { View } from './view.ts'

const width = 18
const steps = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000]

/** The guides of the template: dragged along, or off the frame to let them go. */
export function Guides({ template, view }: { template: Template; view: View }) {
  const { change } = useDraft.getState()
  const put = (guides: Guide[]) => change({ kind: 'guides', guides }, 'the guides')
  const drag = useDraftDrag<{ index: number }>({
    what: () => 'the guides',
    change: ({ index }, at, from) => ({
      kind: 'guides',
      guides: from.guides.flatMap((guide, i) => {
        if (i !== index) return [guide]
        const to = Math.round(guide.at + (guide.axis === 'x' ? at.dx : at.dy) / view.scale)
        // Off the frame it is let go.
        return to < 0 || to > (guide.axis === 'x' ? from.frame.width : from.frame.height) ? [] : [{ ...guide, at: to }]
      }),
    }),
  })
  return (
    <>
      {template.guides.map(({ axis, at }, i) => (
        <div
          key={`${i}${axis}`}
          role="separator"
          aria-orientation={axis === 'x' ? 'vertical' : 'horizontal'}
          aria-valuenow={at}
          aria-label={`Guide ${axis === 'x' ? 'down' : 'across'} the frame at ${Math.round(at)} px`}
          tabIndex={0}
          className="absolute touch-none focus-visible:outline-2"
          style={
            axis === 'x'
              ? { left: view.left + at * view.scale - 3, top: 0, bottom: 0, width: 7, cursor: 'ew-resize' }
              : { top: view.top + at * view.scale - 3, left: 0, right: 0, height: 7, cursor: 'ns-resize' }
          }
          onKeyDown={(event) => {
            if (event.key === 'Delete') put(template.guides.filter((_, n) => n !== i))
            const by = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -1, ArrowDown: 1 }[event.key]
            if (by === undefined) return
            event.stopPropagation()
            event.preventDefault()
            put(template.guides.map((g, n) => (n === i ? { axis, at: at + by * (event.shiftKey ? 10 : 1) } : g)))
          }}
          onPointerDown={(event) => {
            event.stopPropagation()
            drag(event, { index: i })
          }}
        >
          <span
            className="absolute bg-leaf"
            style={axis === 'x' ? { left: 3, width: 1, top: 0, bottom: 0 } : { top: 3, height: 1, left: 0, right: 0 }}
          />
        </div>
      ))}
    </>
  )
}

/** Rulers in px of the frame; a guide is drawn out of them. */
export function Rulers({
  template,
  view,
  size,
}: {
  template: Template
  view: View
  size: { width: number; height: number }
}) {
  const { change } = useDraft.getState()
  const [pulled, setPulled] = useState<Guide>()
  // A guide across comes out of the upper ruler, one down out of the left.
  const guideAt = ({ axis, box }: { axis: AxisName; box: DOMRect }, at: DragPoint): Guide =>
    axis === 'x'
      ? { axis: 'y', at: Math.round((at.y - box.top - view.top) / view.scale) }
      : { axis: 'x', at: Math.round((at.x - box.left - view.left) / view.scale) }
  const pull = usePointerDrag<{ axis: AxisName; box: DOMRect }>({
    move: (held, at) => setPulled(guideAt(held, at)),
    end: (held, at, moved) => {
      const guide = guideAt(held, at)
      const most = guide.axis === 'x' ? template.frame.width : template.frame.height
      if (moved && guide.at >= 0 && guide.at <= most)
        change({ kind: 'guides', guides: [...template.guides, guide] }, 'a guide')
      setPulled(undefined)
    },
    cancel: () => setPulled(undefined),
  })
  const step = steps.find((s) => s * view.scale >= 46) ?? 2000
  const ruler = (axis: AxisName) => {
    const length = axis === 'x' ? size.width : size.height
    const origin = axis === 'x' ? view.left : view.top
    const first = Math.ceil(-origin / view.scale / step) * step
    const marks = Array.from({ length: Math.ceil(length / view.scale / step) + 1 }, (_, i) => first + i * step)
    return (
      <svg
        className="absolute top-0 left-0 touch-none bg-paper"
        width={axis === 'x' ? size.width : width}
        height={axis === 'x' ? width : size.height}
        style={{ cursor: axis === 'x' ? 'ns-resize' : 'ew-resize' }}
        role="img"
        aria-label={axis === 'x' ? 'Ruler across' : 'Ruler down'}
        onPointerDown={(event) => {
          event.stopPropagation()
          pull(event, { axis, box: event.currentTarget.getBoundingClientRect() })
        }}
      >
        <path d={axis === 'x' ? `M0 ${width - 0.5}H${length}` : `M${width - 0.5} 0V${length}`} stroke="#d9d6cc" />
        {marks.map((mark) => {
          const px = Math.round(origin + mark * view.scale) + 0.5
          return axis === 'x' ? (
            <g key={mark}>
              <path d={`M${px} ${width}V${width - 6}`} stroke="#5b6459" />
              <text x={px + 3} y={10} fontSize="9" fill="#5b6459">
                {mark}
              </text>
            </g>
          ) : (
            <g key={mark}>
              <path d={`M${width} ${px}H${width - 6}`} stroke="#5b6459" />
              <text x={10} y={px - 3} fontSize="9" fill="#5b6459" transform={`rotate(-90 10 ${px - 3})`}>
                {mark}
              </text>
            </g>
          )
        })}
      </svg>
    )
  }
  return (
    <>
      {ruler('x')}
      {ruler('y')}
      <span className="absolute top-0 left-0 border-r border-b border-rule bg-paper" style={{ width, height: width }} />
      {pulled && (
        <span
          className="pointer-events-none absolute bg-leaf"
          style={
            pulled.axis === 'x'
              ? { left: view.left + pulled.at * view.scale, width: 1, top: 0, bottom: 0 }
              : { top: view.top + pulled.at * view.scale, height: 1, left: 0, right: 0 }
          }
        />
      )}
    </>
  )
}
