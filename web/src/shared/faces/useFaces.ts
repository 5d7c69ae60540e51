import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { answer, api, type Schemas } from '../api/client'
import type { FaceOut } from '../design/recipe'
import { useDebounced } from '../design/useDebounced'

export type Sample = Schemas['SampleOut']

const NONE: FaceOut[] = []
const QUIET_MS = 200

/** The families to choose from. */
export const useFaces = (): FaceOut[] => useFaceList().data ?? NONE

/** The same, with how far their list is. */
export function useFaceList() {
  return useQuery({
    queryKey: ['faces'],
    queryFn: () => answer(api.GET('/api/faces')),
    staleTime: Number.POSITIVE_INFINITY,
    // A new face is being measured: look again soon.
    refetchInterval: ({ state }) =>
      state.data?.some((face) => face.joins === null && !face.rating_failed) ? 1000 : false,
  })
}

/** The words in one face, or in every face, by the face's slug. */
export function useSamples(text: string, only?: string): Map<string, Sample> {
  const shown = useDebounced(text, QUIET_MS)
  const query = useQuery({
    queryKey: ['samples', only ?? 'all', shown],
    queryFn: ({ signal }) => {
      const body = { text: shown.slice(0, 500), faces: only === undefined ? null : [only] }
      return answer(api.POST('/api/faces/samples', { body, signal }))
    },
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    select: (samples) => new Map(samples.map((sample) => [sample.slug, sample])),
  })
  return query.data ?? new Map()
}
