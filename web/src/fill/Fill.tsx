import { doubtAbout, type Match, stateOf } from '@hoja/core/data'
import type { Template } from '@hoja/core/template'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useMemo, useRef, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { useNavigate, useParams } from 'react-router'
import { toast } from 'sonner'
import { useScene } from '../preview/useScene.ts'
import { type ApiError, api, day, type SheetDetail, type Version } from '../ui/api.ts'
import { Choice } from '../ui/Choice.tsx'
import { Button, classes, Empty, Line, Select } from '../ui/controls.tsx'
import { Dialog } from '../ui/Dialog.tsx'
import { Header } from '../ui/Header.tsx'
import { ContactSheet } from './ContactSheet.tsx'
import { FitChart } from './FitChart.tsx'
import { columnOf, Grid } from './Grid.tsx'
import { ImportSheet } from './ImportSheet.tsx'
import { MoveDialog } from './MoveDialog.tsx'
import { RenderDialog } from './RenderDialog.tsx'
import { RowProof } from './RowProof.tsx'
import { useSheet } from './useSheet.ts'

/** Bring in rows, read the checks, fix, look at every title. */
export default function Fill() {
  const { id, sheet } = useParams()
  const template = useQuery({ queryKey: ['template', id], queryFn: () => api.template(id!), staleTime: 0 })
  const detail = useQuery({
    queryKey: ['sheet', sheet],
    queryFn: () => api.sheet(Number(sheet)),
    enabled: !!sheet,
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  })
  const version = useQuery({
    queryKey: ['version', detail.data?.version],
    queryFn: () => api.version(detail.data!.version),
    enabled: !!detail.data,
    staleTime: Number.POSITIVE_INFINITY,
  })
  const error = template.error ?? detail.error ?? version.error
  if (error) return <Empty title="This sheet could not be opened">{error.message}</Empty>
  if (!template.data) return <p className="p-6 text-soft">Opening …</p>
  if (!sheet) return <Sheets id={id!} name={template.data.name} versions={template.data.versions} />
  if (!detail.data || !version.data) return <p className="p-6 text-soft">Opening …</p>
  return (
    <Filling
      key={`${detail.data.id} ${detail.data.version}`}
      name={template.data.name}
      sheet={detail.data}
      template={version.data.content}
      versions={template.data.versions}
    />
  )
}

