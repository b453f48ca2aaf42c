import { useEffect, useRef, useState } from 'react'

/** A playhead that runs in real time at the template's rate, over and over. */
export function usePlayer(total: number, framesPerSecond: number, start = 0) {
  const [frame, setFrame] = useState(start)
  const [speed, setSpeed] = useState(0)
  const at = useRef(start)
  const go = (next: number) => {
    at.current = ((Math.round(next) % total) + total) % total
    setFrame(at.current)
  }
  useEffect(() => {
    if (speed === 0) return
    let last = performance.now()
    let position = at.current
    let request = requestAnimationFrame(function tick(time) {
      position += ((time - last) / 1000) * framesPerSecond * speed
      last = time
      position = ((position % total) + total) % total
      at.current = Math.floor(position)
      setFrame(at.current)
      request = requestAnimationFrame(tick)
    })
    return () => cancelAnimationFrame(request)
  }, [speed, total, framesPerSecond])
  return { frame: Math.min(frame, total - 1), speed, setSpeed, go, toggle: () => setSpeed((s) => (s === 0 ? 1 : 0)) }
}

export type Player = ReturnType<typeof usePlayer>
