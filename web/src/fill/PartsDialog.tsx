import type { Sheet } from '@hoja/core/api'
import type { BookOffer, BookPart } from '@hoja/core/formats'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { toast } from 'sonner'
import { api } from '../api.ts'
import { Choice } from '../ui/Choice.tsx'
import { Button, Select } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { Dialog } from '../ui/Dialog.tsx'
import { useWrite } from '../ui/useWrite.ts'

const partName = (offer: BookOffer) => offer.sheet ?? (offer.value || 'rows that name none')

/** One file for several templates: a worksheet each, or a column that names the template for its row. */
export function PartsDialog({
  file,
  onDone,
  onClose,
}: {
  file: File
  onDone: (sheets: (Sheet & { template: string })[]) => void
  onClose: () => void
}) {
  const preview = useQuery({
    queryKey: ['parts', file.name, file.size, file.lastModified],
    queryFn: ({ signal }) => api.previewParts({ file }, signal),
    retry: false,
    gcTime: 0,
  })
  const [by, setBy] = useState<'sheets' | 'column'>()
  const [chosen, setChosen] = useState<Record<string, number | null>>({})
  const way = by ?? (preview.data && preview.data.sheets.length < 2 && preview.data.column ? 'column' : 'sheets')
  const offers = (way === 'sheets' ? preview.data?.sheets : preview.data?.byColumn) ?? []
  const versionOf = (offer: BookOffer) => {
    const own = chosen[`${way} ${partName(offer)}`]
    return own === undefined ? offer.version : own
  }
  const taken = offers.filter((offer) => versionOf(offer) !== null)
  const rows = taken.reduce((sum, offer) => sum + offer.rows, 0)
  const bring = useWrite(
    () => {
      const parts = taken.map((offer) => {
        const part: BookPart =
          offer.sheet === undefined ? { column: offer.column!, value: offer.value! } : { sheet: offer.sheet }
        return { ...part, version: versionOf(offer)!, name: `${file.name}: ${partName(offer)}`.slice(0, 200) }
      })
      return api.importParts({ file, parts: JSON.stringify(parts) })
    },
    { onDone, onRefused: (error) => void toast.error(error.message, { duration: 10_000 }) },
  )
  const busy = bring.isPending || bring.isSuccess
  return (
    <Dialog
      open
      wide
      onOpenChange={onClose}
      title={`${file.name} for several templates`}
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" disabled={busy || taken.length === 0} onClick={() => bring.mutate(undefined)}>
            {busy ? 'Bringing in …' : `Bring in ${counted(rows, 'row')} as ${counted(taken.length, 'sheet')}`}
          </Button>
        </>
      }
    >
      {preview.isPending && <p className="text-soft">Reading {file.name} …</p>}
      {preview.error && (
        <p role="alert" className="text-stop">
          {preview.error.message}
        </p>
      )}
      {preview.data?.column && preview.data.sheets.length > 1 && (
        <div className="pb-2">
          <Choice
            label="Divided by"
            value={way}
            options={[
              ['sheets', 'A template for each worksheet'],
              ['column', `The template that "${preview.data.column}" names`],
            ]}
            onValue={setBy}
          />
        </div>
      )}
      {preview.data && offers.length === 0 && (
        <p className="text-soft">
          It has no worksheets with rows, and no column that names templates; bring it in for one template.
        </p>
      )}
      {offers.length > 0 && (
        <table className="w-full border-collapse text-left">
          <thead>
            <tr className="text-xs text-soft">
              <th className="py-1 font-medium">{way === 'sheets' ? 'Worksheet' : preview.data!.column}</th>
              <th className="py-1 text-right font-medium">Rows</th>
              <th className="w-56 py-1 pl-4 font-medium">Fills</th>
              <th className="py-1 pl-4 font-medium">Looks like it</th>
            </tr>
          </thead>
          <tbody>
            {offers.map((offer) => {
              const version = versionOf(offer)
              const isGuess = version === offer.version
              return (
                <tr key={partName(offer)} className="border-t border-rule align-top">
                  <td className="py-1.5 font-medium">{partName(offer)}</td>
                  <td className="py-1.5 text-right">{offer.rows}</td>
                  <td className="py-1 pl-4">
                    <Select
                      aria-label={`Template for ${partName(offer)}`}
                      value={version === null ? '' : String(version)}
                      options={[
                        ['', 'nothing: left out'],
                        ...preview.data!.templates.map((one): [string, string] => [String(one.version), one.name]),
                      ]}
                      onChange={(event) =>
                        setChosen({
                          ...chosen,
                          [`${way} ${partName(offer)}`]: event.target.value ? Number(event.target.value) : null,
                        })
                      }
                    />
                  </td>
                  <td className="py-1.5 pl-4">
                    {version === null ? (
                      <span className="text-soft">{offer.columns.slice(0, 5).join(', ')}</span>
                    ) : !isGuess ? (
                      <span className="text-soft">by your choice</span>
                    ) : offer.doubt ? (
                      <span className="text-look">{offer.doubt}</span>
                    ) : (
                      <span>
                        {offer.matched} of its fields found among {counted(offer.columns.length, 'column')}
                      </span>
                    )}
                  </td>
                </tr>
              )
            })}
          </tbody>
        </table>
      )}
    </Dialog>
  )
}
