// Questions whose answers come late: an answer goes into the design it was asked for, or nowhere.

import type { Recipe } from './recipe'
import { useDesign } from './store'

export interface RequestScope {
  design: string
  recipe: Recipe
}

/** What a question is about. */
export function scopeNow(): RequestScope {
  const { id, recipe } = useDesign.getState()
  return { design: id, recipe }
}

/** Whether the design asked about is still the one that is open. */
export const isOpen = (asked: RequestScope) => useDesign.getState().id === asked.design

/** Whether it is also just as it was then: only then may an answer replace all of it. */
export const isUnchanged = (asked: RequestScope) =>
  isOpen(asked) && useDesign.getState().recipe === asked.recipe
