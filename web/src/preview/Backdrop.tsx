const picture = { width: 1920, height: 1080 }

/** The demo footage's first frame, drawn: the river mouth of Puerto Brisal in the morning. Stretches to any frame. */
export function Backdrop({
  crop,
  frame = picture,
}: {
  /** The part of the frame that is shown, frame px. */
  crop?: { x: number; y: number; width: number; height: number } | undefined
  frame?: { width: number; height: number }
}) {
  const [kx, ky] = [picture.width / frame.width, picture.height / frame.height]
  const view = crop
    ? `${crop.x * kx} ${crop.y * ky} ${crop.width * kx} ${crop.height * ky}`
    : `0 0 ${picture.width} ${picture.height}`
  return (
    <svg viewBox={view} preserveAspectRatio="none" className="absolute inset-0 size-full" aria-hidden="true">
      <defs>
        <linearGradient id="sky" x1="0" x2="0" y1="0" y2="1">
          <stop offset="0" stopColor="#b9cfd4" />
          <stop offset="1" stopColor="#8fb0ac" />
        </linearGradient>
        <linearGradient id="water" x1="0" x2="0" y1="0" y2="1">
          <stop offset="0" stopColor="#55756f" />
          <stop offset="1" stopColor="#2f4743" />
        </linearGradient>
      </defs>
      <rect width="1920" height="620" fill="url(#sky)" />
      <path d="M0 612C260 560 420 580 640 592S1180 640 1460 604 1800 590 1920 580V680H0Z" fill="#5d7c70" />
      <rect y="640" width="1920" height="440" fill="url(#water)" />
    </svg>
  )
}
