import type { Template } from '@hoja/core/template'
import { useState } from 'react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import { carriedKinds, carryFile, fontChange } from '../../session/carry.ts'
import { useDraft } from '../../session/draft.ts'
import { FontPicker } from '../../session/FontPicker.tsx'
import { Heading } from '../../ui/controls.tsx'
import { useDesk } from '../desk.ts'

const counted = (n: number, what: string) => `${n} ${what}${n === 1 ? '' : 's'}`

/** The fonts, pictures and sounds that travel with the template. */
export function Carries({ template }: { template: Template }) {
  const { change } = useDraft()
  const [choosing, setChoosing] = useState(false)
  const carry = async (files: readonly File[]) => {
    for (const file of files)
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
  const { fonts, media, sounds } = template
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
                accept={carriedKinds}
                className="sr-only"
                aria-label="Add fonts, pictures and sounds"
                onChange={(event) => {
                  // A copy: the list empties itself when the picker is cleared.
                  void carry([...(event.target.files ?? [])])
                  event.target.value = ''
                }}
              />
            </label>
          </span>
        }
      >
        Carries
      </Heading>
      <p className="px-3.5 pb-4 text-soft">
        <Link className="hover:text-ink hover:underline" to={`/t/${template.id}/carries`}>
          {counted(fonts.length, 'font')}, {counted(media.length, 'picture')}
          {sounds.length > 0 && `, ${counted(sounds.length, 'sound')}`}
        </Link>
      </p>
      {choosing && (
        <FontPicker
          title="Add a font"
          action="Add it"
          onClose={() => setChoosing(false)}
          onFont={(font) => {
            const { template: now } = useDraft.getState()
            if (!now || !change(fontChange(now, font), `adding ${font.family} ${font.style}`)) return
            toast.success(`${font.family} ${font.style} travels with the template now.`)
            setChoosing(false)
          }}
        >
          {() => (
            <p className="mt-2 text-soft">
              Those that ship with Hoja stand under the SIL Open Font License. {template.name} carries what it uses, so
              it looks the same everywhere.
            </p>
          )}
        </FontPicker>
      )}
    </>
  )
}