/** The sheets of a template, and the ways to start one. */
function Sheets({ id, name, versions }: { id: string; name: string; versions: { id: number; number: number }[] }) {
  const queries = useQueryClient()
  const navigate = useNavigate()
  const sheets = useQuery({ queryKey: ['sheets', id], queryFn: () => api.sheets(id) })
  const picker = useRef<HTMLInputElement>(null)
  const [busy, setBusy] = useState(false)
  const newest = versions[0]
  const start = async (make: () => Promise<{ id: number }>) => {
    setBusy(true)
    try {
      const sheet = await make()
      await queries.invalidateQueries({ queryKey: ['sheets'] })
      navigate(`/t/${id}/fill/${sheet.id}`)
    } catch (error) {
      toast.error((error as ApiError).message, { duration: 10_000 })
    } finally {
      setBusy(false)
    }
  }
  const [coming, setComing] = useState<File>()
  const bring = (file: File | undefined) => newest && setComing(file)
  const paste = (text: string) => {
    if (!newest || !text.includes('\n')) return
    const rows = text
      .replace(/\r?\n$/, '')
      .split(/\r?\n/)
      .map((line) => line.split('\t'))
    void start(() => api.newSheet(newest.id, 'Pasted rows', rows))
  }
  return (
    <div className="flex h-full flex-col" onPaste={(event) => paste(event.clipboardData.getData('text/plain'))}>
      <Header template={{ id, name }} />
      <main
        className="min-h-0 flex-1 overflow-auto px-6 py-5"
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault()
          bring(event.dataTransfer.files[0])
        }}
      >
        <input
          ref={picker}
          type="file"
          accept=".csv,.tsv,.txt,.xlsx,.ods,.json"
          hidden
          aria-label="Data file"
          onChange={(event) => {
            bring(event.target.files?.[0])
            event.target.value = ''
          }}
        />
        {!newest ? (
          <Empty title="There is no version to fill yet">Publish a version in Draft or Hand-off first.</Empty>
        ) : (
          <div className="mx-auto max-w-3xl">
            <h1 className="text-lg font-semibold">
              Fill {name}, version {newest.number}
            </h1>
            <p className="mt-1 text-soft">
              Drop a sheet here, or paste rows with their column names from a spreadsheet.
            </p>
            <div className="mt-3 flex gap-2">
              <Button look="primary" disabled={busy} onClick={() => picker.current?.click()}>
                Import a sheet
              </Button>
              <Button disabled={busy} onClick={() => start(() => api.newSheet(newest.id, 'New sheet'))}>
                Type rows by hand
              </Button>
              <span className="flex items-center gap-2 pl-2 text-soft">
                Starter file to fill in:
                {(['csv', 'xlsx', 'json'] as const).map((kind) => (
                  <a
                    key={kind}
                    className="font-medium text-leaf hover:underline"
                    href={`/api/versions/${newest.id}/starter.${kind}`}
                  >
                    {kind}
                  </a>
                ))}
              </span>
            </div>
            <h2 className="mt-7 mb-1 font-semibold">Sheets</h2>
            {sheets.data?.length === 0 && <p className="text-soft">None yet.</p>}
            <ul className="border-t border-rule bg-paper">
              {sheets.data?.map((sheet) => (
                <li key={sheet.id} className="flex items-center border-b border-rule">
                  <button
                    type="button"
                    className="flex flex-1 items-center gap-4 px-3 py-2 text-left hover:bg-leaf-pale"
                    onClick={() => navigate(`/t/${id}/fill/${sheet.id}`)}
                  >
                    <span className="flex-1 font-medium">{sheet.name}</span>
                    <span className="w-20">{sheet.rows} rows</span>
                    <span className="w-20 text-soft">version {sheet.number}</span>
                    <span className="w-32 text-right text-soft">{day(sheet.changed)}</span>
                  </button>
                  <Button
                    small
                    className="mr-2"
                    aria-label={`Remove ${sheet.name}`}
                    onClick={() =>
                      window.confirm(`Remove "${sheet.name}" and its outputs?`) &&
                      api.removeSheet(sheet.id).then(() => queries.invalidateQueries({ queryKey: ['sheets'] }))
                    }
                  >
                    ✕
                  </Button>
                </li>
              ))}
            </ul>
          </div>
        )}
      </main>
      {coming && newest && (
        <ImportSheet
          file={coming}
          version={newest}
          onClose={() => setComing(undefined)}
          onDone={(sheet) => void start(async () => sheet)}
        />
      )}
    </div>
  )
}

