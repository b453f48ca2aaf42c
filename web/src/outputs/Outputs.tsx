import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { toast } from 'sonner'
import { Backdrop } from '../preview/Backdrop.tsx'
import { lendFonts } from '../preview/lendFonts.ts'
import { type ApiError, api, day, type Output, type OutputDetail, type Unit, type UnitState } from '../ui/api.ts'
import { Button, classes, Empty, Heading } from '../ui/controls.tsx'
import { Header } from '../ui/Header.tsx'

const words: Record<UnitState, string> = {
  waiting: 'waiting',
  running: 'rendering',
  done: 'done',
  held: 'held',
  failed: 'failed',
  stopped: 'stopped',
}
const colours: Record<UnitState, string> = {
  waiting: 'text-soft',
  running: 'text-leaf',
  done: 'text-leaf',
  held: 'text-stop',
  failed: 'text-stop',
  stopped: 'text-look',
}

/** Watch renders, stop and repeat them, fetch what is done. */
export default function Outputs() {
  const { id, output } = useParams()
  const navigate = useNavigate()
  const template = useQuery({ queryKey: ['template', id], queryFn: () => api.template(id!) })
  const list = useQuery({ queryKey: ['outputs'], queryFn: api.outputs, refetchInterval: 5000 })
  useEffect(() => {
    if (template.data) lendFonts(template.data.template)
  }, [template.data])
  const own = list.data?.filter((o) => o.template === id)
  const chosen = output ? Number(output) : own?.[0]?.id
  return (
    <div className="flex h-full flex-col">
      <Header {...(template.data ? { template: template.data } : {})} />
      <div className="grid min-h-0 flex-1 grid-cols-[250px_minmax(0,1fr)]">
        <aside className="min-h-0 overflow-auto border-r border-rule bg-paper">
          <Heading aside={own?.length ?? ''}>Outputs</Heading>
          <ul>
            {own?.map((o) => (
              <li key={o.id}>
                <button
                  type="button"
                  aria-pressed={o.id === chosen}
                  className={classes(
                    'w-full border-l-2 px-3.5 py-1.5 text-left',
                    o.id === chosen ? 'border-leaf bg-leaf-pale' : 'border-transparent hover:bg-chalk',
                  )}
                  onClick={() => navigate(`/t/${id}/outputs/${o.id}`)}
                >
                  <span className="flex justify-between">
                    <b className="font-medium">
                      {o.sheetName}, {o.settings.format}
                    </b>
                    <span className="text-soft">{o.id}</span>
                  </span>
                  <span className="text-soft">
                    {summary(o)}, {day(o.created)}
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </aside>
        <main className="min-h-0 overflow-auto">
          {list.error && <Empty title="The outputs could not be read">{list.error.message}</Empty>}
          {own?.length === 0 && (
            <Empty title="Nothing is rendered yet">
              Fill a sheet, then render it.
              <Button look="primary" onClick={() => navigate(`/t/${id}/fill`)}>
                To the sheets
              </Button>
            </Empty>
          )}
          {chosen !== undefined && <OneOutput key={chosen} id={chosen} />}
        </main>
      </div>
    </div>
  )
}

function summary(o: Output): string {
  const total = Object.values(o.counts).reduce((a, b) => a + b, 0)
  return o.state === 'running'
    ? `${total - o.counts.waiting - o.counts.running} of ${total}`
    : `${o.counts.done} of ${total} ${o.state === 'stopped' ? ', stopped' : 'done'}`
}

/** Seconds left, from how long the rows of this run took; undefined while none is done. */
function timeLeft(output: OutputDetail, since: { time: number; ended: number }): number | undefined {
  const ended = output.units.filter((unit) => !['waiting', 'running'].includes(unit.state)).length
  const left = output.units.length - ended
  const made = ended - since.ended
  return made > 0 ? (((Date.now() - since.time) / made) * left) / 1000 : undefined
}

function OneOutput({ id }: { id: number }) {
  const queries = useQueryClient()
  const [output, setOutput] = useState<OutputDetail>()
  const [gone, setGone] = useState<string>()
  const [since, setSince] = useState<{ time: number; ended: number }>()
  const [shown, setShown] = useState<Unit>()
  useEffect(() => {
    // Every event is the whole state, so a connection that comes back has missed nothing.
    const events = new EventSource(`/api/outputs/${id}/events`)
    events.onmessage = (event) => {
      const next = JSON.parse(event.data as string) as OutputDetail
      setOutput(next)
      setSince(
        (old) =>
          old ?? {
            time: Date.now(),
            ended: next.units.filter((unit) => !['waiting', 'running'].includes(unit.state)).length,
          },
      )
    }
    events.onerror = () => {
      if (events.readyState === EventSource.CLOSED) setGone('This output is not there, or Hoja does not answer.')
    }
    return () => events.close()
  }, [id])
  if (gone && !output) return <Empty title="Nothing here">{gone}</Empty>
  if (!output || !since) return <p className="p-6 text-soft">Opening …</p>
  const { counts, units } = output
  const ended = units.length - counts.waiting - counts.running
  const left = timeLeft(output, since)
  const act = (work: Promise<unknown>) =>
    work
      .then(() => queries.invalidateQueries({ queryKey: ['outputs'] }))
      .catch((error: ApiError) => toast.error(error.message))
  const again = counts.failed + counts.stopped + counts.held
  return (
    <div className="px-6 py-4">
      <div className="flex items-center gap-3">
        <h1 className="text-lg font-semibold">
          {output.sheetName} as {output.settings.format}
        </h1>
        <span className="text-soft">
          version {output.number}, {output.settings.frames ? `${output.settings.frames} frames each` : 'as designed'},{' '}
          {output.settings.pattern}
        </span>
        <span className="ml-auto flex gap-2">
          {output.state === 'running' && (
            <Button look="danger" onClick={() => act(api.stop(id))}>
              Stop
            </Button>
          )}
          {again > 0 && output.state !== 'running' && (
            <Button
              onClick={() => act(api.retry(id)).then(() => setSince({ time: Date.now(), ended: units.length - again }))}
            >
              Try {again} again
            </Button>
          )}
          {counts.done > 0 ? (
            <a
              href={`/api/outputs/${id}/zip`}
              className={classes(
                'flex h-7 items-center rounded-[3px] px-3 font-medium',
                output.state === 'running' ? 'border border-rule bg-white' : 'bg-leaf text-white',
              )}
            >
              Download {counts.done} as zip
            </a>
          ) : null}
        </span>
      </div>
      <div
        className="mt-3 h-2 border border-rule bg-white"
        role="progressbar"
        aria-valuenow={ended}
        aria-valuemin={0}
        aria-valuemax={units.length}
        aria-label="Rendered rows"
      >
        <div className="h-full bg-leaf" style={{ width: `${(ended / units.length) * 100}%` }} />
      </div>
      <p className="mt-1.5" role="status">
        {ended} of {units.length}: {counts.done} done
        {counts.held > 0 && (
          <>
            , <span className="text-stop">{counts.held} held by their checks</span>
          </>
        )}
        {counts.failed > 0 && <>, {counts.failed} failed</>}
        {counts.stopped > 0 && <>, {counts.stopped} stopped</>}
        {output.state === 'running' && (
          <span className="text-soft">
            {left === undefined
              ? ', starting'
              : `, about ${left < 60 ? `${Math.ceil(left)} s` : `${Math.ceil(left / 60)} min`} left`}
          </span>
        )}
        {output.state === 'done' && <span className="text-soft">, finished {day(output.ended!)}</span>}
      </p>
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)_340px] gap-5">
        <table className="w-full border-collapse self-start bg-paper text-left">
          <thead>
            <tr className="border-y border-rule text-xs text-soft">
              <th className="w-12 px-3 py-1 text-right font-medium">Row</th>
              <th className="px-3 font-medium">Title</th>
              <th className="w-24 px-3 font-medium">State</th>
              <th className="w-20 px-3 text-right font-medium">Took</th>
            </tr>
          </thead>
          <tbody>
            {units.map((unit) => (
              <tr
                key={unit.row}
                className={classes(
                  'border-b border-rule',
                  shown?.row === unit.row ? 'bg-leaf-pale' : unit.state === 'done' && 'hover:bg-chalk',
                )}
                onClick={() => unit.state === 'done' && setShown(unit)}
              >
                <td className="px-3 py-1 text-right">{unit.row}</td>
                <td className="px-3">
                  {unit.state === 'done' ? (
                    <button type="button" className="text-left hover:underline" onClick={() => setShown(unit)}>
                      {unit.name}
                    </button>
                  ) : (
                    unit.name
                  )}
                  {unit.reason && (
                    <p className="text-xs text-stop">
                      {unit.reason}{' '}
                      {unit.state === 'held' && (
                        <Link
                          className="font-semibold text-leaf hover:underline"
                          to={`/t/${output.template}/fill/${output.sheet}`}
                        >
                          Fix it in Fill
                        </Link>
                      )}
                    </p>
                  )}
                </td>
                <td className={classes('px-3', colours[unit.state])}>{words[unit.state]}</td>
                <td className="px-3 text-right text-soft">
                  {unit.state === 'done'
                    ? unit.found
                      ? 'found again'
                      : `${((unit.milliseconds ?? 0) / 1000).toFixed(1)} s`
                    : ''}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <div className="sticky top-0 self-start">
          {shown ? (
            <Finished output={output} unit={shown} />
          ) : (
            counts.done > 0 && <p className="text-soft">Choose a finished row to look at its file.</p>
          )}
        </div>
      </div>
    </div>
  )
}

/** The file itself, not a preview: a frame of the sequence, or the movie. */
function Finished({ output, unit }: { output: OutputDetail; unit: Unit }) {
  const isSequence = output.settings.format === 'png'
  const source = `/api/outputs/${output.id}/rows/${unit.row}/${isSequence ? 'frames/middle' : 'files/0'}`
  return (
    <figure>
      <div className="relative aspect-video overflow-hidden border border-rule">
        <Backdrop />
        {isSequence ? (
          <img src={source} alt={`The middle frame of ${unit.name}`} className="absolute inset-0 size-full" />
        ) : (
          <video src={source} className="absolute inset-0 size-full" autoPlay loop muted controls />
        )}
      </div>
      <figcaption className="mt-1 text-soft">
        {unit.name}
        {isSequence && ', its middle frame'}
      </figcaption>
    </figure>
  )
}
