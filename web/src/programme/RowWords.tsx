import { cellsByKey, type Row, withText } from '@hoja/core/data'
import { fromRow, type Placed, type TitleClip } from '@hoja/core/programme'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { toast } from 'sonner'
import { api, wholeSheet } from '../api.ts'
import { Button, Select } from '../ui/controls.tsx'
import { Dialog } from '../ui/Dialog.tsx'
import { useSession, useView } from './useProgramme.ts'

/** Where a title's words come from in a sheet: they can be pulled from a row, and saved as one. */
export function RowWords({ title, production }: { title: Placed<TitleClip>; production: number | null }) {
  const words = useView((view) => view.programme.words[title.clip.words])
  const [open, setOpen] = useState<'pull' | 'save'>()
  const row = words?.row
  const link = 'font-medium text-leaf hover:underline'
  return (
    <>
      {row && <>row {row.n} of a sheet · </>}
      <button type="button" className={link} onClick={() => setOpen('pull')}>
        from a row …
      </button>{' '}
      ·{' '}
      <button type="button" className={link} onClick={() => setOpen('save')}>
        to a row …
      </button>
      {open && <RowDialog title={title} production={production} way={open} onClose={() => setOpen(undefined)} />}
    </>
  )
}

/** The sheets of a template: those of the production first. */
export function useSheetsOf(template: string | undefined, production: number | null) {
  const sheets = useQuery({ queryKey: ['sheets'], queryFn: () => api.sheets({}) })
  const all = sheets.data?.filter((sheet) => sheet.template === template) ?? []
  const isOwn = (sheet: (typeof all)[number]) => Number(production !== null && sheet.production === production)
  return [...all].sort((a, b) => isOwn(b) - isOwn(a))
}

function RowDialog({
  title: { id, clip },
  production,
  way,
  onClose,
}: {
  title: Placed<TitleClip>
  production: number | null
  way: 'pull' | 'save'
  onClose: () => void
}) {
  const session = useSession()
  const queries = useQueryClient()
  const programme = useView((view) => view.programme)
  const template = useView((view) => view.templates.get(clip.design))
  const { cells, row: from } = programme.words[clip.words]!
  const sheets = useSheetsOf(programme.designs[clip.design]!.template, production)
  const [chosen, setChosen] = useState<number | undefined>(from?.sheet)
  const sheetId = sheets.find((sheet) => sheet.id === chosen)?.id ?? sheets[0]?.id
  const sheet = useQuery({
    queryKey: ['sheet of words', sheetId],
    queryFn: () => wholeSheet(sheetId!),
    enabled: sheetId !== undefined,
    gcTime: 0,
  })
  const [n, setN] = useState(from?.n ?? 1)
  if (!template) return null
  const rows = sheet.data?.rows ?? []
  const textsOf = (row: Row) => cellsByKey(template, sheet.data!.match, row)
  const nameOf = (row: Row, i: number) =>
    `${i + 1}  ${Object.values(textsOf(row)).filter(Boolean).slice(0, 2).join(' · ')}`.slice(0, 90)
  const pull = () => {
    const row = rows[n - 1]
    if (!row || sheetId === undefined) return
    session.change((own) => fromRow(own, id, { sheet: sheetId, n }, textsOf(row)), 'words from a row')
    onClose()
  }
  const save = async (at: number | undefined) => {
    const own = sheet.data
    if (!own) return
    const place = at ?? own.rows.length + 1
    const before: Row = at === undefined ? { cells: {} } : own.rows[at - 1]!
    const row = Object.entries(cells).reduce(
      (now, [key, text]) => withText(own.match, key, now, text, own.link !== null),
      before,
    )
    try {
      await api.changeRows({
        id: own.id,
        revision: own.revision,
        changes: [{ at: place, remove: at === undefined ? 0 : 1, rows: [row] }],
      })
    } catch (error) {
      toast.error((error as Error).message)
      return
    }
    session.change((now) => fromRow(now, id, { sheet: own.id, n: place }, cells), 'words to a row')
    void queries.invalidateQueries({ queryKey: ['sheet'] })
    toast.success(`Saved as row ${place} of "${own.name}".`)
    onClose()
  }
  const isEmpty = sheets.length === 0
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title={way === 'pull' ? 'Words from a row of a sheet' : 'Save the words as a row of a sheet'}
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          {way === 'save' && from && from.sheet === sheetId && rows[from.n - 1] && (
            <Button onClick={() => void save(from.n)}>Over row {from.n}</Button>
          )}
          <Button
            variant="primary"
            disabled={isEmpty || !sheet.data || (way === 'pull' && rows.length === 0)}
            onClick={() => (way === 'pull' ? pull() : void save(undefined))}
          >
            {way === 'pull' ? 'Take these words' : 'As a new row'}
          </Button>
        </>
      }
    >
      {isEmpty ? (
        <p>There is no sheet of "{template.name}" yet; make one in its Fill page.</p>
      ) : (
        <div className="grid grid-cols-[72px_1fr] items-center gap-2">
          <span className="text-soft">Sheet</span>
          <Select
            aria-label="Sheet"
            value={String(sheetId)}
            options={sheets.map((one): [string, string] => [String(one.id), one.name])}
            onChange={(event) => setChosen(Number(event.target.value))}
          />
          {way === 'pull' && (
            <>
              <span className="text-soft">Row</span>
              <Select
                aria-label="Row"
                value={String(Math.min(n, Math.max(1, rows.length)))}
                options={rows.slice(0, 5000).map((row, i): [string, string] => [String(i + 1), nameOf(row, i)])}
                onChange={(event) => setN(Number(event.target.value))}
              />
            </>
          )}
        </div>
      )}
    </Dialog>
  )
}
