import { address, type TemplateSummary } from '@hoja/core/api'
import { shortestDuration } from '@hoja/core/motion'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { api } from '../api.ts'
import { Productions } from '../productions/Productions.tsx'
import { SheetTable } from '../productions/SheetTable.tsx'
import { Button, Checkbox, classes, Empty, Select, TextInput } from '../ui/controls.tsx'
import { FilePicker, useFileDrop } from '../ui/files.tsx'
import { Header } from '../ui/Header.tsx'
import { useMine } from '../ui/mine.ts'
import { NameDialog } from '../ui/NameDialog.tsx'
import { Trouble } from '../ui/Trouble.tsx'
import { useWrite } from '../ui/useWrite.ts'
import { BackupDialog } from './BackupDialog.tsx'
import { Card } from './Card.tsx'
import { ImportDialog } from './ImportDialog.tsx'

/** What of the shelf is looked at: everything, a folder, or what was put away. */
type Place = { kind: 'all' | 'favourites' | 'recent' | 'away' } | { kind: 'folder'; name: string }

const placeWords = { all: 'Templates', favourites: 'Favourites', recent: 'Used lately', away: 'Put away' }

const emptyWords: Record<Place['kind'], [title: string, more: string]> = {
  all: ['The shelf is empty', ''],
  folder: ['The folder is empty', ''],
  favourites: ['No favourites yet', 'The ribbon on a card makes it one; they are yours alone.'],
  recent: ['Nothing was opened yet', 'Templates that you open stand here, the last first.'],
  away: ['Nothing is put away', 'A template that is put away keeps its versions and sheets, and can be brought back.'],
}

const orders: Record<string, [string, (a: TemplateSummary, b: TemplateSummary) => number]> = {
  name: ['Sorted by name', (a, b) => a.name.localeCompare(b.name)],
  changed: ['Changed last first', (a, b) => b.changed.localeCompare(a.changed)],
  shortest: ['Shortest first', (a, b) => seconds(a) - seconds(b)],
  fields: ['Fewest fields first', (a, b) => a.fields.length - b.fields.length],
  size: ['Largest frame first', (a, b) => b.frame.width * b.frame.height - a.frame.width * a.frame.height],
}

const seconds = ({ spans, frame }: TemplateSummary) => (shortestDuration(spans) * frame.rate.den) / frame.rate.num

/** Everything that a template is found by. */
const wordsOf = (t: TemplateSummary) =>
  [t.name, t.note, t.folder, ...t.tags, ...t.fields.flatMap((field) => [field.name, field.key, field.note])]
    .join(' ')
    .toLowerCase()

