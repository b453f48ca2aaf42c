import { checkSettled, stateOf } from '@hoja/core/data'
import type { Scene } from '@hoja/core/scene'
import type { Template } from '@hoja/core/template'
import { Backdrop } from '../preview/Backdrop.tsx'
import { readableCrop } from '../preview/crop.ts'
import { FrameCanvas } from '../preview/FrameCanvas.tsx'
import { classes, Heading } from '../ui/controls.tsx'
import { useDesk } from './desk.ts'

const width = 208
const height = 78

/** The same template with other fillings, live beside the drawing, each with its check in words. A click puts one into the frame. */
export function Proofs({
  template,
  scene,
  frame,
  playing,
}: {
  template: Template
  scene: Scene
  frame: number
  playing: boolean
}) {
  const { filling, set } = useDesk()
  const timing = scene.timing()
  const proofs = template.proofs.length > 0 ? template.proofs : [{ id: 'drawn', name: 'as drawn', values: {} }]
  return (
    <aside className="flex min-h-0 flex-col overflow-auto bg-paper" aria-label="Proofs">
      <Heading aside={proofs.length}>Proofs</Heading>
      <ol className="flex flex-col gap-3 px-3.5 pb-4">
        {proofs.map((proof, i) => {
          const settled = scene.settle(proof.values)
          const findings = checkSettled(scene, settled, timing)
          const state = stateOf(findings)
          const on = filling.name === proof.name
          const crop = readableCrop(scene, proof.values, width / height)
          return (
            <li key={proof.id}>
              <button
                type="button"
                aria-pressed={on}
                className="block w-full text-left"
                onClick={() => set({ filling: { name: proof.name, values: proof.values } })}
              >
                <span
                  className={classes(
                    'relative block overflow-hidden',
                    on ? 'outline-2 outline-offset-1 outline-leaf' : 'outline-1 outline-rule',
                  )}
                  style={{ width, height }}
                >
                  <Backdrop crop={crop} />
                  <FrameCanvas
                    scene={scene}
                    values={proof.values}
                    frame={playing ? frame : Math.min(timing.in, timing.total - 1)}
                    width={width}
                    crop={crop}
                    label={`Proof ${proof.name}`}
                  />
                </span>
                <span className="mt-1 flex justify-between gap-2">
                  <span className="text-ink">
                    {i + 1} {proof.name}
                  </span>
                  <span
                    className={classes(
                      'text-right',
                      state === 'stop' ? 'text-stop' : state === 'look' ? 'text-look' : 'text-leaf',
                    )}
                  >
                    {state === 'fine' ? 'fine' : `${state}: ${shortly(findings[0]!)}`}
                  </span>
                </span>
              </button>
            </li>
          )
        })}
      </ol>
    </aside>
  )
}

/** A finding in two or three words; the whole sentence stands in Fill. */
function shortly(finding: { code: string; message: string }): string {
  const words: Record<string, string> = {
    overflow: 'past its room',
    missing: 'a character in no font',
    picture: 'no such picture',
    'safe.title': 'past title-safe',
    'safe.action': 'past action-safe',
    reading: 'long to read',
    cut: 'cut',
  }
  return words[finding.code] ?? finding.message.replace(/\.$/, '')
}
