import { asPath } from '@hoja/core/scene'
import type { Part } from '@hoja/core/template'
import { useDraft } from '../../session/draft.ts'
import { Button } from '../../ui/controls.tsx'
import { useOwnSize } from '../sceneNow.ts'

/** Turns a box or an ellipse into a path of the same shape, whose points can be moved. */
export function AsPath({ part }: { part: Part }) {
  const { change } = useDraft.getState()
  const own = useOwnSize(part.id)
  if (part.kind !== 'box' && part.kind !== 'ellipse') return null
  return (
    <Button
      small
      className="mt-2"
      onClick={() => {
        const size = own()
        if (size)
          change(
            { kind: 'replacePart', part: asPath(part, size.width, size.height) },
            `turning ${part.name} into a path`,
          )
      }}
    >
      Turn into a path
    </Button>
  )
}
