import { dataKindOf } from '@hoja/core/formats'
import {
  type ClipId,
  copied,
  endOf,
  linked,
  moved,
  split,
  titlesOf,
  trimmed,
  trimRoom,
  unlinked,
  withMarker,
  without,
  withTrack,
} from '@hoja/core/programme'
import { useQuery } from '@tanstack/react-query'
import { Minus, Plus } from 'lucide-react'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { useParams } from 'react-router'
import { api } from '../api.ts'
import { Conflict } from '../ui/Conflict.tsx'
import { Button, classes, StateWord } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { dataFiles, FilePicker, useFileDrop } from '../ui/files.tsx'
import { Header } from '../ui/Header.tsx'
import { Menu, type MenuEntry, MenuHere } from '../ui/Menu.tsx'
import { NameDialog } from '../ui/NameDialog.tsx'
import { Trouble } from '../ui/Trouble.tsx'
import { FromListDialog } from './FromListDialog.tsx'
import { exportEntries, findCuts } from './handOver.ts'
import { ManyDialog, type ManyKind, manyWords, useStates } from './ManyDialog.tsx'
import { Monitor } from './Monitor.tsx'
import { Palette, placeTitle } from './Palette.tsx'
import { ProgrammeSession } from './programmeSession.ts'
import { RenderDialog } from './RenderDialog.tsx'
import { RulesDialog } from './RulesDialog.tsx'
import { Timeline, type Zoom } from './Timeline.tsx'
import { goTo, TitleList } from './TitleList.tsx'
import { footageFiles, useFootage } from './useFootage.ts'
import { usePlaceable } from './usePlaceable.ts'
import { SessionContext, useSession, useView } from './useProgramme.ts'

/** Titles on the timeline of their footage. */
export default function ProgrammePage() {
  const id = Number(useParams().id)
  const detail = useQuery({
    queryKey: ['programme', id],
    queryFn: () => api.programme({ id }),
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  })
  const production = useQuery({
    queryKey: ['production', detail.data?.production],
    queryFn: () => api.production({ id: detail.data!.production! }),
    enabled: typeof detail.data?.production === 'number',
  })
  const session = useMemo(() => detail.data && new ProgrammeSession(id, detail.data), [id, detail.data])
  useEffect(() => session?.open(), [session])
  if (detail.error) return <Trouble error={detail.error} what="programme" onAgain={() => void detail.refetch()} />
  if (!session) return <p className="p-6 text-soft">Opening …</p>
  return (
    <SessionContext value={session}>
      <Desk production={production.data} />
    </SessionContext>
  )
}

const keys: [string, string][] = [
  ['N', 'a title at the playhead'],
  ['Ctrl ← →', 'move what is chosen by a frame (Shift: ten)'],
  ['Alt ← →', 'trim its end by a frame (Shift: its beginning)'],
  ['/', 'split at the playhead'],
  ['Delete, Shift Delete', 'remove; with what is behind moving up'],
  ['Alt drag, Alt Shift drag', 'copy with words of its own; linked copy'],
  ['Page Up, Page Down', 'previous, next title'],
  ['Enter', 'the words of the chosen title'],
  ['M', 'marker'],
  ['+ −', 'zoom'],
]

