import { outputFormats } from '@hoja/core/output'
import { useQuery } from '@tanstack/react-query'
import { useEffect } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { api } from '../api.ts'
import { lendFonts } from '../preview/lendFonts.ts'
import { Button, classes, Empty, Heading } from '../ui/controls.tsx'
import { Header } from '../ui/Header.tsx'
import { MenuHere } from '../ui/Menu.tsx'
import { Trouble } from '../ui/Trouble.tsx'
import { day } from '../ui/words.ts'
import { OneOutput } from './OneOutput.tsx'
import { outputSummary } from './outputWords.ts'
import { useOutputEntries } from './useOutputEntries.ts'

/** Watch renders, stop and repeat them, fetch what is done. */
export default function Outputs() {
  const { id, output } = useParams()
  const navigate = useNavigate()
  const template = useQuery({ queryKey: ['template', id], queryFn: () => api.template({ id: id! }) })
  const list = useQuery({ queryKey: ['outputs'], queryFn: () => api.outputs(), refetchInterval: 3000 })
  useEffect(() => {
    if (template.data) lendFonts(template.data.template)
  }, [template.data])
  const entries = useOutputEntries()
  const own = list.data?.filter((o) => o.template === id)
  const chosen = output ? Number(output) : own?.[0]?.id
  if (template.error) return <Trouble error={template.error} what="template" onAgain={() => void template.refetch()} />
  return (
    <div className="flex h-full flex-col">
      <Header {...(template.data ? { template: template.data } : {})} />
      <div className="grid min-h-0 flex-1 grid-cols-[250px_minmax(0,1fr)]">
        <aside className="flex min-h-0 flex-col border-r border-rule bg-paper">
          <Heading aside={own?.length ?? ''}>Outputs</Heading>
          <ul className="min-h-0 flex-1 overflow-auto">
            {own?.map((o) => (
              <MenuHere key={o.id} entries={() => entries(o)}>
                <li>
                  <button
                    type="button"
                    aria-pressed={o.id === chosen}
                    className={classes(
                      'w-full border-l-2 px-3.5 py-1.5 text-left',
                      o.id === chosen ? 'border-leaf bg-leaf-pale' : 'border-transparent hover:bg-chalk',
                    )}
                    onClick={() => navigate(`/t/${id}/outputs/${o.id}`)}
                  >
                    <span className="flex justify-between gap-2">
                      <b className="min-w-0 truncate font-medium">{o.sheetName ?? 'Parts by themselves'}</b>
                      <span className="text-soft">{o.id}</span>
                    </span>
                    <span className="block truncate text-soft">
                      {outputFormats[o.settings.format].name}
                      {o.shapeName && `, ${o.shapeName}`}, version {o.number}
                    </span>
                    <span className="flex justify-between gap-2 text-soft">
                      <span className={o.state === 'running' ? 'text-leaf' : ''}>{outputSummary(o)}</span>
                      <span>{day(o.created)}</span>
                    </span>
                  </button>
                </li>
              </MenuHere>
            ))}
          </ul>
          <p className="border-t border-rule px-3.5 py-2.5 text-soft">
            A sheet's rows are rendered from{' '}
            <Link className="text-leaf underline" to={`/t/${id}/fill`}>
              Fill
            </Link>
            .{' '}
            <Link className="text-leaf underline" to={`/t/${id}/outputs/new`}>
              Parts by themselves …
            </Link>
          </p>
        </aside>
        <main className="min-h-0 overflow-auto">
          {list.error && !list.data && (
            <Trouble error={list.error} what="list of outputs" onAgain={() => void list.refetch()} />
          )}
          {own?.length === 0 && (
            <Empty title="Nothing is rendered yet">
              Fill a sheet, then render it.
              <Button variant="primary" onClick={() => navigate(`/t/${id}/fill`)}>
                To the sheets
              </Button>
            </Empty>
          )}
          {chosen !== undefined && <OneOutput key={chosen} id={chosen} />}
        </main>
      </div>
    </div>
  )
}
