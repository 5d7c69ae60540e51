import { queryOptions, useQuery, useQueryClient } from '@tanstack/react-query'
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

const sampleQuery = (text: string, slug: string) =>
  queryOptions({
    queryKey: ['sample', slug, text],
    queryFn: () => sampleOf(slug, text),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
  })

const ableQuery = (text: string) =>
  queryOptions({
    queryKey: ['able', text],
    queryFn: ({ signal }) => answer(api.POST('/api/faces/able', { body: { text }, signal })),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
  })

/** Words that are typed, once they stay for a moment: what shows them in many faces is not drawn at every key. */
export const useSettledWords = (text: string): string => useDebounced(text, QUIET_MS)

/** The words in a face; those before stay until the new ones are there. */
export function useSample(text: string, slug: string): Sample | undefined {
  return useQuery({
    ...sampleQuery(text, slug),
    enabled: slug !== '',
    // The words before, in this face: never those of another one.
    placeholderData: (before: Sample | undefined) => (before?.slug === slug ? before : undefined),
  }).data
}

/** The writing system of some words, and the faces that have all of their letters. */
export function useAble(text: string) {
  const shown = useSettledWords(text).slice(0, 500)
  return useQuery({ ...ableQuery(shown), placeholderData: (before) => before }).data
}

/** Asks for the words in some faces before the list of faces is there. */
export function useSamplesAhead(): (text: string, slugs: readonly string[]) => void {
  const queries = useQueryClient()
  return (text, slugs) => {
    void queries.prefetchQuery(ableQuery(text.slice(0, 500)))
    for (const slug of slugs) void queries.prefetchQuery(sampleQuery(text, slug))
  }
}

/** Takes what is known of faces anew. */
export function useFacesChanged(): () => Promise<void> {
  const queries = useQueryClient()
  return async () => {
    await queries.invalidateQueries({ queryKey: ['faces'] })
    await queries.invalidateQueries({ queryKey: ['able'] })
  }
}
