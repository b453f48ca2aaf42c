import { fieldsIn, fromSource, type Match, offeredSources, type Row, sourceWords, wordKeysOf } from '@hoja/core/data'
import type { ReadOptions } from '@hoja/core/formats'
import {
  checkAlong,
  designFrom,
  type FromList,
  firstWords,
  guessOrigin,
  type Programme,
  type TimeFinding,
  type TitleClip,
  timecodeIn,
  titlesOf,
  withCuts,
  withList,
} from '@hoja/core/programme'
import type { Template } from '@hoja/core/template'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { api, wholeSheet } from '../api.ts'
import { Button, Select, StateWord } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { Dialog } from '../ui/Dialog.tsx'
import { TimeMatch } from '../ui/TimeMatch.tsx'
import { useSheetsOf } from './RowWords.tsx'
import { usePlaceable } from './usePlaceable.ts'
import { useSession, useView } from './useProgramme.ts'

/** A list, read for a template. */
interface ReadList {
  columns: readonly string[]
  rows: readonly Row[]
  match: Match
  /** Its worksheets, or what else it holds; which one is read. */
  parts: readonly string[]
  part: string | undefined
  note: string | undefined
  sheet: number | undefined
}

/** Makes titles of a list: which template, which column fills which field, when they are, and what would clash. */
export function FromListDialog({
  file,
  production,
  used,
  onClose,
}: {
  /** Absent: rows of a sheet. */
  file: File | undefined
  production: number | null
  /** Templates of the production come first. */
  used: readonly string[]
  onClose: () => void
}) {
  const session = useSession()
  const programme = useView((view) => view.programme)
  const placeable = usePlaceable(used)
  const [asked, setAsked] = useState<string>()
  const template = placeable.find(({ id }) => id === asked) ?? placeable[0]
  const versions = useQuery({
    queryKey: ['template', template?.id],
    queryFn: () => api.template({ id: template!.id }),
    enabled: !!template,
  })
  const version = versions.data?.versions[0]
  const designed = useQuery({
    queryKey: ['version', version?.id],
    queryFn: () => api.version({ id: version!.id }),
    enabled: !!version,
    staleTime: Number.POSITIVE_INFINITY,
  }).data?.content
  const sheets = useSheetsOf(template?.id, production)
  const [chosenSheet, setSheet] = useState<number>()
  const sheetId = file ? undefined : (sheets.find(({ id }) => id === chosenSheet) ?? sheets[0])?.id
  const [options, setOptions] = useState<ReadOptions>({})
  const list = useQuery({
    queryKey: ['list', file?.name, file?.lastModified, version?.id, sheetId, options],
    queryFn: () => (file ? readFile(file, version!.id, options) : readSheet(sheetId!)),
    enabled: !!version && (file !== undefined || sheetId !== undefined),
    gcTime: 0,
  })
  const [own, setOwn] = useState<{ of: unknown; match: Match }>()
  const read = list.data
  const match = read && own?.of === read ? own.match : read && designed ? firstMatch(read, designed) : {}
  const titleTracks = programme.tracks.filter(({ kind }) => kind === 'title')
  const [track, setTrack] = useState<string>()
  const onTrack = titleTracks.find(({ id }) => id === track)?.id ?? titleTracks.at(-1)?.id
  const [zero, setZero] = useState<'start' | 'nought'>()
  const guessed = read ? guessOrigin(programme, match, read.rows) : 0
  const origin = zero === undefined ? guessed : zero === 'start' ? programme.start.at : 0
  const [cuts, setCuts] = useState(false)
  const way = useMemo(() => {
    if (!read || !version || !designed || onTrack === undefined) return undefined
    const design = designFrom(programme, version, designed)
    const { sheet } = read
    return { key: String(version.id), design, template: designed, match, track: onTrack, origin, sheet }
  }, [read, version, designed, match, onTrack, origin, programme])
  const made = useMemo(() => way && withList(programme, read!.rows, way), [way, programme, read])
  const take = () => {
    if (!read) return
    if (cuts) {
      if (session.change((own) => withCuts(own, read.rows, match, origin), 'cuts from a list')) onClose()
      return
    }
    if (!way || !made) return
    const what = `${counted(made.ids.length, 'title')} from a list`
    if (!session.place((own) => withList(own, read.rows, way), what)) return
    const { chosen } = session.store.getState()
    const first = titlesOf(session.programme).find(({ id }) => chosen.includes(id))
    if (first) session.playhead.go(first.clip.at + way.design.in)
    onClose()
  }
  const count = cuts ? (read?.rows.length ?? 0) : (made?.ids.length ?? 0)
  return (
    <Dialog
      open
      wide
      onOpenChange={onClose}
      title={file ? `Titles from ${file.name}` : 'Titles from a sheet'}
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" disabled={count === 0} onClick={take}>
            {cuts ? 'Take the cuts' : `Place ${counted(count, 'title')}`}
          </Button>
        </>
      }
    >
      <div className="grid grid-cols-[120px_minmax(0,1fr)_120px_minmax(0,1fr)] items-center gap-x-3 gap-y-1.5 pb-2">
        <span className="text-soft">Template</span>
        <Select
          aria-label="Template"
          value={template?.id ?? ''}
          options={placeable.map(({ id, name }): [string, string] => [id, name])}
          onChange={(event) => setAsked(event.target.value)}
        />
        <span className="text-soft">Track</span>
        <Select
          aria-label="Track"
          value={onTrack ?? ''}
          options={titleTracks.map(({ id, name }): [string, string] => [id, name])}
          onChange={(event) => setTrack(event.target.value)}
        />
        {!file && (
          <>
            <span className="text-soft">Sheet</span>
            <Select
              aria-label="Sheet"
              value={String(sheetId ?? '')}
              options={sheets.map((sheet): [string, string] => [String(sheet.id), sheet.name])}
              onChange={(event) => setSheet(Number(event.target.value))}
            />
          </>
        )}
        {read && read.parts.length > 1 && (
          <>
            <span className="text-soft">What of it</span>
            <Select
              aria-label="What of it"
              value={read.part ?? read.parts[0]!}
              options={read.parts.map((part): [string, string] => [part, part])}
              onChange={(event) => setOptions({ ...options, sheet: event.target.value })}
            />
          </>
        )}
        <span className="text-soft">Its times count</span>
        <Select
          aria-label="Its times count"
          value={origin === programme.start.at && programme.start.at > 0 ? 'start' : 'nought'}
          options={[
            ['nought', 'from the first frame'],
            ...(programme.start.at > 0
              ? [['start', `as timecode, from ${timecodeIn(programme, 0)}`] as [string, string]]
              : []),
          ]}
          onChange={(event) => setZero(event.target.value as 'start' | 'nought')}
        />
        <span className="text-soft">Makes</span>
        <Select
          aria-label="Makes"
          value={cuts ? 'cuts' : 'titles'}
          options={[
            ['titles', 'a title of every row'],
            ['cuts', 'cuts: where its clips begin and end'],
          ]}
          onChange={(event) => setCuts(event.target.value === 'cuts')}
        />
      </div>
      {list.error && (
        <p>
          <StateWord state="stop">{list.error.message}</StateWord>
        </p>
      )}
      {list.isLoading && <p className="text-soft">Reading …</p>}
      {!file && version && sheets.length === 0 && (
        <p>There is no sheet of "{template?.name}" yet; choose another template.</p>
      )}
      {read?.note && fieldsIn(match) === 0 && <p className="text-look">{read.note}</p>}
      {read && designed && (
        <>
          {!cuts && (
            <FieldMatch
              template={designed}
              read={read}
              match={match}
              onMatch={(next) => setOwn({ of: read, match: next })}
            />
          )}
          <TimeMatch
            template={designed}
            columns={read.columns}
            match={match}
            rows={read.rows.slice(0, 3)}
            onMatch={(next) => setOwn({ of: read, match: next })}
            otherwise="as long as they were designed"
          />
          {!cuts && made && <Outcome made={made} before={programme} template={designed} />}
        </>
      )}
    </Dialog>
  )
}

