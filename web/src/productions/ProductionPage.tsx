import type { Production, TemplateSummary } from '@hoja/core/api'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { ChevronDown, Ellipsis } from 'lucide-react'
import { useRef, useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import { toast } from 'sonner'
import { api } from '../api.ts'
import { PartsDialog } from '../fill/PartsDialog.tsx'
import { OutputTable } from '../outputs/OutputTable.tsx'
import { Button, classes, Empty } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { dataFiles, FilePicker, useFileDrop } from '../ui/files.tsx'
import { Header } from '../ui/Header.tsx'
import { Menu, type MenuEntry, MenuHere } from '../ui/Menu.tsx'
import { NameDialog } from '../ui/NameDialog.tsx'
import { Trouble } from '../ui/Trouble.tsx'
import { useWrite } from '../ui/useWrite.ts'
import { ChannelTable } from './ChannelTable.tsx'
import { ProgrammeTable } from './ProgrammeTable.tsx'
import { SheetTable } from './SheetTable.tsx'

/** What an editor works on: a show's sheets with their states, the templates it uses, and what is rendered of it. */
export default function ProductionPage() {
  const id = Number(useParams().id)
  const queries = useQueryClient()
  const navigate = useNavigate()
  const production = useQuery({ queryKey: ['production', id], queryFn: () => api.production({ id }) })
  const sheets = useQuery({ queryKey: ['sheets'], queryFn: () => api.sheets({}), refetchInterval: 5000 })
  const templates = useQuery({ queryKey: ['templates'], queryFn: () => api.templates() })
  const outputs = useQuery({ queryKey: ['outputs'], queryFn: () => api.outputs(), refetchInterval: 3000 })
  const [coming, setComing] = useState<File>()
  const drop = useFileDrop(([file]) => setComing(file))
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
  const made = outputs.data?.filter(({ production }) => production === id) ?? []
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
                window.confirm(`Remove the production "${name}"? Its sheets, programmes and outputs stay.`) &&
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
      <FilePicker ref={picker} label="Data file" accept={dataFiles} onFiles={([file]) => setComing(file)} />
      <main
        className={classes('min-h-0 flex-1 overflow-auto px-6 py-4', drop.over && 'bg-leaf-pale')}
        {...drop.handlers}
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
        <ProgrammeTable production={production.data} />
        <ChannelTable production={production.data} />
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
            <SheetTable sheets={own} states />
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
