import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useMemo, useRef } from 'react'
import { answer, api, asProblem, type Problem } from '../../shared/api/client'
import type { CutPlan, Sheet, Sheets } from '../../shared/design/cutPlan'
import { editRecipeOnce, useDesign } from '../../shared/design/store'
import { useDebounced } from '../../shared/design/useDebounced'
import { useEvaluations } from '../../shared/evaluation/store'
import { useCut } from './store'

const QUIET_MS = 150

export interface SheetsView {
  sheets: Sheets | undefined
  /** Why the newest plan cannot be laid out; sheets are then those of an earlier one. */
  problem: Problem | null
  /** Whether newer sheets are on their way. */
  waiting: boolean
}

/** The sheets of the design that is open, a moment after it changes. */
export function useSheets(): SheetsView {
  const id = useDesign((s) => s.id)
  const name = useDesign((s) => s.name)
  const recipe = useDesign((s) => s.recipe)
  const asked = useMemo(() => ({ name, recipe }), [name, recipe])
  const settled = useDebounced(asked, QUIET_MS)
  const nothing = useEvaluations((s) => s.evaluation === undefined)
  const query = useQuery({
    queryKey: ['sheets', id, settled],
    queryFn: ({ signal }) => answer(api.POST('/api/cut/sheets', { body: settled, signal })),
    enabled: !nothing,
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 5_000,
  })
  // While the newest plan cannot be laid out, the sheets before it stay in sight.
  const last = useRef<{ id: string; sheets: Sheets } | null>(null)
  if (query.data) last.current = { id, sheets: query.data }
  return {
    sheets: last.current?.id === id ? last.current.sheets : undefined,
    problem: query.error ? asProblem(query.error) : null,
    waiting: query.isFetching || settled !== asked,
  }
}

/** The sheet that is to be cut, and its place among all. */
export function useSheet(sheets: Sheets | undefined): { sheet: Sheet | undefined; index: number } {
  const index = useCut((s) => s.sheet)
  const within = Math.min(index, Math.max(0, (sheets?.sheets.length ?? 1) - 1))
  return { sheet: sheets?.sheets[within], index: within }
}

/** Changes the plan, as a step of its own to undo. What is laid otherwise is not laid closely any more. */
export function editPlan(changes: Partial<CutPlan>) {
  const change = changes.laid ? { closely: false, ...changes } : changes
  const { recipe } = useDesign.getState()
  editRecipeOnce({ cut: { ...recipe.cut, ...change } })
}
