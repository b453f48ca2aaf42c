import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import { api, wholeSheet } from '../api.ts'
import { Button, Empty } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { Trouble } from '../ui/Trouble.tsx'
import { Filling } from './Filling.tsx'
import { Sheets } from './Sheets.tsx'

/** Bring in rows, read the checks, fix, look at every title. */
export default function Fill() {
  const { id, sheet } = useParams()
  const [read, setRead] = useState<[rows: number, of: number]>()
  const template = useQuery({ queryKey: ['template', id], queryFn: () => api.template({ id: id! }), staleTime: 0 })
  const detail = useQuery({
    queryKey: ['sheet', sheet],
    queryFn: ({ signal }) => wholeSheet(Number(sheet), signal, (rows, of) => setRead([rows, of])),
    enabled: !!sheet,
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  })
  const version = useQuery({
    queryKey: ['version', detail.data?.version],
    queryFn: () => api.version({ id: detail.data!.version }),
    enabled: !!detail.data,
    staleTime: Number.POSITIVE_INFINITY,
  })
  const error = template.error ?? detail.error ?? version.error
  if (error)
    return (
      <Trouble
        error={error}
        what={template.error ? 'template' : 'sheet'}
        onAgain={() =>
          void Promise.all([template.refetch(), sheet && detail.refetch(), detail.data && version.refetch()])
        }
      />
    )
  if (!template.data) return <p className="p-6 text-soft">Opening …</p>
  if (!sheet) return <Sheets id={id!} name={template.data.name} versions={template.data.versions} />
  if (!detail.data || !version.data) return <Opening read={read} back={`/t/${id}/fill`} />
  return (
    <Filling
      key={`${detail.data.id} ${detail.data.version}`}
      name={template.data.name}
      sheet={detail.data}
      published={version.data.content}
      versions={template.data.versions}
    />
  )
}

/** A long sheet on its way, with a way out. */
function Opening({ read, back }: { read: [rows: number, of: number] | undefined; back: string }) {
  const navigate = useNavigate()
  const [rows, of] = read ?? [0, 0]
  if (of < 5001) return <p className="p-6 text-soft">Opening …</p>
  return (
    <Empty title={`${rows.toLocaleString('en')} of ${counted(of, 'row')}`}>
      <progress aria-label="Rows read" className="w-64 accent-leaf" value={rows} max={of} />
      <Button onClick={() => navigate(back)}>Stop</Button>
    </Empty>
  )
}
