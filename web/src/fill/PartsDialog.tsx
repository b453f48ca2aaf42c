import type { Production, Sheet } from '@hoja/core/api'
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

const partName = (offer: BookOffer) =>
  offer.sheet ?? (offer.column === undefined ? 'all its rows' : offer.value || 'rows that name none')

/**
 * One file for several templates: a worksheet each, or a column that names the template for its row; one part may fill
 * several.
 */
export function PartsDialog({
  file,
  production,
  onDone,
  onClose,
}: {
  file: File
  /** What it is brought into: its templates are offered first. */
  production?: Production
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
  const [chosen, setChosen] = useState<Record<string, (number | null)[]>>({})
  const way = by ?? (preview.data && preview.data.sheets.length < 2 && preview.data.column ? 'column' : 'sheets')
  const offers = (way === 'sheets' ? preview.data?.sheets : preview.data?.byColumn) ?? []
  const keyOf = (offer: BookOffer) => `${way} ${partName(offer)}`
  const versionsOf = (offer: BookOffer) => chosen[keyOf(offer)] ?? [offer.version]
  const choose = (offer: BookOffer, versions: (number | null)[]) => setChosen({ ...chosen, [keyOf(offer)]: versions })
  const taken = offers.flatMap((offer) =>
    [...new Set(versionsOf(offer))].flatMap((version) => (version === null ? [] : [{ offer, version }])),
  )
  const rows = taken.reduce((sum, { offer }) => sum + offer.rows, 0)
  const isOwn = ({ template }: { template: string }) => production?.templates.includes(template) ?? true
  const all = preview.data?.templates ?? []
  const templates = [...all.filter(isOwn), ...all.filter((one) => !isOwn(one))]
  const bring = useWrite(
    () => {
      const parts = taken.map(({ offer: { sheet, column, value, ...offer }, version }) => {
        const part: BookPart = sheet === undefined ? (column === undefined ? {} : { column, value: value! }) : { sheet }
        // One file for one template is called as it is.
        const name =
          column === undefined && sheet === undefined ? file.name : `${file.name}: ${partName({ ...offer, ...part })}`
        return { ...part, version, name: name.slice(0, 200) }
      })
      return api.importParts({
        file,
        parts: JSON.stringify(parts),
        ...(production ? { production: production.id } : {}),
      })
    },
    { onDone, onRefused: (error) => void toast.error(error.message, { duration: 10_000 }) },
  )
  const busy = bring.isPending || bring.isSuccess
  return (
    <Dialog
      open
      wide
      onOpenChange={onClose}
      title={production ? `${file.name} for ${production.name}` : `${file.name} for several templates`}
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
              <th className="py-1 font-medium">
                {way === 'column' ? preview.data!.column : offers[0]!.sheet === undefined ? 'Of it' : 'Worksheet'}
              </th>
              <th className="py-1 text-right font-medium">Rows</th>
              <th className="w-56 py-1 pl-4 font-medium">Fills</th>
              <th className="py-1 pl-4 font-medium">Looks like it</th>
            </tr>
          </thead>
          <tbody>
            {offers.map((offer) => {
              const versions = versionsOf(offer)
              const [version] = versions
              const isGuess = version === offer.version
              return (
                <tr key={partName(offer)} className="border-t border-rule align-top">
                  <td className="py-1.5 font-medium">{partName(offer)}</td>
                  <td className="py-1.5 text-right">{offer.rows}</td>
                  <td className="py-1 pl-4">
                    {versions.map((own, i) => (
                      <Select
                        key={i}
                        aria-label={`Template${i > 0 ? ` ${i + 1}` : ''} for ${partName(offer)}`}
                        className="mb-1"
                        value={own === null ? '' : String(own)}
                        options={[
                          ['', 'nothing: left out'],
                          ...templates.map((one): [string, string] => [String(one.version), one.name]),
                        ]}
                        onChange={(event) =>
                          choose(offer, versions.with(i, event.target.value ? Number(event.target.value) : null))
                        }
                      />
                    ))}
                    {version !== null && versions.length < templates.length && (
                      <button
                        type="button"
                        className="text-xs text-leaf hover:underline"
                        onClick={() => choose(offer, [...versions, null])}
                      >
                        + for another template, too
                      </button>
                    )}
                  </td>
                  <td className="py-1.5 pl-4">
                    {!version ? (
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