/** Columns of lists that say what a title does, whatever its fields are called: cues, markers, clips. */
const sayings = ['Text', 'Clip']

/** How a list fills a template at first: as it matches, or what it says goes to the first text. */
function firstMatch({ columns, match }: ReadList, template: Template): Match {
  const says = sayings.find((column) => columns.includes(column))
  const first = template.fields.find(({ type }) => type === 'text')
  return fieldsIn(match) > 0 || says === undefined || !first ? match : { ...match, [first.key]: says }
}

async function readFile(file: File, version: number, options: ReadOptions): Promise<ReadList> {
  const { preview, rows } = await api.previewList({ file, version, options: JSON.stringify(options) })
  const { columns, match, sheets = [], doubt } = preview
  return {
    columns,
    rows: rows.map((cells) => ({ cells: Object.fromEntries(columns.map((column, i) => [column, cells[i] ?? ''])) })),
    match,
    parts: sheets.map(({ name }) => name),
    part: preview.options.sheet,
    note: doubt ?? undefined,
    sheet: undefined,
  }
}

async function readSheet(id: number): Promise<ReadList> {
  const { columns, rows, match } = await wholeSheet(id)
  return { columns, rows, match, parts: [], part: undefined, note: undefined, sheet: id }
}

/** Which column fills which field. */
function FieldMatch({
  template,
  read,
  match,
  onMatch,
}: {
  template: Template
  read: ReadList
  match: Match
  onMatch: (match: Match) => void
}) {
  const [first] = read.rows
  const offered = offeredSources({
    columns: read.columns,
    rows: read.rows.slice(0, 50).map(({ cells }) => read.columns.map((column) => cells[column] ?? '')),
  })
  return (
    <>
      <h3 className="mt-1 border-b border-rule pb-1 font-semibold">What fills each field</h3>
      <ul>
        {template.fields.map(({ key, name }) => {
          const source = match[key]
          const own = offered.find((one) => JSON.stringify(one.source) === JSON.stringify(source))
          return (
            <li
              key={key}
              className="grid grid-cols-[120px_minmax(0,1fr)_minmax(0,1fr)] items-center gap-3 border-b border-rule py-1 last:border-0"
            >
              <b className="font-semibold">{name}</b>
              <Select
                aria-label={`Column for ${name}`}
                value={source === undefined ? '' : (own?.words ?? ' ')}
                options={[
                  ['', 'nothing: its default'],
                  ...(source !== undefined && !own ? [[' ', sourceWords(source)] as [string, string]] : []),
                  ...offered.map(({ words }): [string, string] => [words, words]),
                ]}
                onChange={(event) => {
                  const { [key]: _, ...rest } = match
                  const { value } = event.target
                  const next = offered.find(({ words }) => words === value)
                  if (value !== ' ') onMatch(next ? { ...rest, [key]: next.source } : rest)
                }}
              />
              <span className="truncate text-soft">
                {first && (fromSource(source, first.cells).text ?? '').replace(/\s*\n\s*/g, ' / ')}
              </span>
            </li>
          )
        })}
      </ul>
    </>
  )
}

