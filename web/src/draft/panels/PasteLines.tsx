import { type Clipping, kindNames, pasteStyle, styleLines } from '@hoja/core/template'
import { useState } from 'react'
import { useDraft } from '../../session/draft.ts'
import { Button, Checkbox } from '../../ui/controls.tsx'
import { counted } from '../../ui/counted.ts'
import { Dialog } from '../../ui/Dialog.tsx'
import { chosenParts, useDesk } from '../desk.ts'

/** Chooses which lines of a copied style the chosen parts take; those that it sets are ticked. */
export function PasteLines({ clipping, onClose }: { clipping: Clipping; onClose: () => void }) {
  const copied = clipping.parts[0]!
  const style = copied.style as Record<string, unknown>
  const lines = styleLines(copied.kind)
  const [taken, setTaken] = useState<string[]>(() => lines.flatMap(([key]) => (style[key] === undefined ? [] : [key])))
  const ids = chosenParts(useDesk())
  const put = () => {
    const { attempt } = useDraft.getState()
    if (attempt((now) => pasteStyle(now, clipping, ids, taken), 'lines of a copied style')) onClose()
  }
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title={`Lines of the style of ${copied.name}`}
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" disabled={taken.length === 0} onClick={put}>
            Paste {counted(taken.length, 'line')}
          </Button>
        </>
      }
    >
      <p className="pb-2 text-soft">
        From a {kindNames[copied.kind]} to {counted(ids.length, 'part')}. A grey line is one that it does not set:
        pasted, it goes back to how it begins.
      </p>
      <ul className="columns-2">
        {lines.map(([key, label]) => (
          <li key={key}>
            <label className="flex items-center gap-2 py-0.5">
              <Checkbox
                checked={taken.includes(key)}
                onValue={(on) => setTaken(on ? [...taken, key] : taken.filter((one) => one !== key))}
              />
              <span className={style[key] === undefined ? 'text-soft' : 'font-medium'}>{label}</span>
            </label>
          </li>
        ))}
      </ul>
    </Dialog>
  )
}
