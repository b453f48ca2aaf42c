import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { api } from '../api.ts'
import { NameDialog } from '../ui/NameDialog.tsx'
import { useWrite } from '../ui/useWrite.ts'

/** On the Shelf: what editors work on, and everything that is rendered. */
export function Productions() {
  const navigate = useNavigate()
  const productions = useQuery({ queryKey: ['productions'], queryFn: () => api.productions() })
  const sheets = useQuery({ queryKey: ['sheets'], queryFn: () => api.sheets({}) })
  const programmes = useQuery({ queryKey: ['programmes'], queryFn: () => api.programmes() })
  const [naming, setNaming] = useState(false)
  const add = useWrite((name: string) => api.newProduction({ name }), {
    changes: [['productions']],
    onDone: ({ id }) => navigate(`/p/${id}`),
  })
  const row = 'flex items-center justify-between gap-2 px-3.5 py-1 hover:bg-chalk'
  return (
    <>
      <h2 className="flex items-center justify-between px-3.5 pt-4 pb-1 text-xs font-medium text-soft">
        Productions
        <button type="button" className="h-6 px-1 text-leaf hover:underline" onClick={() => setNaming(true)}>
          + New
        </button>
      </h2>
      <ul>
        {productions.data?.map(({ id, name }) => (
          <li key={id}>
            <Link to={`/p/${id}`} className={row}>
              <span className="truncate">{name}</span>
              <span className="text-xs text-soft">
                {sheets.data?.filter((sheet) => sheet.production === id).length ?? ''}
              </span>
            </Link>
          </li>
        ))}
        {programmes.data
          ?.filter(({ production }) => production === null)
          .map(({ id, name }) => (
            <li key={`programme ${id}`}>
              <Link to={`/programmes/${id}`} className={row} title="A programme of no production">
                <span className="truncate">{name}</span>
              </Link>
            </li>
          ))}
        <li>
          <Link to="/air" className={row}>
            On air
          </Link>
        </li>
        <li>
          <Link to="/outputs" className={row}>
            All outputs
          </Link>
        </li>
      </ul>
      {naming && (
        <NameDialog
          title="New production"
          action="Begin it"
          onName={(name) => add.mutate(name)}
          onClose={() => setNaming(false)}
        />
      )}
    </>
  )
}
