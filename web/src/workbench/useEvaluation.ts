import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useRef } from 'react'
import { answer, api, asProblem, type Problem } from '../api/client'
import type { Evaluation, Measured, Recipe } from '../design/recipe'

interface Evaluated {
  /** The newest outline there is; of an earlier recipe while there is a problem. */
  evaluation: Evaluation | undefined
  /** The newest whose seams are measured: a moment behind the outline. */
  measured: Measured | undefined
  problem: Problem | null
}

/** What the recipe comes to. A newer recipe calls off the question about an older one. */
export function useEvaluation(recipe: Recipe): Evaluated {
  const query = useQuery({
    queryKey: ['evaluation', recipe],
    queryFn: ({ signal }) => answer(api.POST('/api/evaluate', { body: recipe, signal })),
    placeholderData: keepPreviousData,
    enabled: recipe.parts.length > 0,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 30_000,
  })
  const fresh = query.isSuccess && !query.isPlaceholderData ? query.data : undefined
  const seams = useQuery({
    queryKey: ['seams', recipe],
    queryFn: async ({ signal }): Promise<Measured | undefined> =>
      fresh && { ...fresh, seams: await answer(api.POST('/api/seams', { body: recipe, signal })) },
    placeholderData: keepPreviousData,
    enabled: fresh !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 30_000,
  })
  const last = useLastGood(query.data)
  const lastMeasured = useLastGood(seams.data)
  const failure = query.error ?? query.failureReason
  return {
    evaluation: query.data ?? last,
    measured: seams.data ?? lastMeasured,
    problem: failure && !fresh ? asProblem(failure) : null,
  }
}

/** The last data there was: a mistake in the recipe leaves the earlier outline in sight. */
function useLastGood<T>(data: T | undefined): T | undefined {
  const last = useRef(data)
  if (data !== undefined) last.current = data
  return last.current
}