/** Find, open, import and share templates. */
export function Shelf() {
  const queries = useQueryClient()
  const navigate = useNavigate()
  const templates = useQuery({ queryKey: ['templates'], queryFn: () => api.templates() })
  const [search, setSearch] = useState('')
  const [place, setPlace] = useState<Place>({ kind: 'all' })
  const [order, setOrder] = useState('name')
  const [naming, setNaming] = useState(false)
  const [coming, setComing] = useState<File[]>()
  const drop = useFileDrop(setComing)
  const [backing, setBacking] = useState(false)
  const picker = useRef<HTMLInputElement>(null)
  const done = () => queries.invalidateQueries({ queryKey: ['templates'] })
  const add = useWrite((named: string) => api.newTemplate({ name: named }), {
    changes: [['templates']],
    onDone: (template) => navigate(`/t/${template.id}/draft`),
  })
  const all = templates.data ?? []
  const onShelf = all.filter((t) => t.archived === null)
  const here = place.kind === 'away' ? all.filter((t) => t.archived !== null) : onShelf
  const { favourites, recent, whole, setWhole } = useMine()
  const named = { favourites, recent }
  const inPlace = here.filter((t) =>
    place.kind === 'folder'
      ? t.folder === place.name
      : place.kind === 'favourites' || place.kind === 'recent'
        ? named[place.kind].includes(t.id)
        : true,
  )
  // What was used lately stands in that order until another is asked for.
  const byPlace =
    place.kind === 'recent' && order === 'name'
      ? (a: TemplateSummary, b: TemplateSummary) => recent.indexOf(a.id) - recent.indexOf(b.id)
      : orders[order]![1]
  const words = search.toLowerCase().split(/\s+/).filter(Boolean)
  const list = inPlace.filter((t) => words.every((word) => wordsOf(t).includes(word))).sort(byPlace)
  return (
    <div className="flex h-full flex-col">
      <Header>
        <Button onClick={() => picker.current?.click()}>Import</Button>
        <Button onClick={() => setBacking(true)}>Back up</Button>
        {onShelf.length > 0 && (
          <a
            className="flex h-7 items-center rounded-[3px] border border-rule bg-white px-3 text-sm font-medium hover:border-soft"
            href={address.exportShelf()}
            title="Every template on the shelf with its versions, one zip of packages"
          >
            Export all
          </a>
        )}
        <Button variant="primary" onClick={() => setNaming(true)}>
          New template
        </Button>
      </Header>
      <FilePicker ref={picker} label="Template package" accept=".hoja,.zip" multiple onFiles={setComing} />
      <div className="grid min-h-0 flex-1 grid-cols-[184px_minmax(0,1fr)]">
        <Places templates={all} place={place} onPlace={setPlace} onTag={setSearch} onChanged={done} />
        <main className={classes('min-h-0 overflow-auto px-6 py-4', drop.over && 'bg-leaf-pale')} {...drop.handlers}>
          <div className="mb-4 flex items-center gap-3">
            <h1 className="truncate text-lg font-semibold">
              {place.kind === 'folder' ? place.name : placeWords[place.kind]}
            </h1>
            <span className="text-soft">
              {templates.data && (list.length === inPlace.length ? list.length : `${list.length} of ${inPlace.length}`)}
            </span>
            <span className="ml-auto flex items-center gap-2">
              <label className="flex items-center gap-1.5 text-soft">
                <Checkbox checked={whole} onValue={setWhole} /> Whole frames
              </label>
              <Select
                aria-label="Sorted by"
                className="!w-40"
                value={order}
                options={Object.entries(orders).map(([key, [label]]): [string, string] => [key, label])}
                onChange={(event) => setOrder(event.target.value)}
              />
              <TextInput
                className="!w-64"
                type="search"
                placeholder="Find by name, tag, note or field"
                aria-label="Find a template"
                value={search}
                onChange={(event) => setSearch(event.target.value)}
              />
            </span>
          </div>
          {templates.error && !templates.data && (
            <Trouble error={templates.error} what="shelf" onAgain={() => void templates.refetch()} />
          )}
          {templates.data && inPlace.length === 0 && (
            <Empty title={emptyWords[place.kind][0]}>
              {emptyWords[place.kind][1] || (
                <>
                  Draw a new template, or drop .hoja files here.
                  <Button variant="primary" onClick={() => setNaming(true)}>
                    New template
                  </Button>
                </>
              )}
            </Empty>
          )}
          {inPlace.length > 0 && list.length === 0 && (
            <Empty title={`Nothing is called "${search}"`}>
              Templates are found by name, tag, folder, note and field.
              <Button onClick={() => setSearch('')}>Show all</Button>
            </Empty>
          )}
          <ul className="grid grid-cols-[repeat(auto-fill,minmax(300px,1fr))] gap-4">
            {list.map((template) => (
              <Card key={template.id} template={template} onChanged={done} onTag={setSearch} />
            ))}
          </ul>
          {place.kind === 'all' && search === '' && <Sheets />}
        </main>
      </div>
      {naming && (
        <NameDialog
          title="New template"
          action="Start drawing"
          note="1920 x 1080 at 25 fps to begin with."
          onName={(name) => add.mutate(name)}
          onClose={() => setNaming(false)}
        />
      )}
      {backing && <BackupDialog onClose={() => setBacking(false)} />}
      {coming && (
        <ImportDialog
          files={coming}
          onClose={() => {
            setComing(undefined)
            done()
          }}
        />
      )}
    </div>
  )
}

