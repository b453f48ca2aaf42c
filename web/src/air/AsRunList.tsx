import { address } from '@hoja/core/api'
import { useQuery } from '@tanstack/react-query'
import { api } from '../api.ts'
import { useAir, useDesk } from './airDesk.ts'

/** The last lines of what was on air. */
export function AsRunList() {
  const desk = useDesk()
  const n = useAir((view) => view.channel.n)
  const lines = useQuery({
    queryKey: ['as run', desk.name, n],
    queryFn: () => api.asRun({ channel: desk.name, most: 6 }),
    placeholderData: (before) => before,
    // A title that leaves by its time is no command.
    refetchInterval: 3000,
  })
  const time = (at: string) => new Date(at).toLocaleTimeString('en-GB')
  if (lines.data?.length === 0) return <p className="pt-1.5 text-soft">Nothing yet.</p>
  return (
    <>
      <ul>
        {lines.data?.map((line) => (
          <li key={`${line.at} ${line.what} ${line.words}`} className="flex gap-2.5 border-b border-rule py-1">
            <span className="w-14">{time(line.at)}</span>
            <span className="w-16 text-soft">{line.what}</span>
            <span className="min-w-0 flex-1 truncate" title={line.words}>
              {line.words}
            </span>
            {line.by !== 'hand' && (
              <span className="text-xs text-soft">by {line.by === 'time' ? 'its time' : 'its source'}</span>
            )}
          </li>
        ))}
      </ul>
      <p className="pt-1 text-xs text-soft">
        All of it as{' '}
        <a className="font-medium text-leaf hover:underline" href={address.asRunCsv({ channel: desk.name })}>
          csv
        </a>{' '}
        or{' '}
        <a
          className="font-medium text-leaf hover:underline"
          href={address.asRun({ channel: desk.name })}
          download={`${desk.name} as run.json`}
        >
          json
        </a>
      </p>
    </>
  )
}
