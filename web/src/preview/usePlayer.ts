import { useEffect, useRef, useState } from 'react'

/** A playhead that runs in real time at the template's rate, over and over: the whole title, or a stretch of it. */
export function usePlayer(total: number, framesPerSecond: number, start = 0) {
  const [frame, setFrame] = useState(start)
  const [speed, setSpeed] = useState(0)
  /** 1: real time; 0.5: half of it. */
  const [pace, setPace] = useState(1)
  /** First frame, and the one after the last. */
  const [loop, setLoop] = useState<[number, number]>()
  const at = useRef(start)
  const go = (next: number) => {
    at.current = ((Math.round(next) % total) + total) % total
    setFrame(at.current)
  }
  useEffect(() => {
    if (speed === 0) return
    const [from, to] = loop && loop[1] > loop[0] ? [loop[0], Math.min(total, loop[1])] : [0, total]
    const length = Math.max(1, to - from)
    let last = performance.now()
    let position = at.current
    let request = requestAnimationFrame(function tick(time) {
      position += ((time - last) / 1000) * framesPerSecond * speed * pace
      last = time
      position = from + ((((position - from) % length) + length) % length)
      at.current = Math.floor(position)
      setFrame(at.current)
      request = requestAnimationFrame(tick)
    })
    return () => cancelAnimationFrame(request)
  }, [speed, pace, loop, total, framesPerSecond])
  return {
    frame: Math.min(frame, total - 1),
    speed,
    setSpeed,
    pace,
    setPace,
    loop,
    setLoop,
    go,
    toggle: () => setSpeed((s) => (s === 0 ? 1 : 0)),
  }
}

export type Player = ReturnType<typeof usePlayer>
