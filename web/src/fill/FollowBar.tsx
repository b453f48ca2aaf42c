import { address, type SheetNews } from '@hoja/core/api'
import type { Link, LinkStatus } from '@hoja/core/formats'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { toast } from 'sonner'
import { api } from '../api.ts'
import { Choice } from '../ui/Choice.tsx'
import { Button, classes } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { useWrite } from '../ui/useWrite.ts'
import { clock } from '../ui/words.ts'

/** Hears what happens to a linked sheet. Server-sent events come back by themselves after a break. */
export function useNews(
  sheet: number,
  isLinked: boolean,
  onChange: (change: NonNullable<SheetNews['change']>) => void,
) {
  const [status, setStatus] = useState<LinkStatus | null>(null)
  const latest = useRef(onChange)
  latest.current = onChange
  useEffect(() => {
    if (!isLinked) return
    const events = new EventSource(address.sheetNews({ id: sheet }))
    events.onmessage = ({ data }) => {
      const news = JSON.parse(data) as SheetNews & { revision?: number }
      setStatus(news.status)
      if (news.change) latest.current(news.change)
      // The first word after a break: what was missed is fetched.
      else if (news.revision !== undefined)
        latest.current({ from: -1, revision: news.revision, columns: [], changes: [] })
    }
    return () => events.close()
  }, [sheet, isLinked])
  return status
}

const linkWords = (link: Link) => (link.kind === 'file' ? `${link.root}/${link.path}` : link.url)

/** What a sheet follows, how that stands, and the way out. */
export function FollowBar({
  sheet,
  link,
  status,
  changed,
  onUnlinked,
}: {
  sheet: number
  link: Link
  status: LinkStatus | null
  /** Cells that came in with the last change. */
  changed: number
  onUnlinked: () => void
}) {
  const read = useWrite((_: undefined) => api.readAgain({ sheet }), {
    onDone: ({ state }) => {
      if (state === 'good') toast.success('Read again; the rows are as they are there now.')
    },
  })
  const unlink = useWrite((_: undefined) => api.stopFollowing({ sheet }), { onDone: onUnlinked })
  const isBad = status?.state === 'broken' || status?.state === 'gone'
  const standIn = link.kind === 'feed' ? link.url.match(/\/stand-ins\/(tide-gauge|notices)\./)?.[1] : undefined
  return (
    <div
      role={isBad ? 'alert' : 'status'}
      className="flex h-9 shrink-0 items-center gap-3 border-b border-rule bg-chalk px-4"
    >
      <span className="whitespace-nowrap">
        Follows <b className="font-semibold">{linkWords(link)}</b>
      </span>
      <span className={classes('truncate', isBad ? 'text-stop' : 'text-soft')} title={status?.message}>
        {!status || status.state === 'waiting'
          ? 'reading …'
          : isBad
            ? `${status.message} The last good rows stay${status.read ? `, read at ${clock(status.read)}` : ''}.`
            : `as of ${clock(status.read!)}${changed > 0 ? `; ${counted(changed, 'cell')} changed just now` : ''}`}
      </span>
      <span className="ml-auto flex items-center gap-2">
        {standIn && <StandInControl name={standIn} />}
        <Button
          small
          disabled={read.isPending}
          title="Look now whether anything has changed"
          onClick={() => read.mutate(undefined)}
        >
          {read.isPending ? 'Reading …' : 'Read again'}
        </Button>
        <Button small onClick={() => unlink.mutate(undefined)}>
          Stop following
        </Button>
      </span>
    </div>
  )
}

/** What a simulated device is told to do. */
function StandInControl({ name }: { name: string }) {
  const all = useQuery({ queryKey: ['stand-ins'], queryFn: () => api.standIns() })
  const own = all.data?.find((one) => one.name === name)
  const tell = useWrite((behaviour: string) => api.tellStandIn({ name, behaviour }), { changes: [['stand-ins']] })
  if (!own) return null
  return (
    <span className="flex items-center gap-1.5 text-xs text-soft">
      The stand-in
      <Choice
        label="The stand-in"
        value={own.behaviour}
        options={own.behaviours.map((one): [string, string] => [one, one === 'well' ? 'works' : one])}
        onValue={(behaviour) => tell.mutate(behaviour)}
      />
    </span>
  )
}
