import type { AirItem } from '@hoja/core/air'
import { cellsByKey, type Row, saidIn, valuesOf } from '@hoja/core/data'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, wholeSheet } from '../api.ts'
import { Button, Checkbox, Line, Select, TextInput } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { Dialog } from '../ui/Dialog.tsx'
import { lineOf, useAir, useDesk } from './airDesk.ts'
import { freshId } from './words.ts'

/** Rows that are shown of a sheet at once. */
const mostShown = 200

/** Puts titles on the running list: rows of a sheet, or a single one of a template. */
export function AddDialog({ production, onClose }: { production: number | null; onClose: () => void }) {
  const desk = useDesk()
  const layers = useAir((view) => view.channel.layers)
  const designs = useAir((view) => view.channel.designs)
  const [kind, setKind] = useState<'sheet' | 'single'>('sheet')
  const [layer, setLayer] = useState(layers[0]!.id)
  const [sheetId, setSheetId] = useState<number>()
  const [template, setTemplate] = useState('')
  const [find, setFind] = useState('')
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set())
  const sheets = useQuery({ queryKey: ['sheets'], queryFn: () => api.sheets({}) })
  const templates = useQuery({ queryKey: ['templates'], queryFn: () => api.templates() })
  const isOwn = (one: { production?: number | null }) => Number(production !== null && one.production === production)
  // Sheets of what is on the list already, and of the show, come first.
  const used = new Set(Object.values(designs).map((design) => design.template))
  const near = (one: { template: string; production?: number | null }) =>
    2 * Number(used.has(one.template)) + isOwn(one)
  const all = [...(sheets.data ?? [])].sort((a, b) => near(b) - near(a))
  const sheetNow = sheetId ?? all[0]?.id
  const about = all.find(({ id }) => id === sheetNow)
  const sheet = useQuery({
    queryKey: ['sheet for the air', sheetNow],
    queryFn: () => wholeSheet(sheetNow!),
    enabled: kind === 'sheet' && sheetNow !== undefined,
    gcTime: 0,
  })
  const version = useQuery({
    queryKey: ['version', about?.version],
    queryFn: () => api.version({ id: about!.version }),
    enabled: about !== undefined,
  })
  const content = version.data?.content
  const published = templates.data?.filter(({ version: number, archived }) => number > 0 && archived === null) ?? []
  const rows = (sheet.data?.rows ?? []).map((row, i) => ({ row, n: i + 1, words: wordsOf(row) }))
  function wordsOf(row: Row): string {
    return content && sheet.data ? lineOf(saidIn(content, valuesOf(content, sheet.data.match, row).values)) : ''
  }
  const wanted = find.trim().toLowerCase()
  const found = wanted ? rows.filter(({ words }) => words.toLowerCase().includes(wanted)) : rows
  const isAll = found.length > 0 && found.every(({ n }) => chosen.has(n))
  const add = async () => {
    const items: AirItem[] = []
    if (kind === 'single') {
      const detail = await api.template({ id: template || published[0]!.id })
      items.push({ id: freshId(), version: detail.versions[0]!.id, layer, cells: {}, live: {} })
    } else if (about && content && sheet.data)
      for (const { row, n } of rows) {
        if (!chosen.has(n)) continue
        const cells = cellsByKey(content, sheet.data.match, row)
        items.push({
          id: freshId(),
          version: row.version ?? about.version,
          layer,
          cells,
          row: { sheet: about.id, n },
          live: {},
        })
      }
    if (items.length > 0 && (await desk.ask({ kind: 'add', items }))) onClose()
  }
  const count = kind === 'single' ? 1 : chosen.size
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title="Titles for the running list"
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" disabled={count === 0} onClick={() => void add()}>
            {kind === 'single' ? 'Add it' : `Add ${counted(count, 'title')}`}
          </Button>
        </>
      }
    >
      <Line label="From">
        {(id) => (
          <Select
            id={id}
            value={kind}
            options={[
              ['sheet', 'rows of a sheet'],
              ['single', 'a template: one title'],
            ]}
            onChange={(event) => setKind(event.target.value as typeof kind)}
          />
        )}
      </Line>
      {kind === 'single' ? (
        <Line label="Template" note="Its words are written in the list, before it is taken.">
          {(id) => (
            <Select
              id={id}
              value={template || published[0]?.id}
              options={published.map((one) => [one.id, one.name] as const)}
              onChange={(event) => setTemplate(event.target.value)}
            />
          )}
        </Line>
      ) : all.length === 0 ? (
        <p className="py-2 text-soft">There is no sheet yet; bring one in under Fill.</p>
      ) : (
        <Line label="Sheet">
          {(id) => (
            <Select
              id={id}
              value={String(sheetNow)}
              options={all.map((one) => [String(one.id), `${one.name}, ${one.templateName} ${one.number}`] as const)}
              onChange={(event) => {
                setSheetId(Number(event.target.value))
                setChosen(new Set())
              }}
            />
          )}
        </Line>
      )}
      {layers.length > 1 && (
        <Line label="Layer">
          {(id) => (
            <Select
              id={id}
              value={layer}
              options={layers.map((one) => [one.id, one.name] as const)}
              onChange={(event) => setLayer(event.target.value)}
            />
          )}
        </Line>
      )}
      {kind === 'sheet' && sheet.data && (
        <>
          <div className="flex items-center gap-2 pt-2 pb-1">
            <Checkbox
              aria-label="All rows"
              checked={isAll}
              onValue={(on) => {
                const next = new Set(chosen)
                for (const { n } of found) {
                  if (on) next.add(n)
                  else next.delete(n)
                }
                setChosen(next)
              }}
            />
            <TextInput
              type="search"
              aria-label="Find a row"
              placeholder="Type to find a row"
              value={find}
              onChange={(event) => setFind(event.target.value)}
            />
          </div>
          <ul aria-label="Rows" className="max-h-[42vh] overflow-auto border border-rule bg-white">
            {found.slice(0, mostShown).map(({ n, words }) => (
              <li key={n} className="border-b border-rule last:border-0">
                <label className="flex items-center gap-2 px-2 py-1">
                  <Checkbox
                    checked={chosen.has(n)}
                    onValue={(on) => {
                      const next = new Set(chosen)
                      if (on) next.add(n)
                      else next.delete(n)
                      setChosen(next)
                    }}
                  />
                  <span className="w-8 text-soft">{n}</span>
                  <span className="truncate">{words || '(empty)'}</span>
                </label>
              </li>
            ))}
            {found.length > mostShown && (
              <li className="px-2 py-1 text-soft">and {found.length - mostShown} more: type to find them</li>
            )}
          </ul>
        </>
      )}
    </Dialog>
  )
}
