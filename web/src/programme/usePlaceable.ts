import { useQuery } from '@tanstack/react-query'
import { api } from '../api.ts'

/** Templates that titles can be made of, those of the production first. */
export function usePlaceable(used: readonly string[]) {
  const templates = useQuery({ queryKey: ['templates'], queryFn: () => api.templates() })
  const all = templates.data?.filter(({ version, archived }) => version > 0 && archived === null) ?? []
  return [...all].sort((a, b) => Number(used.includes(b.id)) - Number(used.includes(a.id)))
}
