import { useQuery } from '@tanstack/react-query'
import { answer, api } from '../api/client'

/** Materials to choose from. */
export function useMaterials() {
  return useQuery({
    queryKey: ['materials'],
    queryFn: () => answer(api.GET('/api/materials')),
    staleTime: Number.POSITIVE_INFINITY,
  })
}
