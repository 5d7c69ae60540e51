import { useQuery, useQueryClient } from '@tanstack/react-query'
import { answer, api, type Schemas } from '../api/client'
import type { FaceOut } from '../design/recipe'
import { useDebounced } from '../design/useDebounced'
import { sampleOf } from './samples'

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
      state.data?.some((face) => face.joins.length === 0 && !face.rating_failed) ? 1000 : false,
  })
}

/** The words in a face; those before stay until the new ones are there. */
export function useSample(text: string, slug: string): Sample | undefined {
  const shown = useDebounced(text, QUIET_MS)
  const { data } = useQuery({
    queryKey: ['sample', slug, shown],
    queryFn: () => sampleOf(slug, shown),
    enabled: slug !== '',
    // The words before, in this face: never those of another one.
    placeholderData: (before: Sample | undefined) => (before?.slug === slug ? before : undefined),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
  })
  return data
}

/** The writing system of some words, and the faces that have all of their letters. */
export function useAble(text: string) {
  const shown = useDebounced(text, QUIET_MS).slice(0, 500)
  return useQuery({
    queryKey: ['able', shown],
    queryFn: ({ signal }) => answer(api.POST('/api/faces/able', { body: { text: shown }, signal })),
    placeholderData: (before) => before,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
  }).data
}

/** Takes what is known of faces anew. */
export function useFacesChanged(): () => Promise<void> {
  const queries = useQueryClient()
  return async () => {
    await queries.invalidateQueries({ queryKey: ['faces'] })
    await queries.invalidateQueries({ queryKey: ['able'] })
  }
}
