import type { Production } from '@hoja/core/api'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { api } from '../api.ts'
import { classes } from '../ui/controls.tsx'
import { counted } from '../ui/counted.ts'

/** The channels of a production, and what is up on them. */
export function ChannelTable({ production }: { production: Production }) {
  const channels = useQuery({ queryKey: ['channels'], queryFn: () => api.channels(), refetchInterval: 3000 })
  const own = channels.data?.filter((channel) => channel.production === production.id) ?? []
  return (
    <section aria-label="Channels" className="mb-6">
      <h2 className="mb-1.5 flex items-center gap-3 font-semibold">
        Channels
        <Link to="/air" className="text-xs font-medium text-leaf hover:underline">
          On air
        </Link>
      </h2>
      {own.length === 0 && channels.data && (
        <p className="text-soft">None yet: a channel is one place on air; make one under On air.</p>
      )}
      <ul className="max-w-3xl">
        {own.map(({ name, title, layers, pages }) => {
          const up = layers.filter(({ item }) => item !== null)
          return (
            <li key={name} className="flex items-center gap-3 border-b border-rule py-1">
              <Link to={`/air/${name}`} className="w-72 truncate font-medium text-leaf hover:underline">
                {title}
              </Link>
              <span className={classes('w-56', up.length > 0 ? 'text-madder' : 'text-soft')}>
                {up.length > 0 ? up.map((layer) => `${layer.name}: up`).join(', ') : 'nothing is up'}
              </span>
              <span className="flex-1 text-soft">{pages > 0 ? `${counted(pages, 'page')} open` : `/out/${name}`}</span>
            </li>
          )
        })}
      </ul>
    </section>
  )
}
