import { useQuery } from '@tanstack/react-query'
import { answer, api, asProblem, type Problem } from '../api/client'
import type { Evaluation, Recipe } from '../design/recipe'
import { useDesign } from '../design/store'
import { type Finding, type Findings, findingKey, useCheck } from './findings'

/** The recipe with a finding's remedy taken, before it is. */
export function useRemedy(finding: Finding | null): { recipe: Recipe | undefined; problem: Problem | null } {
  const recipe = useDesign((s) => s.recipe)
  const query = useQuery({
    queryKey: ['remedy', recipe, finding?.number],
    queryFn: ({ signal }) =>
      answer(api.POST('/api/findings/remedy', { body: { recipe, number: finding?.number ?? 0 }, signal })),
    enabled: finding !== null,
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 30_000,
  })
  return { recipe: query.data, problem: query.error ? asProblem(query.error) : null }
}

/** The outline as it would be with the remedy of the chosen finding. */
export function usePreview(findings: Findings | undefined): Evaluation | undefined {
  const chosen = useCheck((s) => s.chosen)
  const finding = findings?.findings.find((f) => findingKey(f) === chosen && f.remedy && !f.accepted)
  const { recipe } = useRemedy(finding ?? null)
  const query = useQuery({
    queryKey: ['evaluation', recipe],
    queryFn: ({ signal }) => {
      if (!recipe) throw new Error('there is a recipe when this is asked')
      return answer(api.POST('/api/evaluate', { body: recipe, signal }))
    },
    enabled: recipe !== undefined && finding !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 30_000,
  })
  return finding ? query.data : undefined
}
