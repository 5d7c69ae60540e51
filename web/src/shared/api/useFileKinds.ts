import { useQuery } from '@tanstack/react-query'
import { answer, api } from './client'

/** The kinds of files that are written and read; none until they are known. */
export const useFileKinds = () =>
  useQuery({
    queryKey: ['file-kinds'],
    queryFn: () => answer(api.GET('/api/files')),
    staleTime: Number.POSITIVE_INFINITY,
  }).data ?? { written: [], read: [] }
