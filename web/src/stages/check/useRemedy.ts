import { useQuery } from '@tanstack/react-query'
import { answer, api, asProblem, type Problem } from '../../shared/api/client'
import type { Recipe } from '../../shared/design/recipe'
import { useDesign } from '../../shared/design/store'
import { evaluationOf } from '../../shared/evaluation/driver'
import type { Evaluation } from '../../shared/evaluation/evaluation'
import { useFindings } from '../../shared/evaluation/store'
import { type Finding, findingKey, useChosenFinding } from './findings'

interface Remedied {
  /** The recipe with the remedy taken, and the one it was made of: an answer goes for no other. */
  mended: Recipe | undefined
  of: Recipe
  problem: Problem | null
}

/** The recipe with a finding's remedy taken, before it is. */
export function useRemedy(finding: Finding | null): Remedied {
  const recipe = useDesign((s) => s.recipe)
  const query = useQuery({
    queryKey: ['remedy', recipe, finding?.number],
    queryFn: ({ signal }) =>
      answer(api.POST('/api/findings/remedy', { body: { recipe, numbers: [finding?.number ?? 0] }, signal })),
    enabled: finding !== null,
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 30_000,
  })
  return { mended: query.data, of: recipe, problem: query.error ? asProblem(query.error) : null }
}

/** The outline as it would be with the remedy of the chosen finding. */
export function usePreview(): Evaluation | null {
  const chosen = useChosenFinding()
  const findings = useFindings()
  const finding = findings?.findings.find((f) => findingKey(f) === chosen && f.remedy && !f.accepted)
  const { mended } = useRemedy(finding ?? null)
  const query = useQuery({
    queryKey: ['preview', mended],
    queryFn: async () => {
      if (!mended) throw new Error('there is a recipe when this is asked')
      return (await evaluationOf(mended)).evaluation
    },
    enabled: mended !== undefined && finding !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 30_000,
  })
  return (finding && query.data) || null
}
