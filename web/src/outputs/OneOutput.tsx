import { address, type Output, type OutputDetail } from '@hoja/core/api'
import { outputFormats } from '@hoja/core/output'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { useNavigate } from 'react-router'
import { api } from '../api.ts'
import { Button, classes, Select } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { Trouble } from '../ui/Trouble.tsx'
import { useWrite } from '../ui/useWrite.ts'
import { clock, day } from '../ui/words.ts'
import { Made } from './Made.tsx'
import { outputName } from './outputWords.ts'
import { TitleTable } from './TitleTable.tsx'

/** The state of an output as the server tells it, event by event. */
function useOutput(id: number): { output: OutputDetail | undefined; gone: boolean } {
  const [output, setOutput] = useState<OutputDetail>()
  const [gone, setGone] = useState(false)
  const queries = useQueryClient()
  useEffect(() => {
    // Every event is the whole state, so a connection that comes back has missed nothing.
    const events = new EventSource(address.outputNews({ id }))
    events.onmessage = (event) => {
      const told = JSON.parse(event.data as string) as OutputDetail
      setOutput(told)
      // The list says the same as the page beside it.
      const { state, counts } = told
      queries.setQueryData<Output[]>(['outputs'], (list) =>
        list?.map((o) => (o.id === id ? { ...o, state, counts } : o)),
      )
    }
    events.onerror = () => {
      if (events.readyState === EventSource.CLOSED) setGone(true)
    }
    return () => events.close()
  }, [id, queries])
  return { output, gone }
}

export function OneOutput({ id }: { id: number }) {
  const navigate = useNavigate()
  const { output, gone } = useOutput(id)
  const [shown, setShown] = useState<number>()
  const roots = useQuery({ queryKey: ['keep-roots'], queryFn: () => api.keepRoots() })
  // An event stream does not tell why it was closed.
  const asked = useQuery({
    queryKey: ['output', id],
    queryFn: () => api.output({ id }),
    enabled: gone && !output,
    gcTime: 0,
  })
  const { mutate: act } = useWrite((work: () => Promise<unknown>) => work(), { changes: [['outputs']] })
  const renderAgain = useWrite((_template: string) => api.renderAgain({ id }), {
    changes: [['outputs']],
    onDone: (next, template) => navigate(`/t/${template}/outputs/${next.id}`),
  })
  if (asked.error && !output) return <Trouble error={asked.error} what="output" onAgain={() => location.reload()} />
  if (!output) return <p className="p-6 text-soft">Opening …</p>
  const { counts, titles, progress, settings, state } = output
  const _facts = outputFormats[settings.format]
  const ended = titles.length - counts.waiting - counts.running
  const partly = Object.values(progress.rows).reduce((sum, share) => sum + share, 0)
  const again = counts.failed + counts.stopped + counts.held
  const isOpen = state === 'running' || state === 'paused'
  const isKeeping = settings.keep !== undefined && state !== 'stopped'
  const isNewer = output.newest && output.newest.number !== output.number
  const chosen = titles.find((title) => title.row === shown && title.state === 'done')
  return (
    <div className="flex h-full flex-col px-6 py-4">
      <div className="flex items-start gap-3">
        <div className="min-w-0 flex-1">
          <h1 className="truncate text-lg font-semibold">{outputName(output)}</h1>
          <p className="truncate text-soft" title={used(output)}>
            {used(output)}
          </p>
        </div>
        <span className="flex shrink-0 gap-2">
          {isOpen && (
            <Select
              aria-label="Its turn"
              className="!w-32"
              value={String(Math.sign(output.priority))}
              options={[
                ['1', 'Before others'],
                ['0', 'In its turn'],
                ['-1', 'After others'],
              ]}
              onChange={(event) => act(() => api.setPriority({ id, priority: Number(event.target.value) }))}
            />
          )}
          {state === 'running' && <Button onClick={() => act(() => api.pause({ id }))}>Pause</Button>}
          {state === 'paused' && (
            <Button variant="primary" onClick={() => act(() => api.goOn({ id }))}>
              Go on
            </Button>
          )}
          {(isOpen || isKeeping) && (
            <Button variant="danger" onClick={() => act(() => api.stop({ id }))}>
              {isOpen ? 'Stop' : 'Keep no longer'}
            </Button>
          )}
          {!isOpen && again > 0 && <Button onClick={() => act(() => api.retry({ id }))}>Try {again} again</Button>}
          {!isOpen && (
            <Button
              onClick={() => renderAgain.mutate(output.template)}
              title={
                output.programme === null
                  ? "The sheet's rows as they are now, with these settings"
                  : 'The programme as it is now, with these settings'
              }
            >
              {isNewer && output.programme === null
                ? `Render again on version ${output.newest!.number}`
                : 'Render again'}
            </Button>
          )}
          {counts.done > 0 && (
            <a
              href={address.zip({ id })}
              className={classes(
                'flex h-7 items-center rounded-[3px] px-3 font-medium whitespace-nowrap',
                isOpen ? 'border border-rule bg-white' : 'bg-leaf text-white',
              )}
            >
              Download {counts.done} as zip
            </a>
          )}
        </span>
      </div>
      <div
        className="mt-3 h-2 shrink-0 border border-rule bg-white"
        role="progressbar"
        aria-valuenow={ended}
        aria-valuemin={0}
        aria-valuemax={titles.length}
        aria-label="Rendered rows"
      >
        <div className="h-full bg-leaf" style={{ width: `${((ended + partly) / titles.length) * 100}%` }} />
      </div>
      <p className="mt-1.5" role="status">
        {ended} of {titles.length}: {counts.done} done
        {counts.held > 0 && (
          <>
            , <span className="text-stop">{counts.held} held by their checks</span>
          </>
        )}
        {counts.failed > 0 && (
          <>
            , <span className="text-stop">{counts.failed} failed</span>
          </>
        )}
        {counts.stopped > 0 && <>, {counts.stopped} stopped</>}
        {state === 'running' && !progress.hindrance && <span className="text-soft">, {pace(output)}</span>}
        {state === 'paused' && <span className="text-look">, paused</span>}
        {state === 'done' && <span className="text-soft">, finished {day(output.ended!)}</span>}
      </p>
      {settings.keep && (
        <p className="mt-2 border-l-2 border-leaf bg-leaf-pale px-3 py-1.5">
          {isKeeping ? (
            <>
              Keeps the folder{' '}
              <b className="font-medium select-all">
                {roots.data?.find(({ name }) => name === settings.keep!.root)?.path ?? settings.keep.root}/
                {settings.keep.folder}
              </b>{' '}
              as the sheet is: file by file, under the same names.
            </>
          ) : (
            <>
              The folder {settings.keep.root}/{settings.keep.folder} stays as it is; it follows the sheet no longer.
            </>
          )}
        </p>
      )}
      {progress.hindrance && (
        <p role="alert" className="mt-2 border-l-2 border-stop bg-white px-3 py-1.5 text-stop">
          {progress.hindrance} Nothing is lost; Hoja looks again every few seconds.
        </p>
      )}
      <div className="mt-3 grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_340px] gap-5">
        <TitleTable
          output={output}
          shown={chosen?.row}
          onShow={setShown}
          onRetry={(row) => act(() => api.retry({ id, row }))}
        />
        <div className="flex min-h-0 flex-col gap-4 overflow-auto pb-4">
          {chosen ? (
            <Made key={`${chosen.row} ${chosen.result}`} output={output} title={chosen} />
          ) : (
            counts.done > 0 && <p className="text-soft">Choose a finished row to look at its file.</p>
          )}
          <section aria-label="What happened">
            <h2 className="border-b border-rule pb-1 text-xs font-medium tracking-wide text-soft">What happened</h2>
            <ol>
              {output.log.map((line, i) => (
                <li key={output.log.length - i} className="grid grid-cols-[62px_minmax(0,1fr)] gap-1 py-0.5">
                  <time className="text-soft tabular-nums">{clock(line.time)}</time>
                  <span>
                    {line.row !== null && <b className="font-medium">Row {line.row}: </b>}
                    {line.text}
                  </span>
                </li>
              ))}
            </ol>
          </section>
        </div>
      </div>
    </div>
  )
}

