import { useMutation } from '@tanstack/react-query'
import { answer, api, asProblem, type Schemas } from '../api/client'
import { idsOf } from '../design/letters'
import { withPart } from '../design/recipe'
import { takeRecipe, useDesign } from '../design/store'
import { useTouch } from './TouchUpSection'

/** Puts a touch-up on the outline, or says why it cannot be done there. */
export function useLayTouchUp() {
  const mutation = useMutation({
    mutationFn: (wanted: Schemas['TouchUpIn']) => answer(api.POST('/api/touch-ups/lay', { body: wanted })),
    onSuccess: ({ touch_up: touchUp, moved_mm }) => {
      useTouch.setState({ movedMm: moved_mm })
      const { recipe } = useDesign.getState()
      const part = recipe.parts.find((p) => p.id === touchUp.part)
      if (!part) return
      takeRecipe({
        ...withPart(recipe, part.id, { letter_ids: idsOf(part) }),
        touch_ups: [...recipe.touch_ups, touchUp],
      })
    },
  })
  return { lay: mutation.mutate, problem: mutation.error ? asProblem(mutation.error) : null }
}