function Filling({
  name,
  sheet,
  template,
  versions,
}: {
  name: string
  sheet: SheetDetail
  template: Template
  versions: Version[]
}) {
  const queries = useQueryClient()
  const [moving, setMoving] = useState(false)
  const [match, setMatch] = useState<Match>(sheet.match)
  const [chosen, setChosen] = useState(0)
  const [matching, setMatching] = useState(false)
  const [rendering, setRendering] = useState(false)
  const [view, setView] = useState<'contact' | 'fit'>('contact')
  const { scene, error } = useScene(template)
  const { cells, put, undo, redo, saved, findings, worker, revision } = useSheet(sheet, template, match)
  useHotkeys('mod+z', undo, { preventDefault: true, enableOnFormTags: false })
  useHotkeys('mod+shift+z', redo, { preventDefault: true })
  const counts = useMemo(() => {
    const sum = { stop: 0, look: 0, fine: 0, unknown: 0 }
    for (const own of cells) {
      const found = findings.get(own)
      if (found) sum[stateOf(found)]++
      else sum.unknown++
    }
    return sum
  }, [cells, findings])
  if (error) return <Empty title="This sheet could not be opened">{error.message}</Empty>
  const row = Math.min(chosen, cells.length - 1)
  const doubt = doubtAbout(template, match)
  const matched = template.fields.filter((field) => match[field.key]).length
  const renderable = cells.length - counts.stop
  return (
    <div className="flex h-full flex-col">
      <Header template={{ id: sheet.template, name }} here={sheet.name}>
        <span className="text-soft" role="status">
          {saved}
        </span>
        <Button onClick={undo}>Undo</Button>
        <Button look="primary" disabled={cells.length === 0} onClick={() => setRendering(true)}>
          Render {renderable} {renderable === 1 ? 'row' : 'rows'}
        </Button>
      </Header>
      <div className="flex h-10 shrink-0 items-center gap-4 border-b border-rule bg-paper px-4" role="status">
        <b className={classes('font-semibold', counts.stop ? 'text-stop' : 'text-soft')}>{counts.stop} stop</b>
        <b className={classes('font-semibold', counts.look ? 'text-look' : 'text-soft')}>{counts.look} look</b>
        <b className="font-semibold text-leaf">{counts.fine} fine</b>
        <span className="text-soft">
          of {cells.length} rows, version {sheet.number}
          {counts.unknown > 0 && `, checking ${counts.unknown} more …`}
        </span>
        {versions.length > 1 && (
          <Button small look={versions[0]!.number > sheet.number ? 'quiet' : 'plain'} onClick={() => setMoving(true)}>
            {versions[0]!.number > sheet.number ? `Version ${versions[0]!.number} is there` : 'Another version'}
          </Button>
        )}
        {doubt && <span className="truncate text-look">{doubt}</span>}
        <span className="ml-auto flex gap-2">
          <Button
            onClick={() =>
              put([...cells, Object.fromEntries(template.fields.map((field) => [columnOf(match, field.key), '']))])
            }
          >
            Add a row
          </Button>
          <Button onClick={() => setMatching(true)}>
            Columns: {matched} of {template.fields.length} matched
          </Button>
          <a
            href={`/api/sheets/${sheet.id}/csv`}
            className="flex h-7 items-center rounded-[3px] border border-rule bg-white px-3 font-medium hover:border-soft"
          >
            Save as CSV
          </a>
        </span>
      </div>
      <div className="grid min-h-0 flex-1 grid-rows-[minmax(0,3fr)_minmax(0,2fr)]">
        <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_400px]">
          <div className="flex min-h-0 flex-col border-r border-rule bg-paper">
            <Grid
              template={template}
              match={match}
              cells={cells}
              findings={findings}
              chosen={row}
              onCells={put}
              onChoose={setChosen}
            />
          </div>
          {scene && cells[row] ? (
            <RowProof
              scene={scene}
              match={match}
              cells={cells[row]}
              row={row + 1}
              findings={findings.get(cells[row])}
              onCell={(column, value) => put(cells.map((own, i) => (i === row ? { ...own, [column]: value } : own)))}
            />
          ) : (
            <Empty title="No row to show">Add a row, or paste some into the grid.</Empty>
          )}
        </div>
        <div className="flex min-h-0 flex-col border-t border-rule px-4 pt-1.5">
          <span className="flex pb-1.5">
            <Choice
              label="All rows"
              value={view}
              options={[
                ['contact', 'Contact sheet'],
                ['fit', 'Fit chart'],
              ]}
              onValue={setView}
            />
          </span>
          {view === 'contact' ? (
            <ContactSheet
              frame={template.frame}
              cells={cells}
              findings={findings}
              worker={worker}
              chosen={row}
              onChoose={setChosen}
            />
          ) : (
            <FitChart cells={cells} worker={worker} chosen={row} onChoose={setChosen} />
          )}
        </div>
      </div>
      <Dialog
        open={matching}
        onOpenChange={setMatching}
        title="Which column fills which field"
        footer={
          <Button look="primary" onClick={() => setMatching(false)}>
            Done
          </Button>
        }
      >
        {template.fields.map((field) => (
          <Line key={field.id} label={field.name} note={field.note}>
            {(id) => (
              <Select
                id={id}
                value={match[field.key] ?? ''}
                options={[['', 'none: stands at its default'], ...sheet.columns.map((c): [string, string] => [c, c])]}
                onChange={async (event) => {
                  const { [field.key]: _, ...rest } = match
                  const next = event.target.value ? { ...rest, [field.key]: event.target.value } : rest
                  setMatch(next)
                  try {
                    revision.current = (await api.setMatch(sheet.id, next)).revision
                  } catch (failure) {
                    setMatch(match)
                    toast.error((failure as ApiError).message)
                  }
                }}
              />
            )}
          </Line>
        ))}
      </Dialog>
      {moving && (
        <MoveDialog
          sheet={sheet}
          template={template}
          match={match}
          cells={cells}
          versions={versions}
          revision={() => revision.current}
          onClose={() => setMoving(false)}
          onMoved={() => {
            setMoving(false)
            void queries.invalidateQueries({ queryKey: ['sheet', String(sheet.id)] })
            void queries.invalidateQueries({ queryKey: ['sheets'] })
          }}
        />
      )}
      {rendering && (
        <RenderDialog
          sheet={sheet}
          template={template}
          rows={cells.length}
          stopped={counts.stop}
          onClose={() => setRendering(false)}
        />
      )}
    </div>
  )
}
