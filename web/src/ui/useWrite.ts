import { type QueryKey, useMutation, useQueryClient } from '@tanstack/react-query'
import { toast } from 'sonner'

/**
 * The one way to write something to the server from a screen: busy while it runs (`isPending`), what is refused is said in
 * its sentence, and what it changes is asked for anew.
 * @param changes the queries that show something else afterwards
 */
export function useWrite<Given, Result>(
  write: (given: Given) => Promise<Result>,
  {
    changes = [],
    onDone,
    onRefused = (error) => void toast.error(error.message),
  }: {
    changes?: readonly QueryKey[]
    onDone?: (result: Result, given: Given) => void
    /** Where a refusal is shown beside what it is about. */
    onRefused?: (error: Error) => void
  } = {},
) {
  const queries = useQueryClient()
  return useMutation<Result, Error, Given>({
    mutationFn: (given) => write(given),
    onSuccess: (result, given) => onDone?.(result, given),
    onError: onRefused,
    onSettled: () => Promise.all(changes.map((queryKey) => queries.invalidateQueries({ queryKey }))),
  })
}
