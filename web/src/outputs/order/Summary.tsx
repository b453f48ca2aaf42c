import { type OutputSettings, outputFormats } from '@hoja/core/output'
import type { Template, Values } from '@hoja/core/template'
import { secondsOf } from '@hoja/core/time'
import type { ReactNode } from 'react'
import { Backdrop } from '../../preview/Backdrop.tsx'
import { FrameCanvas } from '../../preview/FrameCanvas.tsx'
import { useScene } from '../../preview/useScene.ts'
import { counted } from '../../ui/counted.ts'

/** Room for the picture, px of the screen. */
const room = { width: 352, height: 300 }

/** The first title as it will be, and what will be made. */
export function Summary({
  settings,
  drawn,
  values,
  own,
  version,
  names,
  more,
}: {
  settings: OutputSettings
  /** The template for the frame of the order. */
  drawn: Template
  values: Values
  /** Frames of the first title without handles; undefined: as designed. */
  own: number | undefined
  /** Number of the version. */
  version: number
  /** Of the first files. */
  names: readonly string[]
  /** Files beyond those. */
  more: number
}) {
  const facts = outputFormats[settings.format]
  const { scene } = useScene(drawn)
  const { frame } = drawn
  const layout = scene?.layout(values)
  const timing =
    layout &&
    scene?.timing(layout, facts.still || own === undefined ? undefined : Math.max(1, scene.shortest(layout), own))
  const handles = settings.handles ?? { before: 0, after: 0 }
  const frames = (timing?.total ?? 0) + handles.before + handles.after
  const wide = Math.min(room.width, (room.height * frame.width) / frame.height)
  return (
    <>
      <div
        className="relative mx-auto overflow-hidden border border-rule bg-[#7a7a77]"
        style={{ width: wide, height: (wide * frame.height) / frame.width }}
      >
        {facts.alpha === 'none' && settings.backdrop?.kind !== 'still' && settings.backdrop?.kind !== 'footage' ? (
          <span
            className="absolute inset-0"
            style={{ background: settings.backdrop?.kind === 'colour' ? settings.backdrop.colour : '#000' }}
          />
        ) : (
          <Backdrop frame={frame} />
        )}
        {scene && timing && (
          <FrameCanvas
            scene={scene}
            values={values}
            frame={Math.min(
              shownFrame(settings, scene) ?? scene.settled(scene.layout(values), timing),
              timing.total - 1,
            )}
            duration={timing.total}
            width={wide}
            label="The first title as it will be"
          />
        )}
      </div>
      <dl className="mt-3 grid grid-cols-[92px_minmax(0,1fr)] gap-x-3 gap-y-1">
        <Fact name="Version">{version}</Fact>
        <Fact name="Frame">
          {frame.width} × {frame.height}
          {!facts.still && `, ${(frame.rate.num / frame.rate.den).toFixed(frame.rate.den === 1 ? 0 : 2)} a second`}
        </Fact>
        <Fact name="Colour">{facts.bits === 'half' ? 'half floats' : `${facts.bits} bits a channel`}</Fact>
        {!facts.still && timing && (
          <Fact name="Length">
            {counted(frames, 'frame')}, {secondsOf(frames, frame.rate).toFixed(2)} s
          </Fact>
        )}
        {names.length > 0 && (
          <Fact name="Files">
            {names.map((name) => (
              <span key={name} className="block truncate" title={name}>
                {name}
              </span>
            ))}
            {more > 0 && <span className="text-soft">and {more} more, with a manifest</span>}
          </Fact>
        )}
      </dl>
    </>
  )
}

/** The frame that a still shows, where it is not the settled one. */
function shownFrame({ format, at }: OutputSettings, { posterFrame }: { posterFrame: number }): number | undefined {
  if (!outputFormats[format].still) return undefined
  return at === 'poster' ? posterFrame : at
}

function Fact({ name, children }: { name: string; children: ReactNode }) {
  return (
    <>
      <dt className="text-soft">{name}</dt>
      <dd className="min-w-0">{children}</dd>
    </>
  )
}
