import type { Production, SheetSummary, TemplateSummary } from '@hoja/core/api'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { ChevronDown, Ellipsis } from 'lucide-react'
import { useRef, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { toast } from 'sonner'
import { api } from '../api.ts'
import { PartsDialog } from '../fill/PartsDialog.tsx'
import { OutputTable } from '../outputs/OutputTable.tsx'
import { Button, classes, Empty, StateMark } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { Header } from '../ui/Header.tsx'
import { Menu, type MenuEntry, MenuHere } from '../ui/Menu.tsx'
import { Trouble } from '../ui/Trouble.tsx'
import { useWrite } from '../ui/useWrite.ts'
import { day } from '../ui/words.ts'
import { NameDialog } from './NameDialog.tsx'
import { useSheetEntries } from './useSheetEntries.ts'

/** What an editor works on: a show's sheets with their states, the templates it uses, and what is rendered of it. */
export default function ProductionPage() {
  const id = Number(useParams().id)
  const queries = useQueryClient()
  const navigate = useNavigate()
  const production = useQuery({ queryKey: ['production', id], queryFn: () => api.production({ id }) })
  const sheets = useQuery({ queryKey: ['sheets'], queryFn: () => api.sheets({}) })
  const templates = useQuery({ queryKey: ['templates'], queryFn: () => api.templates() })
  const outputs = useQuery({ queryKey: ['outputs'], queryFn: () => api.outputs(), refetchInterval: 3000 })
  const [coming, setComing] = useState<File>()
  const [over, setOver] = useState(false)
  const [naming, setNaming] = useState(false)
  const picker = useRef<HTMLInputElement>(null)
  const changes = [['production', id], ['productions']]
  const change = useWrite((more: { name?: string; templates?: string[] }) => api.changeProduction({ id, ...more }), {
    changes,
    onDone: () => setNaming(false),
  })
  const remove = useWrite(() => api.removeProduction({ id }), {
    changes: [['productions'], ['sheets']],
    onDone: () => navigate('/'),
  })
  if (production.error)
    return <Trouble error={production.error} what="production" onAgain={() => void production.refetch()} />
  if (!production.data) return <p className="p-6 text-soft">Opening …</p>
  const { name, templates: used } = production.data
  const own = sheets.data?.filter((sheet) => sheet.production === id) ?? []
  const ownIds = new Set(own.map((sheet) => sheet.id))
  const made = outputs.data?.filter(({ sheet }) => sheet !== null && ownIds.has(sheet)) ?? []
  const all = templates.data ?? []
  const usedHere = new Set([...used, ...own.map((sheet) => sheet.template)])
  const shown = all.filter((template) => usedHere.has(template.id))
  const others = all.filter((template) => !usedHere.has(template.id) && template.archived === null)
  const isEmpty = sheets.data !== undefined && own.length === 0
  return (
    <div className="flex h-full flex-col">
      <Header here={name}>
        <Menu
          label={`More for ${name}`}
          align="end"
          entries={() => [
            { label: 'Rename …', onSelect: () => setNaming(true) },
            {
              label: 'Remove …',
              onSelect: () =>
                window.confirm(`Remove the production "${name}"? Its sheets and outputs stay.`) &&
                remove.mutate(undefined),
            },
          ]}
        >
          <Ellipsis size={15} aria-hidden="true" />
        </Menu>
        <Button variant="primary" onClick={() => picker.current?.click()}>
          Bring in a file
        </Button>
      </Header>
      <input
        ref={picker}
        type="file"
        accept=".csv,.tsv,.txt,.xlsx,.ods,.json,.rss,.atom,.xml"
        hidden
        aria-label="Data file"
        onChange={(event) => {
          setComing(event.target.files?.[0])
          event.target.value = ''
        }}
      />
      <main
        className={classes('min-h-0 flex-1 overflow-auto px-6 py-4', over && 'bg-leaf-pale')}
        onDragOver={(event) => {
          if (!event.dataTransfer.types.includes('Files')) return
          event.preventDefault()
          setOver(true)
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => {
          event.preventDefault()
          setOver(false)
          setComing(event.dataTransfer.files[0])
        }}
      >
        <h1 className="mb-3 text-lg font-semibold">{name}</h1>
        <section aria-label="Templates" className="mb-6">
          <h2 className="mb-1.5 font-semibold">Templates</h2>
          <p className="flex flex-wrap items-center gap-1.5">
            {shown.map((template) => (
              <Used
                key={template.id}
                template={template}
                production={production.data}
                inSheets={own.filter((sheet) => sheet.template === template.id).length}
                onDrop={() => change.mutate({ templates: used.filter((one) => one !== template.id) })}
              />
            ))}
            {others.length > 0 && (
              <Menu
                label="Use another template"
                className="!h-7 border border-dashed border-rule !text-leaf"
                entries={() =>
                  others.map((template) => ({
                    label: template.name,
                    onSelect: () => change.mutate({ templates: [...used, template.id] }),
                  }))
                }
              >
                + template
              </Menu>
            )}
          </p>
        </section>
        <section aria-label="Sheets" className="mb-6">
          <h2 className="mb-1.5 font-semibold">Sheets</h2>
          {isEmpty ? (
            <Empty title="No sheets yet">
              Drop a file with the show's names here: you say which templates it is for. Or start a sheet from a
              template above.
              <Button variant="primary" onClick={() => picker.current?.click()}>
                Bring in a file
              </Button>
            </Empty>
          ) : (
            <SheetTable sheets={own} />
          )}
        </section>
        {made.length > 0 && (
          <section aria-label="Outputs">
            <h2 className="mb-1.5 font-semibold">Outputs</h2>
            <OutputTable outputs={made} templates={all} label={`Outputs of ${name}`} />
          </section>
        )}
      </main>
      {coming && (
        <PartsDialog
          file={coming}
          production={production.data}
          onClose={() => setComing(undefined)}
          onDone={(added) => {
            setComing(undefined)
            void queries.invalidateQueries({ queryKey: ['sheets'] })
            toast.success(`${counted(added.length, 'sheet')} came in: ${added.map((sheet) => sheet.name).join('; ')}.`)
          }}
        />
      )}
      {naming && (
        <NameDialog
          title="Rename the production"
          action="Rename it"
          name={name}
          onName={(next) => change.mutate({ name: next })}
          onClose={() => setNaming(false)}
        />
      )}
    </div>
  )
}

/** A template that the production uses: a press starts a sheet of it. */
function Used({
  template,
  production,
  inSheets,
  onDrop,
}: {
  template: TemplateSummary
  production: Production
  inSheets: number
  onDrop: () => void
}) {
  const navigate = useNavigate()
  const isPublished = template.version > 0
  const start = useWrite(
    async () => {
      const { versions } = await api.template({ id: template.id })
      const name = `${template.name}, ${production.name}`
      return api.newSheet({ version: versions[0]!.id, name, production: production.id })
    },
    { changes: [['sheets']], onDone: (sheet) => navigate(`/t/${template.id}/fill/${sheet.id}`) },
  )
  const entries = (): (MenuEntry | null)[] => [
    { label: 'New sheet', onSelect: () => start.mutate(undefined), disabled: !isPublished },
    { label: 'Its page', onSelect: () => navigate(`/t/${template.id}/fill`) },
    null,
    { label: 'Use it no longer', onSelect: onDrop, disabled: inSheets > 0 },
  ]
  return (
    <MenuHere entries={entries}>
      <span>
        <Menu
          label={`${template.name} in ${production.name}`}
          className="!h-7 border border-rule bg-white"
          entries={entries}
        >
          {template.name} <ChevronDown size={12} aria-hidden="true" className="text-soft" />
          {!isPublished && <span className="font-normal text-soft">, not published yet</span>}
        </Menu>
      </span>
    </MenuHere>
  )
}

function SheetTable({ sheets }: { sheets: readonly SheetSummary[] }) {
  const entriesOf = useSheetEntries()
  return (
    <table className="w-full table-fixed border-collapse bg-paper text-left">
      <thead>
        <tr className="border-y border-rule text-xs text-soft">
          <th className="px-3 py-1.5 font-medium">Sheet</th>
          <th className="w-36 px-3 font-medium">Template</th>
          <th className="w-20 px-3 font-medium">Rows</th>
          <th className="w-52 px-3 font-medium">Its rows are</th>
          <th className="w-36 px-3 font-medium">Changed</th>
          <th className="w-10">
            <span className="sr-only">More</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {sheets.map((sheet) => {
          const entries = () => entriesOf(sheet)
          return (
            <MenuHere key={sheet.id} entries={entries}>
              <tr className="border-b border-rule hover:bg-leaf-pale">
                <td className="truncate px-3 py-1.5">
                  <Link className="font-medium hover:underline" to={`/t/${sheet.template}/fill/${sheet.id}`}>
                    {sheet.name}
                  </Link>
                  {sheet.link && <span className="text-soft"> follows a {sheet.link.kind}</span>}
                </td>
                <td className="truncate px-3">{sheet.templateName}</td>
                <td className="px-3">{sheet.count}</td>
                <td className="px-3">
                  <State sheet={sheet} />
                </td>
                <td className="truncate px-3 text-soft">{day(sheet.changed)}</td>
                <td className="pr-2">
                  <Menu label={`More for ${sheet.name}`} align="end" entries={entries}>
                    <Ellipsis size={14} aria-hidden="true" />
                  </Menu>
                </td>
              </tr>
            </MenuHere>
          )
        })}
      </tbody>
    </table>
  )
}

/** What the checks say of a sheet's rows. It says fine only of what was looked at. */
function State({ sheet }: { sheet: SheetSummary }) {
  const { data, error } = useQuery({
    queryKey: ['sheet-state', sheet.id, sheet.revision, sheet.version],
    queryFn: () => api.sheetState({ id: sheet.id }),
    staleTime: 60_000,
  })
  if (error) return <span className="text-look">not looked at: {error.message}</span>
  if (!data) return <span className="text-soft">looking …</span>
  const { stop, look, fine } = data
  if (stop + look + fine === 0) return <span className="text-soft">none that go out</span>
  const worst = stop > 0 ? 'stop' : look > 0 ? 'look' : 'fine'
  return (
    <span className="flex items-center gap-1.5">
      <StateMark state={worst} />
      {[
        stop > 0 && <b key="stop" className="font-medium text-stop">{`${stop} stop`}</b>,
        look > 0 && <span key="look" className="text-look">{`${look} look`}</span>,
        <span key="fine" className="text-soft">{`${fine} fine`}</span>,
      ]}
    </span>
  )
}
