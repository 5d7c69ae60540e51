import type { PartChange } from '../../../shared/design/recipe'
import { asOneStep, useDesign } from '../../../shared/design/store'

/** Changes the part that is chosen, as one step or as part of a drag. */
export const change = (to: PartChange) => useDesign.getState().edit(to)

/** Changes it as a step of its own. */
export const changeOnce = (to: PartChange) => {
  asOneStep(() => change(to))
}
