import { answer, api } from '../api/client'
import { askedNow, isOpen } from './requestScope'
import { endStep, useDesign } from './store'

/** Thickens a part until its thinnest stroke is as wide as asked: that part, whichever is chosen by then, and not
 * when another design is open or the part is gone. */
export async function thickenUntil(part: string, stroke_mm: number) {
  const asked = askedNow()
  const found = await answer(
    api.POST('/api/thicken-until', { body: { recipe: asked.recipe, part, stroke_mm } }),
  )
  const { recipe, edit } = useDesign.getState()
  if (isOpen(asked) && recipe.parts.some((p) => p.id === part)) {
    endStep()
    edit({ thicken_mm: found.thicken_mm }, part)
    endStep()
  }
  return found
}
