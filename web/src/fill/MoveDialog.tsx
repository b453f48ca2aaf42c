import type { Version } from '@hoja/core/api'
import { type Match, type Row, sourceWords, valuesOf } from '@hoja/core/data'
import { moveMatch } from '@hoja/core/handoff'
import type { Template } from '@hoja/core/template'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { toast } from 'sonner'
import { api } from '../api.ts'
import { type ComparedFilling, Comparison } from '../preview/Comparison.tsx'
import { Button, Line, Select } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { Dialog } from '../ui/Dialog.tsx'
import { useWrite } from '../ui/useWrite.ts'
import { day } from '../ui/words.ts'

/** Rows that are drawn on both versions: enough to see what changes, few enough to wait for. */
const drawnRows = 40

/** Puts a sheet on another version: how its fields map, what is lost, which rows look different, all before it is done. */
export function MoveDialog({
  sheet,
  template,
  match,
  rows,
  versions,
  revision,
  onMoved,
  onClose,
}: {
  sheet: { id: number; name: string; version: number; number: number }
  /** The version it stands on. */
  template: Template
  match: Match
  rows: readonly Row[]
  versions: Version[]
  revision: () => number
  onMoved: () => void
  onClose: () => void
}) {
  const others = versions.filter((version) => version.id !== sheet.version)
  const [chosen, setChosen] = useState(others[0]!.id)
  const version = useQuery({
    queryKey: ['version', chosen],
    queryFn: () => api.version({ id: chosen }),
    staleTime: Number.POSITIVE_INFINITY,
  })
  const after = version.data?.content
  const moving = useMemo(() => after && moveMatch(template, after, match), [template, after, match])
  const fillings = useMemo((): ComparedFilling[] => {
    if (!after || !moving) return []
    return rows.slice(0, drawnRows).map((own, i) => ({
      name: `Row ${i + 1}`,
      before: valuesOf(template, match, own).values,
      after: valuesOf(after, moving.match, own).values,
    }))
  }, [template, after, match, moving, rows])
  const number = versions.find((one) => one.id === chosen)?.number ?? 0
  const move = useWrite(
    (to: Match) => api.moveSheet({ id: sheet.id, revision: revision(), version: chosen, match: to }),
    {
      onDone: () => {
        toast.success(`"${sheet.name}" stands on version ${number} now.`)
        onMoved()
      },
    },
  )
  const renamed = moving?.kept.filter(({ from, to }) => from.key !== to.key || from.name !== to.name) ?? []
  return (
    <Dialog
      open
      wide
      onOpenChange={onClose}
      title={`Move "${sheet.name}" to another version`}
      footer={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            variant="primary"
            disabled={!moving || move.isPending}
            onClick={() => moving && move.mutate(moving.match)}
          >
            Move to version {number}
          </Button>
        </>
      }
    >
      <Line label="From, to">
        {(id) => (
          <span className="flex items-center gap-2">
            <span className="whitespace-nowrap">version {sheet.number} →</span>
            <Select
              id={id}
              value={String(chosen)}
              options={others.map((one): [string, string] => [
                String(one.id),
                `version ${one.number}, ${day(one.created)}${one.note ? `: ${one.note}` : ''}`,
              ])}
              onChange={(event) => setChosen(Number(event.target.value))}
            />
          </span>
        )}
      </Line>
      {version.error && <p className="pt-2 text-stop">{version.error.message}</p>}
      {moving && (
        <dl className="grid grid-cols-[108px_minmax(0,1fr)] gap-x-2 py-1">
          <dt className="py-0.5 text-soft">Fields</dt>
          <dd className="py-0.5">
            {moving.kept.length === template.fields.length && renamed.length === 0
              ? `All ${moving.kept.length} go over as they are.`
              : `${moving.kept.length} of ${template.fields.length} go over.`}
            <ul>
              {renamed.map(({ from, to }) => (
                <li key={from.id}>
                  {from.name} ({from.key}) becomes {to.name} ({to.key})
                </li>
              ))}
            </ul>
          </dd>
          {moving.lost.length > 0 && (
            <>
              <dt className="py-0.5 text-look">Lost</dt>
              <dd className="py-0.5">
                {moving.lost.map((field) => `${field.name} (column ${sourceWords(match[field.key]!)})`).join(', ')}:
                version {number} has no such field. The columns stay in the sheet.
              </dd>
            </>
          )}
          {moving.fresh.length > 0 && (
            <>
              <dt className="py-0.5 text-soft">New</dt>
              <dd className="py-0.5">
                {moving.fresh.map((field) => field.name).join(', ')}:{' '}
                {moving.fresh.length === 1 ? 'it stands' : 'they stand'} at the default until a column is matched.
              </dd>
            </>
          )}
        </dl>
      )}
      {after && fillings.length > 0 && (
        <section aria-label="Which rows change" className="border-t border-rule pt-2">
          <Comparison
            before={template}
            after={after}
            fillings={fillings}
            noun="row"
            words={[`version ${sheet.number}`, `version ${number}`]}
          />
          {rows.length > drawnRows && (
            <p className="pt-1 text-xs text-soft">
              The first {drawnRows} of {counted(rows.length, 'row')} are drawn.
            </p>
          )}
        </section>
      )}
    </Dialog>
  )
}
