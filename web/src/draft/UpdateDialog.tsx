import { generatedProofs } from '@hoja/core/data'
import { easePresets } from '@hoja/core/motion'
import { paint } from '@hoja/core/paint'
import { ChangingTitle, type Scene } from '@hoja/core/scene'
import {
  allParts,
  described,
  plainUpdate,
  type Template,
  type Update,
  updateOf,
  type Values,
} from '@hoja/core/template'
import { useContext, useLayoutEffect, useMemo, useRef, useState } from 'react'
import { Backdrop } from '../preview/Backdrop.tsx'
import { resources, surfaceOf } from '../preview/rasterBackend.ts'
import { usePlayer } from '../preview/usePlayer.ts'
import { useDraft } from '../session/draft.ts'
import { Button, Checkbox, Line, Select } from '../ui/controls.tsx'
import { Dialog } from '../ui/Dialog.tsx'
import { NumberInput } from '../ui/NumberInput.tsx'
import { useDesk } from './desk.ts'
import { SceneContext } from './sceneNow.ts'

/** How parts may travel; anything else came from elsewhere. */
const eases: [string, string, Update['ease']][] = [
  ['gently', 'Off at once, gently there', plainUpdate.ease],
  ...easePresets.map(({ id, name, ease }): [string, string, Update['ease']] => [id, name, ease]),
]

/** Seconds that a filling stands in the trial before it changes, and after. */
const stands = 1

interface Trial {
  name: string
  values: Values
}

/** How the title goes from one filling to the next while it is up, tried with two proofs. */
export function UpdateDialog({ onClose }: { onClose: () => void }) {
  const template = useDraft((draft) => draft.template!)
  const scene = useContext(SceneContext)
  const update = updateOf(template)
  const trials = useMemo(
    (): Trial[] => [
      ...(template.proofs.some(({ name }) => name === 'as drawn') ? [] : [{ name: 'as drawn', values: {} }]),
      ...template.proofs,
      ...generatedProofs(template),
    ],
    [template],
  )
  const filling = useDesk((desk) => desk.filling)
  const [before, setBefore] = useState(() =>
    Math.max(
      0,
      trials.findIndex(({ name }) => name === filling.name),
    ),
  )
  const [after, setAfter] = useState(() => {
    const said = JSON.stringify(trials[before]?.values)
    return Math.max(
      0,
      trials.findIndex(({ values }, i) => i > before && JSON.stringify(values) !== said),
    )
  })
  const put = (more: Partial<Update>) =>
    useDraft
      .getState()
      .attempt((now) => ({ kind: 'update', update: { ...updateOf(now), ...more } }), 'what happens while it is up')
  const { pace, fade } = update
  const options = trials.map(({ name }, i) => [String(i), name] as const)
  const isOf = JSON.stringify(update.ease)
  const ease = eases.find(([, , one]) => JSON.stringify(one) === isOf)
  const isBare = update.words === 'fade' && fade.after > fade.out
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title="While it is up"
      wide
      footer={
        <Button variant="primary" onClick={onClose}>
          Done
        </Button>
      }
    >
      <div className="grid grid-cols-[minmax(0,1fr)_336px] gap-5">
        <div>
          <div className="flex items-center gap-2 pb-2">
            <span className="text-soft">From</span>
            <Select
              aria-label="Proof before"
              value={String(before)}
              options={options}
              onChange={(event) => setBefore(Number(event.target.value))}
            />
            <span className="text-soft">to</span>
            <Select
              aria-label="Proof after"
              value={String(after)}
              options={options}
              onChange={(event) => setAfter(Number(event.target.value))}
            />
          </div>
          {scene && trials[before] && trials[after] && (
            <Tried scene={scene} template={template} before={trials[before].values} after={trials[after].values} />
          )}
        </div>
        <div>
          <h3 className="pb-1 font-semibold">What stands round the words travels</h3>
          <Line label="By">
            {(id) => (
              <Select
                id={id}
                value={pace.kind}
                options={[
                  ['time', 'a time, the same for every way'],
                  ['speed', 'a speed, the longest way sets the time'],
                ]}
                onChange={(event) =>
                  put({
                    pace: event.target.value === 'time' ? { kind: 'time', frames: 12 } : { kind: 'speed', speed: 3500 },
                  })
                }
              />
            )}
          </Line>
          {pace.kind === 'time' ? (
            <Line label="Frames">
              {(id) => (
                <NumberInput
                  id={id}
                  bounds={described.updateTime}
                  value={pace.frames}
                  onValue={(frames) => put({ pace: { kind: 'time', frames } })}
                />
              )}
            </Line>
          ) : (
            <Line label="px a second" note="A way of 20 px takes a frame at least.">
              {(id) => (
                <NumberInput
                  id={id}
                  bounds={described.updateSpeed}
                  value={pace.speed}
                  onValue={(speed) => put({ pace: { kind: 'speed', speed } })}
                />
              )}
            </Line>
          )}
          <Line label="How">
            {(id) => (
              <Select
                id={id}
                value={ease?.[0] ?? 'own'}
                options={[
                  ...eases.map(([key, name]) => [key, name] as const),
                  ...(ease ? [] : [['own', 'a curve of its own'] as const]),
                ]}
                onChange={(event) => {
                  const chosen = eases.find(([key]) => key === event.target.value)
                  if (chosen) put({ ease: chosen[2] })
                }}
              />
            )}
          </Line>
          <h3 className="pt-3 pb-1 font-semibold">Words and pictures leave and come</h3>
          <Line label="By">
            {(id) => (
              <Select
                id={id}
                value={update.words}
                options={[
                  ['fade', 'a short fade'],
                  ['moves', 'their own Out and In'],
                ]}
                onChange={(event) => put({ words: event.target.value as Update['words'] })}
              />
            )}
          </Line>
          {update.words === 'fade' && (
            <>
              <div className="grid grid-cols-3 gap-2 py-1">
                {(
                  [
                    ['out', 'Old ones gone by'],
                    ['after', 'New ones from'],
                    ['in', 'New ones take'],
                  ] as const
                ).map(([key, label]) => (
                  <span key={key} className="text-xs text-soft">
                    {label}
                    <NumberInput
                      aria-label={label}
                      bounds={described.updateFrames}
                      value={fade[key]}
                      onValue={(frames) => put({ fade: { ...fade, [key]: frames } })}
                    />
                  </span>
                ))}
              </div>
              <p className="text-xs text-soft">Frames, counted from when it changes.</p>
              {isBare && (
                <p className="text-look">
                  From frame {fade.out} to {fade.after} there are no words at all; let the new ones begin earlier.
                </p>
              )}
            </>
          )}
          <Anew template={template} />
        </div>
      </div>
    </Dialog>
  )
}

