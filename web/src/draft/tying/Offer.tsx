import type { Scene } from '@hoja/core/scene'
import { useDraft } from '../../session/draft.ts'
import { useDesk } from '../desk.ts'
import { offerFor, readAbout } from './tying.ts'

/** Under the frame, in one line: what the part that was drawn or moved just now went behind, and could hold to. */
export function Offer({ scene, id }: { scene: Scene; id: string }) {
  const { set } = useDesk.getState()
  const behind = useDesk((desk) => desk.behind)
  const proposal = offerFor(scene, id)
  const went = behind?.part === id ? behind.names : undefined
  if (!proposal && !went) return null
  const [likeliest, ...others] = proposal?.options ?? []
  return (
    <p
      role="status"
      className="absolute bottom-2 left-1/2 z-20 flex max-w-[94%] -translate-x-1/2 items-center gap-3 border border-rule bg-white px-3 py-1 text-xs whitespace-nowrap"
      onPointerDown={(event) => event.stopPropagation()}
    >
      {went && (
        <span className="shrink-0">
          It went behind {went}; <b className="font-semibold">Shift Page Up</b> puts it in front.
        </span>
      )}
      {likeliest && (
        <>
          <span className="truncate">{likeliest.sentence}</span>
          <button
            type="button"
            className="font-semibold text-leaf hover:underline"
            onClick={() => {
              if (useDraft.getState().change(likeliest.change, 'tying as drawn')) set({ offer: undefined })
            }}
          >
            Tie it
          </button>
          <button type="button" className="text-leaf hover:underline" onClick={() => readAbout([id])}>
            {others.length > 0 ? `or ${others.length} more …` : 'more …'}
          </button>
        </>
      )}
      <button type="button" aria-label="Not now" className="text-soft" onClick={() => set({ offer: undefined })}>
        ✕
      </button>
    </p>
  )
}
