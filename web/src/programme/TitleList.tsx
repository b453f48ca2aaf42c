import { stateOf, worstOf } from '@hoja/core/data'
import {
  type ClipId,
  endOf,
  firstWords,
  linkedTo,
  offTracks,
  type Placed,
  secondsIn,
  type TitleClip,
  timecodeIn,
  titlesOf,
  unlinked,
  valuesOfClip,
  withCells,
  wordsOf,
} from '@hoja/core/programme'
import { useVirtualizer } from '@tanstack/react-virtual'
import { Link2 } from 'lucide-react'
import { type KeyboardEvent, useEffect, useLayoutEffect, useRef } from 'react'
import { CellsForm } from '../ui/CellsForm.tsx'
import { classes, Empty, StateWord } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { FindingLine } from '../ui/FindingLine.tsx'
import { RowWords } from './RowWords.tsx'
import { useSession, useView } from './useProgramme.ts'

/** Every title in order of time: when, how long, what it says, what was found; the chosen one opens its words in place. */
export function TitleList({
  open,
  onOpen,
  production,
}: {
  /** Whether the chosen title's words are open. */
  open: boolean
  onOpen: (open: boolean) => void
  production: number | null
}) {
  const session = useSession()
  const programme = useView((view) => view.programme)
  const chosen = useView((view) => view.chosen)
  const findings = useView((view) => view.findings)
  const templates = useView((view) => view.templates)
  const titles = titlesOf(programme)
  const off = offTracks(programme)
  const last = chosen.at(-1)
  const at = last === undefined ? -1 : titles.findIndex(({ id }) => id === last)
  const box = useRef<HTMLDivElement>(null)
  const rows = useVirtualizer({
    count: titles.length,
    getScrollElement: () => box.current,
    estimateSize: () => 31,
    overscan: 12,
    getItemKey: (i) => titles[i]!.id,
  })
  useLayoutEffect(() => {
    if (at >= 0) rows.scrollToIndex(at, { align: 'auto' })
  }, [at, rows])
  const step = (by: number) => {
    const next = titles[Math.max(0, Math.min(titles.length - 1, (at < 0 ? (by > 0 ? -1 : 0) : at) + by))]
    if (next) goTo(session, next)
  }
  if (titles.length === 0)
    return (
      <Empty title="No titles yet">
        Drag a template from above onto the timeline, press N to put one at the playhead, or bring in a list with times.
      </Empty>
    )
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the arrows go through its buttons
    <div
      ref={box}
      className="min-h-0 flex-1 overflow-auto"
      onKeyDown={(event: KeyboardEvent) => {
        const isWriting = event.target instanceof HTMLElement && event.target.closest('section')
        // Before it becomes a line in the words that it opens.
        if (!isWriting && event.key === 'Enter' && at >= 0) {
          event.preventDefault()
          event.stopPropagation()
          onOpen(true)
        }
        if (isWriting || (event.key !== 'ArrowDown' && event.key !== 'ArrowUp')) return
        event.preventDefault()
        event.stopPropagation()
        step(event.key === 'ArrowDown' ? 1 : -1)
      }}
    >
      <p className="sticky top-0 z-10 flex border-b border-rule bg-paper py-1 text-xs text-soft" aria-hidden="true">
        <span className="w-10 pl-3" />
        <span className="w-[92px]">In</span>
        <span className="w-14">Length</span>
        <span className="flex-1">Words</span>
        <span className="w-[24%]">Checks</span>
      </p>
      <ul aria-label="Titles" className="relative" style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map(({ index, start, key }) => {
          const title = titles[index]!
          const { id, clip } = title
          const isChosen = chosen.includes(id)
          const found = findings.get(id)
          const state = found ? stateOf(found) : 'fine'
          const template = templates.get(clip.design)
          const said = template
            ? wordsOf(programme, clip, template)
                .join(' · ')
                .replace(/\s*\n\s*/g, ' / ')
            : ''
          const words = said || firstWords(programme, clip)
          return (
            <li
              key={key}
              ref={rows.measureElement}
              data-index={index}
              className={classes(
                'absolute inset-x-0 border-b border-rule',
                isChosen ? 'bg-white shadow-[inset_3px_0_0_var(--color-leaf)]' : 'hover:bg-chalk',
              )}
              style={{ transform: `translateY(${start}px)` }}
            >
              <button
                type="button"
                aria-pressed={isChosen}
                className="flex h-[30px] w-full items-center text-left focus-visible:-outline-offset-2"
                onClick={(event) => {
                  if (event.shiftKey || event.ctrlKey || event.metaKey)
                    session.choose(isChosen ? chosen.filter((one) => one !== id) : [...chosen, id])
                  else goTo(session, title)
                }}
                onDoubleClick={() => onOpen(true)}
              >
                <span className="w-10 pl-3 text-soft">{index + 1}</span>
                <span className="w-[92px]">{timecodeIn(programme, clip.at)}</span>
                <span className="w-14">{secondsIn(programme, clip.frames).toFixed(1)} s</span>
                <span className={classes('min-w-0 flex-1 truncate', isChosen && 'font-medium')} title={words}>
                  {words}
                </span>
                <span className="w-[24%] truncate pr-2 pl-1.5" title={found?.map(({ message }) => message).join('\n')}>
                  {off.has(clip.track) ? (
                    <span className="text-soft">track off</span>
                  ) : (
                    <Finding state={state} message={found && worstOf(found)?.message} />
                  )}
                </span>
              </button>
              {open && id === last && (
                <Words title={title} production={production} onClose={() => onOpen(false)} onStep={step} />
              )}
            </li>
          )
        })}
      </ul>
    </div>
  )
}

