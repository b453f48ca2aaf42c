import type { AirItem, Binding, ClockBinding, ValueBinding } from '@hoja/core/air'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api } from '../api.ts'
import { Button, Line, Select, TextInput } from '../ui/controls.tsx'
import { Dialog } from '../ui/Dialog.tsx'
import { useAir, useDesk } from './airDesk.ts'

type Kind = 'hand' | 'value' | 'clock'
const shows: [ClockBinding['shows'], string][] = [
  ['time', 'the time of day'],
  ['since take', 'time since it was taken'],
  ['since', 'time since a moment'],
  ['until', 'time until a moment'],
]
const deadWords: [ValueBinding['dead']['shows'], string][] = [
  ['last', 'its last value stays'],
  ['nothing', 'it is empty'],
  ['text', 'it says'],
]

/** A path to a column of a row. */
const pathOf = (row: number, column: string) =>
  `$[${row - 1}]['${column.replaceAll('\\', '\\\\').replaceAll("'", "\\'")}']`

/** What changes a field by itself: a value of a sheet that follows a file or a feed, or a clock. */
export function LiveDialog({ item, field, onClose }: { item: AirItem; field: string; onClose: () => void }) {
  const desk = useDesk()
  useAir((view) => view.scenes)
  const own = item.live[field]
  const [kind, setKind] = useState<Kind>(own?.kind ?? 'value')
  const [value, setValue] = useState<ValueBinding>(
    own?.kind === 'value' ? own : { kind: 'value', sheet: 0, path: '', most: 4, dead: { shows: 'last', after: 10 } },
  )
  const [clock, setClock] = useState<ClockBinding>(own?.kind === 'clock' ? own : { kind: 'clock', shows: 'time' })
  const sheets = useQuery({ queryKey: ['sheets'], queryFn: () => api.sheets({}) })
  const followed = sheets.data?.filter(({ link }) => link !== null) ?? []
  const sheet = followed.find(({ id }) => id === value.sheet) ?? followed[0]
  const rows = useQuery({
    queryKey: ['rows for the air', sheet?.id],
    queryFn: () => api.rows({ id: sheet!.id }),
    enabled: sheet !== undefined,
    gcTime: 0,
  })
  const name = desk.sceneOf(item.version)?.template.fields.find(({ key }) => key === field)?.name ?? field
  const columns = sheet?.columns ?? []
  const picked = /^\$\[(\d+|\*)\]\['(.*)'\]$/.exec(value.path)
  const needsMoment = clock.shows === 'since' || clock.shows === 'until'
  const isReady =
    kind === 'hand' ||
    (kind === 'clock' ? !needsMoment || Boolean(clock.moment) : sheet !== undefined && value.path !== '')
  const keep = async () => {
    const { [field]: _, ...rest } = item.live
    const next: Binding | undefined =
      kind === 'hand' ? undefined : kind === 'clock' ? clock : { ...value, sheet: sheet!.id }
    if (await desk.ask({ kind: 'change', item: item.id, live: next ? { ...rest, [field]: next } : rest })) onClose()
  }
  return (
    <Dialog
      open
      onOpenChange={onClose}
      title={`What changes “${name}”`}
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="primary" disabled={!isReady} onClick={() => void keep()}>
            Keep it
          </Button>
        </>
      }
    >
      <Line label="It changes">
        {(id) => (
          <Select
            id={id}
            value={kind}
            options={[
              ['hand', 'by hand'],
              ['value', 'by a sheet that follows a file or a feed'],
              ['clock', 'by a clock'],
            ]}
            onChange={(event) => setKind(event.target.value as Kind)}
          />
        )}
      </Line>
      {kind === 'value' &&
        (followed.length === 0 ? (
          <p className="py-2 text-soft">No sheet follows anything yet; let one follow a file or a feed under Fill.</p>
        ) : (
          <>
            <Line label="Sheet">
              {(id) => (
                <Select
                  id={id}
                  value={String(sheet!.id)}
                  options={followed.map((one) => [String(one.id), `${one.name}, ${one.templateName}`] as const)}
                  onChange={(event) => setValue({ ...value, sheet: Number(event.target.value), path: '' })}
                />
              )}
            </Line>
            <Line label="Row">
              {(id) => (
                <Select
                  id={id}
                  value={picked?.[1] ?? ''}
                  options={[
                    ['', 'choose …'],
                    ['*', 'all rows, as a list'],
                    ...(rows.data?.rows ?? [])
                      .slice(0, 200)
                      .map((row, i): [string, string] => [
                        String(i),
                        `${i + 1}  ${Object.values(row.cells).filter(Boolean).slice(0, 2).join(' · ').slice(0, 60)}`,
                      ]),
                  ]}
                  onChange={(event) => {
                    const column = picked?.[2] ?? columns[0] ?? ''
                    const at = event.target.value
                    setValue({
                      ...value,
                      path: at === '*' ? pathOf(1, column).replace('[0]', '[*]') : pathOf(Number(at) + 1, column),
                    })
                  }}
                />
              )}
            </Line>
            <Line label="Column">
              {(id) => (
                <Select
                  id={id}
                  value={picked?.[2] ?? ''}
                  options={[['', 'choose …'], ...columns.map((column): [string, string] => [column, column])]}
                  onChange={(event) => {
                    const at = picked?.[1] ?? '0'
                    const path = pathOf(1, event.target.value).replace('[0]', `[${at}]`)
                    setValue({ ...value, path })
                  }}
                />
              )}
            </Line>
            <Line
              label="Path"
              note="RFC 9535, in the rows as objects; the row and the column above write it. As in $[?@.station=='Vado'].height"
            >
              {(id) => (
                <TextInput
                  id={id}
                  value={value.path}
                  onChange={(event) => setValue({ ...value, path: event.target.value })}
                />
              )}
            </Line>
            <Line label="At most" note="changes a second; of those that come faster the latest goes">
              {(id) => (
                <Select
                  id={id}
                  value={String(value.most)}
                  options={['0.2', '0.5', '1', '2', '4', '10', '25'].map((n) => [n, n] as const)}
                  onChange={(event) => setValue({ ...value, most: Number(event.target.value) })}
                />
              )}
            </Line>
            <Line
              label="Without it"
              note="when the source is gone, or says what the field does not take, for so many seconds"
            >
              {(id) => (
                <span className="flex items-center gap-1.5">
                  <TextInput
                    className="!w-16"
                    aria-label="Seconds until it counts as gone"
                    type="number"
                    min={0}
                    max={3600}
                    value={value.dead.after}
                    onChange={(event) =>
                      setValue({ ...value, dead: { ...value.dead, after: Number(event.target.value) } })
                    }
                  />
                  <span className="text-soft">s:</span>
                  <Select
                    id={id}
                    value={value.dead.shows}
                    options={deadWords}
                    onChange={(event) => {
                      const { after } = value.dead
                      const to = event.target.value as ValueBinding['dead']['shows']
                      setValue({
                        ...value,
                        dead: to === 'text' ? { shows: 'text', after, text: '–' } : { shows: to, after },
                      })
                    }}
                  />
                  {value.dead.shows === 'text' && (
                    <TextInput
                      aria-label="What it says without its source"
                      className="!w-28"
                      value={value.dead.text}
                      onChange={(event) =>
                        setValue({
                          ...value,
                          dead: { shows: 'text', after: value.dead.after, text: event.target.value },
                        })
                      }
                    />
                  )}
                </span>
              )}
            </Line>
          </>
        ))}
      {kind === 'clock' && (
        <>
          <Line label="It shows">
            {(id) => (
              <Select
                id={id}
                value={clock.shows}
                options={shows}
                onChange={(event) => setClock({ ...clock, shows: event.target.value as ClockBinding['shows'] })}
              />
            )}
          </Line>
          {needsMoment && (
            <Line label="Moment" note="a time of today, as 20:15 or 20:15:30, or a date with it">
              {(id) => (
                <TextInput
                  id={id}
                  value={clock.moment ?? ''}
                  placeholder="20:15:00"
                  onChange={(event) => setClock({ ...clock, moment: event.target.value })}
                />
              )}
            </Line>
          )}
        </>
      )}
    </Dialog>
  )
}
