import { useId } from 'react'

/**
 * The three spans of a title's time: In with its notched front, Hold hatched like a folded accordion because it gives, Out
 * mirroring In. Its length is the title's; `frame` draws the playhead.
 */
export function Strip({
  spans,
  frame,
  onScrub,
  height = 26,
}: {
  spans: { in: number; hold: number; out: number }
  frame?: number
  onScrub?: (frame: number) => void
  height?: number
}) {
  const hatch = useId()
  const total = spans.in + spans.hold + spans.out
  const x = (f: number) => (f / total) * 1000
  const notch = 9
  const [a, b] = [x(spans.in), x(spans.in + spans.hold)]
  const scrub = (event: React.PointerEvent<SVGSVGElement>) => {
    if (!onScrub || (event.type === 'pointermove' && event.buttons === 0)) return
    const box = event.currentTarget.getBoundingClientRect()
    onScrub(Math.min(total - 1, Math.max(0, Math.floor(((event.clientX - box.left) / box.width) * total))))
  }
  return (
    <svg
      viewBox={`0 0 1000 ${height}`}
      preserveAspectRatio="none"
      className="block w-full touch-none select-none"
      style={{ height, cursor: onScrub ? 'ew-resize' : undefined }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId)
        scrub(event)
      }}
      onPointerMove={scrub}
      role="img"
      aria-label={`In ${spans.in} frames, Hold ${spans.hold}, Out ${spans.out}`}
    >
      <defs>
        <pattern id={hatch} width="7" height={height} patternUnits="userSpaceOnUse">
          <path d={`M0 0q3 ${height / 4} 0 ${height / 2}t0 ${height / 2}`} fill="none" stroke="#b5b0a2" />
        </pattern>
      </defs>
      <rect x={a} width={Math.max(0, b - a)} height={height} fill={`url(#${hatch})`} />
      <path d={`M0 0H${a}V${height}H0L${Math.min(notch, a / 2)} ${height / 2}Z`} fill="#1f7a4d" />
      <path
        d={`M${b} 0H1000L${1000 - Math.min(notch, (1000 - b) / 2)} ${height / 2}L1000 ${height}H${b}Z`}
        fill="#4d564b"
      />
      {frame !== undefined && (
        <path d={`M${x(frame + 0.5)} 0V${height}`} stroke="#b4472e" strokeWidth="2" vectorEffect="non-scaling-stroke" />
      )}
    </svg>
  )
}
