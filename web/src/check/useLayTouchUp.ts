import { useMutation } from '@tanstack/react-query'
import { answer, api, asProblem, type Schemas } from '../api/client'
import { askedNow, isOpen } from '../design/asked'
import { idsOf } from '../design/letters'
import { withPart } from '../design/recipe'
import { useSelection } from '../design/selection'
import { takeRecipe, useDesign } from '../design/store'

type TouchUpIn = Schemas['TouchUpIn']

/** Puts a touch-up on the outline, or says why it cannot be done there. An answer that comes when the design or
 * the letter it was laid on is gone is dropped. */
export function useLayTouchUp() {
  const { setProblem } = useSelection.getState()
  const mutation = useMutation({
    onMutate: () => {
      setProblem(null)
      return askedNow()
    },
    mutationFn: (wanted: Omit<TouchUpIn, 'recipe'>) =>
      answer(api.POST('/api/touch-ups/lay', { body: { ...wanted, recipe: askedNow().recipe } })),
    onSuccess: ({ touch_up: touchUp }, _, asked) => {
      const { recipe } = useDesign.getState()
      const part = recipe.parts.find((p) => p.id === touchUp.at.part)
      if (!isOpen(asked) || !part || !idsOf(part).includes(touchUp.at.letter ?? -1)) return
      takeRecipe({
        ...withPart(recipe, part.id, { letter_ids: idsOf(part) }),
        touch_ups: [...recipe.touch_ups, touchUp],
      })
    },
    onError: (error, _, asked) => {
      if (asked && isOpen(asked)) setProblem(asProblem(error))
    },
  })
  return { lay: mutation.mutate, movedMm: mutation.data?.moved_mm ?? null }
}
