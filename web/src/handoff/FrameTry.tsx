import { boxOf } from '@hoja/core/layout'
import type { Scene } from '@hoja/core/scene'
import { type Field, numberedParts, reachedBy, shapesOf, type Values } from '@hoja/core/template'
import { Backdrop } from '../preview/Backdrop.tsx'
import { FrameCanvas } from '../preview/FrameCanvas.tsx'
import { usePlayer } from '../preview/usePlayer.ts'
import { useSounds } from '../preview/useSounds.ts'
import { useTransport } from '../preview/useTransport.ts'
import { FieldWriting } from '../preview/writing/FieldWriting.tsx'
import { useDraft } from '../session/draft.ts'
import { Button } from '../ui/controls.tsx'
import { ShapeChoice } from '../ui/ShapeChoice.tsx'
import { Strip } from '../ui/Strip.tsx'
import { useSize } from '../ui/useSize.ts'

/** The title with the form's values, what the chosen field drives marked on it, and the choice of the poster. */
export function FrameTry({
  scene,
  values,
  field,
  onDefault,
}: {
  scene: Scene
  values: Values
  field: Field | undefined
  /** A field's default was written on the frame: it is what stands there from now on. */
  onDefault: (field: Field) => void
}) {
  const { change, undo, redo } = useDraft.getState()
  const shape = useDraft((draft) => draft.shape)
  const shapes = shapesOf(useDraft((draft) => draft.whole!))
  const [ref, size] = useSize<HTMLDivElement>()
  const { template } = scene
  const { frame, poster } = template
  const layout = scene.layout(values)
  const timing = scene.timing(layout)
  const player = usePlayer(timing.total, frame.rate.num / frame.rate.den, scene.settled(layout, timing))
  useTransport(player)
  useSounds(template, timing, player)
  const width = Math.max(100, Math.min(size.width - 24, ((size.height - 20) * frame.width) / frame.height))
  const height = (width * frame.height) / frame.width
  const isPoster = poster.frame === player.frame && JSON.stringify(poster.values) === JSON.stringify(values)
  return (
    <>
      <div ref={ref} className="flex h-[38vh] min-h-52 shrink-0 items-center justify-center bg-grey">
        {size.width > 0 && (
          <div className="relative" style={{ width, height }}>
            <Backdrop />
            <FieldWriting
              scene={scene}
              values={values}
              player={player}
              origin={{ x: 0, y: 0 }}
              scale={width / frame.width}
              whose="its default"
              onText={(own, text, step) => {
                const what = `the default of ${own.name}`
                if (change({ kind: 'field', field: { ...own, default: text } }, what, `${own.id}.${step}`))
                  onDefault(own)
              }}
              onUndo={undo}
              onRedo={redo}
            >
              <FrameCanvas
                scene={scene}
                values={values}
                frame={player.frame}
                width={width}
                label="The title with the form's values"
              />
            </FieldWriting>
            {field && player.speed === 0 && (
              <Driven scene={scene} values={values} field={field} scale={width / frame.width} />
            )}
          </div>
        )}
      </div>
      <div className="flex shrink-0 items-center gap-2.5 bg-paper px-3.5 py-1.5">
        <ShapeChoice shapes={shapes} shape={shape} onShape={useDraft.getState().setShape} />
        <Button small onClick={player.toggle}>
          {player.speed ? 'Stop' : 'Play'}
        </Button>
        <div className="relative flex-1">
          <Strip
            spans={{ in: timing.in, hold: timing.hold, out: timing.out }}
            turns={timing.turns}
            frame={player.frame}
            height={20}
            onScrub={(at) => {
              player.setSpeed(0)
              player.go(at)
            }}
          />
          <span
            className="pointer-events-none absolute -top-0.5 text-leaf"
            style={{ left: `calc(${((poster.frame + 0.5) / timing.total) * 100}% - 4px)` }}
            title={`The poster: frame ${poster.frame}`}
          >
            <svg viewBox="0 0 8 6" width="8" height="6" aria-hidden="true">
              <path d="M0 0H8L4 6Z" fill="currentColor" />
            </svg>
          </span>
        </div>
        <span className="w-9 text-right text-soft">{player.frame}</span>
        <Button
          small
          disabled={isPoster}
          title="The picture by which this template is known on the shelf: this frame with the form's values"
          onClick={() =>
            change({ kind: 'poster', poster: { frame: player.frame, values } }, `the poster at frame ${player.frame}`)
          }
        >
          {isPoster ? 'This is the poster' : 'Make it the poster'}
        </Button>
      </div>
    </>
  )
}

/** Outlines of the parts that a field changes, with their numbers; frame px times `scale`. */
function Driven({ scene, values, field, scale }: { scene: Scene; values: Values; field: Field; scale: number }) {
  const layout = scene.layout(values)
  const { rest } = layout
  const numbers = new Map(numberedParts(scene.template).map(({ part, number }) => [part.id, number]))
  const parts = [...new Set(reachedBy(scene.template, field).map(({ part }) => part))].flatMap((id) => {
    const i = rest.order.index.get(id)
    return i === undefined || rest.gone[i] ? [] : [{ id, box: boxOf(rest, i) }]
  })
  return (
    <svg className="pointer-events-none absolute inset-0 size-full overflow-visible" aria-hidden="true">
      {parts.map(({ id, box }) => (
        <g key={id} transform={`translate(${box.x * scale} ${box.y * scale})`}>
          <rect width={box.width * scale} height={box.height * scale} fill="none" stroke="#b4472e" />
          <circle r="8" fill="#b4472e" />
          <text y="3.5" textAnchor="middle" fontSize="10" fontWeight="600" fill="#fff">
            {numbers.get(id)}
          </text>
        </g>
      ))}
    </svg>
  )
}
