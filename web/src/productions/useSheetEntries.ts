import type { SheetSummary } from '@hoja/core/api'
import { useQuery } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { api } from '../api.ts'
import type { MenuEntry } from '../ui/Menu.tsx'
import { useWrite } from '../ui/useWrite.ts'

/** What can be done with a sheet, wherever it is met. */
export function useSheetEntries() {
  const navigate = useNavigate()
  const productions = useQuery({ queryKey: ['productions'], queryFn: () => api.productions() })
  const put = useWrite(
    ({ id, production }: { id: number; production: number | null }) => api.putIntoProduction({ id, production }),
    { changes: [['sheets']] },
  )
  return ({ id, template, production }: SheetSummary): (MenuEntry | string | null)[] => [
    { label: 'Open', onSelect: () => navigate(`/t/${template}/fill/${id}`) },
    { label: 'Render …', onSelect: () => navigate(`/t/${template}/outputs/new?sheet=${id}`) },
    ...(productions.data && productions.data.length > 0
      ? [
          'belongs to',
          ...productions.data.map((one) => ({
            label: one.name,
            checked: one.id === production,
            onSelect: () => put.mutate({ id, production: one.id === production ? null : one.id }),
          })),
        ]
      : []),
  ]
}
