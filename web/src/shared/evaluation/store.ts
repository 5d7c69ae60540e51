// The evaluation of the design that is open, its seams and its findings, each a moment behind the one before.

import { useDeferredValue, useMemo } from 'react'
import { create } from 'zustand'
import type { Problem, Schemas } from '../api/client'
import { useSelection } from '../design/selection'
import { useDesign } from '../design/store'
import type { Evaluation, Measured, Seam, Trouble } from './evaluation'

export type Findings = Schemas['FindingsOut']

interface EvaluationState {
  /** The newest outline there is; of an earlier recipe while nothing of the newest can be drawn. */
  evaluation: Evaluation | undefined
  /** Its seams; those of an earlier one until they are measured. */
  measured: Measured | undefined
  findings: Findings | undefined
  /** What stands in the way. */
  troubles: readonly Trouble[]
  /** Pieces and narrowest neck before all letters were joined. */
  before: { pieces: number; narrowest: number | null } | null
  /** The outline takes long enough to say so. */
  working: boolean
  /** Why the findings could not be worked out. */
  unchecked: Problem | null
}

export const EMPTY: EvaluationState = {
  evaluation: undefined,
  measured: undefined,
  findings: undefined,
  troubles: [],
  before: null,
  working: false,
  unchecked: null,
}

export const useEvaluations = create<EvaluationState>()(() => EMPTY)

/** The newest outline. */
export const useEvaluation = () => useEvaluations((s) => s.evaluation)
export const evaluationNow = () => useEvaluations.getState().evaluation

/** Does something by the measures of the newest recipe: at once, or when they are there. Not when another
 * design is open by then. */
export function onceMeasured(work: (evaluation: Evaluation) => void) {
  const { id } = useDesign.getState()
  function tried(evaluation: Evaluation | undefined): boolean {
    const open = useDesign.getState()
    if (open.id !== id) return true
    if (!evaluation || evaluation.recipe !== open.recipe) return false
    work(evaluation)
    return true
  }
  if (tried(evaluationNow())) return
  const stop = useEvaluations.subscribe(({ evaluation }) => {
    if (tried(evaluation)) stop()
  })
}

/** What panels and strips show, which may follow the work by a moment. */
export const useLaterEvaluation = () => useDeferredValue(useEvaluation())

export const useFindings = () => useEvaluations((s) => s.findings)

const NO_SEAMS: readonly Seam[] = []

/** The seams between the letters of the part that is chosen. */
export function useSeams(): readonly Seam[] {
  const part = useSelection((s) => s.selection.part)
  const seams = useEvaluations((s) => s.measured?.get(part) ?? NO_SEAMS)
  return useDeferredValue(useMemo(() => seams.filter((seam) => seam.meets === null), [seams]))
}

/** Whether what is shown is of an earlier recipe, for nothing of the newest can be drawn. */
export const useStale = () =>
  useEvaluations(
    (s) => s.troubles.length > 0 && (s.evaluation?.parts.every((p) => p.problem === null) ?? true),
  )

/** What to tell first: what stands in the way of everything, then of the part that is chosen. */
export function useTrouble(): Trouble | null {
  const part = useSelection((s) => s.selection.part)
  return useEvaluations(
    (s) => s.troubles.find((t) => t.part === null || t.part === part) ?? s.troubles[0] ?? null,
  )
}

const NOTHING_UNMET: Evaluation['unmet'] = []

/** What was asked of the part that is chosen, or of all, and is not so. */
export function useUnmet() {
  const part = useSelection((s) => s.selection.part)
  const unmet = useEvaluations((s) => s.evaluation?.unmet ?? NOTHING_UNMET)
  return useMemo(() => unmet.filter((one) => one.part === null || one.part === part), [unmet, part])
}

/** The work of the part that is chosen. */
export function usePartView() {
  const part = useSelection((s) => s.selection.part)
  return useEvaluations((s) => s.evaluation?.parts.find((p) => p.id === part))
}

/** Whether a part is worked out, and shown: what was put on the work just now is not yet. */
export const useIsShown = (id: string) => useEvaluations((s) => isShown(s.evaluation, id))

export const isShown = (evaluation: Evaluation | undefined, id: string): boolean =>
  Boolean(evaluation?.parts.find((part) => part.id === id)?.box)

export const useUnit = () => useDesign((s) => s.recipe.unit)
