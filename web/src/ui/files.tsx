import { dataKinds } from '@hoja/core/formats'
import { type DragEvent, type Ref, useState } from 'react'

/** The system's file picker; what presses it holds its `ref`. The same file may be chosen again. */
export function FilePicker({
  ref,
  label,
  accept,
  multiple = false,
  onFiles,
}: {
  ref: Ref<HTMLInputElement>
  label: string
  accept: string
  multiple?: boolean
  onFiles: (files: File[]) => void
}) {
  return (
    <input
      ref={ref}
      type="file"
      hidden
      aria-label={label}
      accept={accept}
      multiple={multiple}
      onChange={(event) => {
        // A copy: the list empties itself when the picker is cleared.
        const files = [...(event.target.files ?? [])]
        event.target.value = ''
        if (files.length > 0) onFiles(files)
      }}
    />
  )
}

/** Takes files that are dropped on an element; what else is dragged over it is left alone. */
export function useFileDrop(onFiles: (files: File[]) => void) {
  const [over, setOver] = useState(false)
  const hasFiles = ({ dataTransfer }: DragEvent) => dataTransfer.types.includes('Files')
  return {
    /** Whether files are held over it. */
    over,
    handlers: {
      onDragOver: (event: DragEvent) => {
        if (!hasFiles(event)) return
        event.preventDefault()
        setOver(true)
      },
      onDragLeave: () => setOver(false),
      onDrop: (event: DragEvent) => {
        if (!hasFiles(event)) return
        event.preventDefault()
        setOver(false)
        onFiles([...event.dataTransfer.files])
      },
    },
  }
}

/** Data files that rows are read from. */
export const dataFiles = dataKinds.map((kind) => `.${kind}`).join()
