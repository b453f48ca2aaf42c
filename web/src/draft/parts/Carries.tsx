import { useState } from 'react'
import { Link } from 'react-router'
import { useShallow } from 'zustand/react/shallow'
import { bringFiles, takeIn } from '../../session/bringFiles.ts'
import { carriedKinds } from '../../session/carry.ts'
import { useDraft } from '../../session/draft.ts'
import { AddFont } from '../../session/fonts/AddFont.tsx'
import { Heading } from '../../ui/controls.tsx'
import { counted } from '../../ui/counted.ts'
import { useDesk } from '../desk.ts'

/** The fonts, pictures and sounds that travel with the template. */
export function Carries() {
  const [choosing, setChoosing] = useState(false)
  const carry = (files: readonly File[]) =>
    bringFiles(files, (brought, file) => {
      const stands = takeIn(brought, file)
      if (stands && brought.part) useDesk.getState().set({ selected: brought.part.id })
      return stands
    })
  const { id, fonts, media, sounds } = useDraft(
    useShallow(({ template }) => {
      const { id, fonts, media, sounds } = template!
      return { id, fonts, media, sounds }
    }),
  )
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
        <Link className="hover:text-ink hover:underline" to={`/t/${id}/carries`}>
          {counted(fonts.length, 'font')}, {counted(media.length, 'picture')}
          {sounds.length > 0 && `, ${counted(sounds.length, 'sound')}`}
        </Link>
      </p>
      {choosing && <AddFont onClose={() => setChoosing(false)} />}
    </>
  )
}
