import type { Asset } from '@hoja/core/api'
import { useQuery } from '@tanstack/react-query'
import { type ReactNode, useState } from 'react'
import { toast } from 'sonner'
import { api } from '../api.ts'
import { Button, Line, Select } from '../ui/controls.tsx'
import { Dialog } from '../ui/Dialog.tsx'

/** Chooses a font by family and style: one that ships with Hoja, or one that somebody brought. */
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
  /** Said above the choice, and shown below it for the font chosen. */
  children: (font: Asset | undefined) => ReactNode
  onFont: (font: Asset) => void
  onClose: () => void
}) {
  const fonts = useQuery({ queryKey: ['fonts'], queryFn: () => api.fonts() })
  const [family, setFamily] = useState<string>()
  const [style, setStyle] = useState<string>()
  const list = fonts.data ?? []
  const families = [...new Set(list.map((font) => font.family))]
  const chosenFamily = family ?? families[0]
  const styles = list.filter((font) => font.family === chosenFamily)
  const chosen = styles.find((font) => font.id === style) ?? styles.find((f) => f.style === 'SemiBold') ?? styles[0]
  const asset = useQuery({
    queryKey: ['font', chosen?.id],
    queryFn: async (): Promise<Asset> => {
      const { id, family: own, style: ownStyle, file } = chosen!
      return file
        ? { sha256: id, kind: 'font', name: file, size: 0, family: own, style: ownStyle }
        : api.addFont({ id })
    },
    enabled: chosen !== undefined,
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
            onClick={() =>
              asset.data ? onFont(asset.data) : toast.error('The font could not be read; choose another.')
            }
          >
            {action}
          </Button>
        </>
      }
    >
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
            options={styles.map((font) => [font.id, `${font.style}${font.file ? ` (${font.file})` : ''}`])}
            onChange={(event) => setStyle(event.target.value)}
          />
        )}
      </Line>
      {children(asset.data)}
    </Dialog>
  )
}