/** Chooses a title, and stands where it has arrived. */
export function goTo(session: ReturnType<typeof useSession>, { id, clip }: Placed<TitleClip>): void {
  session.choose([id])
  const { playhead, programme } = session
  const isSeen = playhead.frame >= clip.at && playhead.frame < endOf(clip)
  playhead.setSpeed(0)
  if (!isSeen) playhead.go(Math.min(endOf(clip) - 1, clip.at + programme.designs[clip.design]!.in))
}

function Finding({ state, message }: { state: 'stop' | 'look' | 'fine'; message: string | undefined }) {
  const unchecked = useView((view) => view.unchecked)
  if (state === 'fine') return unchecked > 0 ? <span className="text-soft">…</span> : <StateWord state="fine" />
  return <StateWord state={state}>{message}</StateWord>
}

/** A title's words as a form, with what was found about them. */
function Words({
  title,
  production,
  onClose,
  onStep,
}: {
  title: Placed<TitleClip>
  production: number | null
  onClose: () => void
  onStep: (by: number) => void
}) {
  const session = useSession()
  const { id, clip } = title
  const programme = useView((view) => view.programme)
  const found = useView((view) => view.findings.get(id)) ?? []
  const template = useView((view) => view.templates.get(clip.design))
  useView((view) => view.scenes)
  const form = useRef<HTMLElement>(null)
  const scene = session.sceneOf(clip.design, clip.shape)
  const isThere = template !== undefined && scene !== undefined
  useEffect(() => {
    if (!isThere) return
    const input = form.current?.querySelector<HTMLElement>('input, textarea')
    input?.focus()
    if (input instanceof HTMLInputElement || input instanceof HTMLTextAreaElement) input.select()
  }, [isThere])
  if (!template || !scene) return <p className="px-3.5 pb-2 text-soft">Opening …</p>
  const { cells } = programme.words[clip.words]!
  const values = valuesOfClip(scene, programme, title, session.now)
  const design = programme.designs[clip.design]!
  const others = linkedTo(programme, id)
  const put = (key: string, text: string) =>
    session.change((own) => withCells(own, id, { [key]: text }), 'words', `${id}.${key}`)
  return (
    <section
      ref={form}
      aria-label={`Words of ${firstWords(programme, clip)}`}
      className="pr-2.5 pb-2 pl-10"
      onKeyDown={(event) => {
        if (event.key === 'Escape') {
          event.stopPropagation()
          onClose()
        }
        if (event.key === 'PageDown' || event.key === 'PageUp') {
          event.preventDefault()
          event.stopPropagation()
          onStep(event.key === 'PageDown' ? 1 : -1)
        }
      }}
    >
      <CellsForm template={template} cells={cells} values={values} onText={put} />
      {found.map((finding) => (
        <FindingLine key={finding.code + finding.message} finding={finding} onFix={put}>
          {finding.with && <Jump to={finding.with} />}
        </FindingLine>
      ))}
      <p className="pt-1 text-xs text-soft">
        {design.name}, version {design.number} ·{' '}
        {others.length > 0 ? (
          <>
            <Link2 size={12} className="inline text-leaf" aria-hidden="true" /> says the same as{' '}
            {counted(others.length, 'other title')}{' '}
            <button
              type="button"
              className="font-medium text-leaf hover:underline"
              onClick={() => session.change((own) => unlinked(own, [id]), 'unlink')}
            >
              give it words of its own
            </button>
          </>
        ) : (
          'words of its own'
        )}{' '}
        · <RowWords title={title} production={production} />
      </p>
    </section>
  )
}

function Jump({ to }: { to: ClipId }) {
  const session = useSession()
  return (
    <button
      type="button"
      className="font-medium text-leaf hover:underline"
      onClick={() => {
        const other = titlesOf(session.programme).find(({ id }) => id === to)
        if (other) goTo(session, other)
      }}
    >
      look there
    </button>
  )
}
