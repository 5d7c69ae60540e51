import { answer, api } from '../api/client'
import { isOpen, scopeNow } from './requestScope'
import { editOnce, useDesign } from './store'

/** Thickens a part until its thinnest stroke is as wide as asked: that part, whichever is chosen by then, and not
 * when another design is open or the part is gone. */
export async function thickenUntil(part: string, stroke_mm: number) {
  const asked = scopeNow()
  const found = await answer(
    api.POST('/api/thicken-until', { body: { recipe: asked.recipe, part, stroke_mm } }),
  )
  const { recipe } = useDesign.getState()
  if (isOpen(asked) && recipe.parts.some((p) => p.id === part)) {
    editOnce({ thicken_mm: found.thicken_mm }, part)
  }
  return found
}
