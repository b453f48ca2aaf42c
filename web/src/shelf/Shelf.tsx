import { rateText, secondsOf } from '@hoja/core/time'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { DropdownMenu } from 'radix-ui'
import { useRef, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { toast } from 'sonner'
import { Backdrop } from '../preview/Backdrop.tsx'
import { api, day, type TemplateSummary } from '../ui/api.ts'
import { Button, classes, Empty, Line, TextInput } from '../ui/controls.tsx'
import { Dialog } from '../ui/Dialog.tsx'
import { Header } from '../ui/Header.tsx'

/** Find, open, import and share templates. */
export function Shelf() {
  const queries = useQueryClient()
  const navigate = useNavigate()
  const templates = useQuery({ queryKey: ['templates'], queryFn: api.templates })
  const sheets = useQuery({ queryKey: ['sheets'], queryFn: () => api.sheets() })
  const [search, setSearch] = useState('')
  const [naming, setNaming] = useState(false)
  const [name, setName] = useState('')
  const [over, setOver] = useState(false)
  const picker = useRef<HTMLInputElement>(null)
  const done = () => queries.invalidateQueries({ queryKey: ['templates'] })
  const failed = (error: Error) => void toast.error(error.message)
  const add = useMutation({
    mutationFn: api.newTemplate,
    onSuccess: (template) => {
      done()
      navigate(`/t/${template.id}/draft`)
    },
    onError: failed,
  })
  const bring = useMutation({
    mutationFn: api.importTemplate,
    onSuccess: (template) => {
      done()
      toast.success(`"${template.name}" is on the shelf.`)
    },
    onError: failed,
  })
  const words = search.toLowerCase()
  const list =
    templates.data?.filter((t) =>
      `${t.name} ${t.note} ${t.fields.map((f) => f.name).join(' ')}`.toLowerCase().includes(words),
    ) ?? []

  return (
    <div className="flex h-full flex-col">
      <Header>
        <Button onClick={() => picker.current?.click()}>Import a template</Button>
        <Button look="primary" onClick={() => setNaming(true)}>
          New template
        </Button>
      </Header>
      <input
        ref={picker}
        type="file"
        accept=".hoja"
        multiple
        hidden
        aria-label="Template package"
        onChange={(event) => {
          for (const file of event.target.files ?? []) bring.mutate(file)
          event.target.value = ''
        }}
      />
      <main
        className={classes('min-h-0 flex-1 overflow-auto px-6 py-5', over && 'bg-leaf-pale')}
        onDragOver={(event) => {
          event.preventDefault()
          setOver(true)
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => {
          event.preventDefault()
          setOver(false)
          for (const file of event.dataTransfer.files) bring.mutate(file)
        }}
      >
        <div className="mb-4 flex items-center gap-3">
          <h1 className="text-lg font-semibold">Templates</h1>
          <span className="text-soft">{templates.data ? templates.data.length : ''}</span>
          <TextInput
            className="ml-auto !w-64"
            type="search"
            placeholder="Find by name, note or field"
            aria-label="Find a template"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
          />
        </div>
        {templates.error && <Empty title="The shelf could not be read">{templates.error.message}</Empty>}
        {templates.data?.length === 0 && (
          <Empty title="The shelf is empty">
            Draw a new template, or drop a .hoja file here.
            <Button look="primary" onClick={() => setNaming(true)}>
              New template
            </Button>
          </Empty>
        )}
        {templates.data && templates.data.length > 0 && list.length === 0 && (
          <Empty title={`Nothing is called "${search}"`}>Templates are found by name, note and field.</Empty>
        )}
        <ul className="grid grid-cols-[repeat(auto-fill,minmax(340px,1fr))] gap-5">
          {list.map((template) => (
            <Card key={template.id} template={template} onChanged={done} />
          ))}
        </ul>
        {sheets.data && sheets.data.length > 0 && (
          <section className="mt-8">
            <h2 className="mb-2 text-lg font-semibold">Sheets</h2>
            <table className="w-full border-collapse bg-paper text-left">
              <thead>
                <tr className="border-y border-rule text-xs text-soft">
                  {['Sheet', 'Template', 'Version', 'Rows', 'Changed'].map((head) => (
                    <th key={head} className="px-3 py-1.5 font-medium">
                      {head}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {sheets.data.map((sheet) => (
                  <tr key={sheet.id} className="border-b border-rule hover:bg-leaf-pale">
                    <td className="px-3 py-1.5">
                      <Link className="font-medium hover:underline" to={`/t/${sheet.template}/fill/${sheet.id}`}>
                        {sheet.name}
                      </Link>
                    </td>
                    <td className="px-3">{sheet.templateName}</td>
                    <td className="px-3">{sheet.number}</td>
                    <td className="px-3">{sheet.rows}</td>
                    <td className="px-3 text-soft">{day(sheet.changed)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        )}
      </main>
      <Dialog
        open={naming}
        onOpenChange={setNaming}
        title="New template"
        footer={
          <>
            <Button onClick={() => setNaming(false)}>Cancel</Button>
            <Button look="primary" disabled={!name.trim()} onClick={() => add.mutate(name.trim())}>
              Start drawing
            </Button>
          </>
        }
      >
        <Line label="Name" note="1920 x 1080 at 25 fps to begin with.">
          {(id) => (
            <TextInput
              id={id}
              value={name}
              onChange={(event) => setName(event.target.value)}
              onKeyDown={(event) => event.key === 'Enter' && name.trim() && add.mutate(name.trim())}
            />
          )}
        </Line>
      </Dialog>
    </div>
  )
}

function Card({ template, onChanged }: { template: TemplateSummary; onChanged: () => void }) {
  const { frame, spans } = template
  const seconds = (n: number) => secondsOf(n, frame.rate).toFixed(1)
  const run = (work: Promise<unknown>, said: string) =>
    work.then(
      () => {
        onChanged()
        toast.success(said)
      },
      (error: Error) => toast.error(error.message),
    )
  return (
    <li className="border border-rule bg-paper">
      <Link to={`/t/${template.id}/draft`} className="block" aria-label={`Open ${template.name}`}>
        <div className="relative aspect-video overflow-hidden">
          <Backdrop />
          <img
            src={`/api/templates/${template.id}/poster.png?r=${template.revision}`}
            alt={`${template.name}, its poster`}
            className="absolute inset-0 size-full"
          />
        </div>
      </Link>
      <div className="px-3 py-2.5">
        <div className="flex items-baseline gap-2">
          <Link to={`/t/${template.id}/draft`} className="text-base font-semibold hover:underline">
            {template.name}
          </Link>
          <span className="text-soft">
            {template.version ? `version ${template.version}` : 'not published yet'}
            {template.version > 0 && template.ahead && ', draft is ahead'}
          </span>
          <DropdownMenu.Root>
            <DropdownMenu.Trigger
              className="ml-auto rounded-[3px] px-1.5 text-soft hover:bg-leaf-pale"
              aria-label={`More for ${template.name}`}
            >
              •••
            </DropdownMenu.Trigger>
            <DropdownMenu.Portal>
              <DropdownMenu.Content align="end" className="z-30 min-w-40 border border-rule bg-white py-1">
                <Item onSelect={() => window.location.assign(`/api/templates/${template.id}/package`)}>
                  Export as .hoja
                </Item>
                <Item onSelect={() => run(api.duplicate(template.id), `"${template.name}" is duplicated.`)}>
                  Duplicate
                </Item>
                <Item
                  onSelect={() =>
                    window.confirm(`Remove "${template.name}" with its versions, sheets and outputs?`) &&
                    run(api.remove(template.id), `"${template.name}" is removed.`)
                  }
                >
                  Remove …
                </Item>
              </DropdownMenu.Content>
            </DropdownMenu.Portal>
          </DropdownMenu.Root>
        </div>
        {template.note && <p className="mt-0.5 line-clamp-2 text-soft">{template.note}</p>}
        <p className="mt-1.5 text-xs text-soft">
          {frame.width} x {frame.height} · {rateText(frame.rate)} fps · at least {seconds(spans.in + spans.out)} s ·{' '}
          {template.fields.length} {template.fields.length === 1 ? 'field' : 'fields'}
        </p>
      </div>
    </li>
  )
}

function Item({ onSelect, children }: { onSelect: () => void; children: string }) {
  return (
    <DropdownMenu.Item onSelect={onSelect} className="px-3 py-1 outline-none data-[highlighted]:bg-leaf-pale">
      {children}
    </DropdownMenu.Item>
  )
}
