import { valuesOf } from '@hoja/core/data'
import type { Template, Values } from '@hoja/core/template'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, wholeSheet } from '../../api.ts'
import { Button, Line, Select } from '../../ui/controls.tsx'
import { counted } from '../../ui/counted.ts'
import { Dialog } from '../../ui/Dialog.tsx'

/** Any row of any sheet of this template, taken as a proof. */
export function RowDialog({
  template,
  onClose,
  onRow,
}: {
  template: Template
  onClose: () => void
  onRow: (name: string, values: Values) => void
}) {
  const sheets = useQuery({ queryKey: ['sheets', template.id], queryFn: () => api.sheets({ template: template.id }) })
  const [sheet, setSheet] = useState<number>()
  const [row, setRow] = useState(0)
  const chosen = sheet ?? sheets.data?.[0]?.id
  const detail = useQuery({
    queryKey: ['sheet', chosen],
    queryFn: () => wholeSheet(chosen!),
    enabled: chosen !== undefined,
  })
  const rows = detail.data?.rows ?? []
  const words = (i: number) => {
    return (
      Object.values(rows[i]?.cells ?? {})
        .filter(Boolean)
        .slice(0, 2)
        .join(', ') || 'empty'
    )
  }
  const take = () => {
    const { values } = valuesOf(template, detail.data!.match, rows[row] ?? { cells: {} })
    const [first] = Object.values(rows[row]?.cells ?? {})
    onRow(String(first || `row ${row + 1}`).slice(0, 40), values)
    onClose()
  }
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title="A row as a proof"
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" disabled={rows.length === 0} onClick={take}>
            Take this row
          </Button>
        </>
      }
    >
      {sheets.data?.length === 0 ? (
        <p className="text-soft">
          No sheet is filled on {template.name} yet; publish a version and bring rows into Fill first.
        </p>
      ) : (
        <>
          <Line label="Sheet">
            {(id) => (
              <Select
                id={id}
                value={String(chosen ?? '')}
                options={(sheets.data ?? []).map((s): [string, string] => [
                  String(s.id),
                  `${s.name} (${counted(s.count, 'row')})`,
                ])}
                onChange={(event) => {
                  setSheet(Number(event.target.value))
                  setRow(0)
                }}
              />
            )}
          </Line>
          <Line label="Row">
            {(id) => (
              <Select
                id={id}
                value={String(row)}
                options={rows.slice(0, 2000).map((_, i): [string, string] => [String(i), `${i + 1} ${words(i)}`])}
                onChange={(event) => setRow(Number(event.target.value))}
              />
            )}
          </Line>
        </>
      )}
    </Dialog>
  )
}
