import type { AxisName, Guide, Template } from '@hoja/core/template'
import { useRef, useState } from 'react'
import { useDraft } from '../../session/draft.ts'
import type { View } from './view.ts'

const width = 18
const steps = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000]

/** The guides of the template: dragged along, or off the frame to let them go. */
export function Guides({ template, view }: { template: Template; view: View }) {
  const { change } = useDraft()
  const held = useRef<{ index: number; name: string } | undefined>(undefined)
  const put = (guides: Guide[], drag?: string) => change({ kind: 'guides', guides }, 'the guides', drag)
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
            event.currentTarget.setPointerCapture(event.pointerId)
            held.current = { index: i, name: `guide ${event.timeStamp}` }
          }}
          onPointerMove={(event) => {
            if (!held.current || event.buttons === 0) return
            event.stopPropagation()
            const view0 = event.currentTarget.parentElement!.getBoundingClientRect()
            const to =
              axis === 'x'
                ? (event.clientX - view0.left - view.left) / view.scale
                : (event.clientY - view0.top - view.top) / view.scale
            put(
              template.guides.map((g, n) => (n === i ? { axis, at: Math.round(to) } : g)),
              held.current.name,
            )
          }}
          onPointerUp={() => {
            held.current = undefined
            const length = axis === 'x' ? template.frame.width : template.frame.height
            if (at < 0 || at > length) put(template.guides.filter((_, n) => n !== i))
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
  const { change } = useDraft()
  const [pulled, setPulled] = useState<Guide>()
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
          event.currentTarget.setPointerCapture(event.pointerId)
        }}
        onPointerMove={(event) => {
          if (event.buttons === 0) return
          event.stopPropagation()
          const box = event.currentTarget.getBoundingClientRect()
          // A guide across comes out of the upper ruler, one down out of the left.
          const guide: Guide =
            axis === 'x'
              ? { axis: 'y', at: Math.round((event.clientY - box.top - view.top) / view.scale) }
              : { axis: 'x', at: Math.round((event.clientX - box.left - view.left) / view.scale) }
          setPulled(guide)
        }}
        onPointerUp={() => {
          const most = pulled?.axis === 'x' ? template.frame.width : template.frame.height
          if (pulled && pulled.at >= 0 && pulled.at <= most)
            change({ kind: 'guides', guides: [...template.guides, pulled] }, 'a guide')
          setPulled(undefined)
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