/** Folders, tags, and what was put away. A card that is dropped on a folder goes there. */
function Places({
  templates,
  place,
  onPlace,
  onTag,
  onChanged,
}: {
  templates: TemplateSummary[]
  place: Place
  onPlace: (place: Place) => void
  onTag: (tag: string) => void
  onChanged: () => void
}) {
  const onShelf = templates.filter((t) => t.archived === null)
  const folders = [...new Set(onShelf.map((t) => t.folder).filter(Boolean))].sort((a, b) => a.localeCompare(b))
  const tags = [...new Set(onShelf.flatMap((t) => t.tags))].sort((a, b) => a.localeCompare(b))
  const away = templates.length - onShelf.length
  const { favourites, recent } = useMine()
  const count = (ids: string[]) => onShelf.filter((t) => ids.includes(t.id)).length
  const put = useWrite(api.shelve, { onDone: onChanged })
  const file = (id: string, folder: string) => put.mutate({ id, folder })
  const row = (label: string, count: number, own: Place, on: boolean, folder?: string) => (
    <li key={label}>
      <button
        type="button"
        aria-current={on}
        className={classes(
          'flex w-full items-center justify-between gap-2 px-3.5 py-1 text-left',
          on ? 'bg-leaf-pale font-semibold' : 'hover:bg-chalk',
        )}
        onClick={() => onPlace(own)}
        onDragOver={(event) => {
          if (folder !== undefined && event.dataTransfer.types.includes('text/x-hoja-template')) event.preventDefault()
        }}
        onDrop={(event) => {
          const id = event.dataTransfer.getData('text/x-hoja-template')
          if (id && folder !== undefined) file(id, folder)
        }}
      >
        <span className="truncate">{label}</span>
        <span className="text-xs font-normal text-soft">{count}</span>
      </button>
    </li>
  )
  return (
    <nav aria-label="Shelf" className="min-h-0 overflow-auto border-r border-rule bg-paper py-3">
      <ul>
        {row('All templates', onShelf.length, { kind: 'all' }, place.kind === 'all', '')}
        {row('Favourites', count(favourites), { kind: 'favourites' }, place.kind === 'favourites')}
        {row('Used lately', count(recent), { kind: 'recent' }, place.kind === 'recent')}
        {folders.map((folder) =>
          row(
            folder,
            onShelf.filter((t) => t.folder === folder).length,
            { kind: 'folder', name: folder },
            place.kind === 'folder' && place.name === folder,
            folder,
          ),
        )}
        {away > 0 && row('Put away', away, { kind: 'away' }, place.kind === 'away')}
      </ul>
      <Productions />
      {tags.length > 0 && (
        <>
          <h2 className="px-3.5 pt-4 pb-1 text-xs font-medium text-soft">Tags</h2>
          <p className="flex flex-wrap gap-1 px-3.5">
            {tags.map((tag) => (
              <button
                key={tag}
                type="button"
                className="h-6 rounded-[3px] border border-rule bg-white px-1.5 text-xs hover:border-leaf"
                onClick={() => onTag(tag)}
              >
                {tag}
              </button>
            ))}
          </p>
        </>
      )}
    </nav>
  )
}

function Sheets() {
  const sheets = useQuery({ queryKey: ['sheets'], queryFn: () => api.sheets({}) })
  if (!sheets.data || sheets.data.length === 0) return null
  return (
    <section className="mt-8">
      <h2 className="mb-2 text-lg font-semibold">Sheets</h2>
      <SheetTable sheets={sheets.data} />
    </section>
  )
}
