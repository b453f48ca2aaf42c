import { useId } from 'react'
import { HatchPattern, SpanShape, spanNotch } from './SpanShape.tsx'
import { usePointerDrag } from './usePointerDrag.ts'
import { useSize } from './useSize.ts'

/**
 * The three spans of a title's time: In with its notched front, Hold hatched like a folded accordion because it gives, Out
 * mirroring In. Its length is the title's; `frame` draws the playhead. `names`: what stands in In and Out.
 */
export function Strip({
  spans,
  frame,
  onScrub,
  height = 26,
  names = ['In', 'Out'],
  turns = [],
}: {
  spans: { in: number; hold: number; out: number }
  /** Where in Hold texts stand that come in turn, as long as the spans are told. */
  turns?: readonly { from: number; to: number }[] | undefined
  frame?: number
  onScrub?: (frame: number) => void
  height?: number
  names?: [string, string]
}) {
  const hatch = useId()
  const [ref, size] = useSize<HTMLDivElement>()
  const { width } = size
  const total = spans.in + spans.hold + spans.out
  const x = (f: number) => (f / total) * width
  const [a, b] = [x(spans.in), x(spans.in + spans.hold)]
  const scrub = (clientX: number, { left, width }: DOMRect) =>
    onScrub?.(Math.min(total - 1, Math.max(0, Math.floor(((clientX - left) / width) * total))))
  const drag = usePointerDrag<DOMRect>({ move: (box, at) => scrub(at.x, box) })
  const word = (text: string, from: number, to: number) =>
    to - from > text.length * 6.5 + 6 && (
      <text x={(from + to) / 2} y={height / 2 + 4} textAnchor="middle" fill="#fff" fontSize="11.5" fontWeight="500">
        {text}
      </text>
    )
  return (
    <div ref={ref} style={{ height }}>
      <svg
        width={width}
        height={height}
        className="block touch-none select-none"
        style={{ cursor: onScrub ? 'ew-resize' : undefined }}
        onPointerDown={(event) => {
          if (!onScrub) return
          const box = event.currentTarget.getBoundingClientRect()
          scrub(event.clientX, box)
          drag(event, box)
        }}
        role="img"
        aria-label={`In ${names[0]}, Hold, Out ${names[1]}`}
      >
        <defs>
          <HatchPattern id={hatch} height={height} />
        </defs>
        <SpanShape width={width} height={height} first={a} second={b} hatch={hatch} />
        {turns.map(({ from, to }, i) => (
          <g key={i}>
            <rect
              x={a + x(from)}
              y="3"
              width={Math.max(1, x(to - from))}
              height={height - 6}
              rx="2"
              fill="#f3f0e6"
              stroke="#b5b0a2"
            />
            {x(to - from) > 14 && (
              <text x={a + x((from + to) / 2)} y={height / 2 + 4} textAnchor="middle" fill="#4d564b" fontSize="11.5">
                {i + 1}
              </text>
            )}
          </g>
        ))}
        {word(names[0], spanNotch, a)}
        {word(names[1], b, width - spanNotch)}
        {frame !== undefined && <path d={`M${x(frame + 0.5)} 0V${height}`} stroke="#b4472e" strokeWidth="2" />}
      </svg>
    </div>
  )
}
