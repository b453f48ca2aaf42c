import { soundStarts, timingOf } from '@hoja/core/motion'
import type { SoundFile, Template } from '@hoja/core/template'
import { useRef } from 'react'
import { useDraft } from '../../session/draft.ts'
import { counted } from '../../ui/counted.ts'
import type { Ruler } from './ruler.ts'
import { spanAt } from './spans.ts'

/** The sounds of a template under its lanes, each from where it begins to where it ends; dragged to begin elsewhere. */
export function SoundLanes({
  template,
  r,
  names,
  height,
}: {
  template: Template
  r: Ruler
  names: number
  height: number
}) {
  const { change } = useDraft()
  const held = useRef<{ grip: number; name: string } | undefined>(undefined)
  const timing = timingOf(template)
  const { rate } = template.frame
  const put = (sound: SoundFile, frame: number, drag?: string) => {
    const begin = spanAt(template.spans, Math.min(timing.total - 1, Math.max(0, frame)))
    const sounds = template.sounds.map((one) => (one.id === sound.id ? { ...one, ...begin } : one))
    change({ kind: 'sounds', sounds }, `the place of ${sound.name}`, drag)
  }
  return soundStarts(template, timing).map(({ sound, frame }) => {
    const end = Math.min(timing.total, frame + (sound.seconds * rate.num) / rate.den)
    return (
      <div key={sound.id} className="flex border-b border-rule" style={{ height }}>
        <span
          className="shrink-0 truncate pl-6 text-soft"
          style={{ width: names, lineHeight: `${height}px` }}
          title={sound.name}
        >
          {sound.name}
        </span>
        <div className="relative flex-1">
          <button
            type="button"
            aria-label={`${sound.name} begins at frame ${frame}`}
            title={`${sound.name}: begins with ${sound.span} plus ${counted(sound.at, 'frame')}`}
            className="absolute top-1.5 bottom-1.5 touch-none rounded-[2px] border border-soft bg-chalk"
            style={{ left: r.x(frame), width: Math.max(4, r.x(end) - r.x(frame)), cursor: 'ew-resize' }}
            onPointerDown={(event) => {
              event.currentTarget.setPointerCapture(event.pointerId)
              const lane = event.currentTarget.parentElement!.getBoundingClientRect()
              held.current = { grip: r.frame(event.clientX - lane.left) - frame, name: `sound ${event.timeStamp}` }
            }}
            onPointerMove={(event) => {
              if (!held.current || event.buttons === 0) return
              const lane = event.currentTarget.parentElement!.getBoundingClientRect()
              put(sound, r.frame(event.clientX - lane.left) - held.current.grip, held.current.name)
            }}
            onPointerUp={() => {
              held.current = undefined
            }}
            onKeyDown={(event) => {
              const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
              if (by === undefined) return
              event.preventDefault()
              event.stopPropagation()
              put(sound, frame + by * (event.shiftKey ? 10 : 1))
            }}
          />
        </div>
      </div>
    )
  })
}
