import type { Change, Template } from '@hoja/core/template'
import { ChevronDown } from 'lucide-react'
import { Popover } from 'radix-ui'
import { useRef, useState } from 'react'
import { toast } from 'sonner'
import { classes } from '../../ui/controls.tsx'
import { FilePicker, useFileDrop } from '../../ui/files.tsx'
import { bringFiles, takeIn } from '../bringFiles.ts'
import { fontChange } from '../carry.ts'
import { useDraft } from '../draft.ts'
import { FaceList } from './FaceList.tsx'
import { assetOf, type Face, faceName, familyOf, tookFace } from './faces.ts'

/**
 * The font of a text, written in itself; a press opens the list of all faces. One that the template does not carry comes
 * along with it, in the same step; a font file that is dropped on the list is brought and taken.
 */
export function FontChoice({
  id,
  label,
  template,
  font,
  text,
  className,
  beside = false,
  onFont,
}: {
  id?: string
  label: string
  template: Template
  /** The font's id in the template. */
  font: string
  /** What faces are shown with. */
  text: string
  className?: string
  /** The list opens beside it, so that the frame above stays in sight. */
  beside?: boolean
  /** @param first the change that lets the template carry the font, where it does not yet; one step with the choice */
  onFont: (font: string, first: Change | undefined) => void
}) {
  const [open, setOpen] = useState(false)
  const file = useRef<HTMLInputElement>(null)
  const current = template.fonts.find((one) => one.id === font)
  const take = async (face: Face) => {
    try {
      if (face.carried) onFont(face.carried, undefined)
      else {
        const asset = await assetOf(face)
        const first = fontChange(useDraft.getState().template!, asset)
        if (first.kind === 'fonts') onFont(first.fonts.find((one) => one.sha256 === asset.sha256)!.id, first)
      }
      tookFace(face)
      setOpen(false)
    } catch (error) {
      toast.error((error as Error).message)
    }
  }
  const bring = (files: readonly File[]) =>
    bringFiles(files, (brought, from) => {
      const [first] = brought.changes
      if (first?.kind !== 'fonts') return takeIn(brought, from)
      onFont(first.fonts.find((font) => font.sha256 === brought.font)!.id, first)
      setOpen(false)
      return true
    })
  const drop = useFileDrop((files) => void bring(files))
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        id={id}
        aria-label={`${label}: ${current ? faceName(current) : 'none yet'}`}
        className={classes(
          'flex h-8 min-w-0 items-center justify-between gap-2 rounded-[3px] border border-rule bg-white px-2 text-left hover:border-leaf',
          className ?? 'w-full',
        )}
      >
        <span
          className="truncate text-[15px]"
          style={current && { fontFamily: `"${familyOf({ ...current, carried: current.id })}"` }}
        >
          {current ? faceName(current) : 'none yet'}
        </span>
        <ChevronDown size={13} aria-hidden="true" className="shrink-0 text-soft" />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          {...(beside ? { side: 'right', align: 'end' } : { align: 'start' })}
          collisionPadding={8}
          sideOffset={4}
          aria-label={label}
          className={classes(
            'z-30 flex w-[440px] flex-col border bg-paper shadow-lg',
            drop.over ? 'border-leaf outline-2 outline-leaf' : 'border-rule',
          )}
          {...drop.handlers}
        >
          <FaceList template={template} text={text} current={current} onFace={(face) => void take(face)} />
          <div className="flex items-center justify-between gap-3 border-t border-rule px-3 py-1.5 text-xs text-soft">
            A font file dropped here comes along.
            <button type="button" className="text-leaf hover:underline" onClick={() => file.current?.click()}>
              Bring a file …
            </button>
            <FilePicker
              ref={file}
              label="A font file"
              accept=".ttf,.otf,.woff,.woff2"
              onFiles={(files) => void bring(files)}
            />
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
