import type { Scene } from '@hoja/core/scene'
import { useDraft } from '../../session/draft.ts'
import { Button } from '../../ui/controls.tsx'
import { beginnings, drawBeginning } from '../beginnings.ts'
import { useDesk } from '../desk.ts'
import { beginTying } from '../tying/tying.ts'

/** What to do first: draw, or begin with a drawing that is there, and see what it says. */
export function EmptyFrame({ scene }: { scene: Scene }) {
  const { change } = useDraft.getState()
  return (
    <div className="pointer-events-none absolute inset-0 flex items-center justify-center">
      <div
        className="pointer-events-auto w-[430px] bg-white px-4 py-3"
        onPointerDown={(event) => event.stopPropagation()}
      >
        <p className="text-center">
          <b className="font-semibold">An empty frame.</b>
          <br />
          Press T, click and write; press B and drag a box around it; then Y, and Hoja ties what you drew. Or begin
          with:
        </p>
        <ul className="mt-2 grid grid-cols-2 gap-1.5">
          {beginnings.map(({ name, note, parts }) => (
            <li key={name}>
              <Button
                className="!h-auto w-full py-1 text-left leading-tight"
                onClick={() => {
                  if (change(drawBeginning(scene, parts), name.toLowerCase())) beginTying()
                }}
              >
                {name}
                <span className="block text-xs font-normal text-soft">{note}</span>
              </Button>
            </li>
          ))}
        </ul>
        <p className="mt-2 text-center">
          <button
            type="button"
            className="text-leaf hover:underline"
            onClick={() => useDesk.getState().set({ tour: 0, folded: [] })}
          >
            Show me around, in four steps
          </button>
        </p>
      </div>
    </div>
  )
}
