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
    mutationFn: async (wanted: Omit<TouchUpIn, 'recipe'>) => {
      const asked = askedNow()
      setProblem(null)
      return {
        asked,
        ...(await answer(api.POST('/api/touch-ups/lay', { body: { ...wanted, recipe: asked.recipe } }))),
      }
    },
    onSuccess: ({ asked, touch_up: touchUp }) => {
      const { recipe } = useDesign.getState()
      const part = recipe.parts.find((p) => p.id === touchUp.at.part)
      if (!isOpen(asked) || !part || !idsOf(part).includes(touchUp.at.letter ?? -1)) return
      takeRecipe({
        ...withPart(recipe, part.id, { letter_ids: idsOf(part) }),
        touch_ups: [...recipe.touch_ups, touchUp],
      })
    },
    onError: (error) => setProblem(asProblem(error)),
  })
  return { lay: mutation.mutate, movedMm: mutation.data?.moved_mm ?? null }
}
