import { stageOf } from '@hoja/core/air'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Ellipsis, Plus } from 'lucide-react'
import { useEffect, useMemo, useState, useSyncExternalStore } from 'react'
import { Navigate, NavLink, useNavigate, useParams } from 'react-router'
import { toast } from 'sonner'
import { api } from '../api.ts'
import { Button, classes, Empty } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'
import { Header } from '../ui/Header.tsx'
import { Menu } from '../ui/Menu.tsx'
import { Trouble } from '../ui/Trouble.tsx'
import { AirDesk, DeskContext, useAir, useDesk } from './airDesk.ts'
import { Desk } from './Desk.tsx'
import { NewChannel } from './NewChannel.tsx'
import { RunningList } from './RunningList.tsx'

const keys: [string, string][] = [
  ['Enter', 'take what is next'],
  ['O', 'out'],
  ['U', 'update with what was typed'],
  ['X', 'cut away at once'],
  ['Shift X', 'clear: everything away at once, and nothing is next'],
  ['↑ ↓', 'the title before, after is the next one'],
  ['F', 'find a title'],
  ['Esc', 'leave it, after a stop'],
]

/** What is on air, channel by channel. */
export default function AirPage() {
  const { channel: name } = useParams()
  const channels = useQuery({ queryKey: ['channels'], queryFn: () => api.channels() })
  const [making, setMaking] = useState(false)
  const first = channels.data?.find((one) => one.name === 'lower-third') ?? channels.data?.[0]
  const own = channels.data?.find((one) => one.name === name)
  const production = useQuery({
    queryKey: ['production', own?.production],
    queryFn: () => api.production({ id: own!.production! }),
    enabled: typeof own?.production === 'number',
  })
  if (channels.error) return <Trouble error={channels.error} what="channels" onAgain={() => void channels.refetch()} />
  if (!channels.data) return <p className="p-6 text-soft">Opening …</p>
  // One that was just made may not be in the list yet.
  if (!own && name !== undefined && channels.isFetching) return <p className="p-6 text-soft">Opening …</p>
  if (!own && first) return <Navigate to={`/air/${first.name}`} replace />
  const tabs = (
    <>
      {channels.data.map((one) => (
        <NavLink
          key={one.name}
          to={`/air/${one.name}`}
          className={({ isActive }) =>
            classes(
              'flex items-center border-b-2 px-3 whitespace-nowrap',
              isActive ? 'border-leaf font-semibold' : 'border-transparent text-soft hover:text-ink',
            )
          }
        >
          {one.title}
        </NavLink>
      ))}
      <button
        type="button"
        aria-label="New channel"
        title="New channel"
        className="px-2 text-soft hover:text-ink"
        onClick={() => setMaking(true)}
      >
        <Plus size={14} aria-hidden="true" />
      </button>
    </>
  )
  const dialog = making && <NewChannel production={own?.production ?? null} onClose={() => setMaking(false)} />
  if (!own)
    return (
      <div className="flex h-full flex-col">
        <Header here="On air" />
        <Empty title="No channel yet">
          A channel is one place on air: a running list, and a page that any mixer with a browser can take.
          <Button variant="primary" onClick={() => setMaking(true)}>
            New channel
          </Button>
        </Empty>
        {dialog}
      </div>
    )
  return (
    <>
      <ChannelDesk key={own.name} name={own.name} title={own.title} tabs={tabs} production={production.data} />
      {dialog}
    </>
  )
}

function ChannelDesk({
  name,
  title,
  tabs,
  production,
}: {
  name: string
  title: string
  tabs: React.ReactNode
  production: { id: number; name: string } | undefined
}) {
  const [desk, setDesk] = useState<AirDesk>()
  useEffect(() => {
    const own = new AirDesk(name)
    setDesk(own)
    return () => own.close()
  }, [name])
  if (!desk) return null
  return (
    <DeskContext value={desk}>
      <Opened title={title} tabs={tabs} production={production} />
    </DeskContext>
  )
}

const nothing = () => () => {}

function Opened({
  title,
  tabs,
  production,
}: {
  title: string
  tabs: React.ReactNode
  production: { id: number; name: string } | undefined
}) {
  const desk = useDesk()
  const isThere = useSyncExternalStore(desk?.subscribe ?? nothing, () => desk.get() !== undefined)
  return (
    <div className="flex h-full flex-col">
      <Header here="On air" production={production} shortcuts={keys} tabs={tabs}>
        {isThere && <Bar title={title} />}
      </Header>
      {isThere ? (
        <div className="flex min-h-0 flex-1">
          <RunningList production={production?.id ?? null} />
          <Desk />
        </div>
      ) : (
        <p className="p-6 text-soft">Opening …</p>
      )}
    </div>
  )
}

/** Who watches, rehearsing, and what takes everything out. */
function Bar({ title }: { title: string }) {
  const desk = useDesk()
  const navigate = useNavigate()
  const queries = useQueryClient()
  const pages = useAir((view) => view.pages)
  const channel = useAir((view) => view.channel)
  const isRehearsing = channel.rehearsal !== undefined
  const out = `/out/${desk.name}`
  const layers = useMemo(() => Object.keys(stageOf(channel).layers), [channel])
  return (
    <>
      <a
        href={out}
        target="_blank"
        rel="noreferrer"
        className={classes('whitespace-nowrap hover:underline', pages > 0 ? 'text-leaf' : 'text-soft')}
      >
        {pages > 0 ? `● ${counted(pages, 'page')} ${pages === 1 ? 'shows' : 'show'} ${out}` : `no page shows ${out}`}
      </a>
      <Button
        aria-pressed={isRehearsing}
        className={classes(isRehearsing && '!border-madder !text-madder')}
        onClick={() => void desk.ask({ kind: 'rehearse', on: !isRehearsing })}
      >
        {isRehearsing ? 'End the rehearsal' : 'Rehearse'}
      </Button>
      <Button
        disabled={layers.length === 0}
        onClick={() => {
          for (const layer of layers) void desk.ask({ kind: 'out', layer })
        }}
      >
        Take everything out
      </Button>
      <Menu
        label="More of this channel"
        align="end"
        entries={() => [
          {
            label: 'Clear at once: everything away, nothing next',
            keys: 'Shift X',
            onSelect: () => void desk.ask({ kind: 'clear' }),
          },
          null,
          { label: 'The output page', onSelect: () => window.open(out) },
          { label: 'Its fill', onSelect: () => window.open(`${out}?view=fill`) },
          { label: 'Its key', onSelect: () => window.open(`${out}?view=key`) },
          { label: 'Mixer to try it with', onSelect: () => navigate(`/mixer/${desk.name}`) },
          null,
          {
            label: 'Remove the channel …',
            onSelect: () => {
              if (!window.confirm(`Remove the channel "${title}", its running list and what was on air on it?`)) return
              api.removeChannel({ channel: desk.name }).then(
                async () => {
                  await queries.invalidateQueries({ queryKey: ['channels'] })
                  navigate('/air')
                },
                (error: Error) => toast.error(error.message),
              )
            },
          },
        ]}
      >
        <Ellipsis size={14} aria-hidden="true" />
      </Menu>
    </>
  )
}
