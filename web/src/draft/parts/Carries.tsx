import type { Template } from '@hoja/core/template'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { toast } from 'sonner'
import { useDraft } from '../../session/draft.ts'
import { api } from '../../ui/api.ts'
import { Button, Heading, Line, Select } from '../../ui/controls.tsx'
import { Dialog } from '../../ui/Dialog.tsx'
import { carryFile, fontChange } from '../carry.ts'
import { useDesk } from '../desk.ts'

/** The fonts and pictures that travel with the template. */
export function Carries({ template }: { template: Template }) {
  const { change } = useDraft()
  const [choosing, setChoosing] = useState(false)
  const carry = async (files: FileList | null) => {
    for (const file of files ?? [])
      try {
        const { changes, part, note } = await carryFile(useDraft.getState().template!, file)
        const all = part ? [...changes, { kind: 'addPart' as const, part }] : changes
        if (!change({ kind: 'several', changes: all }, `adding ${file.name}`)) continue
        if (part) useDesk.getState().set({ selected: part.id })
        toast.success(note ?? `${file.name} travels with the template now.`)
      } catch (error) {
        toast.error((error as Error).message)
      }
  }
  return (
    <>
      <Heading
        aside={
          <span className="flex gap-1">
            <button
              type="button"
              className="rounded-[3px] px-1 font-medium text-leaf hover:bg-leaf-pale"
              onClick={() => setChoosing(true)}
            >
              + Font
            </button>
            <label className="cursor-pointer rounded-[3px] px-1 font-medium text-leaf focus-within:outline-2 focus-within:outline-leaf hover:bg-leaf-pale">
              + File
              <input
                type="file"
                multiple
                accept=".ttf,.otf,.png,.jpg,.jpeg,.webp,.svg"
                className="sr-only"
                aria-label="Add fonts and pictures"
                onChange={(event) => void carry(event.target.files)}
              />
            </label>
          </span>
        }
      >
        Carries
      </Heading>
      <p className="px-3.5 pb-4 text-soft">
        {template.fonts.length} fonts, {template.media.length} pictures
      </p>
      {choosing && <FontDialog template={template} onClose={() => setChoosing(false)} />}
    </>
  )
}

/** Adds one of the fonts that ship with Hoja. */
function FontDialog({ template, onClose }: { template: Template; onClose: () => void }) {
  const { change } = useDraft()
  const fonts = useQuery({ queryKey: ['fonts'], queryFn: api.fonts, staleTime: Number.POSITIVE_INFINITY })
  const [family, setFamily] = useState<string>()
  const [style, setStyle] = useState<string>()
  const list = fonts.data ?? []
  const families = [...new Set(list.map((font) => font.family))]
  const chosenFamily = family ?? families[0]
  const styles = list.filter((font) => font.family === chosenFamily)
  const chosen = styles.find((font) => font.id === style) ?? styles.find((f) => f.style === 'SemiBold') ?? styles[0]
  const add = async () => {
    if (!chosen) return
    try {
      const asset = await api.addFont(chosen.id)
      const { template: now } = useDraft.getState()
      if (now && change(fontChange(now, asset, asset.name), `adding ${chosen.family} ${chosen.style}`)) {
        toast.success(`${chosen.family} ${chosen.style} travels with the template now.`)
        onClose()
      }
    } catch (error) {
      toast.error((error as Error).message)
    }
  }
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title="Add a font"
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button look="primary" disabled={!chosen} onClick={() => void add()}>
            Add it
          </Button>
        </>
      }
    >
      <p className="mb-2 text-soft">
        These ship with Hoja under the SIL Open Font License. {template.name} carries what it uses, so it looks the same
        everywhere.
      </p>
      <Line label="Family">
        {(id) => (
          <Select
            id={id}
            value={chosenFamily ?? ''}
            options={families.map((name) => [name, name])}
            onChange={(event) => {
              setFamily(event.target.value)
              setStyle(undefined)
            }}
          />
        )}
      </Line>
      <Line label="Style">
        {(id) => (
          <Select
            id={id}
            value={chosen?.id ?? ''}
            options={styles.map((font) => [font.id, font.style])}
            onChange={(event) => setStyle(event.target.value)}
          />
        )}
      </Line>
    </Dialog>
  )
}
