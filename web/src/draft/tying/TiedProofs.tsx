import { generatedProofs } from '@hoja/core/data'
import { readableCrop, Scene } from '@hoja/core/scene'
import type { Values } from '@hoja/core/template'
import { useContext, useMemo } from 'react'
import { Backdrop } from '../../preview/Backdrop.tsx'
import { FrameCanvas } from '../../preview/FrameCanvas.tsx'
import { Heading } from '../../ui/controls.tsx'
import { SceneContext } from '../sceneNow.ts'
import { useTied, useTying } from './tying.ts'

const width = 208
const height = 62

/** While a drawing is read: every proof as it is, and as it would be tied. */
export function TiedProofs() {
  const scene = useContext(SceneContext)!
  const read = useTying(scene)
  const tied = useTied(scene, read?.lines)
  const after = tied instanceof Scene ? tied : scene
  // What becomes a field does so in both pictures: the ties alone make the difference.
  const fields = useMemo(() => read?.lines.filter(({ proposal }) => proposal.about === 'field'), [read])
  const loose = useTied(scene, fields)
  const before = loose instanceof Scene ? loose : scene
  const proofs = useMemo(
    () => [...after.template.proofs, ...generatedProofs({ fields: after.template.fields })],
    [after.template],
  )
  return (
    <aside className="flex min-h-0 flex-col overflow-hidden bg-paper" aria-label="Proofs">
      <Heading aside="as it is, as tied">Proofs, {proofs.length}</Heading>
      <ol className="flex min-h-0 flex-1 flex-col gap-3 overflow-auto px-3.5 pt-1 pb-4">
        {proofs.map((proof) => (
          <li key={proof.id} className="flex flex-col gap-0.5">
            <Picture scene={before} values={proof.values} label={`${proof.name}, as it is`} />
            <Picture scene={after} values={proof.values} label={`${proof.name}, as tied`} />
            {proof.name}
          </li>
        ))}
        {proofs.length === 0 && (
          <li className="text-soft">With a text that is a field, Hoja shows here how long and short names stand.</li>
        )}
      </ol>
    </aside>
  )
}

function Picture({ scene, values, label }: { scene: Scene; values: Values; label: string }) {
  const crop = useMemo(() => readableCrop(scene, values, width / height), [scene, values])
  return (
    <span className="relative block overflow-hidden bg-grey outline-1 outline-rule" style={{ width, height }}>
      <Backdrop crop={crop} frame={scene.template.frame} />
      <FrameCanvas scene={scene} values={values} width={width} crop={crop} within label={label} />
    </span>
  )
}
