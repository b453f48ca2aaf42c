import type { Version } from '@hoja/core/api'
import { type Match, type Row, valuesOf } from '@hoja/core/data'
import { moveMatch } from '@hoja/core/handoff'
import type { Template } from '@hoja/core/template'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { api } from '../api.ts'
import { type ComparedFilling, Comparison } from '../preview/Comparison.tsx'
import { Select } from '../ui/controls.tsx'

/** Rows that are drawn twice: more than anybody looks through, few enough to wait for. */
const most = 500

/** The rows drawn twice, those that differ most first: before and after the last edit, since opening, or on another version. */
export function BeforeAfter({
  template,
  match,
  rows,
  order,
  opened,
  before,
  versions,
  version,
}: {
  template: Template
  match: Match
  rows: readonly Row[]
  order: readonly number[]
  /** The rows as they were when the sheet was opened, and before the last edit. */
  opened: readonly Row[]
  before: readonly Row[] | undefined
  versions: Version[]
  version: number
}) {
  const others = versions.filter((one) => one.id !== version)
  const [against, setAgainst] = useState(before ? 'edit' : others[0] ? String(others[0].id) : 'opened')
  const other = Number(against)
  const asked = useQuery({
    queryKey: ['version', other],
    queryFn: () => api.version({ id: other }),
    enabled: other > 0,
    staleTime: Number.POSITIVE_INFINITY,
  })
  const content = other > 0 ? asked.data?.content : template
  const number = versions.find((one) => one.id === other)?.number
  const fillings = useMemo((): ComparedFilling[] => {
    if (!content) return []
    const name = (i: number) => `Row ${i + 1}`
    if (content !== template) {
      const moved = moveMatch(template, content, match).match
      return order.slice(0, most).map((i) => ({
        name: name(i),
        before: valuesOf(content, moved, rows[i]!).values,
        after: valuesOf(template, match, rows[i]!).values,
      }))
    }
    const base = against === 'edit' ? (before ?? rows) : opened
    return order.flatMap((i) =>
      rows[i] === base[i] || !base[i]
        ? []
        : [
            {
              name: name(i),
              before: valuesOf(template, match, base[i]).values,
              after: valuesOf(template, match, rows[i]!).values,
            },
          ],
    )
  }, [content, template, match, rows, order, opened, before, against])
  return (
    <section aria-label="Before and after" className="min-h-0 flex-1 overflow-auto">
      <div className="flex items-center gap-2 pb-1.5 text-xs text-soft">
        The rows shown, against
        <Select
          aria-label="Against"
          className="!h-6 !w-52 text-xs"
          value={against}
          options={[
            ['edit', 'what they were before the last edit'],
            ['opened', 'what they were when opened'],
            ...others.map((one): [string, string] => [String(one.id), `version ${one.number}`]),
          ]}
          onChange={(event) => setAgainst(event.target.value)}
        />
        {other > 0 && order.length > most && `The first ${most} are drawn.`}
      </div>
      {fillings.length === 0 ? (
        <p className="py-2 text-soft">
          {other > 0 && !content ? 'Opening the version …' : 'No row differs. Edit one, and it shows here.'}
        </p>
      ) : (
        <Comparison
          before={content!}
          after={template}
          fillings={fillings}
          noun="row"
          words={other > 0 ? [`version ${number}`, 'this version'] : ['before', 'after']}
        />
      )}
    </section>
  )
}
