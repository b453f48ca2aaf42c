import { address, type Version } from '@hoja/core/api'
import { cellOf, doubtAbout, givenText, type Match, type Row } from '@hoja/core/data'
import { moveMatch } from '@hoja/core/handoff'
import { inPlace } from '@hoja/core/session'
import { firstShape, type ShapeId, type Template, withPictures } from '@hoja/core/template'
import { useQueries, useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import { useStore } from 'zustand'
import { type ApiError, api, type SheetDetail } from '../api.ts'
import type { OtherVersion } from '../preview/sheetWork.ts'
import { useScene } from '../preview/useScene.ts'
import { Choice } from '../ui/Choice.tsx'
import { Conflict } from '../ui/Conflict.tsx'
import { Button, classes, Empty } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { Header } from '../ui/Header.tsx'
import { Menu } from '../ui/Menu.tsx'
import { Trouble } from '../ui/Trouble.tsx'
import { BeforeAfter } from './BeforeAfter.tsx'
import { ContactSheet } from './ContactSheet.tsx'
import { FindReplace } from './FindReplace.tsx'
import { FitChart } from './FitChart.tsx'
import { FollowBar, useNews } from './FollowBar.tsx'
import { Grid } from './Grid.tsx'
import { GridBar } from './GridBar.tsx'
import { Groups } from './Groups.tsx'
import { MatchDialog } from './MatchDialog.tsx'
import { MoveDialog } from './MoveDialog.tsx'
import { PicturesDialog } from './PicturesDialog.tsx'
import { RowProof } from './RowProof.tsx'
import { countStates, filledDown, fixable, type Marked, tidied } from './rowEdits.ts'
import { saveCsv } from './saveCsv.ts'
import { SheetSession } from './sheetSession.ts'
import { changedCells, goesByFindings, groupsOf, spansOf, type View, viewOf, wholeView } from './view.ts'

type Open = 'match' | 'move' | 'find' | 'pictures'

/** What rows that stay on versions of their own are filled into. */
function useOtherVersions(rows: readonly Row[], template: Template, match: Match): OtherVersion[] {
  const ids = [...new Set(rows.flatMap((row) => row.version ?? []))].sort((a, b) => a - b)
  const versions = useQueries({
    queries: ids.map((id) => ({
      queryKey: ['version', id],
      queryFn: () => api.version({ id }),
      staleTime: Number.POSITIVE_INFINITY,
    })),
    combine: (results) => results.flatMap(({ data }) => data ?? []),
  })
  const known = versions.map(({ id }) => id).join()
  // biome-ignore lint/correctness/useExhaustiveDependencies: a version never changes, so its id stands for it
  return useMemo(
    () =>
      versions.map(({ id, content }) => ({ id, template: content, match: moveMatch(template, content, match).match })),
    [known, template, match],
  )
}

/** Where no sheet knows how names are spelled. */
const none: readonly string[] = []

/** A sheet being filled: its state, the grid, the row that is looked at, every title. */
export function Filling({
  name,
  sheet,
  published,
  versions,
}: {
  name: string
  sheet: SheetDetail
  published: Template
  versions: Version[]
}) {
  const queries = useQueryClient()
  const navigate = useNavigate()
  const [match, setMatch] = useState<Match>(sheet.match)
  const [pictures, setPictures] = useState(sheet.pictures)
  const [link, setLink] = useState(sheet.link)
  const [chosen, setChosen] = useState(0)
  const [shape, setShape] = useState<ShapeId>(firstShape)
  const [open, setOpen] = useState<Open>()
  const [below, setBelow] = useState<'contact' | 'fit' | 'before'>('contact')
  const [tall, setTall] = useState(false)
  const [view, setView] = useState<View>(wholeView)
  const [marked, setMarked] = useState<Marked>()
  const [typing, setTyping] = useState('')
  const template = useMemo(() => withPictures(published, pictures), [published, pictures])
  const opened = useRef(sheet.rows)
  const [session] = useState(() => new SheetSession(sheet))
  useEffect(() => session.open(), [session])
  const { rows, before, others, findings, saved, past, future, conflict, worker } = useStore(session.store)
  const { edit, undo, redo } = session
  const otherVersions = useOtherVersions(rows, template, match)
  const production = useQuery({
    queryKey: ['production', sheet.production],
    queryFn: () => api.production({ id: sheet.production! }),
    enabled: sheet.production !== null,
  })
  const known = useQuery({ queryKey: ['known'], queryFn: () => api.knownNames(), staleTime: 0 })
  const names = known.data?.texts.length ? known.data.texts : none
  const { scene, error } = useScene(template)
  useEffect(
    () => session.checkAgainst({ template, match, versions: otherVersions, known: names }),
    [session, template, match, otherVersions, names],
  )
  const isLinked = link !== null
  const status = useNews(sheet.id, isLinked, (change) => void session.receive(change))
  useHotkeys('mod+z', undo, { preventDefault: true, enableOnFormTags: false })
  useHotkeys('mod+shift+z', redo, { preventDefault: true })
  const keys = useMemo(() => template.fields.map(({ key }) => key), [template])
  const changed = useMemo(() => changedCells(others, match, keys), [others, match, keys])
  const textOf = useCallback((own: Row, key: string) => givenText(match, key, own).text ?? '', [match])
  const counts = useMemo(() => countStates(rows, findings), [rows, findings])
  const checked = goesByFindings(view) ? rows.length - counts.unknown : 0
  // A row that is put right stays where it is until something else is asked to be shown.
  // biome-ignore lint/correctness/useExhaustiveDependencies: only what is asked, and the rows' number, order them anew
  const order = useMemo(
    () => viewOf(rows, findings, keys, textOf, view, new Set(changed.keys())),
    [view, rows.length, checked, keys, textOf, view.show === 'changed' ? changed : null],
  )
  const groups = useMemo(() => (view.group ? groupsOf(rows, textOf, view.group) : []), [rows, textOf, view.group])
  const starts = useMemo(() => {
    const list = new Set<number>()
    if (view.group)
      for (let i = 1; i < order.length; i++)
        if (textOf(rows[order[i]!]!, view.group) !== textOf(rows[order[i - 1]!]!, view.group)) list.add(i)
    return list
  }, [view.group, order, rows, textOf])
  useHotkeys(
    'mod+d',
    () =>
      marked && marked.to - marked.from > 1 && edit(filledDown(rows, order, marked, match, isLinked), 'filling down'),
    { preventDefault: true, enableOnFormTags: true },
  )
  const pictureNames = useMemo(() => template.media.map((one) => one.name), [template])
  const fixes = useMemo(() => fixable(order, findings), [order, findings])
  const doubt = useMemo(() => {
    const some = rows.slice(0, 200)
    const table = {
      columns: sheet.columns,
      rows: some.map((own) => sheet.columns.map((c) => cellOf(own.cells, c) ?? '')),
    }
    return doubtAbout(template, match, table)
  }, [template, match, rows, sheet.columns])
  const row = Math.min(chosen, rows.length - 1)
  const own = rows[row]
  const other = own?.version === undefined ? undefined : otherVersions.find(({ id }) => id === own.version)
  const { scene: otherScene } = useScene(other?.template)
  if (error) return <Trouble error={error} what="sheet" onAgain={() => location.reload()} />
  const filledScene = other ? otherScene : scene
  const matched = template.fields.filter((field) => match[field.key] !== undefined).length
  const renderable = counts.look + counts.fine + counts.checked + counts.unknown
  const isNewer = versions[0] && versions[0].number > sheet.number
  const putMatch = async (next: Match) => {
    setMatch(next)
    try {
      await session.setMatch(next)
    } catch (failure) {
      setMatch(match)
      toast.error((failure as ApiError).message)
    }
  }
  const again = () => {
    void queries.invalidateQueries({ queryKey: ['sheet', String(sheet.id)] })
    void queries.invalidateQueries({ queryKey: ['sheets'] })
  }
  /** For a sign-off sheet: the rows shown, when they are not all. */
  const shown = order.length === rows.length ? {} : { rows: spansOf(order) }
  const tally = (show: View['show'], count: number, word: string, look: string) => (
    <button
      type="button"
      aria-pressed={view.show === show}
      title={view.show === show ? 'Show all rows' : `Show only ${word} rows`}
      className={classes(
        'rounded-[3px] px-1.5 font-semibold',
        view.show === show ? 'bg-leaf-pale' : 'hover:bg-chalk',
        count > 0 ? look : 'text-soft',
      )}
      onClick={() => setView({ ...view, show: view.show === show ? 'all' : show })}
    >
      {count} {word}
    </button>
  )
  return (
    <div className="flex h-full flex-col">
      <Header template={{ id: sheet.template, name }} here={sheet.name} production={production.data}>
        <span className="text-soft" role="status">
          {saved}
        </span>
        <Button
          onClick={undo}
          disabled={past.length === 0}
          title={past.length > 0 ? `Undo ${past.at(-1)}` : 'Nothing to undo'}
        >
          Undo
        </Button>
        <Button
          onClick={redo}
          disabled={future.length === 0}
          title={future[0] ? `Redo ${future[0]}` : 'Nothing to redo'}
        >
          Redo
        </Button>
        <Conflict open={conflict} what="These rows were" onResolve={session.resolve} />
        <Button
          variant="primary"
          disabled={renderable === 0}
          onClick={() => navigate(`/t/${sheet.template}/outputs/new?sheet=${sheet.id}`)}
        >
          Render {counted(renderable, 'row')}
        </Button>
      </Header>
      <div className="flex h-10 shrink-0 items-center gap-1.5 border-b border-rule bg-paper px-3" role="status">
        {tally('stop', counts.stop, 'stop', 'text-stop')}
        {tally('look', counts.look, 'look', 'text-look')}
        {tally('fine', counts.fine, 'fine', 'text-leaf')}
        {counts.checked > 0 && (
          <span
            className="px-1.5 text-soft"
            title="Checked, and nothing found; fine is said once their pictures were looked at"
          >
            {counts.checked.toLocaleString('en')} checked
          </span>
        )}
        {counts.off > 0 && tally('off', counts.off, 'off', 'text-soft')}
        <span className="pl-1.5 whitespace-nowrap text-soft">
          of {counted(rows.length, 'row')}, version {sheet.number}
          {counts.unknown > 0
            ? `, checking ${counts.unknown.toLocaleString('en')} more …`
            : counts.unlooked > 0 &&
              `, ${(rows.length - counts.off - counts.unlooked).toLocaleString('en')} looked at so far …`}
        </span>
        {versions.length > 1 && (
          <Button small variant={isNewer ? 'quiet' : 'plain'} onClick={() => setOpen('move')}>
            {isNewer ? `Version ${versions[0]!.number} is there` : 'Another version'}
          </Button>
        )}
        {doubt && (
          <span className="truncate pl-1 text-look" title={doubt}>
            {doubt}
          </span>
        )}
        <span className="ml-auto flex shrink-0 gap-2">
          {fixes > 0 && (
            <Button
              onClick={() => edit(tidied(rows, order, findings, match, isLinked), 'tidying')}
              title="Carries out every safe fix in the rows shown"
            >
              Tidy {counted(fixes, 'row')}
            </Button>
          )}
          {!isLinked && (
            <Button onClick={() => edit([{ at: rows.length + 1, remove: 0, rows: [{ cells: {} }] }], 'a new row')}>
              Add a row
            </Button>
          )}
          <Button onClick={() => setOpen('match')}>
            Columns: {matched} of {template.fields.length} matched
          </Button>
          <Menu
            align="end"
            className="!h-7 border border-rule bg-white px-3 !text-sm"
            entries={() => [
              { label: 'Pictures of this sheet …', onSelect: () => setOpen('pictures') },
              null,
              {
                label: 'Sign-off sheet, as a page',
                onSelect: () => window.open(address.signOffPage({ id: sheet.id, ...shown })),
              },
              {
                label: 'Sign-off sheet, as PDF',
                onSelect: () => location.assign(address.signOffPdf({ id: sheet.id, ...shown })),
              },
              null,
              { label: 'Save as CSV', onSelect: () => saveCsv(sheet.id, rows) },
              {
                label: 'Save as CSV, formulas as they are',
                onSelect: () => location.assign(address.sheetCsv({ id: sheet.id, formulas: 'as-is' })),
              },
            ]}
          >
            More ▾
          </Menu>
        </span>
      </div>
      {link && (
        <FollowBar
          sheet={sheet.id}
          link={link}
          status={status ?? sheet.following}
          changed={[...changed.values()].reduce((sum, set) => sum + set.size, 0)}
          onUnlinked={() => {
            setLink(null)
            again()
          }}
        />
      )}
      <div
        className={classes(
          'grid min-h-0 flex-1',
          tall ? 'grid-rows-[minmax(0,1fr)_minmax(0,3fr)]' : 'grid-rows-[minmax(0,3fr)_minmax(0,2fr)]',
        )}
      >
        <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_400px]">
          <div className="flex min-h-0 flex-col border-r border-rule bg-paper">
            <GridBar
              template={template}
              match={match}
              rows={rows}
              order={order}
              findings={findings}
              view={view}
              marked={marked}
              linked={isLinked}
              typing={typing}
              onView={setView}
              onEdit={edit}
              onFind={() => setOpen('find')}
            />
            {view.group && <Groups groups={groups} only={view.only} onOnly={(only) => setView({ ...view, only })} />}
            {rows.length === 0 ? (
              <Empty title="There are no rows">Add one, or bring in a sheet.</Empty>
            ) : (
              <Grid
                template={template}
                match={match}
                rows={rows}
                order={order}
                findings={findings}
                chosen={row}
                linked={isLinked}
                pictures={pictureNames}
                changed={changed}
                starts={starts}
                onEdit={edit}
                onChoose={setChosen}
                onMark={setMarked}
                onTyping={setTyping}
              />
            )}
          </div>
          {filledScene && own ? (
            <RowProof
              scene={filledScene}
              match={other?.match ?? match}
              row={own}
              n={row + 1}
              rows={rows.length}
              found={findings[row]}
              linked={isLinked}
              versions={versions}
              version={sheet.version}
              asked={shape}
              onShape={setShape}
              onRow={(next, step) => edit(inPlace(new Map([[row, next]])), `row ${row + 1}`, step)}
              onUndo={undo}
              onRedo={redo}
            />
          ) : (
            <Empty title="No row to show">Add a row, or paste some into the grid.</Empty>
          )}
        </div>
        <div className="flex min-h-0 flex-col border-t border-rule px-4 pt-1.5">
          <span className="flex pb-1.5">
            <Choice
              label="All rows"
              value={below}
              options={[
                ['contact', 'Contact sheet'],
                ['fit', 'Fit chart'],
                ['before', 'Before and after'],
              ]}
              onValue={setBelow}
            />
            <Button small variant="quiet" className="ml-2" aria-pressed={tall} onClick={() => setTall(!tall)}>
              {tall ? 'As before' : 'Taller'}
            </Button>
          </span>
          {below === 'contact' ? (
            <ContactSheet
              template={template}
              shape={shape}
              rows={rows}
              shown={order}
              findings={findings}
              worker={worker}
              chosen={row}
              onChoose={setChosen}
            />
          ) : below === 'fit' ? (
            <FitChart rows={rows} worker={worker} chosen={row} onChoose={setChosen} />
          ) : (
            <BeforeAfter
              template={template}
              match={match}
              rows={rows}
              order={order}
              opened={opened.current}
              before={before}
              versions={versions}
              version={sheet.version}
            />
          )}
        </div>
      </div>
      {open === 'match' && (
        <MatchDialog
          template={template}
          columns={sheet.columns}
          match={match}
          rows={rows.slice(0, 50)}
          onMatch={(next) => void putMatch(next)}
          onClose={() => setOpen(undefined)}
        />
      )}
      {open === 'find' && (
        <FindReplace
          template={template}
          match={match}
          rows={rows}
          order={order}
          linked={isLinked}
          onEdit={edit}
          onChoose={setChosen}
          onClose={() => setOpen(undefined)}
        />
      )}
      {open === 'pictures' && (
        <PicturesDialog
          sheet={sheet.id}
          pictures={pictures}
          missing={missingPictures(template, rows, textOf)}
          onPictures={setPictures}
          onClose={() => setOpen(undefined)}
        />
      )}
      {open === 'move' && (
        <MoveDialog
          sheet={sheet}
          template={template}
          match={match}
          rows={rows}
          versions={versions}
          revision={() => session.revision}
          onClose={() => setOpen(undefined)}
          onMoved={() => {
            setOpen(undefined)
            again()
          }}
        />
      )}
    </div>
  )
}

/** Names of pictures that rows call and nobody brought. */
function missingPictures(
  template: Template,
  rows: readonly Row[],
  textOf: (row: Row, key: string) => string,
): string[] {
  const known = new Set(template.media.map((one) => one.name))
  const keys = template.fields.filter((field) => field.type === 'picture').map((field) => field.key)
  const named = rows.flatMap((row) => keys.map((key) => textOf(row, key).trim()))
  return [...new Set(named)].filter((name) => name !== '' && !name.startsWith('{') && !known.has(name))
}
