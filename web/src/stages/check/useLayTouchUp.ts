import { useMutation } from '@tanstack/react-query'
import { answer, api, asProblem, type Schemas } from '../../shared/api/client'
import { isThere, withKeptIds } from '../../shared/design/letters'
import { isOpen, scopeNow } from '../../shared/design/requestScope'
import { useSelection } from '../../shared/design/selection'
import { editRecipeOnce, useDesign } from '../../shared/design/store'

type TouchUpIn = Schemas['TouchUpIn']

/** Puts a touch-up on the outline, or says why it cannot be done there. An answer that comes when the design or
 * the letter it was laid on is gone is dropped. */
export function useLayTouchUp() {
  const { setProblem } = useSelection.getState()
  const mutation = useMutation({
    onMutate: () => {
      setProblem(null)
      return scopeNow()
    },
    mutationFn: (wanted: Omit<TouchUpIn, 'recipe'>) =>
      answer(api.POST('/api/touch-ups/lay', { body: { ...wanted, recipe: scopeNow().recipe } })),
    onSuccess: ({ touch_up: touchUp, goes_on }, _, asked) => {
      const { recipe } = useDesign.getState()
      if (!isOpen(asked) || !isThere(recipe, touchUp.at)) return
      const earlier = goes_on ? recipe.touch_ups.slice(0, -1) : recipe.touch_ups
      editRecipeOnce({
        ...withKeptIds(recipe, new Set([touchUp.at.part])),
        touch_ups: [...earlier, touchUp],
      })
    },
    onError: (error, _, asked) => {
      if (asked && isOpen(asked)) setProblem(asProblem(error))
    },
  })
  const lay = (wanted: Omit<TouchUpIn, 'recipe'>, onRefused?: () => void) =>
    mutation.mutate(wanted, onRefused ? { onError: onRefused } : {})
  return { lay, laying: mutation.isPending, movedMm: mutation.data?.moved_mm ?? null }
}
