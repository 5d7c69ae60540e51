import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useRef } from 'react'
import { answer, api, asProblem, type Problem } from '../api/client'
import type { Evaluation, Recipe } from '../design/recipe'

interface Evaluated {
  /** The newest outline there is; of an earlier recipe while there is a problem. */
  evaluation: Evaluation | undefined
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
  const last = useLastGood(query.data)
  const failure = query.error ?? query.failureReason
  return {
    evaluation: query.data ?? last,
    problem: failure && !(query.isSuccess && !query.isPlaceholderData) ? asProblem(failure) : null,
  }
}

/** The last data there was: a mistake in the recipe leaves the earlier outline in sight. */
function useLastGood<T>(data: T | undefined): T | undefined {
  const last = useRef(data)
  if (data !== undefined) last.current = data
  return last.current
}
