import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api } from '../api.ts'
import { Empty, Select } from '../ui/controls.tsx'
import { Header } from '../ui/Header.tsx'
import { Trouble } from '../ui/Trouble.tsx'
import { sizeWords } from '../ui/words.ts'
import { OutputTable } from './OutputTable.tsx'

/** Everything that is rendered, of all templates, in its order, and the room that there is for it. */
export default function AllOutputs() {
  const outputs = useQuery({ queryKey: ['outputs'], queryFn: () => api.outputs(), refetchInterval: 3000 })
  const templates = useQuery({ queryKey: ['templates'], queryFn: () => api.templates() })
  const productions = useQuery({ queryKey: ['productions'], queryFn: () => api.productions() })
  const room = useQuery({ queryKey: ['room'], queryFn: () => api.room(), refetchInterval: 15_000 })
  const [only, setOnly] = useState('')
  const all = outputs.data ?? []
  const list = only === '' ? all : all.filter(({ production }) => production === Number(only))
  const open = list.filter(({ state }) => state === 'running' || state === 'paused').length
  return (
    <div className="flex h-full flex-col">
      <Header here="All outputs" />
      <main className="min-h-0 flex-1 overflow-auto px-6 py-4">
        <div className="mb-3 flex items-center gap-3">
          <h1 className="text-lg font-semibold">All outputs</h1>
          <span className="text-soft">
            {list.length}
            {open > 0 && `, ${open} under way`}
          </span>
          <span className="ml-auto flex items-center gap-3">
            {room.data && (
              <span className={room.data.free < room.data.total / 20 ? 'text-stop' : 'text-soft'}>
                {sizeWords(room.data.free)} free on the disk, of {sizeWords(room.data.total)}
              </span>
            )}
            {(productions.data?.length ?? 0) > 0 && (
              <Select
                aria-label="Of which production"
                className="!w-48"
                value={only}
                options={[
                  ['', 'Of all productions'],
                  ...productions.data!.map((one): [string, string] => [String(one.id), one.name]),
                ]}
                onChange={(event) => setOnly(event.target.value)}
              />
            )}
          </span>
        </div>
        {outputs.error && !outputs.data && (
          <Trouble error={outputs.error} what="list of outputs" onAgain={() => void outputs.refetch()} />
        )}
        {outputs.data && list.length === 0 ? (
          <Empty title="Nothing is rendered yet">Fill a sheet or a programme, then render it from there.</Empty>
        ) : (
          <OutputTable outputs={list} templates={templates.data ?? []} label="All outputs" />
        )}
      </main>
    </div>
  )
}
