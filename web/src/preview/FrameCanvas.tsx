import type { Box } from '@hoja/core/geometry'
import { paint } from '@hoja/core/paint'
import type { Scene } from '@hoja/core/scene'
import type { Values } from '@hoja/core/template'
import { memo, useLayoutEffect, useRef } from 'react'
import { resources, surfaceOf } from './rasterBackend.ts'
import { timed } from './timed.ts'

/** One frame of a filling, drawn by the same painter as the render. `crop`: which part of the frame, in frame px. */
export const FrameCanvas = memo(function FrameCanvas({
  scene,
  values,
  frame,
  duration,
  width,
  crop,
  within,
  label,
  timedAs = 'hoja frame',
}: {
  scene: Scene
  values: Values
  /** Absent: as it is seen when it stands. */
  frame?: number
  duration?: number | undefined
  width: number
  crop?: Box | undefined
  /** The crop may be larger than the frame: nothing is drawn beside that. */
  within?: boolean
  label?: string
  /** The name under which drawing it is timed. */
  timedAs?: string
}) {
  const ref = useRef<HTMLCanvasElement>(null)
  const area = crop ?? { x: 0, y: 0, width: scene.template.frame.width, height: scene.template.frame.height }
  const ratio = typeof devicePixelRatio === 'number' ? devicePixelRatio : 1
  const scale = (width * ratio) / area.width
  const height = (width * area.height) / area.width
  useLayoutEffect(() => {
    const canvas = ref.current!
    const [w, h] = [Math.max(1, Math.round(width * ratio)), Math.max(1, Math.round(height * ratio))]
    if (canvas.width !== w || canvas.height !== h) Object.assign(canvas, { width: w, height: h })
    timed(timedAs, () => {
      const surface = surfaceOf(canvas)
      surface.context.setTransform(1, 0, 0, 1, 0, 0)
      surface.context.clearRect(0, 0, w, h)
      const layout = scene.layout(values)
      const timing = scene.timing(layout, duration)
      const list = scene.frame(layout, timing, Math.min(frame ?? scene.settled(layout, timing), timing.total - 1))
      paint(list, surface, resources, {
        x: area.x,
        y: area.y,
        scale,
        ...(within ? { frame: scene.template.frame } : {}),
      })
    })
  })
  return (
    <canvas
      ref={ref}
      style={{ width, height }}
      className="absolute inset-0"
      role="img"
      aria-label={label ?? 'The title'}
    />
  )
})