/** What would come of it: how many, which rows make none, and what clashes along time. */
function Outcome({ made, before, template }: { made: FromList; before: Programme; template: Template }) {
  const { programme, ids, left, lengthened, aside } = made
  const clashes = useMemo(() => {
    const fresh = new Set(ids)
    const keys = wordKeysOf(template)
    return checkAlong(programme, { regionOf: () => undefined, textsOf: () => keys }).filter(({ clip }) =>
      fresh.has(clip),
    )
  }, [programme, ids, template])
  const nameOf = (id: string) => firstWords(programme, programme.clips[id] as TitleClip)
  const tracks = programme.tracks.length - before.tracks.length
  return (
    <section aria-label="What comes of it">
      <h3 className="mt-3 border-b border-rule pb-1 font-semibold">What comes of it</h3>
      <p className="pt-1.5">
        <b className="font-semibold">{counted(ids.length, 'title')}</b>
        {lengthened.length > 0 && `; ${lengthened.length} made longer, because In and Out stay whole`}
        {aside.length > 0 &&
          `; ${aside.length} on a track above, because others are there at the same time${tracks > 0 ? ` (${counted(tracks, 'track')} more)` : ''}`}
        .
      </p>
      {left.length > 0 && (
        <p className="pt-1">
          <StateWord state="look">
            {counted(left.length, 'row')} {left.length === 1 ? 'makes' : 'make'} no title:
          </StateWord>{' '}
          {left
            .slice(0, 3)
            .map(({ row, why }) => `row ${row}: ${why}`)
            .join(' ')}
        </p>
      )}
      <ul className="pt-1">
        {clashes.slice(0, 6).map((clash: TimeFinding) => (
          <li key={clash.clip + clash.code}>
            <StateWord state={clash.level} /> <b className="font-medium">{nameOf(clash.clip)}</b>: {clash.message}
          </li>
        ))}
      </ul>
      {clashes.length > 6 && <p className="text-soft">and {clashes.length - 6} more; the list of titles shows them.</p>}
    </section>
  )
}
