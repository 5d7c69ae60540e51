// Making ready: what it does to the design that is open, or would do, and what of it is left as it is.

import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { answer, api, type Schemas } from '../api/client'
import { withKeptIds } from '../design/letters'
import { ALL_READY, type Recipe } from '../design/recipe'
import { editRecipeOnce, useDesign } from '../design/store'
import { useDebounced } from '../design/useDebounced'
import { evaluationOf } from '../evaluation/driver'
import type { Evaluation } from '../evaluation/evaluation'
import { useEvaluations } from '../evaluation/store'

type Told = Schemas['ReadyOut']
export type MendedKind = Told['kinds'][number]
export type MendedPlace = MendedKind['places'][number]

const QUIET_MS = 250

/** A design with all made ready that is not left as it is; without a word of it, with all. */
export const readied = (recipe: Recipe): Recipe => ({ ...recipe, ready: recipe.ready ?? ALL_READY })

/** A design as it is made, nothing of it mended. */
export const asMade = (recipe: Recipe): Recipe => ({ ...recipe, ready: null })

/** A kind that is mended, or left as it is. */
export function withKindLeft(recipe: Recipe, kind: MendedKind['kind'], left: boolean): Recipe {
  const ready = recipe.ready ?? ALL_READY
  const others = (ready.kinds_left ?? []).filter((k) => k !== kind)
  return { ...recipe, ready: { ...ready, kinds_left: left ? [...others, kind] : others } }
}

/** A place that is left as it is, where the letters go that it is on. */
export function withPlaceLeft(recipe: Recipe, kind: MendedKind['kind'], { at }: MendedPlace): Recipe {
  const ready = recipe.ready ?? ALL_READY
  const kept = withKeptIds(recipe, new Set([at.part]))
  return { ...kept, ready: { ...ready, places_left: [...(ready.places_left ?? []), { kind, at }] } }
}

/** A place that was left as it is and is mended again. */
export function withPlaceMended(recipe: Recipe, number: number): Recipe {
  const ready = recipe.ready ?? ALL_READY
  return {
    ...recipe,
    ready: { ...ready, places_left: (ready.places_left ?? []).filter((_, n) => n !== number) },
  }
}

/** Takes a change of the design that is open, as a step of its own. */
export const take = (change: (recipe: Recipe) => Recipe) =>
  editRecipeOnce(change(useDesign.getState().recipe))

/** What making ready does or would do, a moment after the design has changed; undefined until it is known. */
export const useReady = (): Told | undefined => useReadyQuery().data

/** Whether there is nothing to wait for: it is known what making ready would do, or that it cannot be told. */
export const useIsReadyTold = (): boolean => !useReadyQuery().isPending

function useReadyQuery() {
  const id = useDesign((s) => s.id)
  const recipe = useDesign((s) => s.recipe)
  const settled = useDebounced(
    useMemo(() => ({ id, recipe }), [id, recipe]),
    QUIET_MS,
  )
  const nothing = useEvaluations((s) => s.evaluation === undefined)
  return useQuery({
    queryKey: ['ready', settled],
    queryFn: ({ signal }) => answer(api.POST('/api/ready', { body: { recipe: settled.recipe }, signal })),
    enabled: !nothing && settled.id === id,
    // While a newer answer is on its way, the one before stays: of the same design only.
    placeholderData: (before, query) =>
      (query?.queryKey[1] as typeof settled | undefined)?.id === id ? before : undefined,
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 30_000,
  })
}

/** The two outlines between which making ready lies: as it is made, and mended; null where there is nothing
 * mended to be seen. */
export function useReadied(): { before: Evaluation; after: Evaluation } | null {
  const told = useReady()
  const recipe = useDesign((s) => s.recipe)
  const evaluation = useEvaluations((s) => s.evaluation)
  const wanted = told?.kinds.some((kind) => kind.places.length > 0) === true
  const query = useQuery({
    queryKey: ['readied', recipe],
    queryFn: async ({ signal }) => {
      const other = recipe.ready ? asMade(recipe) : readied(recipe)
      return (await evaluationOf(other, signal)).evaluation
    },
    enabled: wanted,
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 30_000,
  })
  const other = query.data
  if (!wanted || !evaluation || evaluation.recipe !== recipe || !other) return null
  return recipe.ready ? { before: other, after: evaluation } : { before: evaluation, after: other }
}
