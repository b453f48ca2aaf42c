import type { Asset } from '@hoja/core/api'
import { useQuery } from '@tanstack/react-query'
import { type ReactNode, useState } from 'react'
import { toast } from 'sonner'
import { Button } from '../../ui/controls.tsx'
import { Dialog } from '../../ui/Dialog.tsx'
import { FaceList } from './FaceList.tsx'
import { assetOf, type Face, faceName, tookFace } from './faces.ts'

/** Chooses a font by its faces: one that ships with Hoja, or one that somebody brought. */
export function FontPicker({
  title,
  action,
  wide,
  children,
  onFont,
  onClose,
}: {
  title: string
  /** What the button does with it. */
  action: string
  wide?: boolean
  /** Said below the choice, for the font chosen. */
  children: (font: Asset | undefined) => ReactNode
  onFont: (font: Asset) => void
  onClose: () => void
}) {
  const [face, setFace] = useState<Face>()
  const asset = useQuery({
    queryKey: ['font', face && faceName(face)],
    queryFn: () => assetOf(face!),
    enabled: face !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
  })
  return (
    <Dialog
      open
      {...(wide ? { wide } : {})}
      onOpenChange={onClose}
      title={title}
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            variant="primary"
            disabled={!asset.data}
            onClick={() => {
              if (!asset.data) return toast.error('The font could not be read; choose another.')
              tookFace(face!)
              onFont(asset.data)
            }}
          >
            {action}
          </Button>
        </>
      }
    >
      <div className="border border-rule">
        <FaceList template={undefined} text="" current={face} onFace={setFace} />
      </div>
      <p className="mt-2 font-medium" role="status">
        {face ? faceName(face) : 'No font is chosen yet.'}
      </p>
      {children(asset.data)}
    </Dialog>
  )
}
