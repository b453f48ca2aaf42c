import { useLayoutEffect, useRef, useState } from 'react'

/** Size of an element, followed as it changes. */
export function useSize<T extends HTMLElement>() {
  const ref = useRef<T>(null)
  const [size, setSize] = useState({ width: 0, height: 0 })
  useLayoutEffect(() => {
    const observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect
      setSize((old) => (old.width === width && old.height === height ? old : { width, height }))
    })
    observer.observe(ref.current!)
    return () => observer.disconnect()
  }, [])
  return [ref, size] as const
}
