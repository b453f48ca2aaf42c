import { type AirItem, type Channel, type Stage, stageOf, valuesOfItem } from '@hoja/core/air'
import { paint } from '@hoja/core/paint'
import { shotFrame } from '@hoja/core/programme'
import { timecodeOf } from '@hoja/core/time'
import { useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react'
import { AirBeat } from '../preview/air/AirBeat.ts'
import { AirPainter } from '../preview/air/AirPainter.ts'
import { FrameCanvas } from '../preview/FrameCanvas.tsx'
import { frameResources, surfaceOf } from '../preview/rasterBackend.ts'
import { useAir, useDesk } from './airDesk.ts'

const footageRate = { num: 25, den: 1 }
/** Ten minutes of it. */
const footageFrames = 15_000

/** The demo footage, which runs by itself: it is what a camera would see. */
export function Footage({ shot, width, height }: { shot: number; width: number; height: number }) {
  const ref = useRef<HTMLCanvasElement>(null)
  useLayoutEffect(() => {
    const canvas = ref.current!
    Object.assign(canvas, { width, height })
    const surface = surfaceOf(canvas)
    const scale = width / 1920
    let last = -1
    let request = requestAnimationFrame(function show() {
      request = requestAnimationFrame(show)
      const frame = Math.floor(((Date.now() / 1000) * footageRate.num) / footageRate.den) % footageFrames
      if (frame === last) return
      last = frame
      const code = timecodeOf(frame, footageRate, false)
      const list = shotFrame(shot, frame, code, { width: 1920, height: 1080 })
      paint(list, surface, frameResources, { scale })
    })
    return () => cancelAnimationFrame(request)
  }, [shot, width, height])
  return <canvas ref={ref} style={{ width, height }} className="absolute inset-0" role="img" aria-label="Footage" />
}

/** What a stage shows, as an output page draws it. */
export function StageCanvas({
  stageOf: choose,
  width,
  label,
}: {
  stageOf: (channel: Channel) => Stage
  width: number
  label: string
}) {
  const desk = useDesk()
  const ref = useRef<HTMLCanvasElement>(null)
  const frame = useAir((view) => view.channel.height / view.channel.width)
  const height = Math.round(width * frame)
  useLayoutEffect(() => {
    const canvas = ref.current!
    const ratio = devicePixelRatio
    Object.assign(canvas, { width: Math.round(width * ratio), height: Math.round(height * ratio) })
    const painter = new AirPainter(canvas, desk.scenes)
    const beat = new AirBeat()
    let request = requestAnimationFrame(function show(time) {
      request = requestAnimationFrame(show)
      const { channel } = desk.get()!
      const at = beat.frame(channel, desk.client.now() - (performance.now() - time))
      if (painter.draw(channel, choose(channel), at) > 0) canvas.dataset.frame = String(at)
    })
    return () => cancelAnimationFrame(request)
  }, [desk, width, height, choose])
  return <canvas ref={ref} style={{ width, height }} className="absolute inset-0" role="img" aria-label={label} />
}

export const onAir = (channel: Channel): Stage => channel.air
export const onStage = stageOf

/** A title of the list as it will stand when it was taken. */
export function ItemCanvas({ item, width, label }: { item: AirItem; width: number; label: string }) {
  const desk = useDesk()
  const channel = useAir((view) => view.channel)
  useAir((view) => view.scenes)
  const second = useNow(Object.values(item.live).some(({ kind }) => kind === 'clock'))
  const scene = desk.sceneOf(item.version)
  if (!scene) return null
  const values = valuesOfItem(channel, item, scene, { now: second, offset: desk.client.offset })
  return <FrameCanvas scene={scene} values={values} width={width} label={label} />
}

/**
 * ms of the epoch by the server's clock; drawn again when that is another, where anybody looks at it.
 * @param step ms that it is told in
 */
export function useNow(isOn: boolean, step = 1000): number {
  const desk = useDesk()
  const read = useCallback(() => Math.floor(desk.client.now() / step) * step, [desk, step])
  const [now, setNow] = useState(read)
  useEffect(() => {
    if (!isOn) return
    const timer = setInterval(() => setNow(read()), Math.min(200, step))
    return () => clearInterval(timer)
  }, [isOn, read, step])
  return now
}
