import { useQuery } from '@tanstack/react-query'
import { answer, api } from './client'

/** The machines of the shop. */
export function useMachines() {
  return useQuery({
    queryKey: ['machines'],
    queryFn: () => answer(api.GET('/api/machines')),
    staleTime: Number.POSITIVE_INFINITY,
  }).data
}