/** How long it takes still, or what it waits for. */
function pace({ counts, progress: { left, before } }: OutputDetail): string {
  if (counts.running === 0 && before > 0) return `waiting for ${counted(before, 'row')} of other outputs`
  return left === null ? 'starting' : `about ${timeWords(left)} left`
}

function timeWords(seconds: number): string {
  return seconds < 60 ? `${Math.ceil(seconds)} s` : `${Math.ceil(seconds / 60)} min`
}

/** What it is rendered with, in a line. */
function used({ number, settings, used: with_, created }: OutputDetail): string {
  const { size, rate, frames, alpha, handles, timecode, rows, changedOnly, withoutStops, backdrop } = settings
  const { fields, pieces, marks, at, conform, contactSheet } = settings
  return [
    `version ${number}`,
    ...(size ? [`${size.width} × ${size.height}`] : []),
    ...(rate ? [`${(rate.num / rate.den).toFixed(rate.den === 1 ? 0 : 2)} a second`] : []),
    frames ? `${counted(frames, 'frame')} each` : 'as designed',
    ...(handles ? [`handles ${handles.before} + ${handles.after}`] : []),
    ...(fields ? [`${fields} field first`] : []),
    ...(pieces ? ['in pieces'] : []),
    ...(marks ? ['marked'] : []),
    ...(at === undefined ? [] : [at === 'poster' ? "the poster's frame" : `frame ${at}`]),
    ...(conform ? ['with conform lists'] : []),
    ...(contactSheet ? ['with a contact sheet'] : []),
    ...(alpha ? [alpha] : []),
    ...(backdrop ? [`over ${backdrop.kind === 'colour' ? backdrop.colour : (backdrop.name ?? backdrop.kind)}`] : []),
    ...(timecode ? [`from ${timecode}`] : []),
    ...(rows ? [counted(rows.length, 'chosen row')] : []),
    ...(changedOnly ? ['only changed'] : []),
    ...(withoutStops ? ['without stops'] : []),
    `ordered ${day(created)}`,
    ...(with_.hoja ? [`Hoja ${with_.hoja}`] : []),
    ...(with_.ffmpeg && outputFormats[settings.format].encoder ? [`ffmpeg ${with_.ffmpeg}`] : []),
  ].join(', ')
}
