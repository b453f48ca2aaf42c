import { checkSettled, generatedProofs, stateOf } from '@hoja/core/data'
import type { Scene } from '@hoja/core/scene'
import { freeId, type Proof, type Template, type Values } from '@hoja/core/template'
import { Ellipsis } from 'lucide-react'
import { memo, useEffect, useRef, useState } from 'react'
import { Backdrop } from '../../preview/Backdrop.tsx'
import { readableCrop } from '../../preview/crop.ts'
import { FrameCanvas } from '../../preview/FrameCanvas.tsx'
import { useDraft } from '../../session/draft.ts'
import { classes, Heading } from '../../ui/controls.tsx'
import { Menu } from '../../ui/Menu.tsx'
import { useDesk } from '../desk.ts'
import { RowDialog } from './RowDialog.tsx'
import { Sweep } from './Sweep.tsx'
import { shortly } from './shortly.ts'

const width = 208
const height = 78

/**
 * The same template with other fillings, live beside the drawing, each with its check in words: those kept with the
 * template, then those made from its fields. A click puts one into the frame.
 */
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
  const { change } = useDraft()
  const [adding, setAdding] = useState(false)
  const put = (proofs: Proof[], what: string) => change({ kind: 'proofs', proofs }, what)
  const keep = (name: string, values: Values) => {
    const id = freeId(
      template.proofs.map((proof) => proof.id),
      'proof',
    )
    put([...template.proofs, { id, name, values }], `keeping the proof ${name}`)
  }
  const generated = generatedProofs(template)
  const shownFrame = playing ? frame : scene.timing().in
  return (
    <aside className="flex min-h-0 flex-col overflow-hidden bg-paper" aria-label="Proofs">
      <Heading
        aside={
          <Menu
            align="end"
            className="!text-leaf"
            entries={[
              { label: 'a row of a sheet …', onSelect: () => setAdding(true) },
              {
                label: 'what stands in the frame',
                onSelect: () => {
                  const { filling } = useDesk.getState()
                  keep(filling.name, filling.values)
                },
              },
            ]}
          >
            + Add
          </Menu>
        }
      >
        Proofs, {template.proofs.length + generated.length}
      </Heading>
      <Sweep template={template} />
      <ol className="flex min-h-0 flex-1 flex-col gap-3 overflow-auto px-3.5 pt-1 pb-4">
        {template.proofs.map((proof, i) => (
          <Tile
            key={proof.id}
            scene={scene}
            number={i + 1}
            proof={proof}
            frame={shownFrame}
            entries={[
              {
                label: 'Remove',
                onSelect: () =>
                  put(
                    template.proofs.filter((other) => other.id !== proof.id),
                    `removing the proof ${proof.name}`,
                  ),
              },
            ]}
          />
        ))}
        {generated.length > 0 && <li className="-mb-1 text-xs font-medium text-soft">Made from the fields</li>}
        {generated.map((proof, i) => (
          <Tile
            key={proof.id}
            scene={scene}
            number={template.proofs.length + i + 1}
            proof={proof}
            frame={shownFrame}
            entries={[{ label: 'Keep with the template', onSelect: () => keep(proof.name, proof.values) }]}
          />
        ))}
        {template.fields.length === 0 && (
          <li className="text-soft">
            Expose a text as a field (Look, Make it a field) and Hoja tries the template here with the names that break
            titles.
          </li>
        )}
      </ol>
      {adding && <RowDialog template={template} onClose={() => setAdding(false)} onRow={keep} />}
    </aside>
  )
}

/** Whether an element is in sight: a proof that is scrolled away is not drawn. */
function useInSight(ref: React.RefObject<HTMLElement | null>): boolean {
  const [inSight, setInSight] = useState(false)
  useEffect(() => {
    const observer = new IntersectionObserver(([entry]) => setInSight(entry!.isIntersecting), { rootMargin: '60px' })
    observer.observe(ref.current!)
    return () => observer.disconnect()
  }, [ref])
  return inSight
}

const Tile = memo(
  function Tile({
    scene,
    number,
    proof,
    frame,
    entries,
  }: {
    scene: Scene
    number: number
    proof: Proof
    frame: number
    entries: { label: string; onSelect: () => void }[]
  }) {
    const ref = useRef<HTMLLIElement>(null)
    const inSight = useInSight(ref)
    // A proof made from the fields may be called like one that is kept.
    const on = useDesk(
      (desk) =>
        desk.filling.name === proof.name && JSON.stringify(desk.filling.values) === JSON.stringify(proof.values),
    )
    return (
      <li ref={ref} className="group relative" style={{ minHeight: height + 22 }}>
        {inSight && <Shown scene={scene} number={number} proof={proof} frame={frame} on={on} />}
        <span className="absolute top-1 right-1 hidden group-focus-within:block group-hover:block">
          <Menu label={`More for the proof ${proof.name}`} align="end" className="bg-white !px-1" entries={entries}>
            <Ellipsis size={13} aria-hidden="true" />
          </Menu>
        </span>
      </li>
    )
  },
  (a, b) =>
    a.scene === b.scene &&
    a.frame === b.frame &&
    a.number === b.number &&
    a.proof.id === b.proof.id &&
    a.proof.name === b.proof.name &&
    JSON.stringify(a.proof.values) === JSON.stringify(b.proof.values),
)

function Shown({
  scene,
  number,
  proof,
  frame,
  on,
}: {
  scene: Scene
  number: number
  proof: Proof
  frame: number
  on: boolean
}) {
  const timing = scene.timing()
  const findings = checkSettled(scene, scene.settle(proof.values), timing)
  const state = stateOf(findings)
  const worst = findings.find((finding) => finding.level === 'stop') ?? findings[0]
  const crop = readableCrop(scene, proof.values, width / height)
  return (
    <button
      type="button"
      aria-pressed={on}
      title={findings.map((finding) => finding.message).join('\n') || undefined}
      className="block w-full text-left"
      onClick={() => useDesk.getState().set({ filling: { name: proof.name, values: proof.values } })}
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
          frame={Math.min(frame, timing.total - 1)}
          width={width}
          crop={crop}
          label={`Proof ${proof.name}`}
        />
      </span>
      <span className="mt-1 flex justify-between gap-2">
        <span className="shrink-0 text-ink">
          {number} {proof.name}
        </span>
        <span
          className={classes(
            'truncate text-right',
            state === 'stop' ? 'text-stop' : state === 'look' ? 'text-look' : 'text-leaf',
          )}
        >
          {worst ? `${state}: ${shortly(worst)}` : 'fine'}
        </span>
      </span>
    </button>
  )
}
