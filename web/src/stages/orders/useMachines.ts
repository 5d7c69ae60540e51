import { useQuery } from '@tanstack/react-query'
import { answer, api } from '../../shared/api/client'

/** The machines of the shop. */
export const useMachines = () =>
  useQuery({
    queryKey: ['machines'],
    queryFn: () => answer(api.GET('/api/machines')),
    select: (shop) => shop.map(({ machine }) => machine),
  }).data ?? []
