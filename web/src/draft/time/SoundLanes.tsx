import { soundStarts, timingOf } from '@hoja/core/motion'
import type { Change, SoundFile, Template } from '@hoja/core/template'
import { useDraft } from '../../session/draft.ts'
import { useDraftDrag } from '../../session/useDraftDrag.ts'
import { counted } from '../../ui/counted.ts'
import { keyRoom } from './measures.ts'
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
  const { change } = useDraft.getState()
  const timing = timingOf(template)
  const { rate } = template.frame
  const begun = (from: Template, sound: SoundFile, frame: number): Change => {
    const begin = spanAt(from.spans, Math.min(timing.total - 1, Math.max(0, frame)))
    return { kind: 'sounds', sounds: from.sounds.map((one) => (one.id === sound.id ? { ...one, ...begin } : one)) }
  }
  const put = (sound: SoundFile, frame: number) => change(begun(template, sound, frame), `the place of ${sound.name}`)
  const drag = useDraftDrag<{ sound: SoundFile; left: number; grip: number }>({
    what: ({ sound }) => `the place of ${sound.name}`,
    change: ({ sound, left, grip }, at, from) => begun(from, sound, r.frame(at.x - left) - grip),
  })
  return soundStarts(template, timing).map(({ sound, frame }) => {
    const end = Math.min(timing.total, frame + (sound.seconds * rate.num) / rate.den)
    return (
      <div key={sound.id} className="flex w-max border-b border-rule" style={{ height }}>
        <span
          className="sticky left-0 z-30 shrink-0 truncate bg-paper pl-6 text-soft"
          style={{ width: names - keyRoom, marginRight: keyRoom, lineHeight: `${height}px` }}
          title={sound.name}
        >
          {sound.name}
        </span>
        <div className="relative" style={{ width: r.inWidth + r.holdWidth + r.outWidth }}>
          <button
            type="button"
            aria-label={`${sound.name} begins at frame ${frame}`}
            title={`${sound.name}: begins with ${sound.span} plus ${counted(sound.at, 'frame')}`}
            className="absolute top-1.5 bottom-1.5 touch-none rounded-[2px] border border-soft bg-chalk"
            style={{ left: r.x(frame), width: Math.max(4, r.x(end) - r.x(frame)), cursor: 'ew-resize' }}
            onPointerDown={(event) => {
              const { left } = event.currentTarget.parentElement!.getBoundingClientRect()
              drag(event, { sound, left, grip: r.frame(event.clientX - left) - frame })
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
