import { outputFormats } from '@hoja/core/output'
import { titlesOf } from '@hoja/core/programme'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { api } from '../api.ts'
import { Button, Line, Select, TextInput } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { Dialog } from '../ui/Dialog.tsx'
import { useWrite } from '../ui/useWrite.ts'
import { useSession, useView } from './useProgramme.ts'

/** Renders titles, each cut to its length. */
export function RenderDialog({ onClose }: { onClose: () => void }) {
  const session = useSession()
  const programme = useView((view) => view.programme)
  const chosen = useView((view) => view.chosen)
  const all = titlesOf(programme)
  const own = all.filter(({ id }) => chosen.includes(id))
  const [which, setWhich] = useState(own.length > 1 ? 'chosen' : 'all')
  const [format, setFormat] = useState<keyof typeof outputFormats>('mov')
  const [handles, setHandles] = useState('0')
  const formats = useQuery({ queryKey: ['formats'], queryFn: () => api.formats() })
  const offered = (formats.data ?? []).filter(({ format: one, ready }) => ready && !outputFormats[one].still)
  const render = useWrite(
    async () => {
      if (!(await session.save())) throw new Error('The programme is not saved yet; look at what stands beside Undo.')
      const n = Math.max(0, Math.min(10_000, Math.round(Number(handles)) || 0))
      return api.renderProgramme({
        id: session.id,
        settings: { format, conform: true, ...(n > 0 ? { handles: { before: n, after: n } } : {}) },
        ...(which === 'chosen' ? { clips: own.map(({ id }) => id) } : {}),
      })
    },
    { changes: [['outputs']] },
  )
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title="Render titles, each to its length"
      footer={
        <>
          <Button onClick={onClose}>{render.data ? 'Close' : 'Cancel'}</Button>
          {!render.data && (
            <Button variant="primary" disabled={render.isPending} onClick={() => render.mutate(undefined)}>
              Render {counted(which === 'chosen' ? own.length : all.length, 'title')}
            </Button>
          )}
        </>
      }
    >
      {render.data ? (
        <>
          <p className="pb-1">
            {counted(render.data.length, 'output')} under way, one for each template; OTIO and EDL name the files once
            they are there.
          </p>
          <ul>
            {render.data.map((output) => (
              <li key={output.id}>
                <Link
                  className="font-medium text-leaf hover:underline"
                  to={`/t/${output.template}/outputs/${output.id}`}
                >
                  {programme.designs[output.version]?.name ?? output.template}: look at output {output.id}
                </Link>
              </li>
            ))}
          </ul>
        </>
      ) : (
        <>
          <Line label="Which">
            {(id) => (
              <Select
                id={id}
                value={which}
                options={[
                  ['all', `all ${counted(all.length, 'title')} on tracks that are on`],
                  ...(own.length > 0
                    ? [['chosen', `the ${counted(own.length, 'title')} chosen`] as [string, string]]
                    : []),
                ]}
                onChange={(event) => setWhich(event.target.value)}
              />
            )}
          </Line>
          <Line label="Format">
            {(id) => (
              <Select
                id={id}
                value={format}
                options={offered.map(({ format: one }): [string, string] => [one, outputFormats[one].name])}
                onChange={(event) => setFormat(event.target.value as typeof format)}
              />
            )}
          </Line>
          <Line label="Handles, frames" note="the first and the last frame held for so many before and behind">
            {(id) => (
              <TextInput
                id={id}
                inputMode="numeric"
                value={handles}
                onChange={(event) => setHandles(event.target.value)}
              />
            )}
          </Line>
        </>
      )}
    </Dialog>
  )
}
