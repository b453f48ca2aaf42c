/** px that the notch of In goes in. */
const notch = 8

/**
 * The three spans of a title's time, drawn: In with its notched front, Hold hatched like a folded accordion because it gives,
 * Out mirroring In. `hatch` is the id of a `HatchPattern` in the same drawing.
 */
export function SpanShape({
  width,
  height,
  first,
  second,
  hatch,
}: {
  width: number
  height: number
  /** px at which Hold begins and ends. */
  first: number
  second: number
  hatch: string
}) {
  return (
    <>
      <rect x={first} width={Math.max(0, second - first)} height={height} fill={`url(#${hatch})`} />
      <path d={`M0 0H${first}V${height}H0L${Math.min(notch, first / 2)} ${height / 2}Z`} fill="#1f7a4d" />
      <path
        d={`M${second} 0H${width}L${width - Math.min(notch, (width - second) / 2)} ${height / 2}L${width} ${height}H${second}Z`}
        fill="#4d564b"
      />
    </>
  )
}

export const spanNotch = notch

/** The accordion's folds. */
export function HatchPattern({ id, height }: { id: string; height: number }) {
  return (
    <pattern id={id} width="7" height={height} patternUnits="userSpaceOnUse">
      <path d={`M2 0q3 ${height / 4} 0 ${height / 2}t0 ${height / 2}`} fill="none" stroke="#b5b0a2" />
    </pattern>
  )
}
