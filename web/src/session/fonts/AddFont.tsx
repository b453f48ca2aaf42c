import { toast } from 'sonner'
import { fontChange } from '../carry.ts'
import { useDraft } from '../draft.ts'
import { FontPicker } from './FontPicker.tsx'

/** Chooses a font for the open draft to carry. */
export function AddFont({ onClose }: { onClose: () => void }) {
  const { change } = useDraft.getState()
  const template = useDraft((draft) => draft.template)
  return (
    <FontPicker
      title="Add a font"
      action="Add it"
      onClose={onClose}
      onFont={(font) => {
        const { template: now } = useDraft.getState()
        if (!now || !change(fontChange(now, font), `adding ${font.family} ${font.style}`)) return
        toast.success(`${font.family} ${font.style} travels with the template now.`)
        onClose()
      }}
    >
      {() => (
        <p className="mt-2 text-soft">
          Those that ship with Hoja stand under the SIL Open Font License. {template?.name} carries what it uses, so it
          looks the same everywhere.
        </p>
      )}
    </FontPicker>
  )
}