function Desk({ production }: { production: { id: number; name: string; templates: string[] } | undefined }) {
  const session = useSession()
  const { playhead } = session
  const name = useView((view) => view.programme.name)
  const past = useView((view) => view.past)
  const future = useView((view) => view.future)
  const saved = useView((view) => view.saved)
  const conflict = useView((view) => view.conflict)
  const count = useView((view) => titlesOf(view.programme).length)
  const chosen = useView((view) => view.chosen)
  const [words, setWords] = useState(false)
  const [ripple, setRipple] = useState(false)
  const [snaps, setSnaps] = useState(true)
  const [hint, setHint] = useState('')
  const [zoom, setZoom] = useState<Zoom>()
  const [current, setCurrent] = useState<string>()
  const [list, setList] = useState<{ file: File | undefined }>()
  const [many, setMany] = useState<ManyKind>()
  const [dialog, setDialog] = useState<'name' | 'render' | 'rules' | 'marker'>()
  const [menuClip, setMenuClip] = useState<ClipId>()
  const picker = useRef<HTMLInputElement>(null)
  const footagePicker = useRef<HTMLInputElement>(null)
  const adding = useFootage()
  const drop = useFileDrop(([file]) => {
    if (!file) return
    if (dataKindOf(file.name)) setList({ file })
    else void adding.add([file])
  })
  const used = production?.templates ?? []
  const placeable = usePlaceable(used)
  const template = current ?? placeable[0]?.id

  const openWords = useCallback(
    (id: ClipId) => {
      const title = titlesOf(session.programme).find((one) => one.id === id)
      if (title) goTo(session, title)
      setWords(true)
    },
    [session],
  )
  const step = (by: 1 | -1) => {
    const titles = titlesOf(session.programme)
    const last = session.store.getState().chosen.at(-1)
    const at = titles.findIndex(({ id }) => id === last)
    const next =
      at >= 0
        ? titles[at + by]
        : by > 0
          ? titles.find(({ clip }) => clip.at >= playhead.frame)
          : titles.findLast(({ clip }) => clip.at < playhead.frame)
    if (next) goTo(session, next)
  }
  const ids = () => session.store.getState().chosen
  const nudge = (by: number) => ids().length > 0 && session.change((own) => moved(own, ids(), by), 'move', 'nudge')
  const trimBy = (edge: 'start' | 'end', by: number) => {
    const [id] = ids()
    if (id === undefined) return
    const clip = session.programme.clips[id]!
    const room = trimRoom(session.programme, id, edge, ripple)
    const to = (edge === 'start' ? clip.at : endOf(clip)) + by
    if (to < room.least || to > room.most) return setHint(to < room.least ? room.why.least : room.why.most)
    setHint('')
    session.change((own) => trimmed(own, id, edge, to, ripple), 'trim', `trim.${id}.${edge}`)
  }
  const remove = (closeUp: boolean) =>
    ids().length > 0 && session.change((own) => without(own, ids(), closeUp), 'remove')
  const splitHere = () => {
    const under = Object.entries(session.programme.clips).flatMap(([id, clip]) =>
      clip.at < playhead.frame && endOf(clip) > playhead.frame ? [id] : [],
    )
    const own = ids().filter((id) => under.includes(id))
    session.place((programme) => split(programme, own.length > 0 ? own : under, playhead.frame), 'split')
  }

  useHotkeys('space', (event) => {
    event.preventDefault()
    playhead.toggle()
  })
  useHotkeys('left', () => playhead.step(-1))
  useHotkeys('right', () => playhead.step(1))
  useHotkeys('shift+left', () => playhead.step(-10))
  useHotkeys('shift+right', () => playhead.step(10))
  useHotkeys('j', () => playhead.faster(-1))
  useHotkeys('k', () => playhead.setSpeed(0))
  useHotkeys('l', () => playhead.faster(1))
  useHotkeys('home', () => playhead.go(0))
  useHotkeys('end', () => playhead.go(playhead.length - 1))
  useHotkeys('mod+left', () => nudge(-1), { preventDefault: true })
  useHotkeys('mod+right', () => nudge(1), { preventDefault: true })
  useHotkeys('mod+shift+left', () => nudge(-10), { preventDefault: true })
  useHotkeys('mod+shift+right', () => nudge(10), { preventDefault: true })
  useHotkeys('alt+left', () => trimBy('end', -1), { preventDefault: true })
  useHotkeys('alt+right', () => trimBy('end', 1), { preventDefault: true })
  useHotkeys('alt+shift+left', () => trimBy('start', -1), { preventDefault: true })
  useHotkeys('alt+shift+right', () => trimBy('start', 1), { preventDefault: true })
  useHotkeys('pagedown', () => step(1), { preventDefault: true })
  useHotkeys('pageup', () => step(-1), { preventDefault: true })
  useHotkeys('n', () => template && void placeTitle(session, template, playhead.frame))
  useHotkeys('delete,backspace', () => remove(ripple))
  useHotkeys('shift+delete,shift+backspace', () => remove(true))
  useHotkeys('/', splitHere, { useKey: true, preventDefault: true })
  useHotkeys('m', () => setDialog('marker'), { preventDefault: true })
  useHotkeys('mod+z', session.undo, { preventDefault: true })
  useHotkeys('mod+shift+z,mod+y', session.redo, { preventDefault: true })
  useHotkeys('mod+a', () => session.choose(titlesOf(session.programme).map(({ id }) => id)), { preventDefault: true })
  useHotkeys('escape', () => (words ? setWords(false) : session.choose([])))
  useHotkeys('enter', (event) => {
    // A button that is focused is pressed by it.
    const isPressed = event.target instanceof HTMLElement && event.target.closest('button, a, [role="menu"], dialog')
    if (isPressed || ids().length === 0) return
    event.preventDefault()
    setWords(true)
  })
  useHotkeys(['+', 'shift&+', '='], () => zoom?.setPxPerFrame(zoom.pxPerFrame * 1.5), { useKey: true, splitKey: '&' })
  useHotkeys('-', () => zoom?.setPxPerFrame(zoom.pxPerFrame / 1.5), { useKey: true })

  const entries = (): (MenuEntry | string | null)[] => {
    const clip = menuClip === undefined ? undefined : session.programme.clips[menuClip]
    if (!clip)
      return [
        {
          label: 'A title at the playhead',
          keys: 'N',
          onSelect: () => template && void placeTitle(session, template, playhead.frame),
        },
        { label: 'A marker at the playhead', keys: 'M', onSelect: () => setDialog('marker') },
        null,
        { label: 'A track of titles more', onSelect: () => session.change((own) => withTrack(own, 'title'), 'track') },
        {
          label: 'A track of footage more',
          onSelect: () => session.change((own) => withTrack(own, 'footage'), 'track'),
        },
        { label: 'A track of sound more', onSelect: () => session.change((own) => withTrack(own, 'sound'), 'track') },
      ]
    const titles = ids().filter((id) => session.programme.clips[id]?.kind === 'title')
    return [
      ...(clip.kind === 'title' ? [{ label: 'Its words', keys: 'Enter', onSelect: () => openWords(menuClip!) }] : []),
      ...(clip.kind === 'footage' && session.programme.media[clip.medium]?.kind === 'movie'
        ? [{ label: 'Find its cuts', onSelect: () => void findCuts(session, clip.medium) }]
        : []),
      { label: 'Split at the playhead', keys: '/', onSelect: splitHere },
      {
        label: 'Copy behind it',
        onSelect: () => session.place((own) => copied(own, ids(), { frames: spanOf(ids()) }), 'copy'),
      },
      ...(clip.kind === 'title'
        ? [
            {
              label: 'Linked copy behind it',
              onSelect: () =>
                session.place((own) => copied(own, titles, { frames: spanOf(titles), linked: true }), 'linked copy'),
            },
            {
              label: 'Give it words of its own',
              onSelect: () => session.change((own) => unlinked(own, titles), 'unlink'),
            },
            {
              label: 'Share the words of the first chosen',
              disabled: titles.length < 2,
              onSelect: () =>
                session.change((own) => titles.slice(1).reduce((now, id) => linked(now, id, titles[0]!), own), 'link'),
            },
            null,
            ...(Object.keys(manyWords) as ManyKind[]).map((kind) => ({
              label: manyWords[kind],
              onSelect: () => setMany(kind),
            })),
          ]
        : []),
      null,
      { label: 'Remove', keys: 'Delete', onSelect: () => remove(false) },
      { label: 'Remove and close up', keys: 'Shift Delete', onSelect: () => remove(true) },
    ]
  }
  /** Frames from the first of some clips to the end of the last. */
  const spanOf = (own: readonly ClipId[]) => {
    const clips = own.map((id) => session.programme.clips[id]!)
    return Math.max(...clips.map(endOf)) - Math.min(...clips.map(({ at }) => at))
  }

  return (
    <div className="flex h-full flex-col">
      <Header here={name} production={production} shortcuts={keys}>
        <span className="max-w-60 truncate text-xs text-soft" role="status">
          {saved}
        </span>
        <Button
          disabled={past.length === 0}
          title={past.at(-1) ? `Undo: ${past.at(-1)}` : undefined}
          onClick={session.undo}
        >
          Undo
        </Button>
        <Button
          disabled={future.length === 0}
          title={future[0] ? `Redo: ${future[0]}` : undefined}
          onClick={session.redo}
        >
          Redo
        </Button>
        <Button variant="primary" disabled={count === 0} onClick={() => setDialog('render')}>
          Render {counted(count, 'title')}
        </Button>
      </Header>
      <FilePicker
        ref={picker}
        label="List of titles"
        accept={dataFiles}
        onFiles={([file]) => file && setList({ file })}
      />
      <FilePicker
        ref={footagePicker}
        label="Footage"
        accept={footageFiles}
        multiple
        onFiles={(files) => void adding.add(files)}
      />
      <main
        className={classes('flex min-h-0 flex-1 flex-col', drop.over && 'outline-2 -outline-offset-2 outline-leaf')}
        {...drop.handlers}
      >
        <h1 className="sr-only">{name}</h1>
        <div className="flex min-h-0 basis-[58%]">
          <div className="flex min-w-0 basis-[56%] flex-col">
            <Monitor onWords={() => setWords(true)} />
          </div>
          <div className="flex min-w-0 flex-1 flex-col border-l border-rule bg-paper">
            <div className="flex items-center gap-3.5 border-b border-rule px-3.5 py-1.5">
              <Counts />
              <span className="ml-auto flex items-center gap-1">
                <Menu
                  label="From a list"
                  className="!text-leaf"
                  entries={() => [
                    {
                      label: 'A file with times: subtitles, table, timeline, edit list …',
                      onSelect: () => picker.current?.click(),
                    },
                    { label: 'Rows of a sheet …', onSelect: () => setList({ file: undefined }) },
                  ]}
                >
                  From a list …
                </Menu>
                <Menu
                  label="To other programs"
                  className="!text-leaf"
                  align="end"
                  entries={() => exportEntries(session)}
                >
                  To other programs …
                </Menu>
                <Menu
                  label="More"
                  align="end"
                  entries={() => [
                    ...(Object.keys(manyWords) as ManyKind[]).map((kind) => ({
                      label: manyWords[kind],
                      disabled: count === 0,
                      onSelect: () => setMany(kind),
                    })),
                    null,
                    { label: 'What is checked along time …', onSelect: () => setDialog('rules') },
                    { label: 'Rename the programme …', onSelect: () => setDialog('name') },
                  ]}
                >
                  More
                </Menu>
              </span>
            </div>
            <Palette
              used={used}
              current={template}
              onCurrent={setCurrent}
              onFiles={() => footagePicker.current?.click()}
            />
            <TitleList open={words} onOpen={setWords} production={production?.id ?? null} />
          </div>
        </div>
        <MenuHere entries={entries}>
          <section aria-label="Timeline" className="flex min-h-0 flex-1 flex-col border-t border-rule">
            <Timeline
              ripple={ripple}
              snaps={snaps}
              onWords={openWords}
              onHint={setHint}
              onZoom={setZoom}
              menuFor={setMenuClip}
            />
            <footer className="flex h-8 shrink-0 items-center gap-3 border-t border-rule bg-paper px-3 text-xs">
              <Toggle
                on={snaps}
                onChange={setSnaps}
                title="Edges are drawn to clips, cuts, markers and the playhead (Ctrl: not)"
              >
                Snap
              </Toggle>
              <Toggle
                on={ripple}
                onChange={setRipple}
                title="What is behind goes along with a trim or a removal; of footage on all tracks"
              >
                Ripple
              </Toggle>
              <span
                className={classes('min-w-0 flex-1 truncate', hint ? 'font-medium text-madder' : 'text-soft')}
                role="status"
                aria-label="Hint"
              >
                {hint ||
                  (chosen.length > 1
                    ? `${chosen.length} clips chosen`
                    : 'Alt drag copies; a double click writes its words; ? lists the keys')}
              </span>
              <Button small aria-label="Zoom out" onClick={() => zoom?.setPxPerFrame(zoom.pxPerFrame / 1.5)}>
                <Minus size={12} aria-hidden="true" />
              </Button>
              <Button small onClick={() => zoom?.fit()}>
                All
              </Button>
              <Button small aria-label="Zoom in" onClick={() => zoom?.setPxPerFrame(zoom.pxPerFrame * 1.5)}>
                <Plus size={12} aria-hidden="true" />
              </Button>
            </footer>
          </section>
        </MenuHere>
      </main>
      {list && (
        <FromListDialog
          file={list.file}
          production={production?.id ?? null}
          used={used}
          onClose={() => setList(undefined)}
        />
      )}
      {many && <ManyDialog kind={many} onClose={() => setMany(undefined)} />}
      {dialog === 'render' && <RenderDialog onClose={() => setDialog(undefined)} />}
      {dialog === 'rules' && <RulesDialog onClose={() => setDialog(undefined)} />}
      {dialog === 'marker' && (
        <NameDialog
          title="A marker at the playhead"
          action="Set it"
          onName={(text) => {
            session.change((own) => withMarker(own, playhead.frame, text).programme, 'marker')
            setDialog(undefined)
          }}
          onClose={() => setDialog(undefined)}
        />
      )}
      {dialog === 'name' && (
        <NameDialog
          title="Rename the programme"
          action="Rename it"
          name={name}
          onName={(next) => {
            session.change((own) => ({ ...own, name: next }), 'rename')
            setDialog(undefined)
          }}
          onClose={() => setDialog(undefined)}
        />
      )}
      <Conflict open={conflict} what="This programme was" onResolve={session.resolve} />
    </div>
  )
}

function Counts() {
  const { stop, look, fine } = useStates()
  const unchecked = useView((view) => view.unchecked)
  const count = useView((view) => titlesOf(view.programme).length)
  return (
    <>
      <b className="font-semibold">{counted(count, 'title')}</b>
      {stop > 0 && <span className="text-stop">{stop} stop</span>}
      {look > 0 && <span className="text-look">{look} look</span>}
      {unchecked > 0 ? (
        <span className="text-soft">checking {unchecked} …</span>
      ) : (
        fine > 0 && <StateWord state="fine">{fine}</StateWord>
      )}
    </>
  )
}

function Toggle({
  on,
  onChange,
  title,
  children,
}: {
  on: boolean
  onChange: (on: boolean) => void
  title: string
  children: string
}) {
  return (
    <button
      type="button"
      aria-pressed={on}
      title={title}
      className={classes(
        'h-6 rounded-[3px] border px-2 font-medium',
        on ? 'border-leaf bg-leaf-pale text-ink' : 'border-rule bg-white text-soft',
      )}
      onClick={() => onChange(!on)}
    >
      {children}
    </button>
  )
}
