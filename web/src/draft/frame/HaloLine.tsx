/** A thin line over the picture, seen on any ground. @param d in screen px from the frame's corner */
export function HaloLine({ d }: { d: string }) {
  return (
    <>
      <path d={d} fill="none" stroke="#fff" strokeWidth="3" strokeOpacity="0.6" />
      <path d={d} fill="none" stroke="#1f7a4d" strokeWidth="1.5" />
    </>
  )
}
