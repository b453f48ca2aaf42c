import { address } from '@hoja/core/api'
import type { MediaFile } from '@hoja/core/template'
import { useRef, useState } from 'react'
import { toast } from 'sonner'
import { api } from '../api.ts'
import { Button } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { Dialog } from '../ui/Dialog.tsx'
import { useWrite } from '../ui/useWrite.ts'

/** The pictures that came with a sheet: rows call them by their file names. */
export function PicturesDialog({
  sheet,
  pictures,
  missing,
  onPictures,
  onClose,
}: {
  sheet: number
  pictures: readonly MediaFile[]
  /** Names that rows call and nothing has. */
  missing: readonly string[]
  onPictures: (pictures: MediaFile[]) => void
  onClose: () => void
}) {
  const files = useRef<HTMLInputElement>(null)
  const folder = useRef<HTMLInputElement>(null)
  const [at, setAt] = useState<[done: number, of: number]>()
  const stop = useRef(false)
  const add = useWrite((file: File) => api.addPictures({ id: sheet, file }), {
    onDone: (result) => {
      onPictures(result.pictures)
      for (const message of result.failed) toast.error(message)
    },
  })
  const remove = useWrite((name: string) => api.removePicture({ id: sheet, name }), {
    onDone: (result) => onPictures(result.pictures),
  })
  const bring = async (list: File[]) => {
    const wanted = list.filter(({ name }) => /\.(zip|png|jpe?g|webp|gif|svg|apng)$/i.test(name))
    if (wanted.length === 0) return void toast.error('There is no picture and no zip among these files.')
    stop.current = false
    let added = 0
    for (const [i, file] of wanted.entries()) {
      if (stop.current) break
      setAt([i, wanted.length])
      try {
        added += (await add.mutateAsync(file)).added.length
      } catch {
        // It has been said; the others go on.
      }
    }
    setAt(undefined)
    if (added > 0) toast.success(`${counted(added, 'picture')} added.`)
  }
  const taken = (input: HTMLInputElement) => {
    const list = [...(input.files ?? [])]
    input.value = ''
    if (list.length > 0) void bring(list)
  }
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title="Pictures and movies of this sheet"
      footer={
        <>
          {at && (
            <span role="status" className="mr-auto self-center text-soft">
              {at[0] + 1} of {at[1]} …
            </span>
          )}
          {at && <Button onClick={() => (stop.current = true)}>Stop</Button>}
          <Button variant="primary" onClick={onClose}>
            Done
          </Button>
        </>
      }
    >
      <input
        ref={files}
        type="file"
        multiple
        hidden
        accept=".zip,.png,.jpg,.jpeg,.webp,.gif,.apng,.mov,.mp4,.m4v,.webm,.mkv,.avi"
        aria-label="Pictures, movies or a zip"
        onChange={(event) => taken(event.target)}
      />
      <input
        ref={folder}
        type="file"
        hidden
        {...{ webkitdirectory: '' }}
        aria-label="A folder of pictures"
        onChange={(event) => taken(event.target)}
      />
      <div className="flex items-center gap-2">
        <Button disabled={!!at} onClick={() => files.current?.click()}>
          Add pictures, movies or a zip
        </Button>
        <Button disabled={!!at} onClick={() => folder.current?.click()}>
          Add a folder
        </Button>
        <span className="text-xs text-soft">Rows call them by their file names.</span>
      </div>
      {missing.length > 0 && (
        <p className="pt-2 text-look">
          Named in rows and not here: {missing.slice(0, 12).join(', ')}
          {missing.length > 12 && ` and ${missing.length - 12} more`}.
        </p>
      )}
      {pictures.length === 0 ? (
        <p className="pt-3 text-soft">None yet. The template's own pictures are there without being added.</p>
      ) : (
        <ul aria-label="Pictures" className="mt-2 grid max-h-80 grid-cols-4 gap-2 overflow-auto">
          {pictures.map(({ name, sha256, width, height }) => (
            <li key={name} className="border border-rule bg-white p-1">
              <img alt={name} src={address.asset({ sha256 })} loading="lazy" className="h-16 w-full object-contain" />
              <span className="flex items-center gap-1 text-xs">
                <span className="flex-1 truncate" title={`${name}, ${width} x ${height}`}>
                  {name}
                </span>
                <button
                  type="button"
                  aria-label={`Remove ${name}`}
                  className="px-1 text-soft hover:text-stop"
                  onClick={() => remove.mutate(name)}
                >
                  ✕
                </button>
              </span>
            </li>
          ))}
        </ul>
      )}
    </Dialog>
  )
}
