import type { SheetSummary } from '@hoja/core/api'
import { csvLines, pastedGrid } from '@hoja/core/formats'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import { type ApiError, api } from '../api.ts'
import { useSheetEntries } from '../productions/useSheetEntries.ts'
import { Button, classes, Empty } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { dataFiles, FilePicker, useFileDrop } from '../ui/files.tsx'
import { Header } from '../ui/Header.tsx'
import { MenuHere } from '../ui/Menu.tsx'
import { StarterLinks } from '../ui/StarterLinks.tsx'
import { useWrite } from '../ui/useWrite.ts'
import { day } from '../ui/words.ts'
import { FollowDialog } from './FollowDialog.tsx'
import { ImportSheet, type Source } from './ImportSheet.tsx'
import { PartsDialog } from './PartsDialog.tsx'

/** Rows from the clipboard as a file of them. */
const pastedFile = (rows: string[][]) => new File([csvLines(rows)], 'Pasted rows.csv', { type: 'text/csv' })

/** The sheets of a template, and the ways to start one. */
export function Sheets({
  id,
  name,
  versions,
}: {
  id: string
  name: string
  versions: { id: number; number: number }[]
}) {
  const queries = useQueryClient()
  const navigate = useNavigate()
  const sheets = useQuery({ queryKey: ['sheets', id], queryFn: () => api.sheets({ template: id }) })
  const entries = useSheetEntries()
  const picker = useRef<HTMLInputElement>(null)
  const [coming, setComing] = useState<Source>()
  const [parting, setParting] = useState<File>()
  const [following, setFollowing] = useState(false)
  const newest = versions[0]
  const { mutate: start, isPending: busy } = useWrite((make: () => Promise<{ id: number }>) => make(), {
    changes: [['sheets']],
    onDone: (sheet) => navigate(`/t/${id}/fill/${sheet.id}`),
    onRefused: (error) => void toast.error(error.message, { duration: 10_000 }),
  })
  const bring = (file: File | undefined) => newest && file && setComing({ kind: 'file', file })
  const drop = useFileDrop(([file]) => bring(file))
  const paste = (text: string) => {
    if (!newest || text.trim() === '') return
    const rows = pastedGrid(text)
    if (rows.length < 2) toast.error('Paste the row of column names with the rows below it.')
    // As a file: rows may be many, and are read where files are.
    else
      start(() =>
        api.importSheet({
          file: pastedFile(rows),
          version: newest.id,
          options: JSON.stringify({ header: 1 }),
          name: 'Pasted rows',
        }),
      )
  }
  // Wherever the focus is: with nothing focused a paste is heard by the document alone.
  const heard = useRef(paste)
  heard.current = paste
  useEffect(() => {
    const onPaste = (event: ClipboardEvent) => {
      const at = event.target
      const isTyping = at instanceof Element && at.closest('input, textarea, [contenteditable], [role=dialog]')
      if (!isTyping) heard.current(event.clipboardData?.getData('text/plain') ?? '')
    }
    document.addEventListener('paste', onPaste)
    return () => document.removeEventListener('paste', onPaste)
  }, [])
  const setKnown = (sheet: SheetSummary) =>
    api
      .setKnown({ id: sheet.id, known: !sheet.known })
      .then(() =>
        Promise.all([
          queries.invalidateQueries({ queryKey: ['sheets'] }),
          queries.invalidateQueries({ queryKey: ['known'] }),
        ]),
      )
      .catch((error: ApiError) => toast.error(error.message))
  return (
    <div className="flex h-full flex-col">
      <Header template={{ id, name }} />
      <main
        className={classes('min-h-0 flex-1 overflow-auto px-6 py-5', drop.over && 'bg-leaf-pale')}
        {...drop.handlers}
      >
        <FilePicker ref={picker} label="Data file" accept={dataFiles} onFiles={([file]) => bring(file)} />
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
              <Button variant="primary" disabled={busy} onClick={() => picker.current?.click()}>
                Import a sheet
              </Button>
              <Button disabled={busy} onClick={() => setFollowing(true)}>
                Follow a file or feed
              </Button>
              <Button
                disabled={busy}
                onClick={() => start(() => api.newSheet({ version: newest.id, name: 'New sheet' }))}
              >
                Type rows by hand
              </Button>
              <span className="flex items-center gap-2 pl-2 text-soft">
                Starter file:
                <StarterLinks version={newest.id} />
              </span>
            </div>
            <h2 className="mt-7 mb-1 font-semibold">Sheets</h2>
            {sheets.data?.length === 0 && <p className="text-soft">None yet.</p>}
            <ul className="border-t border-rule bg-paper">
              {sheets.data?.map((sheet) => (
                <MenuHere key={sheet.id} entries={() => entries(sheet)}>
                  <li className="flex items-center border-b border-rule">
                    <button
                      type="button"
                      className="flex flex-1 items-center gap-4 px-3 py-2 text-left hover:bg-leaf-pale"
                      onClick={() => navigate(`/t/${id}/fill/${sheet.id}`)}
                    >
                      <span className="flex-1 font-medium">
                        {sheet.name}
                        {sheet.link && <span className="font-normal text-soft"> follows a {sheet.link.kind}</span>}
                      </span>
                      <span className="w-20">{counted(sheet.count, 'row')}</span>
                      <span className="w-20 text-soft">version {sheet.number}</span>
                      <span className="w-32 text-right text-soft">{day(sheet.changed)}</span>
                    </button>
                    <Button
                      small
                      variant={sheet.known ? 'primary' : 'quiet'}
                      className="mr-2"
                      aria-pressed={sheet.known}
                      title={
                        sheet.known
                          ? 'Texts elsewhere that differ from one here by a slip are told of; press to let go'
                          : 'Names, roles and companies are spelled right here: tell of slips in every other sheet'
                      }
                      onClick={() => void setKnown(sheet)}
                    >
                      {sheet.known ? 'Known names' : 'As known names'}
                    </Button>
                    <Button
                      small
                      className="mr-2"
                      aria-label={`Remove ${sheet.name}`}
                      onClick={() =>
                        window.confirm(`Remove "${sheet.name}" and its outputs?`) &&
                        api
                          .removeSheet({ id: sheet.id })
                          .then(() => queries.invalidateQueries({ queryKey: ['sheets'] }))
                      }
                    >
                      ✕
                    </Button>
                  </li>
                </MenuHere>
              ))}
            </ul>
          </div>
        )}
      </main>
      {following && (
        <FollowDialog
          onClose={() => setFollowing(false)}
          onLink={(link) => {
            setFollowing(false)
            setComing({ kind: 'link', link })
          }}
        />
      )}
      {coming && newest && (
        <ImportSheet
          source={coming}
          version={newest}
          onClose={() => setComing(undefined)}
          onDone={(sheet) => void start(async () => sheet)}
          onParts={(file) => {
            setComing(undefined)
            setParting(file)
          }}
        />
      )}
      {parting && (
        <PartsDialog
          file={parting}
          onClose={() => setParting(undefined)}
          onDone={(made) => {
            setParting(undefined)
            void queries.invalidateQueries({ queryKey: ['sheets'] })
            toast.success(`${counted(made.length, 'sheet')} came in: ${made.map((sheet) => sheet.name).join('; ')}.`)
            const own = made.find((sheet) => sheet.template === id)
            if (own) navigate(`/t/${id}/fill/${own.id}`)
          }}
        />
      )}
    </div>
  )
}
