import {
  columnsOf,
  countedBy,
  fromSource,
  type Match,
  type Row,
  type Source,
  type TimeKey,
  timeSources,
} from '@hoja/core/data'
import { Refusal } from '@hoja/core/refusal'
import type { Template } from '@hoja/core/template'
import { type Counted, lengthWords, parseLength, type Rate } from '@hoja/core/time'
import { Select } from './controls.tsx'

/** Which columns say when a title is, and how long, each with what comes of the first rows. */
export function TimeMatch({
  template,
  columns,
  match,
  rows,
  onMatch,
  otherwise = 'as long as the output says',
}: {
  template: Template
  columns: readonly string[]
  match: Match
  rows: readonly Row[]
  onMatch: (match: Match) => void
  /** What titles are that say no length. */
  otherwise?: string
}) {
  return (
    <>
      <h3 className="mt-3 border-b border-rule pb-1 font-semibold">When each title is, and how long</h3>
      <p className="pt-1 text-xs text-soft">
        Frames, seconds or timecode. A length, or where it starts and ends: the end is the first frame without it.
        Without either, titles are {otherwise}.
      </p>
      <ul>
        {timeSources.map(({ key, name }) => (
          <li
            key={key}
            aria-label={name}
            className="grid grid-cols-[120px_minmax(0,1fr)_minmax(0,300px)] gap-3 border-b border-rule py-1.5 last:border-0"
          >
            <b className="pt-1 font-semibold">{name}</b>
            <TimeSource
              name={name}
              columns={columns}
              source={match[key]}
              onSource={(source) => {
                const { [key]: _, ...rest } = match
                onMatch(source === undefined ? rest : { ...rest, [key]: source })
              }}
            />
            <TimeExamples template={template} source={match[key]} match={match} timeKey={key} rows={rows} />
          </li>
        ))}
      </ul>
    </>
  )
}

/** Which column says a time, and how its whole numbers are meant. */
function TimeSource({
  name,
  columns,
  source,
  onSource,
}: {
  name: string
  columns: readonly string[]
  source: Source | undefined
  onSource: (source: Source | undefined) => void
}) {
  const [column] = columnsOf(source)
  const counts = (typeof source === 'object' && source.counts) || 'frames'
  const put = (one: string, counted: Counted) =>
    onSource(counted === 'seconds' ? { columns: [one], counts: 'seconds' } : one)
  return (
    <div className="flex flex-wrap items-center gap-1.5">
      <Select
        aria-label={`What says ${name}`}
        className="!w-48"
        value={column === undefined ? '' : `c ${column}`}
        options={[['', 'nothing'], ...columns.map((one): [string, string] => [`c ${one}`, one])]}
        onChange={(event) => (event.target.value ? put(event.target.value.slice(2), counts) : onSource(undefined))}
      />
      {column !== undefined && (
        <Select
          aria-label={`Whole numbers of ${name}`}
          className="!w-40"
          value={counts}
          options={[
            ['frames', '125 is frames'],
            ['seconds', '125 is seconds'],
          ]}
          onChange={(event) => put(column, event.target.value as Counted)}
        />
      )}
    </div>
  )
}

/** What the first times come to. */
function TimeExamples({
  template,
  match,
  timeKey,
  source,
  rows,
}: {
  template: Template
  match: Match
  timeKey: TimeKey
  source: Source | undefined
  rows: readonly Row[]
}) {
  if (source === undefined) return <span />
  const { rate } = template.frame
  const said = rows
    .map((row) => fromSource(source, row.cells).text?.trim() ?? '')
    .filter((text) => text !== '')
    .slice(0, 2)
  if (said.length === 0) return <p className="pt-1 text-xs text-look">Empty in the first rows.</p>
  return (
    <ul className="pt-0.5 text-xs">
      {said.map((text, i) => {
        const frames = readTime(text, rate, countedBy(match, timeKey))
        return (
          <li key={i} className="truncate">
            <span className="text-soft">{text} → </span>
            {typeof frames === 'number' ? lengthWords(frames, rate) : <span className="text-look">{frames}</span>}
          </li>
        )
      })}
    </ul>
  )
}

/** Frames, or what is wrong. */
function readTime(text: string, rate: Rate, counted: Counted): number | string {
  try {
    return parseLength(text, rate, counted)
  } catch (error) {
    if (error instanceof Refusal) return error.message
    throw error
  }
}