/** Parts that leave and come by their own Out and In when they are others. */
function Anew({ template }: { template: Template }) {
  const parts = allParts(template.parts)
  const set = (id: string, on: boolean) =>
    useDraft.getState().attempt((now) => {
      const { motion } = allParts(now.parts).find((part) => part.id === id)!
      const { update: _, ...rest } = motion
      return { kind: 'motion', part: id, motion: on ? { ...rest, update: 'comes' } : rest }
    }, 'what comes anew')
  return (
    <fieldset className="pt-3">
      <legend className="pb-1 font-semibold">Comes by its own In instead</legend>
      <ul className="max-h-40 overflow-auto border border-rule bg-white px-2 py-1">
        {parts.map(({ id, name, motion }) => (
          <li key={id}>
            <label className="flex items-center gap-2 py-0.5">
              <Checkbox checked={motion.update === 'comes'} onValue={(on) => set(id, on)} />
              {name}
            </label>
          </li>
        ))}
      </ul>
    </fieldset>
  )
}

/** The title going from one filling to the other, over and over. */
function Tried({
  scene,
  template,
  before,
  after,
}: {
  scene: Scene
  template: Template
  before: Values
  after: Values
}) {
  const { frame, spans } = template
  const ref = useRef<HTMLCanvasElement>(null)
  const rate = frame.rate.num / frame.rate.den
  const at = spans.in + Math.round(stands * rate)
  const title = useMemo(() => {
    const timing = scene.open(scene.layout(before))
    return { timing, changed: ChangingTitle.of(scene, () => before).changed(() => after, at, timing) }
  }, [scene, before, after, at])
  const arrives = Math.max(at, Math.ceil(title.changed.arrives))
  const total = arrives + Math.round(stands * rate)
  const player = usePlayer(total, rate, at)
  const width = 592
  const height = Math.round((width * frame.height) / frame.width)
  useLayoutEffect(() => {
    const canvas = ref.current!
    const wide = Math.round(width * devicePixelRatio)
    const high = Math.round(height * devicePixelRatio)
    if (canvas.width !== wide || canvas.height !== high) Object.assign(canvas, { width: wide, height: high })
    const surface = surfaceOf(canvas)
    surface.context.setTransform(1, 0, 0, 1, 0, 0)
    surface.context.clearRect(0, 0, wide, high)
    const posed =
      player.frame < at
        ? scene.shown(scene.layout(before), title.timing, player.frame)
        : title.changed.posed(title.timing, player.frame)
    paint(posed.drawList(), surface, resources, { scale: wide / frame.width })
  })
  const { longest, frames } = title.changed
  return (
    <>
      <div className="relative overflow-hidden bg-grey" style={{ width, height }}>
        <Backdrop />
        <canvas
          ref={ref}
          style={{ width, height }}
          className="absolute inset-0"
          role="img"
          aria-label="The title, changing"
        />
      </div>
      <div className="flex items-center gap-2 pt-2">
        <Button
          aria-pressed={player.speed !== 0}
          onClick={() => (player.speed ? player.setSpeed(0) : player.setSpeed(1))}
        >
          {player.speed ? 'Stop' : 'Play'}
        </Button>
        <input
          type="range"
          aria-label="Frame"
          className="flex-1 accent-leaf"
          min={0}
          max={total - 1}
          value={player.frame}
          onChange={(event) => {
            player.setSpeed(0)
            player.go(Number(event.target.value))
          }}
        />
        <span className="w-16 text-right text-soft">
          {player.frame - at >= 0 ? `+${player.frame - at}` : player.frame - at} f
        </span>
      </div>
      <p className="pt-2 text-soft" role="status">
        {arrives === at
          ? 'Both proofs look the same.'
          : longest
            ? `${longest.part} has the longest way: ${Math.round(longest.way)} px in ${Math.ceil(frames)} ${Math.ceil(frames) === 1 ? 'frame' : 'frames'}. All of it has arrived after ${arrives - at}.`
            : `Nothing travels. The words have changed after ${arrives - at} frames.`}
      </p>
    </>
  )
}
